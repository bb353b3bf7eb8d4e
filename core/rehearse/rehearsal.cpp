// SPDX-License-Identifier: GPL-3.0-or-later
// Rehearsals.
#include "core/rehearse/rehearsal.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/song/positions.h"

namespace uneven {
namespace {

std::size_t moved(std::size_t at, int by, std::size_t count) {
  const auto to = static_cast<std::ptrdiff_t>(at) + by;
  return static_cast<std::size_t>(
      std::clamp<std::ptrdiff_t>(to, 0, static_cast<std::ptrdiff_t>(count) - 1));
}

// What stands in `from`, `by` later, behind all that stands in `groove`.
void append(Groove& groove, const Groove& from, Beat by) {
  for (Hit hit : from.hits) {
    hit.at += by;
    groove.hits.push_back(std::move(hit));
  }
  for (const auto& [at, grid] : from.beatGrids) groove.beatGrids[at + by] = grid;
  if (!from.pedal) return;
  if (!groove.pedal) groove.pedal = Pedal{};
  for (PedalMove move : from.pedal->moves) {
    move.at += by;
    groove.pedal->moves.push_back(move);
  }
}

Alignment atRate(Alignment a, double rate) {
  const auto scale = [rate](Milliseconds& ms) { ms = ms / rate; };
  for (AlignedStroke& s : a.strokes) scale(s.late);
  scale(a.all.mean);
  scale(a.all.sd);
  for (auto& [limb, spread] : a.limbs) {
    scale(spread.mean);
    scale(spread.sd);
  }
  if (a.unison) scale(*a.unison);
  if (a.widest) scale(a.widest->apart);
  a.bpm *= rate;
  return a;
}

}  // namespace

RehearsalPlace placeAfter(const RehearsalRules& rules, RehearsalPlace at, bool clean) {
  const std::size_t top = rules.ladder.rungs().size() - 1,
                    last = std::max<std::size_t>(1, rules.steps) - 1;
  at.step = std::min(at.step, last);
  at.rung = std::min(at.rung, top);
  at.clean = clean ? at.clean + 1 : 0;
  at.unclean = clean ? 0 : at.unclean + 1;
  const bool whole = rules.climb == Climb::kWholeGroove;
  if (at.clean >= rules.ladder.up) {
    at.clean = 0;
    const bool climbs = at.rung < top && (!whole || at.step == last);
    if (climbs) {
      ++at.rung;
    } else if (at.step < last) {
      ++at.step;
      at.rung = whole ? at.rung : 0;
    } else {
      at.reached = true;
    }
  } else if (rules.ladder.down > 0 && at.unclean >= rules.ladder.down) {
    at.unclean = 0;
    // Down the ladder first; at its foot the step before is where it was still clean.
    if (at.rung > 0) {
      --at.rung;
    } else if (at.step > 0) {
      --at.step;
      at.rung = whole ? 0 : top;
    }
  }
  return at;
}

RehearsalPlace stepBy(const RehearsalRules& rules, RehearsalPlace at, int by) {
  RehearsalPlace out;
  out.step = moved(at.step, by, std::max<std::size_t>(1, rules.steps));
  out.rung = at.rung;
  return out.step == at.step ? at : out;
}

PracticeTemplate withFillAfter(const Groove& groove, const std::optional<Groove>& fill, int times) {
  PracticeTemplate out;
  const int most = std::max(1, (kBarsMax - 1) / groove.bars);
  out.groove = repeated(groove, std::clamp(times, 1, most) * groove.bars);
  const Beat at = out.groove.length(), bar = groove.meter.barLength();
  if (out.groove.bars >= kBarsMax) return out;
  ++out.groove.bars;
  if (fill && fill->meter == groove.meter) {
    append(out.groove, lastBars(*fill, bar), at);
  } else {
    out.free.emplace_back(at, at + bar);
  }
  return out;
}

Groove repeated(const Groove& groove, int bars) {
  Groove out = groove;
  const int times = std::max(1, std::min(bars, kBarsMax) / std::max(1, groove.bars));
  out.bars = times * groove.bars;
  for (int time = 1; time < times; ++time)
    copyPositions(out, Beat(0), groove.length(), Beat(time) * groove.length());
  return out;
}

Result<Milliseconds> latencyOf(std::vector<Milliseconds> late) {
  const auto median = [](std::vector<Milliseconds>& values) {
    const auto middle = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
    std::nth_element(values.begin(), middle, values.end());
    if (values.size() % 2 == 1) return *middle;
    return (*middle + *std::max_element(values.begin(), middle)) / 2;
  };
  if (late.size() < kLatencyLeast) {
    return Error{ErrorCode::kLimit,
                 fmt::format("{} strokes on the click; {} are needed", late.size(), kLatencyLeast),
                 {}};
  }
  const Milliseconds out = median(late);
  for (Milliseconds& one : late) one = Milliseconds(std::abs((one - out).count()));
  if (median(late) > kLatencySpread) {
    return Error{ErrorCode::kLimit,
                 "the strokes lie too far apart for a steady delay to be told: play along with "
                 "the click once more",
                 {}};
  }
  return out;
}

Ear::Ear(SharedTake part, int rounds, std::vector<std::pair<Beat, Beat>> free, double rate)
    : part_(std::move(part)), rounds_(std::max(1, rounds)), free_(std::move(free)), rate_(rate) {
  const Score& score = part_->score();
  const auto& block = score.blocks.front();
  const double start = score.tempo.msAt(block.start).count();
  const double round = score.tempo.msAt(block.start + block.groove->length()).count() - start;
  length_ = Milliseconds(rounds_ * round);
  for (const Stroke& s : part_->strokes()) {
    const double ms = toMilliseconds(s.time - s.drift).count() - start;
    // Only the ends matter: what lies near a border.
    written_.emplace_back(s.piece, ms);
    written_.emplace_back(s.piece, ms + (rounds_ - 1) * round);
  }
}

Ear Ear::goOn(SharedTake part, double rate) const {
  Ear out(std::move(part), rounds_, free_, rate);
  out.heard_ = heard_;
  out.told_ = told_;
  return out;
}

int Ear::timeOf(const Onset& onset) const {
  const double ms = onset.seconds * 1000, length = length_.count();
  const int here = static_cast<int>(std::floor(ms / length));
  const double in = ms - here * length;
  if (in > kReachMost.count() && in < length - kReachMost.count()) return here;
  // The nearest written stroke of its piece, here, before and after.
  double nearest = kReachMost.count();
  int out = in > length - kSameMoment.count() ? here + 1 : here;
  for (const auto& [piece, at] : written_) {
    if (piece != onset.piece) continue;
    for (const int by : {0, -1, 1}) {
      const double apart = std::abs(in - (at + by * length));
      if (apart < nearest) nearest = apart, out = here + by;
    }
  }
  return out;
}

int Ear::hear(const Onset& onset) {
  const int time = std::max(told_, timeOf(onset));
  heard_.emplace_back(time, onset);
  return time;
}

int Ear::at(Milliseconds now) const {
  return std::max(0, static_cast<int>(std::floor(now / length_)));
}

Alignment Ear::aligned(int time, std::optional<Milliseconds> until) const {
  std::vector<Onset> played;
  for (const auto& [of, onset] : heard_) {
    if (of != time) continue;
    played.push_back(onset);
    played.back().seconds -= time * length_.count() / 1000;
  }
  std::stable_sort(played.begin(), played.end(),
                   [](const Onset& a, const Onset& b) { return a.seconds < b.seconds; });
  AlignWanted wanted;
  wanted.searchOffset = false;
  wanted.rounds = rounds_;
  wanted.until = until;
  wanted.free = free_;
  return atRate(align(*part_, played, wanted), rate_);
}

Alignment Ear::soFar(Milliseconds now) const {
  const int time = at(now);
  return aligned(time, now - time * length_);
}

std::vector<Alignment> Ear::over(Milliseconds now) {
  std::vector<Alignment> out;
  while ((told_ + 1) * length_ + kReachMost <= now) {
    out.push_back(aligned(told_, std::nullopt));
    const int done = told_++;
    std::erase_if(heard_, [&](const auto& one) { return one.first <= done; });
  }
  return out;
}

}  // namespace uneven
