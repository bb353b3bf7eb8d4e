// SPDX-License-Identifier: GPL-3.0-or-later
// Which hand plays what, and how fast a part can go.
//
// The hands are those of least cost over the whole part; what a stroke costs is told in strain.h.
// Threads: pure functions.
#pragma once

#include <optional>
#include <vector>

#include "core/body/strain.h"

namespace uneven {

struct HandPlan {
  std::vector<Limb> hands;  // one for each of the part's hand strokes
  double cost = 0;
};

// The least cost; limbs that are set are kept. Exact for a part of up to 20 000 strokes that is
// played once, near it beyond; linear in strokes.
HandPlan solve(const Body& body, const std::vector<BodyStroke>& hands, double pace = 1);
// A part that goes round: the end fits the beginning. The cost is that of one round among others.
HandPlan solveLoop(const Body& body, const BodyPart& part, double pace = 1);

// What given hands cost and ask for; `feet` may be part of it.
double costOf(const Body& body, const std::vector<BodyStroke>& hands, const std::vector<Limb>& by,
              double pace = 1);
std::vector<Strain> strains(const Body& body, const std::vector<BodyStroke>& strokes,
                            const std::vector<Limb>& by, double pace = 1);
// The same of one round of a loop among others, hands and then feet.
struct LoopStrains {
  std::vector<Strain> hands, feet;
  double cost = 0;  // of the hands
};
LoopStrains loopStrains(const Body& body, const BodyPart& part, const std::vector<Limb>& hands,
                        double pace = 1);

// How many times the part's tempo it can go, with these hands, going round.
struct Ceiling {
  double comfortable = 0, playable = 0;  // factors of the tempo; kPaceMost: nothing holds it back
  // What sets the playable one: index into hands or feet; nothing: nothing does.
  std::optional<std::size_t> hand, foot;
  Strain at;
};
inline constexpr double kPaceMost = 100;
Ceiling ceilingOf(const Body& body, const BodyPart& part, const std::vector<Limb>& hands);

// Other ways to play it: the next best by cost, best first, that differ from `best` within
// [from, to) of the hand strokes. Of more than 64 strokes each differs round one of them; linear.
std::vector<HandPlan> alternatives(const Body& body, const BodyPart& part, const HandPlan& best,
                                   std::size_t from, std::size_t to, int most, double pace = 1);

}  // namespace uneven
