// SPDX-License-Identifier: GPL-3.0-or-later
// Rules, then a search where they do not do; strains and ceilings.
#include "core/body/sticking.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/body/search.h"
#include "core/body/weights.h"

namespace uneven {
namespace {

// Each limb's past, as a part goes by.
class Going {
 public:
  Going(const Body& body, double pace) : body_(body), pace_(pace) {}
  Strain next(const BodyStroke& stroke, Limb limb) {
    static const LimbPast kNone;
    LimbPast& same = pasts_[static_cast<std::size_t>(limb)];
    const LimbPast& other = isHand(limb) ? pasts_[static_cast<std::size_t>(mirrored(limb))] : kNone;
    return body_.next(stroke, limb, same, other, pace_);
  }
  HandPasts hands() const {
    return {pasts_[static_cast<std::size_t>(Limb::kRightHand)],
            pasts_[static_cast<std::size_t>(Limb::kLeftHand)]};
  }

 private:
  const Body& body_;
  double pace_;
  std::array<LimbPast, 5> pasts_{};
};

std::vector<Limb> feetOf(const std::vector<BodyStroke>& feet) {
  std::vector<Limb> out;
  out.reserve(feet.size());
  for (const BodyStroke& s : feet) out.push_back(s.limb);
  return out;
}

std::vector<Limb> limbsOf(const std::vector<BodyStroke>& hands,
                          const std::vector<HandPlace>& places, const std::vector<Limb>& first) {
  std::vector<Limb> out;
  out.reserve(hands.size());
  for (std::size_t p = 0; p < places.size(); ++p) {
    for (std::uint32_t i = places[p].from; i < places[p].to; ++i)
      out.push_back(handOf(hands[i], first[p]));
  }
  return out;
}

// Round places where something cannot be played, what departs least from the rules.
constexpr std::size_t kFreeBefore = 12, kFreeAfter = 6, kFelt = 10, kLeadIn = 24;

void repair(const Body& body, const std::vector<BodyStroke>& hands,
            const std::vector<HandPlace>& places, double pace, std::vector<Limb>& first) {
  std::vector<std::size_t> cannot;
  Going going(body, pace);
  for (std::size_t p = 0; p < places.size(); ++p) {
    bool playable = true;
    for (std::uint32_t i = places[p].from; i < places[p].to; ++i)
      playable = going.next(hands[i], handOf(hands[i], first[p])).playable() && playable;
    if (!playable) cannot.push_back(p);
  }
  for (std::size_t c = 0; c < cannot.size();) {
    std::size_t last = cannot[c];
    const std::size_t from = last > kFreeBefore ? last - kFreeBefore : 0;
    while (c < cannot.size() && cannot[c] <= last + kFreeAfter + kFreeBefore) last = cannot[c++];
    const std::size_t to = std::min(places.size(), last + kFreeAfter);
    Going lead(body, pace);
    for (std::size_t p = from > kLeadIn ? from - kLeadIn : 0; p < from; ++p) {
      for (std::uint32_t i = places[p].from; i < places[p].to; ++i)
        (void)lead.next(hands[i], handOf(hands[i], first[p]));
    }
    searchHands({body, hands, places, from, to, std::min(places.size(), to + kFelt), pace,
                 SearchFor::kLeastDeparture},
                lead.hands(), first);
  }
}

// Rounds after which nothing of the beginning is felt: runs are as long as they get.
int roundsFor(std::size_t strokes) {
  return 2 + static_cast<int>(RunLimits::kSustainedFrom / std::max<std::size_t>(1, strokes));
}

std::vector<BodyStroke> roundsOf(const std::vector<BodyStroke>& strokes, const BodyPart& part) {
  return unrolled(strokes, part.length, roundsFor(strokes.size()), part.quarters);
}

// Calls for each stroke of the last round with what it asks. `all`: so many rounds of `size`
// strokes.
template <typename Call>
void lastRound(const Body& body, const std::vector<BodyStroke>& all, std::size_t size,
               const std::vector<Limb>& by, double pace, Call call) {
  Going going(body, pace);
  const std::size_t before = all.size() - size;
  for (std::size_t i = 0; i < all.size(); ++i) {
    const Strain asked = going.next(all[i], by[i % size]);
    if (i >= before) call(asked);
  }
}

// A loop's rounds by one way, as the hands of one of them.
class Loop {
 public:
  Loop(const Body& body, const BodyPart& part)
      : body_(body),
        part_(part),
        rounds_(unrolled(part.hands, part.length, kRounds, part.quarters)),
        places_(placesOf(rounds_)),
        each_(places_.size() / kRounds) {}

  std::vector<Limb> byRule(double pace, HandWay way) const {
    return handsByRule(body_, rounds_, places_, pace, way, each_);
  }
  void repaired(double pace, std::vector<Limb>& first) const {
    repair(body_, rounds_, places_, pace, first);
  }
  void search(SearchFor goal, double pace, std::vector<Limb>& first) const {
    searchHands({body_, rounds_, places_, 0, places_.size(), places_.size(), pace, goal}, {},
                first);
  }
  // Of a round, from 0.
  std::vector<Limb> hands(const std::vector<Limb>& first, std::size_t round) const {
    const std::vector<Limb> all = limbsOf(rounds_, places_, first);
    const auto size = std::ssize(part_.hands);
    const auto from = all.begin() + static_cast<std::ptrdiff_t>(round) * size;
    return {from, from + size};
  }
  static constexpr int kRounds = 3;

 private:
  const Body& body_;
  const BodyPart& part_;
  std::vector<BodyStroke> rounds_;
  std::vector<HandPlace> places_;
  std::size_t each_;
};

std::size_t cannotBe(const std::vector<Strain>& strains) {
  return static_cast<std::size_t>(
      std::count_if(strains.begin(), strains.end(), [](const Strain& s) { return !s.playable(); }));
}

}  // namespace

double costOf(const std::vector<Strain>& strains) {
  double cost = 0;
  for (const Strain& s : strains) {
    const double cube = s.strain * s.strain * s.strain;
    cost += 4 * cube * cube;
  }
  return cost;
}

HandPlan solve(const Body& body, const std::vector<BodyStroke>& hands, double pace, HandWay way) {
  if (hands.empty()) return {};
  const std::vector<HandPlace> places = placesOf(hands);
  std::vector<Limb> first = handsByRule(body, hands, places, pace, way);
  repair(body, hands, places, pace, first);
  HandPlan out;
  out.hands = limbsOf(hands, places, first);
  out.cost = costOf(strains(body, hands, out.hands, pace));
  return out;
}

std::vector<Strain> strains(const Body& body, const std::vector<BodyStroke>& strokes,
                            const std::vector<Limb>& by, double pace) {
  Going going(body, pace);
  std::vector<Strain> out;
  out.reserve(strokes.size());
  for (std::size_t i = 0; i < strokes.size(); ++i) out.push_back(going.next(strokes[i], by[i]));
  return out;
}

LoopStrains loopStrains(const Body& body, const BodyPart& part, const std::vector<Limb>& hands,
                        double pace) {
  LoopStrains out;
  out.hands.reserve(part.hands.size());
  out.feet.reserve(part.feet.size());
  lastRound(body, roundsOf(part.hands, part), part.hands.size(), hands, pace,
            [&](const Strain& s) { out.hands.push_back(s); });
  lastRound(body, roundsOf(part.feet, part), part.feet.size(), feetOf(part.feet), pace,
            [&](const Strain& s) { out.feet.push_back(s); });
  out.cost = costOf(out.hands);
  return out;
}

HandPlan solveLoop(const Body& body, const BodyPart& part, double pace, HandWay way) {
  if (part.hands.empty()) return {};
  const Loop loop(body, part);
  HandPlan best;
  std::size_t fewest = 0;
  // The middle round has others on both sides.
  const auto tried = [&](const std::vector<Limb>& first) {
    HandPlan plan;
    plan.hands = loop.hands(first, 1);
    const LoopStrains asked = loopStrains(body, part, plan.hands, pace);
    plan.cost = asked.cost;
    const std::size_t cannot = cannotBe(asked.hands);
    if (best.hands.empty() || cannot < fewest) {
      fewest = cannot;
      best = std::move(plan);
    }
    return fewest == 0;
  };
  std::vector<Limb> first = loop.byRule(pace, way);
  if (tried(first) || way != HandWay::kByReasons) return best;
  // All of it in another way before a stroke or two are.
  for (const HandWay other : {HandWay::kOneHand, HandWay::kHandToHand}) {
    if (tried(loop.byRule(pace, other))) return best;
  }
  loop.repaired(pace, first);
  // Of a long part each place has been looked at by itself.
  constexpr std::size_t kShort = 256;
  if (tried(first) || part.hands.size() > kShort) return best;
  if (tried(loop.byRule(pace, HandWay::kDoubles))) return best;
  for (const HandWay other : {HandWay::kOneHand, HandWay::kHandToHand, HandWay::kDoubles}) {
    std::vector<Limb> mended = loop.byRule(pace, other);
    loop.repaired(pace, mended);
    if (tried(mended)) return best;
  }
  loop.search(SearchFor::kLeastStrain, pace, first);
  tried(first);
  return best;
}

// --- How fast it can go ---

namespace {

struct Worst {
  double strain = 0, effort = 0;
  std::optional<std::size_t> hand, foot;
  Strain at;  // of the greatest strain
};

// A part going round at any pace.
class Turning {
 public:
  Turning(const Body& body, const BodyPart& part)
      : body_(body),
        part_(part),
        hands_(roundsOf(part.hands, part)),
        feet_(roundsOf(part.feet, part)),
        byFeet_(feetOf(part.feet)) {}

  Worst worst(const std::vector<Limb>& hands, double pace) const {
    Worst out;
    std::size_t index = 0;
    const auto take = [&](const Strain& s, bool hand) {
      out.effort = std::max(out.effort, s.effort);
      if (s.strain > out.strain) {
        out.strain = s.strain;
        out.at = s;
        out.hand = hand ? std::optional(index) : std::nullopt;
        out.foot = hand ? std::nullopt : std::optional(index);
      }
      ++index;
    };
    lastRound(body_, hands_, part_.hands.size(), hands, pace,
              [&](const Strain& s) { take(s, true); });
    index = 0;
    lastRound(body_, feet_, part_.feet.size(), byFeet_, pace,
              [&](const Strain& s) { take(s, false); });
    return out;
  }

  // The highest pace at which the greatest of `what` is 1: it grows with the pace, nearly as it
  // does.
  double highest(const std::vector<Limb>& hands, double Worst::*what) const {
    double low = 0, high = 0, pace = 1;  // 0: not found yet
    constexpr int kSteps = 80;
    constexpr double kClose = 1e-13;
    for (int i = 0; i < kSteps; ++i) {
      const double is = worst(hands, pace).*what;
      if (is <= Strain::kJust) {
        if (pace >= kPaceMost) return kPaceMost;
        low = std::max(low, pace);
      } else {
        if (pace <= 1 / kPaceMost) return 0;
        high = high == 0 ? pace : std::min(high, pace);
      }
      if (std::abs(is - 1) < kClose) return pace;
      if (low > 0 && high > 0 && high <= low * (1 + kClose)) return low;
      double next = is > 0 ? pace / is : kPaceMost;
      const bool outside = (low > 0 && next <= low) || (high > 0 && next >= high);
      if (low > 0 && high > 0 && (outside || i > kSteps / 2)) next = std::sqrt(low * high);
      pace = std::clamp(next, 1 / kPaceMost, kPaceMost);
    }
    return low;
  }

 private:
  const Body& body_;
  const BodyPart& part_;
  std::vector<BodyStroke> hands_, feet_;
  std::vector<Limb> byFeet_;
};

Ceiling ceilingOf(const Turning& turning, const std::vector<Limb>& hands) {
  Ceiling out;
  out.hands = hands;
  out.comfortable = turning.highest(hands, &Worst::effort);
  out.playable = turning.highest(hands, &Worst::strain);
  out.comfortable = std::min(out.comfortable, out.playable * weight::kComfortableMost);
  if (out.playable >= kPaceMost) return out;
  const Worst at = turning.worst(hands, std::max(out.playable, 1 / kPaceMost) * (1 + 1e-9));
  out.hand = at.hand;
  out.foot = at.foot;
  out.at = at.at;
  return out;
}

}  // namespace

Ceiling ceilingOf(const Body& body, const BodyPart& part, const std::vector<Limb>& hands) {
  return ceilingOf(Turning(body, part), hands);
}

Ceiling ceilingOf(const Body& body, const BodyPart& part, const std::stop_token& stop) {
  const Turning turning(body, part);
  if (part.hands.empty()) return ceilingOf(turning, {});
  const Loop loop(body, part);
  std::vector<std::vector<Limb>> ways;
  const auto add = [&](std::vector<Limb> hands) {
    if (std::find(ways.begin(), ways.end(), hands) == ways.end()) ways.push_back(std::move(hands));
  };
  for (const HandWay way : {HandWay::kOneHand, HandWay::kHandToHand, HandWay::kDoubles})
    add(loop.hands(loop.byRule(1, way), 1));
  Ceiling best;
  double comfortable = 0;
  std::size_t known = 0;
  const auto look = [&] {
    for (; known < ways.size() && !stop.stop_requested(); ++known) {
      const std::vector<Limb>& hands = ways[known];
      if (best.hands.empty()) {
        best = ceilingOf(turning, hands);
        comfortable = best.comfortable;
        continue;
      }
      // Only what is easier at the best pace so far goes faster.
      const auto goesFaster = [&](double pace, double Worst::*what) {
        return pace < kPaceMost && turning.worst(hands, std::max(pace, 1 / kPaceMost)).*what < 1;
      };
      if (goesFaster(comfortable, &Worst::effort))
        comfortable = turning.highest(hands, &Worst::effort);
      if (goesFaster(best.playable, &Worst::strain)) best = ceilingOf(turning, hands);
    }
  };
  look();
  // What is best for a tempo is best for all, but for times that do not go with it.
  std::vector<Limb> first = loop.byRule(1, HandWay::kOneHand);
  for (const SearchFor goal : {SearchFor::kLeastStrain, SearchFor::kLeastEffort}) {
    if (stop.stop_requested()) break;
    const double pace = goal == SearchFor::kLeastStrain ? best.playable : comfortable;
    loop.search(goal, std::clamp(pace, 1 / kPaceMost, kPaceMost), first);
    for (std::size_t round = 0; round < Loop::kRounds; ++round) add(loop.hands(first, round));
    look();
  }
  best.comfortable = std::min(comfortable, best.playable * weight::kComfortableMost);
  return best;
}

}  // namespace uneven
