// SPDX-License-Identifier: GPL-3.0-or-later
// Mine beside theirs.
#include "core/match/compare.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>

#include "core/base/number.h"
#include "core/match/numbers.h"
#include "core/match/weights.h"
#include "core/measure/level.h"
#include "core/song/edit.h"

namespace uneven {
namespace {

struct MineThere {
  double ms = 0;    // from the straight grid
  double lean = 0;  // from the swung one
  Velocity velocity;
};
struct TheirsThere {
  std::vector<double> ms, velocities;
};
using Place = std::pair<Beat, PieceId>;

double zeroOf(const std::map<Place, MineThere>& mine, LeanAgainst against) {
  std::map<PieceId, std::vector<double>> leans;
  std::vector<double> all;
  for (const auto& [place, m] : mine) {
    leans[place.second].push_back(m.lean);
    all.push_back(m.lean);
  }
  if (all.empty() || against == LeanAgainst::kGrid) return 0;
  if (against == LeanAgainst::kAverage) return meanOf(all);
  auto of = leans.find(against == LeanAgainst::kKick ? piece::kKick : piece::kHat);
  if (of == leans.end()) {
    of = std::max_element(leans.begin(), leans.end(), [](const auto& a, const auto& b) {
      return a.second.size() < b.second.size();
    });
  }
  return medianOfReals(of->second);
}

double meanError(const std::vector<double>& values, double alone) {
  if (values.size() < 2) return alone;
  return std::sqrt(varianceOf(values) / static_cast<double>(values.size()));
}

// Which of the groove's bars comes in a bar of the take.
std::int64_t turnOf(std::int64_t bar, int bars) {
  return ((bar % bars) + bars) % bars;
}

// How often each of the groove's bars comes by between the first and the last that were used: a
// take may start late, and only some of its bars may be meant.
std::vector<std::int64_t> timesOf(const Fit& fit, int bars) {
  std::vector<std::int64_t> out(static_cast<std::size_t>(bars));
  std::optional<std::int64_t> first, last;
  for (const Placed& p : fit.placed) {
    if (!p.used) continue;
    first = std::min(first.value_or(p.bar), p.bar);
    last = std::max(last.value_or(p.bar), p.bar);
  }
  if (!first) return out;
  // Of a long take the whole rounds are counted, not the bars.
  const std::int64_t rounds = (*last - *first + 1) / bars;
  for (std::int64_t& times : out) times = rounds;
  for (std::int64_t bar = *first + rounds * bars; bar <= *last; ++bar)
    ++out[static_cast<std::size_t>(turnOf(bar, bars))];
  return out;
}

// All of mine by place.
std::map<Place, MineThere> mineOf(const Take& take) {
  const Score::Block& block = take.score().blocks.front();
  const Groove& groove = *block.groove;
  std::map<Place, MineThere> out;
  for (const Stroke& s : take.strokes()) {
    if (s.block != 0 || s.part != 0 || s.hit >= groove.hits.size()) continue;
    const Hit& hit = groove.hits[s.hit];
    const double time = toMilliseconds(s.time - s.drift).count();
    const double straight = take.score().tempo.msAt(Quarters(block.start + hit.at)).count();
    out[{hit.at, s.piece}] = {time - straight, time - toMilliseconds(s.grid).count(), s.velocity};
  }
  return out;
}

}  // namespace

std::vector<StrokeBehind> strokesBehind(const Take& take, const Fit& fit,
                                        const std::vector<Onset>& onsets) {
  std::vector<StrokeBehind> out;
  const Score::Block& block = take.score().blocks.front();
  const Groove& groove = *block.groove;
  if (groove.meter != fit.grid.meter) return out;
  const double zero = zeroOf(mineOf(take), fit.against);
  const auto msAt = [&](double at) {
    return take.score().tempo.msAt(Quarters(block.start) + Quarters(at)).count();
  };
  const Beat bar = groove.meter.barLength();
  for (std::size_t i = 0; i < onsets.size() && i < fit.placed.size(); ++i) {
    const Placed& p = fit.placed[i];
    if (!p.used || onsets[i].piece == kNotInKit) continue;
    const std::int64_t turn = turnOf(p.bar, groove.bars);
    const Beat at = Beat(turn) * bar + p.at;
    // The swing goes by the beat, so it lasts what it lasts at this tempo.
    const double swung = p.quarters - (Beat(p.bar) * bar + p.at).toDouble();
    const double straight = at.toDouble();
    out.push_back({at, onsets[i].piece,
                   Milliseconds(msAt(straight + swung) - msAt(straight) + zero) + p.late,
                   std::clamp(onsets[i].velocity, 1.0, 127.0)});
  }
  return out;
}

std::vector<StrokeBehind> strokesOfMine(const Take& take, const Fit& fit) {
  std::vector<StrokeBehind> out;
  const Groove& groove = *take.score().blocks.front().groove;
  if (groove.meter != fit.grid.meter) return out;
  const std::map<Place, MineThere> mine = mineOf(take);
  const double zero = zeroOf(mine, fit.against);
  for (const auto& [place, m] : mine)
    out.push_back({place.first, place.second, Milliseconds(m.ms - zero),
                   static_cast<double>(m.velocity.value())});
  return out;
}

Result<Compared> compare(const Take& take, const Fit& fit, const std::vector<Onset>& onsets,
                         bool levels) {
  const Groove& groove = *take.score().blocks.front().groove;
  if (groove.meter != fit.grid.meter) {
    return Error{ErrorCode::kUsage,
                 fmt::format("the take is in {}, the groove in {}: choose the same meter for both",
                             fit.grid.meter.toString(), groove.meter.toString()),
                 {}};
  }
  const std::map<Place, MineThere> mine = mineOf(take);
  std::map<Place, TheirsThere> theirs;
  for (const StrokeBehind& s : strokesBehind(take, fit, onsets)) {
    TheirsThere& there = theirs[{s.at, s.piece}];
    there.ms.push_back(s.late.count());
    there.velocities.push_back(s.velocity);
  }
  // A place that is struck now and then is no part of the pattern: half of the times it comes by.
  const std::vector<std::int64_t> times = timesOf(fit, groove.bars);
  const Beat bar = groove.meter.barLength();
  std::erase_if(theirs, [&](const auto& entry) {
    const auto turn = static_cast<std::size_t>((entry.first.first / bar).floorDiv(Beat(1)));
    return std::ssize(entry.second.ms) * 2 < times[turn];
  });

  Compared out;
  std::vector<double> decibels;
  for (const auto& [place, there] : theirs) {
    SlotCompared s;
    s.at = place.first;
    s.piece = place.second;
    s.theirs = true;
    s.n = static_cast<int>(there.ms.size());
    s.velocity = medianOfReals(there.velocities);
    s.lateSe = Milliseconds(meanError(there.ms, ear::kAloneMs));
    std::vector<double> heard;
    heard.reserve(there.velocities.size());
    for (const double v : there.velocities) heard.push_back(levelOf(v).value);
    s.louderSe = Decibels{meanError(heard, ear::kAloneDb)};
    if (const auto m = mine.find(place); m != mine.end()) {
      s.mine = true;
      s.late = Milliseconds(medianOfReals(there.ms) - m->second.ms);
      s.louder = Decibels{levelOf(s.velocity).value - levelOf(m->second.velocity).value};
      decibels.push_back(s.louder.value);
    }
    out.slots.push_back(s);
  }
  for (const auto& [place, m] : mine) {
    if (theirs.contains(place)) continue;
    SlotCompared s;
    s.at = place.first;
    s.piece = place.second;
    s.mine = true;
    out.slots.push_back(s);
  }
  const double gain = levels ? 0 : medianOfReals(decibels);
  double squares = 0;
  for (SlotCompared& s : out.slots) {
    if (s.theirs) s.velocity = std::clamp(s.velocity * std::pow(10, -gain / 40), 1.0, 127.0);
    if (!s.mine || !s.theirs) {
      ++(s.mine ? out.onlyMine : out.onlyTheirs);
      s.beyond = true;
      squares += 1;
      continue;
    }
    s.louder.value -= gain;
    ++out.both;
    const double db = std::abs(s.louder.value);
    out.meanLate += std::chrono::abs(s.late);
    out.meanLouder.value += db;
    squares += std::pow(s.late / ear::kLateScale, 2) + std::pow(db / ear::kDbScale, 2);
    s.beyond = std::chrono::abs(s.late) > std::max(ear::kLeastLate, ear::kSure * s.lateSe) ||
               db > std::max(ear::kLeastDb, ear::kSure * s.louderSe.value);
  }
  if (out.both > 0) {
    out.meanLate /= out.both;
    out.meanLouder.value /= out.both;
  }
  if (!out.slots.empty()) out.distance = std::sqrt(squares / static_cast<double>(out.slots.size()));
  const auto weight = [](const SlotCompared& s) {
    if (!s.mine || !s.theirs) return 1.0;
    return std::max(
        std::chrono::abs(s.late) / std::max(ear::kLateScale, ear::kSure * s.lateSe),
        std::abs(s.louder.value) / std::max(ear::kDbScale, ear::kSure * s.louderSe.value));
  };
  std::stable_sort(out.slots.begin(), out.slots.end(),
                   [&](const SlotCompared& a, const SlotCompared& b) {
                     if (a.beyond != b.beyond) return a.beyond;
                     const double x = weight(a), y = weight(b);
                     return x != y ? x > y : Place(a.at, a.piece) < Place(b.at, b.piece);
                   });
  return out;
}

Groove movedThere(Groove groove, const SlotCompared& slot) {
  const HitRef ref{slot.at, slot.piece};
  if (!slot.theirs) return withoutHits(std::move(groove), {ref});
  const Velocity velocity(static_cast<int>(roundToInt(slot.velocity)));
  if (!slot.mine) {
    if (slot.at >= groove.length()) return groove;
    Hit hit;
    hit.at = slot.at;
    hit.piece = slot.piece;
    hit.velocity = velocity;
    return withHit(std::move(groove), std::move(hit));
  }
  return changeHits(groove, {ref},
                    [&](Hit& hit) {
                      hit.velocity = velocity;
                      hit.nudge = Milliseconds(roundedTo((hit.nudge + slot.late).count(), 10));
                    })
      .groove;
}

Result<Groove> theirGroove(const Take& mine, const Fit& theirs, const std::vector<Onset>& onsets,
                           bool levels) {
  const std::string id = mine.score().blocks.front().groove->id;
  Groove groove = *mine.score().blocks.front().groove;
  SharedTake now;
  // Once for what is struck, once more for when.
  for (int pass = 0; pass < 2; ++pass) {
    const Result<Compared> apart =
        compare(pass == 0 ? mine : *now, theirs, onsets, levels || pass > 0);
    if (!apart) return apart.error();
    for (const SlotCompared& slot : apart->slots) {
      if (pass > 0 && !(slot.mine && slot.theirs)) continue;
      SlotCompared moved = slot;
      // Velocities are there after the first time.
      if (pass > 0)
        moved.velocity = groove.hits[*indexOf(groove, {slot.at, slot.piece})].velocity.value();
      groove = movedThere(std::move(groove), moved);
    }
    Result<SharedTake> again = Take::ofGroove(withGroove(mine.song(), groove), id);
    if (!again) return again.error();
    now = *std::move(again);
  }
  return groove;
}

}  // namespace uneven
