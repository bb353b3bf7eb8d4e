// SPDX-License-Identifier: GPL-3.0-or-later
// Steps and ladders.
#include "core/rehearse/steps.h"

#include <fmt/format.h>

#include <algorithm>
#include <functional>

#include "core/base/number.h"
#include "core/song/limbs.h"
#include "core/song/names.h"
#include "core/song/slots.h"
#include "core/time/count.h"

namespace uneven {
namespace {

Groove shutHats(Groove groove) {
  for (Hit& hit : groove.hits) {
    hit.open = 0;
    hit.openFor = Beat(0);
  }
  if (groove.pedal) groove.pedal->moves.clear();
  return groove;
}

class Stairs {
 public:
  explicit Stairs(const Groove& groove) : groove_(groove) {}

  // Nothing where it adds nothing to the step before.
  void add(std::string title, Groove now) {
    if (now.hits.empty() || steps_.size() >= kStepsMost) return;
    if (!steps_.empty() && steps_.back().groove == now) return;
    RehearsalStep step;
    step.title = std::move(title);
    for (const Hit& hit : now.hits) {
      const HitRef ref{hit.at, hit.piece};
      if (steps_.empty() || !indexOf(steps_.back().groove, ref)) step.added.insert(ref);
    }
    step.groove = std::move(now);
    steps_.push_back(std::move(step));
  }
  void kept(std::string title, const std::function<bool(const Hit&, std::size_t)>& keep,
            bool shut = false) {
    Groove now = shut ? shutHats(groove_) : groove_;
    std::vector<Hit> hits;
    for (std::size_t i = 0; i < now.hits.size(); ++i) {
      if (keep(now.hits[i], i)) hits.push_back(now.hits[i]);
    }
    now.hits = std::move(hits);
    add(std::move(title), std::move(now));
  }
  std::vector<RehearsalStep> take() { return std::move(steps_); }

 private:
  const Groove& groove_;
  std::vector<RehearsalStep> steps_;
};

std::string placeOf(const Groove& groove, Beat at) {
  const Beat bar = groove.meter.barLength();
  const std::int64_t number = at.floorDiv(bar);
  const std::string count = countName(at - Beat(number) * bar, groove.meter).text();
  return groove.bars == 1 ? count : fmt::format("{} of bar {}", count, number + 1);
}

void byVoice(Stairs& stairs, const Groove& groove, const std::vector<Limb>& limbs) {
  const auto hand = [&](std::size_t i) { return isHand(limbs[i]); };
  const auto ghost = [](const Hit& hit) {
    return hit.role == Role::kGhost || hit.role == Role::kGrace;
  };
  stairs.kept(
      "hands alone", [&](const Hit& h, std::size_t i) { return hand(i) && !ghost(h); }, true);
  std::vector<Beat> kicks, ghosts;
  for (std::size_t i = 0; i < groove.hits.size(); ++i) {
    const Hit& hit = groove.hits[i];
    if (hit.piece == piece::kKick) kicks.push_back(hit.at);
    if (hand(i) && ghost(hit)) ghosts.push_back(hit.at);
  }
  for (const Beat last : kicks) {
    stairs.kept(
        "kick on " + placeOf(groove, last),
        [&](const Hit& h, std::size_t i) {
          return (hand(i) && !ghost(h)) || (h.piece == piece::kKick && h.at <= last);
        },
        true);
  }
  stairs.kept(
      "the foot on the hats", [&](const Hit& h, std::size_t i) { return !hand(i) || !ghost(h); },
      true);
  for (const Beat last : ghosts) {
    stairs.kept(
        "ghost on " + placeOf(groove, last),
        [&](const Hit& h, std::size_t i) { return !hand(i) || !ghost(h) || h.at <= last; }, true);
  }
  stairs.kept("openings", [](const Hit&, std::size_t) { return true; });
}

void byLimb(Stairs& stairs, const std::vector<Limb>& limbs, const Kit& kit) {
  std::vector<Limb> order = {Limb::kRightHand, Limb::kLeftHand, Limb::kRightFoot, Limb::kLeftFoot};
  if (kit.setup.lead == Side::kLeft) std::swap(order[0], order[1]);
  std::vector<Limb> now;
  for (const Limb limb : order) {
    if (std::find(limbs.begin(), limbs.end(), limb) == limbs.end()) continue;
    now.push_back(limb);
    const std::string name(spokenName(limb));
    stairs.kept(now.size() == 1 ? name + " alone" : "and the " + name,
                [&](const Hit&, std::size_t i) {
                  return std::find(now.begin(), now.end(), limbs[i]) != now.end();
                });
  }
  stairs.kept("all", [](const Hit&, std::size_t) { return true; });
}

void byBeat(Stairs& stairs, const Groove& groove) {
  const Beat bar = groove.meter.barLength(), unit = groove.meter.countUnit();
  const auto span = [&](std::string title, Beat from, Beat to) {
    stairs.kept(std::move(title),
                [=](const Hit& h, std::size_t) { return h.at >= from && h.at < to; });
  };
  for (int b = 0; b < groove.bars; ++b) {
    const Beat start = Beat(b) * bar;
    const std::string of = groove.bars == 1 ? std::string() : fmt::format(" of bar {}", b + 1);
    int counts = 0;
    for (Beat at; at < bar; at += unit) ++counts;
    for (int width = 1; width < counts; width *= 2) {
      for (int first = 0; first < counts; first += width) {
        const int last = std::min(counts, first + width);
        const std::string title = width == 1
                                      ? fmt::format("count {}{}", first + 1, of)
                                      : fmt::format("counts {} to {}{}", first + 1, last, of);
        span(title, start + Beat(first) * unit, start + Beat(last) * unit);
      }
    }
    span(groove.bars == 1 ? std::string("the bar") : fmt::format("bar {}", b + 1), start,
         start + bar);
    if (b > 0) span(fmt::format("bars 1 to {}", b + 1), Beat(0), start + bar);
  }
}

}  // namespace

std::vector<RehearsalStep> stepsOf(const Groove& groove, const Kit& kit, StepsBy by) {
  Stairs stairs(groove);
  const std::vector<Limb> limbs = limbsOf(groove, kit);
  switch (by) {
    case StepsBy::kVoice:
      byVoice(stairs, groove, limbs);
      break;
    case StepsBy::kLimb:
      byLimb(stairs, limbs, kit);
      break;
    case StepsBy::kBeat:
      byBeat(stairs, groove);
      break;
    case StepsBy::kSurface: {
      Groove one = shutHats(groove);
      std::vector<Hit> hits;
      for (std::size_t i = 0; i < one.hits.size(); ++i) {
        if (!isHand(limbs[i])) continue;
        Hit hit = one.hits[i];
        hit.limb = limbs[i];
        hit.piece = piece::kSnare;
        hit.stroke = StrokeKind::kNormal;
        hits.push_back(std::move(hit));
      }
      one.hits = std::move(hits);
      std::stable_sort(one.hits.begin(), one.hits.end(), writtenBefore);
      keepLoudest(one.hits);
      stairs.add("hands on one drum", std::move(one));
      break;
    }
  }
  return stairs.take();
}

RehearsalStep hardSpot(const Groove& groove, Beat at) {
  const Beat unit = groove.meter.countUnit();
  const Beat count = beatStart(groove, at);
  RehearsalStep out;
  out.title = "around " + placeOf(groove, at);
  out.groove = groove;
  const Beat from = std::max(Beat(0), count - unit), to = count + Beat(2) * unit;
  std::erase_if(out.groove.hits, [&](const Hit& hit) { return hit.at < from || hit.at >= to; });
  for (const Hit& hit : out.groove.hits) {
    if (hit.at >= count && hit.at < count + unit) out.added.insert({hit.at, hit.piece});
  }
  return out;
}

std::vector<double> Ladder::rungs() const {
  std::vector<double> out;
  constexpr std::size_t kRungsMost = 500;
  constexpr double kLeast = 0.1;
  if (by == 0 && from < to) return {from, roundedTo((from + to) / 2, 1), to};
  for (double bpm = from; bpm < to - 1e-9 && out.size() < kRungsMost;
       bpm += std::max(kLeast, percent ? bpm * by / 100 : by))
    out.push_back(bpm);
  out.push_back(to);
  return out;
}

double ladderStart(double goal, double comfortable) {
  constexpr double kOfGoal = 0.6, kOfComfortable = 0.8;
  double out = kOfGoal * goal;
  if (comfortable > 0) out = std::min(out, kOfComfortable * comfortable);
  return std::clamp(roundedTo(out, 1), std::min(kBpmMin, goal), goal);
}

}  // namespace uneven
