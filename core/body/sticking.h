// SPDX-License-Identifier: GPL-3.0-or-later
// Hands for a part, what they are asked for, and how fast it can go.
//
// Threads: pure functions.
#pragma once

#include <optional>
#include <stop_token>
#include <vector>

#include "core/body/hands.h"

namespace uneven {

// By reasons in order; limits are those at `pace` times the part's tempo. Linear in strokes.
HandPlan solve(const Body& body, const std::vector<BodyStroke>& hands, double pace = 1,
               HandWay way = HandWay::kByReasons);
// A part that goes round: the end fits the beginning. The cost is that of one round among others.
// Of a way that is asked for by name, whether it can be played or not.
HandPlan solveLoop(const Body& body, const BodyPart& part, double pace = 1,
                   HandWay way = HandWay::kByReasons);

// What given limbs are asked for; `strokes` may be feet.
std::vector<Strain> strains(const Body& body, const std::vector<BodyStroke>& strokes,
                            const std::vector<Limb>& by, double pace = 1);
// 4 strain^6, summed.
double costOf(const std::vector<Strain>& strains);
// The same of one round of a loop among others, hands and then feet.
struct LoopStrains {
  std::vector<Strain> hands, feet;
  double cost = 0;  // of the hands
};
LoopStrains loopStrains(const Body& body, const BodyPart& part, const std::vector<Limb>& hands,
                        double pace = 1);

// How many times the part's tempo it can go, going round. Comfortable is below playable by 3 % or
// more.
struct Ceiling {
  double comfortable = 0, playable = 0;  // factors of the tempo; kPaceMost: nothing holds it back
  // What sets the playable one: index into hands or feet; nothing: nothing does.
  std::optional<std::size_t> hand, foot;
  Strain at;
  std::vector<Limb> hands;  // that reach it
};
inline constexpr double kPaceMost = 100;
// With these hands.
Ceiling ceilingOf(const Body& body, const BodyPart& part, const std::vector<Limb>& hands);
// The part's own: of the way that goes fastest, whatever tempo it is asked at. Ways that a drummer
// would name are tried, and a search for the hands of least strain that keeps a dozen of the best
// at each place. Stopped: of the ways that it had tried.
Ceiling ceilingOf(const Body& body, const BodyPart& part, const std::stop_token& stop = {});

}  // namespace uneven
