// SPDX-License-Identifier: GPL-3.0-or-later
// A player made of numbers, who plays a groove with known faults: what scoring is tried against.
//
// Threads: pure functions; the same skill gives the same take everywhere.
#pragma once

#include <cstdint>
#include <map>
#include <vector>

#include "core/match/onset.h"
#include "core/take/take.h"

namespace uneven {

struct Skill {
  Milliseconds bias{0};                      // of all, + late: the steady part of a latency
  std::map<Limb, Milliseconds> of;           // and of single limbs
  Milliseconds spread{0};                    // standard deviation
  double velocitySpread = 0;                 // steps
  double misses = 0, extras = 0, wrong = 0;  // share of the strokes
  double drag = 0;                           // percent slower at the end than at the beginning
  std::uint64_t seed = 1;
};

struct SimulatedTake {
  std::vector<Onset> onsets;  // in order of time
  int missed = 0, added = 0, wrong = 0;
};

// So many rounds of a groove alone, the first beginning at `begin`.
SimulatedTake playedBy(const Take& part, const Skill& skill, int rounds, Milliseconds begin = {});

}  // namespace uneven
