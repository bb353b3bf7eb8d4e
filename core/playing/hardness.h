// SPDX-License-Identifier: GPL-3.0-or-later
// How hard a part is, as one figure made of named parts.
//
//   speed          50 * the greatest effort of a limb: 1 is its comfortable limit
//   coordination   5 * (different combinations of limbs that strike together - 1)
//                  + 1 for each two strokes of one limb with another limb's between them
//   dynamics       1 for each 6 dB that one hand jumps from stroke to stroke
//   openings       4 for each opening of the hats, by hit or drawn
//   subdivisions   3 for each beat that is divided otherwise than the beat before
//
// The figure is their sum. Each part grows with what it counts and none falls for it, so more of
// anything is never easier. Parts of a groove are the means of its bars, but for speed, which is
// the greatest. The weights are ours: there is no published measure. Threads: pure functions.
#pragma once

#include <vector>

#include "core/playing/ways.h"

namespace uneven {

struct Hardness {
  double speed = 0, coordination = 0, dynamics = 0, openings = 0, subdivisions = 0;
  double total() const { return speed + coordination + dynamics + openings + subdivisions; }
};

struct HardnessReport {
  std::vector<Hardness> bars;
  Hardness groove;
};

// `strains` as loopStrains gives them for the report's part at whatever tempo.
HardnessReport hardness(const HandReport& report, const LoopStrains& strains);

}  // namespace uneven
