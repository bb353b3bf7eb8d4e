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
#include <bit>
#include <cmath>
#include <limits>
#include <queue>
#include <set>

namespace uneven {
namespace {

constexpr Limb kHands[] = {Limb::kRightHand, Limb::kLeftHand};

}  // namespace

// States of one hand and one last stroke of the other hand stand together: all but the runs is the
// same for them.
class Solver {
 public:
  Solver(const Body& body, const std::vector<BodyStroke>& hands, double pace)
      : body_(body), hands_(hands), pace_(pace) {
    // An ornament can stand before what is written earlier: by no more than this.
    double slack = 0;
    for (const BodyStroke& s : hands) slack = std::max(slack, std::abs(s.fixed));
    reach_ = body.reach() + 2 * slack;
    runGap_ = body.profile().runGap.count() + 2 * slack;
    history_.reserve(hands.size() * 4);
    starts_.reserve(hands.size());
  }

  HandPlan run() {
    for (std::uint32_t i = 0; i < hands_.size(); ++i) {
      used_ = 0;
      for (int left = 0; left < 2; ++left) step(i, left);
      starts_.push_back(history_.size());
      std::uint16_t count = 0;
      for (std::size_t g = 0; g < used_; ++g) thin(next_[g], count);
      if (hands_.size() > kExactMost && count > kKeptOfLong) keepCheapest();
      now_.swap(next_);
      nowUsed_ = used_;
    }
    const State* best = nullptr;
    for (std::size_t g = 0; g < nowUsed_; ++g) {
      for (const State& s : now_[g].states) {
        if (best == nullptr || s.cost < best->cost) best = &s;
      }
    }
    HandPlan out;
    out.cost = best->cost;
    out.hands.resize(hands_.size());
    std::size_t at = best->index;
    for (std::size_t i = hands_.size(); i-- > 0;) {
      const std::uint16_t entry = history_[starts_[i] + at];
      out.hands[i] = kHands[entry % 2];
      at = entry / 2;
    }
    return out;
  }

 private:
  // Runs of both hands, 0 to kSustainedFrom each (0: whatever it was, it ends here), are a cell.
  static constexpr std::size_t kRuns = RunLimits::kSustainedFrom + 1;
  struct State {
    double cost = 0;
    std::uint8_t run = 0, otherRun = 0;
    std::uint16_t index = 0;  // of all states after this stroke
  };
  static constexpr std::uint32_t kFree = 0xFFFFFFFF;
  // A part of more strokes is solved by its cheapest states alone: a state that is far behind does
  // not come back but where hardly anything can be played anyway.
  static constexpr std::size_t kExactMost = 20'000, kKeptOfLong = 12;
  struct Group {
    std::uint32_t other = kFree;  // the other hand's last stroke
    int left = 0;                 // the left hand has just struck
    std::vector<State> states;
    // While it is filled: the cheapest of each cell, and what it came from.
    std::array<std::uint16_t, kRuns> filled;  // by run, a bit for each of the other's
    std::array<double, kRuns * kRuns> costs;
    std::array<std::uint16_t, kRuns * kRuns> parents;
  };

  static void put(Group& group, std::size_t run, std::size_t otherRun, double cost,
                  std::uint16_t parent) {
    const std::size_t cell = run * kRuns + otherRun;
    const auto bit = static_cast<std::uint16_t>(1U << otherRun);
    if ((group.filled[run] & bit) != 0 && group.costs[cell] <= cost) return;
    group.filled[run] |= bit;
    group.costs[cell] = cost;
    group.parents[cell] = parent;
  }

  // Keeps what costs less than all whose runs are no longer.
  void thin(Group& group, std::uint16_t& count) {
    group.states.clear();
    // Of what has been kept, the least with such a run of the other hand or a shorter one.
    std::array<double, kRuns> least;
    least.fill(std::numeric_limits<double>::infinity());
    for (std::size_t run = 0; run < kRuns; ++run) {
      for (unsigned bits = group.filled[run]; bits != 0; bits &= bits - 1) {
        const auto otherRun = static_cast<std::size_t>(std::countr_zero(bits));
        const std::size_t cell = run * kRuns + otherRun;
        const double cost = group.costs[cell];
        if (cost >= least[otherRun]) continue;
        for (std::size_t o = otherRun; o < kRuns && least[o] > cost; ++o) least[o] = cost;
        group.states.push_back(
            {cost, static_cast<std::uint8_t>(run), static_cast<std::uint8_t>(otherRun), count++});
        history_.push_back(static_cast<std::uint16_t>(group.parents[cell] * 2 + group.left));
      }
    }
  }

  // Of all states the cheapest; the others are forgotten.
  void keepCheapest() {
    costs_.clear();
    for (std::size_t g = 0; g < used_; ++g) {
      for (const State& s : next_[g].states) costs_.push_back(s.cost);
    }
    const auto last = costs_.begin() + kKeptOfLong - 1;
    std::nth_element(costs_.begin(), last, costs_.end());
    for (std::size_t g = 0; g < used_; ++g)
      std::erase_if(next_[g].states, [&](const State& s) { return s.cost > *last; });
  }

  Group& groupOf(int left, std::uint32_t other) {
    for (std::size_t g = 0; g < used_; ++g) {
      if (next_[g].left == left && next_[g].other == other) return next_[g];
    }
    if (used_ == next_.size()) next_.emplace_back();
    Group& made = next_[used_++];
    made.left = left;
    made.other = other;
    made.filled.fill(0);
    return made;
  }

  double timeSince(std::uint32_t stroke, std::uint32_t now) const {
    const BodyStroke& before = hands_[stroke];
    return hands_[now].at(pace_) - before.at(pace_) - before.bounce / pace_;
  }

  // Stroke i in one of the hands, after every state there is.
  void step(std::uint32_t i, int left) {
    const BodyStroke& stroke = hands_[i];
    if (isHand(stroke.limb) && stroke.limb != kHands[left]) return;
    // A run that no later stroke can go on with need not be told apart.
    const bool last = i + 1 == hands_.size();
    const auto endsBeforeNext = [&](std::uint32_t of) {
      return last || timeSince(of, i + 1) > runGap_;
    };
    const bool runEnds = endsBeforeNext(i);
    if (i == 0) {
      const Body::Asked asked =
          body_.price(body_.meet(stroke, kHands[left], nullptr, nullptr, pace_), 1);
      put(groupOf(left, kFree), 1, 0, asked.cost, 0);
      return;
    }
    for (std::size_t g = 0; g < nowUsed_; ++g) {
      const Group& group = now_[g];
      if (group.states.empty()) continue;
      const bool again = group.left == left;
      const std::uint32_t sameAt = again ? i - 1 : group.other;
      std::uint32_t otherAt = again ? group.other : i - 1;
      const BodyStroke* same = sameAt == kFree ? nullptr : &hands_[sameAt];
      const BodyStroke* other = otherAt == kFree ? nullptr : &hands_[otherAt];
      const Body::Meeting meeting = body_.meet(stroke, kHands[left], same, other, pace_);
      // By the stroke's place in its run: 1, 2, 3 to 7, 8 and more; priced when first asked for.
      constexpr int kFirstOfKind[] = {1, 2, RunLimits::kRunFrom, RunLimits::kSustainedFrom};
      std::array<std::optional<double>, 4> costs;
      if (otherAt != kFree && timeSince(otherAt, i) > reach_) otherAt = kFree;
      const bool otherEnds = otherAt == kFree || endsBeforeNext(otherAt);
      Group& to = groupOf(left, otherAt);
      for (const State& s : group.states) {
        const int before = again ? s.run : s.otherRun;
        const int run = meeting.goesOn ? std::min(before + 1, RunLimits::kSustainedFrom) : 1;
        const int kind = run == 1                          ? 0
                         : run < RunLimits::kRunFrom       ? 1
                         : run < RunLimits::kSustainedFrom ? 2
                                                           : 3;
        std::optional<double>& cost = costs[static_cast<std::size_t>(kind)];
        if (!cost) cost = body_.price(meeting, kFirstOfKind[kind]).cost;
        put(to, static_cast<std::size_t>(runEnds ? 0 : run),
            static_cast<std::size_t>(otherEnds ? 0
                                     : again   ? s.otherRun
                                               : s.run),
            s.cost + *cost, s.index);
      }
    }
  }

  const Body& body_;
  const std::vector<BodyStroke>& hands_;
  double pace_;
  double reach_ = 0, runGap_ = 0;
  std::vector<std::uint16_t> history_;  // parent * 2 + left
  std::vector<std::size_t> starts_;
  std::vector<Group> now_, next_;
  std::vector<double> costs_;
  std::size_t nowUsed_ = 0, used_ = 0;
};

HandPlan solve(const Body& body, const std::vector<BodyStroke>& hands, double pace) {
  return hands.empty() ? HandPlan{} : Solver(body, hands, pace).run();
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

// Calls for each stroke of the last round with what it asks. `all`: so many rounds of `size`
// strokes.
template <typename Call>
void lastRound(const Body& body, const std::vector<BodyStroke>& all, std::size_t size,
               const std::vector<Limb>& by, double pace, Call call) {
  Going going(body, pace);
  const std::size_t before = all.size() - size;
  for (std::size_t i = 0; i < all.size(); ++i) {
    const Body::Asked asked = going.next(all[i], by[i % size]);
    if (i >= before) call(asked);
  }
}
std::vector<BodyStroke> roundsOf(const std::vector<BodyStroke>& strokes, double length) {
  return unrolled(strokes, length, roundsFor(strokes.size()));
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
  out.hands.reserve(part.hands.size());
  out.feet.reserve(part.feet.size());
  lastRound(body, roundsOf(part.hands, part.length), part.hands.size(), hands, pace,
            [&](const Body::Asked& asked) {
              out.hands.push_back(asked.strain);
              out.cost += asked.cost;
            });
  lastRound(body, roundsOf(part.feet, part.length), part.feet.size(), feetOf(part.feet), pace,
            [&](const Body::Asked& asked) { out.feet.push_back(asked.strain); });
  return out;
}

HandPlan solveLoop(const Body& body, const BodyPart& part, double pace) {
  const std::size_t size = part.hands.size();
  if (size == 0) return {};
  const int rounds = 2 + roundsFor(size);
  const HandPlan many = solve(body, unrolled(part.hands, part.length, rounds), pace);
  const std::vector<BodyStroke> turns = roundsOf(part.hands, part.length);
  const auto loopCost = [&](const std::vector<Limb>& hands) {
    double cost = 0;
    lastRound(body, turns, size, hands, pace, [&](const Body::Asked& a) { cost += a.cost; });
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

// Takes the strains of one round after the other, hands before feet.
class WorstOf {
 public:
  explicit WorstOf(bool hands, Worst& out) : hands_(hands), out_(out) {}
  void operator()(const Body::Asked& asked) {
    const Strain& s = asked.strain;
    out_.effort = std::max(out_.effort, s.effort);
    if (s.strain > out_.strain) {
      out_.strain = s.strain;
      out_.at = s;
      out_.hand = hands_ ? std::optional(index_) : std::nullopt;
      out_.foot = hands_ ? std::nullopt : std::optional(index_);
    }
    ++index_;
  }

 private:
  bool hands_;
  Worst& out_;
  std::size_t index_ = 0;
};

}  // namespace

Ceiling ceilingOf(const Body& body, const BodyPart& part, const std::vector<Limb>& hands) {
  const std::vector<BodyStroke> handTurns = roundsOf(part.hands, part.length);
  const std::vector<BodyStroke> footTurns = roundsOf(part.feet, part.length);
  const std::vector<Limb> feet = feetOf(part.feet);
  const auto worst = [&](double pace) {
    Worst out;
    lastRound(body, handTurns, part.hands.size(), hands, pace, WorstOf(true, out));
    lastRound(body, footTurns, part.feet.size(), feet, pace, WorstOf(false, out));
    return out;
  };
  constexpr double kPaceLeast = 1 / kPaceMost;
  // Both grow with the pace: no gap gets longer, and no run shorter.
  const auto last = [&](auto good, auto about) {
    double low = kPaceLeast, high = kPaceMost;
    if (good(worst(high))) return high;
    if (!good(worst(low))) return 0.0;
    // Strain grows nearly as the pace does, so one look tells about where it is.
    const double guess = about(worst(1));
    for (const double near : {guess * 0.999, guess * 1.001}) {
      if (near > low && near < high) (good(worst(near)) ? low : high) = near;
    }
    constexpr double kClose = 1 + 1e-12;
    for (int i = 0; i < 60 && high > low * kClose; ++i) {
      const double middle = std::sqrt(low * high);
      (good(worst(middle)) ? low : high) = middle;
    }
    return low;
  };
  Ceiling out;
  out.comfortable = last([](const Worst& w) { return w.effort <= Strain::kJust; },
                         [](const Worst& w) { return 1 / w.effort; });
  out.playable = last([](const Worst& w) { return w.strain <= Strain::kJust; },
                      [](const Worst& w) { return 1 / w.strain; });
  out.comfortable = std::min(out.comfortable, out.playable);  // each is found by itself
  if (out.playable >= kPaceMost) return out;
  const Worst at = worst(std::max(out.playable, kPaceLeast) * (1 + 1e-9));
  out.hand = at.hand;
  out.foot = at.foot;
  out.at = at.at;
  return out;
}

// --- Other ways ---

namespace {

// A stroke that is turned over is felt by its neighbours only: so much before and after it.
constexpr std::ptrdiff_t kFelt = 16;

// The best way in which stroke `at` is in the other hand than in `way`, all before it as there; of
// a long loop, in which what lies beyond half of kFelt stays as it is as well.
HandPlan turnedOver(const Body& body, const BodyPart& part, const HandPlan& way, std::size_t at,
                    std::size_t to, double pace) {
  const auto size = std::ssize(part.hands);
  std::vector<BodyStroke> window;
  std::vector<Limb> before;
  for (std::ptrdiff_t k = -kFelt; k <= kFelt; ++k) {
    const std::ptrdiff_t i = static_cast<std::ptrdiff_t>(at) + k;
    const std::ptrdiff_t round = i < 0 ? -1 : i >= size ? 1 : 0;
    const auto index = static_cast<std::size_t>(i - round * size);
    BodyStroke b = part.hands[index];
    b.grid += static_cast<double>(round) * part.length;
    before.push_back(way.hands[index]);
    // What follows the free ones is as it was, so that nothing beyond the window changes.
    const bool free = k > 0 && k <= kFelt / 2 && round == 0 && index < to;
    if (!free) b.limb = k == 0 ? mirrored(way.hands[index]) : way.hands[index];
    // Places ascend over the end of the loop, too.
    b.place += static_cast<std::uint32_t>((round + 1) * (part.hands.back().place + 1));
    window.push_back(b);
  }
  const HandPlan turned = solve(body, window, pace);
  HandPlan out = way;
  out.cost += turned.cost - costOf(body, window, before, pace);
  for (std::size_t k = 0; k < window.size(); ++k) {
    const std::ptrdiff_t i = static_cast<std::ptrdiff_t>(at + k) - kFelt;
    if (i >= 0 && i < size) out.hands[static_cast<std::size_t>(i)] = turned.hands[k];
  }
  return out;
}

}  // namespace

std::vector<HandPlan> alternatives(const Body& body, const BodyPart& part, const HandPlan& best,
                                   std::size_t from, std::size_t to, int most, double pace) {
  if (most < 1) return {};
  const bool isLong = std::ssize(part.hands) > 4 * kFelt;
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
        waiting.push(
            {isLong ? turnedOver(body, part, way, i, to, pace) : solveLoop(body, held, pace),
             i + 1});
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
