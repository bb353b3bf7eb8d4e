// SPDX-License-Identifier: GPL-3.0-or-later
// A take's tempo, beat by beat.
#include "core/match/follow.h"

#include <algorithm>
#include <cmath>
#include <set>

#include "core/base/number.h"
#include "core/match/numbers.h"
#include "core/match/weights.h"
#include "core/song/song.h"

namespace uneven {
namespace {

constexpr double kTwoPi = 6.28318530717959;

// What a stroke of that piece and place leans by itself.
class Leans {
 public:
  explicit Leans(const Fit& fit) : fit_(fit) {
    for (const SlotFit& s : fit.leaning) slots_[{s.at, s.piece}] = s.lean;
  }
  Milliseconds of(Beat at, PieceId piece) const {
    const auto s = slots_.find({at, piece});
    return fit_.leanOf(piece) + (s == slots_.end() ? Milliseconds(0) : s->second);
  }

 private:
  const Fit& fit_;
  std::map<std::pair<Beat, PieceId>, Milliseconds> slots_;
};

}  // namespace

Followed follow(const Fit& fit, const std::vector<Onset>& onsets, const FollowWanted& wanted) {
  const BeatLine& line = fit.grid.line;
  Followed out;
  if (wanted.asFound || wanted.by == FollowBy::kWhole) {
    out.start = fit.start;
    out.marks = {{Beat(0), fit.bpm}};
    if (wanted.asFound) out.marks = fit.marks;
    return out;
  }
  const Beat bar = fit.grid.meter.barLength(), beat = fit.grid.meter.countUnit();
  double last = bar.toDouble();
  for (const Placed& p : fit.placed) {
    if (p.used) last = std::max(last, p.quarters);
  }
  last = std::min(last, bar.toDouble() * kSongBarsMax);
  // Bars are whole: the last one to its end.
  const std::int64_t bars = roundToInt(std::ceil(last / bar.toDouble() - 1e-9));
  const std::int64_t cells = (Beat(bars) * bar).floorDiv(beat) + 1;
  const Leans leans(fit);
  std::vector<double> sum(static_cast<std::size_t>(cells), 0), weight(sum.size(), 0);
  for (std::size_t i = 0; i < fit.placed.size() && i < onsets.size(); ++i) {
    const Placed& p = fit.placed[i];
    // A voice that swings less lies elsewhere off the beat.
    const bool onBeat = Beat(p.at.floorDiv(beat)) * beat == p.at;
    if (!p.used || (fit.depths.contains(onsets[i].piece) && !onBeat)) continue;
    const Milliseconds off = p.late - leans.of(p.at, onsets[i].piece);
    const std::int64_t cell = roundToInt(p.quarters / beat.toDouble());
    if (std::chrono::abs(off) > ear::kFollowFar || cell < 0 || cell >= cells) continue;
    sum[static_cast<std::size_t>(cell)] += off.count();
    weight[static_cast<std::size_t>(cell)] += 1;
  }
  for (std::size_t c = 0; c < sum.size(); ++c) sum[c] /= std::max(1.0, weight[c]);
  // What waves are shorter than so many cells goes (the smoother halves a wave of 2 pi lambda^1/4).
  const double wave = wanted.smoothBars * (bar / beat).toDouble();
  const double stiff = std::max(0.02, std::pow(wave / kTwoPi, 4));
  const std::vector<double> off = smoothed(sum, weight, stiff);

  const Beat step = wanted.by == FollowBy::kBar ? bar : beat;
  const auto momentAt = [&](Beat at) -> Seconds {
    const auto cell = static_cast<std::size_t>(
        std::clamp<std::int64_t>(at.floorDiv(beat), 0, std::ssize(off) - 1));
    return Seconds(line.secondsAt(at.toDouble())) + Milliseconds(off[cell]);
  };
  out.start = momentAt(Beat(0));
  double reached = out.start.count();
  for (Beat at; at < Beat(bars) * bar; at += step) {
    const double seconds = std::max(0.01, momentAt(at + step).count() - reached);
    const double held = std::clamp(60 * step.toDouble() / seconds, kBpmMin, kBpmMax);
    const double micros = static_cast<double>(roundToInt(60e6 / held));
    reached += step.toDouble() * micros / 1e6;
    const Bpm bpm{roundedTo(60e6 / micros, 1e6)};
    if (out.marks.empty() || out.marks.back().bpm != bpm) out.marks.push_back({at, bpm});
  }
  return out;
}

}  // namespace uneven
