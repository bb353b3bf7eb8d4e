// SPDX-License-Identifier: GPL-3.0-or-later
// The least cost over a whole part.
//
// What a stroke costs hangs on the last stroke of each hand and on how long their runs are. A state
// is therefore: the hand that has just struck, the other hand's last stroke, and both runs. States
// that differ in the runs alone and cost no more with shorter ones make the others needless, since
// no limit falls as a run gets longer; and beyond reach the other hand is simply free. So a few
// states a stroke are left, and the least of all is exact.
#include "core/body/sticking.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <queue>
#include <set>

namespace uneven {
namespace {

constexpr double kAtLimit = 4, kRepeat = 1.5, kRebound = 0.5, kUnplayable = 100,
                 kUnplayableSlope = 1'000, kTwoAtOnceCost = 2'000;
constexpr double kPullOutCost = 1, kNearCost = 0.1, kAcrossCost = 0.3, kCrossCost = 1;
constexpr double kLeaveOstinato = 2, kLeaveUsual = 0.25, kWeakOnBeat = 0.2;
constexpr double kReboundDb = 6;
constexpr double kStrainMost = 1'000;
constexpr double kCrossed = 0.2;  // forearms beyond the other hand

bool isHand(Limb limb) {
  return limb == Limb::kRightHand || limb == Limb::kLeftHand;
}
double ms(Milliseconds m) {
  return m.count();
}
double sixth(double x) {
  const double cube = x * x * x;
  return cube * cube;
}

}  // namespace

std::string_view reasonText(StrainReason reason) {
  switch (reason) {
    case StrainReason::kNone:
      break;
    case StrainReason::kDouble:
      return "two in a row";
    case StrainReason::kRun:
      return "three or more in a row";
    case StrainReason::kSustained:
      return "eight or more in a row";
    case StrainReason::kPullOut:
      return "a ghost straight into an accent";
    case StrainReason::kTravel:
      return "the way from piece to piece";
    case StrainReason::kBounce:
      return "the two of a diddle";
    case StrainReason::kTwoAtOnce:
      return "two pieces at once";
  }
  return "nothing";
}

std::string_view stateWord(const Strain& strain) {
  return strain.comfortable() ? "comfortable" : strain.playable() ? "hard" : "not playable";
}

Body::Body(const Kit& kit, const Profile& profile)
    : profile_(profile), setup_(profile.setup.value_or(kit.setup)) {
  for (const Piece& piece : kit.pieces) {
    places_.push_back(placeOf(profile, piece));
    const std::string& kind = piece.like.empty() ? piece.id : piece.like;
    drum_.push_back(kind == "snare" || kind.rfind("tom", 0) == 0 ? 1 : 0);
  }
  double longest = std::max(ms(profile.runGap), ms(profile.pullOut.comfortable) * profile.weakHand);
  for (const auto& [limits, weak] : {std::pair(profile.hand, profile.weakHand),
                                     {profile.foot, profile.weakFoot},
                                     {profile.hatFoot, 1.0}}) {
    for (const TimeLimit& limit : {limits.second, limits.run, limits.sustained}) {
      longest = std::max(longest, ms(limit.comfortable) * weak);
    }
  }
  reach_ = longest + std::max({ms(profile.neighbour), ms(profile.across), ms(profile.crossed)});
}

TimeLimit Body::way(PieceId from, PieceId to, Limb limb, const BodyStroke* other,
                    double& cost) const {
  if (from == to) return {};
  const auto added = [&](Milliseconds time, double costs) {
    cost += costs;
    return TimeLimit{time, time};
  };
  const auto& a = places_[from.value];
  const auto& b = places_[to.value];
  if (!a || !b) return added(profile_.neighbour, kNearCost);
  if (other != nullptr && other->piece != to && places_[other->piece.value]) {
    const double mirror = setup_.kit == Side::kLeft ? -1 : 1;
    const double beyond = mirror * (b->x - places_[other->piece.value]->x);
    const bool right = limb == Limb::kRightHand;
    if (right ? beyond < -kCrossed : beyond > kCrossed) return added(profile_.crossed, kCrossCost);
  }
  const bool near = std::hypot(a->x - b->x, a->y - b->y) <= profile_.nearby;
  return near ? added(profile_.neighbour, kNearCost) : added(profile_.across, kAcrossCost);
}

Body::Asked Body::ask(const BodyStroke& stroke, Limb limb, const BodyStroke* same, int sameRun,
                      const BodyStroke* other, double pace) const {
  Asked out;
  Strain& s = out.strain;
  s.limb = limb;
  const bool hand = isHand(limb);
  const bool onHats = stroke.piece == piece::kHatFoot || stroke.piece == piece::kHat;
  const RunLimits& limits = hand ? profile_.hand : onHats ? profile_.hatFoot : profile_.foot;
  const Limb strongFoot = setup_.kit == Side::kLeft ? Limb::kLeftFoot : Limb::kRightFoot;
  const double weak = hand ? (limb == strong() ? 1 : profile_.weakHand)
                           : (limb == strongFoot || onHats ? 1 : profile_.weakFoot);
  const double now = stroke.at(pace);
  if (other != nullptr && now - other->at(pace) > reach_) other = nullptr;
  const double gap = same == nullptr ? reach_ + 1 : now - same->at(pace) - same->bounce / pace;
  if (gap > reach_) same = nullptr;
  if (same != nullptr) {
    s.gap = gap;
    s.run = gap <= ms(profile_.runGap) ? std::min(sameRun + 1, RunLimits::kSustainedFrom) : 1;
    const TimeLimit& base = limits.at(std::max(s.run, 2));
    TimeLimit limit{base.comfortable * weak, base.playable * weak};
    s.reason = s.run >= RunLimits::kSustainedFrom ? StrainReason::kSustained
               : s.run >= RunLimits::kRunFrom     ? StrainReason::kRun
                                                  : StrainReason::kDouble;
    if (hand && same->role == Role::kGhost && stroke.role == Role::kAccent) {
      const TimeLimit pull{profile_.pullOut.comfortable * weak, profile_.pullOut.playable * weak};
      if (gap < ms(pull.comfortable)) out.cost += kPullOutCost;
      if (pull.comfortable > limit.comfortable) s.reason = StrainReason::kPullOut;
      limit.comfortable = std::max(limit.comfortable, pull.comfortable);
      limit.playable = std::max(limit.playable, pull.playable);
    }
    if (hand) {
      const TimeLimit added = way(same->piece, stroke.piece, limb, other, out.cost);
      const TimeLimit staying = limit;
      limit.comfortable += added.comfortable;
      limit.playable += added.playable;
      const bool byWay = (gap < ms(limit.comfortable) && gap >= ms(staying.comfortable)) ||
                         (gap < ms(limit.playable) && gap >= ms(staying.playable));
      if (byWay) s.reason = StrainReason::kTravel;
    }
    if (same->place == stroke.place && !same->grace && !stroke.grace && hand) {
      s.strain = s.effort = kStrainMost;
      s.reason = StrainReason::kTwoAtOnce;
    } else {
      const double time = std::max(gap, 1e-3);
      s.strain = std::min(kStrainMost, ms(limit.playable) / time);
      s.effort = std::min(kStrainMost, ms(limit.comfortable) / time);
    }
  }
  if (stroke.bounce > 0) {
    const double time = stroke.bounce / pace;
    const double strain = ms(limits.second.playable) * weak / time;
    if (strain > s.strain) {
      s.strain = strain;
      s.effort = ms(limits.second.comfortable) * weak / time;
      s.reason = StrainReason::kBounce;
      s.gap = time;
    }
  }
  if (!hand) return out;
  if (s.reason == StrainReason::kTwoAtOnce) {
    out.cost += kTwoAtOnceCost;
  } else if (s.strain > 1) {
    out.cost += kAtLimit + kUnplayable + kUnplayableSlope * (s.strain - 1);
  } else {
    const bool rebound =
        same != nullptr && s.run == 2 &&
        40 * std::log10(static_cast<double>(same->velocity.value()) / stroke.velocity.value()) >=
            kReboundDb;
    const bool alone = same != nullptr && !stroke.ostinato &&
                       (other == nullptr || other->at(pace) < same->at(pace));
    const double repeat = alone ? kRepeat * s.effort * s.effort : 0;
    out.cost += (kAtLimit * sixth(s.strain) + repeat) * (rebound ? kRebound : 1);
  }
  if (stroke.usual != Limb::kAutomatic && limb != stroke.usual) {
    out.cost += stroke.ostinato ? kLeaveOstinato : kLeaveUsual;
  }
  if (limb != strong() && stroke.onBeat && drum_[stroke.piece.value] != 0) out.cost += kWeakOnBeat;
  return out;
}

// --- The solver ---

namespace {

struct State {
  static constexpr std::uint32_t kFree = 0xFFFFFFFF;
  double cost = 0;
  std::uint32_t other = kFree;  // the other hand's last stroke
  std::uint8_t left = 0;        // the left hand has just struck
  std::uint8_t run = 0, otherRun = 0;
  std::uint16_t parent = 0;
};

// Keeps only what nothing else makes needless.
void put(std::vector<State>& states, const State& state) {
  for (State& s : states) {
    if (s.left != state.left || s.other != state.other) continue;
    if (s.cost <= state.cost && s.run <= state.run && s.otherRun <= state.otherRun) return;
    if (state.cost <= s.cost && state.run <= s.run && state.otherRun <= s.otherRun) {
      s = state;
      // Others that it makes needless do no harm.
      return;
    }
  }
  states.push_back(state);
}

constexpr Limb kHands[] = {Limb::kRightHand, Limb::kLeftHand};

}  // namespace

HandPlan solve(const Body& body, const std::vector<BodyStroke>& hands, double pace) {
  HandPlan out;
  if (hands.empty()) return out;
  // An ornament can stand before what is written earlier: by no more than this.
  double slack = 0;
  for (const BodyStroke& s : hands) slack = std::max(slack, std::abs(s.fixed));
  const double reach = body.reach() + 2 * slack;

  std::vector<std::uint16_t> history;  // parent * 2 + left
  std::vector<std::size_t> starts;
  history.reserve(hands.size() * 4);
  starts.reserve(hands.size());
  std::vector<State> now, next;
  for (std::uint32_t i = 0; i < hands.size(); ++i) {
    const BodyStroke& stroke = hands[i];
    next.clear();
    const auto step = [&](const State* s, std::uint16_t parent, int left) {
      if (isHand(stroke.limb) && stroke.limb != kHands[left]) return;
      State made;
      made.left = static_cast<std::uint8_t>(left);
      made.parent = parent;
      const BodyStroke* same = nullptr;
      const BodyStroke* other = nullptr;
      int run = 0;
      if (s != nullptr) {
        made.cost = s->cost;
        const bool again = s->left == left;
        const std::uint32_t sameAt = again ? i - 1 : s->other;
        made.other = again ? s->other : i - 1;
        made.otherRun = again ? s->otherRun : s->run;
        run = again ? s->run : s->otherRun;
        if (sameAt != State::kFree) same = &hands[sameAt];
        if (made.other != State::kFree) other = &hands[made.other];
      }
      const Body::Asked asked = body.ask(stroke, kHands[left], same, run, other, pace);
      made.cost += asked.cost;
      made.run = static_cast<std::uint8_t>(asked.strain.run);
      if (other != nullptr && stroke.at(pace) - other->at(pace) - other->bounce / pace > reach) {
        made.other = State::kFree;
        made.otherRun = 0;
      }
      put(next, made);
    };
    if (i == 0) {
      step(nullptr, 0, 0);
      step(nullptr, 0, 1);
    } else {
      for (std::size_t k = 0; k < now.size(); ++k) {
        step(&now[k], static_cast<std::uint16_t>(k), 0);
        step(&now[k], static_cast<std::uint16_t>(k), 1);
      }
    }
    starts.push_back(history.size());
    for (const State& s : next) {
      history.push_back(static_cast<std::uint16_t>(s.parent * 2 + s.left));
    }
    now.swap(next);
  }
  const auto best = std::min_element(
      now.begin(), now.end(), [](const State& a, const State& b) { return a.cost < b.cost; });
  out.cost = best->cost;
  out.hands.resize(hands.size());
  auto at = static_cast<std::size_t>(best - now.begin());
  for (std::size_t i = hands.size(); i-- > 0;) {
    const std::uint16_t entry = history[starts[i] + at];
    out.hands[i] = kHands[entry % 2];
    at = entry / 2;
  }
  return out;
}

// --- What given limbs ask for ---

namespace {

// Each limb's last stroke, as a part goes by.
class Going {
 public:
  Going(const Body& body, double pace) : body_(body), pace_(pace) {}
  Body::Asked next(const BodyStroke& stroke, Limb limb) {
    Last& same = last_[static_cast<std::size_t>(limb)];
    const BodyStroke* other =
        isHand(limb) ? last_[static_cast<std::size_t>(mirrored(limb))].stroke : nullptr;
    const Body::Asked asked = body_.ask(stroke, limb, same.stroke, same.run, other, pace_);
    same = {&stroke, asked.strain.run};
    return asked;
  }

 private:
  struct Last {
    const BodyStroke* stroke = nullptr;
    int run = 0;
  };
  const Body& body_;
  double pace_;
  std::array<Last, 5> last_{};
};

// Rounds after which nothing of the beginning is felt: runs are as long as they get.
int roundsFor(std::size_t strokes) {
  return 2 + static_cast<int>(RunLimits::kSustainedFrom / std::max<std::size_t>(1, strokes));
}

std::vector<Limb> feetOf(const std::vector<BodyStroke>& feet) {
  std::vector<Limb> out;
  out.reserve(feet.size());
  for (const BodyStroke& s : feet) out.push_back(s.limb);
  return out;
}

std::vector<Strain> lastRound(const Body& body, const std::vector<BodyStroke>& strokes,
                              double length, const std::vector<Limb>& by, double pace,
                              double* cost = nullptr) {
  std::vector<Strain> out;
  out.reserve(strokes.size());
  const int rounds = roundsFor(strokes.size());
  const std::vector<BodyStroke> all = unrolled(strokes, length, rounds);
  Going going(body, pace);
  const std::size_t before = all.size() - strokes.size();
  for (std::size_t i = 0; i < all.size(); ++i) {
    const Body::Asked asked = going.next(all[i], by[i % strokes.size()]);
    if (i < before) continue;
    out.push_back(asked.strain);
    if (cost != nullptr) *cost += asked.cost;
  }
  return out;
}

}  // namespace

double costOf(const Body& body, const std::vector<BodyStroke>& hands, const std::vector<Limb>& by,
              double pace) {
  Going going(body, pace);
  double cost = 0;
  for (std::size_t i = 0; i < hands.size(); ++i) cost += going.next(hands[i], by[i]).cost;
  return cost;
}

std::vector<Strain> strains(const Body& body, const std::vector<BodyStroke>& strokes,
                            const std::vector<Limb>& by, double pace) {
  Going going(body, pace);
  std::vector<Strain> out;
  out.reserve(strokes.size());
  for (std::size_t i = 0; i < strokes.size(); ++i) {
    out.push_back(going.next(strokes[i], by[i]).strain);
  }
  return out;
}

LoopStrains loopStrains(const Body& body, const BodyPart& part, const std::vector<Limb>& hands,
                        double pace) {
  LoopStrains out;
  out.hands = lastRound(body, part.hands, part.length, hands, pace, &out.cost);
  out.feet = lastRound(body, part.feet, part.length, feetOf(part.feet), pace);
  return out;
}

HandPlan solveLoop(const Body& body, const BodyPart& part, double pace) {
  const std::size_t size = part.hands.size();
  if (size == 0) return {};
  const int rounds = 2 + roundsFor(size);
  const HandPlan many = solve(body, unrolled(part.hands, part.length, rounds), pace);
  const auto loopCost = [&](const std::vector<Limb>& hands) {
    double cost = 0;
    (void)lastRound(body, part.hands, part.length, hands, pace, &cost);
    return cost;
  };
  // The round that is cheapest when it is the only one.
  HandPlan best;
  std::set<std::vector<Limb>> tried;
  for (int round = 0; round < rounds; ++round) {
    const auto begin = many.hands.begin() + static_cast<std::ptrdiff_t>(round * size);
    std::vector<Limb> hands(begin, begin + static_cast<std::ptrdiff_t>(size));
    if (!tried.insert(hands).second) continue;
    const double cost = loopCost(hands);
    if (best.hands.empty() || cost < best.cost) best = {std::move(hands), cost};
  }
  if (tried.size() == 1 || size > 256) return best;  // every round is the same: nothing is better
  // Else what is free is turned over stroke by stroke while that is cheaper.
  for (bool better = true; better;) {
    better = false;
    for (std::size_t i = 0; i < size; ++i) {
      if (isHand(part.hands[i].limb)) continue;
      std::vector<Limb> hands = best.hands;
      hands[i] = mirrored(hands[i]);
      const double cost = loopCost(hands);
      if (cost >= best.cost - 1e-9) continue;
      best = {std::move(hands), cost};
      better = true;
    }
  }
  return best;
}

// --- How fast it can go ---

namespace {

struct Worst {
  double strain = 0, effort = 0;
  std::optional<std::size_t> hand, foot;
  Strain at;  // of the greatest strain
};

Worst worstOf(const LoopStrains& all) {
  Worst out;
  const auto look = [&](const std::vector<Strain>& strains, bool hands) {
    for (std::size_t i = 0; i < strains.size(); ++i) {
      out.effort = std::max(out.effort, strains[i].effort);
      if (strains[i].strain <= out.strain) continue;
      out.strain = strains[i].strain;
      out.at = strains[i];
      out.hand = hands ? std::optional(i) : std::nullopt;
      out.foot = hands ? std::nullopt : std::optional(i);
    }
  };
  look(all.hands, true);
  look(all.feet, false);
  return out;
}

}  // namespace

Ceiling ceilingOf(const Body& body, const BodyPart& part, const std::vector<Limb>& hands) {
  const auto worst = [&](double pace) { return worstOf(loopStrains(body, part, hands, pace)); };
  constexpr double kPaceLeast = 1 / kPaceMost;
  // Both grow with the pace: no gap gets longer, and no run shorter.
  const auto last = [&](auto good) {
    double low = kPaceLeast, high = kPaceMost;
    if (good(worst(high))) return high;
    if (!good(worst(low))) return 0.0;
    for (int i = 0; i < 60; ++i) {
      const double middle = std::sqrt(low * high);
      (good(worst(middle)) ? low : high) = middle;
    }
    return low;
  };
  Ceiling out;
  out.comfortable = last([](const Worst& w) { return w.effort <= Strain::kJust; });
  out.playable = last([](const Worst& w) { return w.strain <= Strain::kJust; });
  if (out.playable >= kPaceMost) return out;
  const Worst at = worst(std::max(out.playable, kPaceLeast) * (1 + 1e-9));
  out.hand = at.hand;
  out.foot = at.foot;
  out.at = at.at;
  return out;
}

// --- Other ways ---

std::vector<HandPlan> alternatives(const Body& body, const BodyPart& part, const HandPlan& best,
                                   std::size_t from, std::size_t to, int most, double pace) {
  // After E. L. Lawler 1972 (Management Science 18(7)): what is left of all ways, once the best is
  // taken, falls into parts by the first stroke that differs; the best of each part waits its turn.
  struct Waiting {
    HandPlan way;
    std::size_t from = 0;
  };
  const auto dearer = [](const Waiting& a, const Waiting& b) { return a.way.cost > b.way.cost; };
  std::priority_queue<Waiting, std::vector<Waiting>, decltype(dearer)> waiting(dearer);
  const auto divide = [&](const HandPlan& way, std::size_t first) {
    BodyPart held = part;
    for (std::size_t i = 0; i < held.hands.size(); ++i) {
      if (i < first || i >= to) held.hands[i].limb = way.hands[i];
    }
    for (std::size_t i = first; i < std::min(to, held.hands.size()); ++i) {
      if (!isHand(part.hands[i].limb)) {
        held.hands[i].limb = mirrored(way.hands[i]);
        waiting.push({solveLoop(body, held, pace), i + 1});
      }
      held.hands[i].limb = way.hands[i];
    }
  };
  std::vector<HandPlan> out;
  divide(best, from);
  while (!waiting.empty() && static_cast<int>(out.size()) < most) {
    const Waiting next = waiting.top();
    waiting.pop();
    out.push_back(next.way);
    divide(next.way, next.from);
  }
  return out;
}

}  // namespace uneven
