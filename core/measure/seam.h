// SPDX-License-Identifier: GPL-3.0-or-later
// How much the intervals jump where one feel gives way to the next.
//
// Around the seam, from the bar before it to the bar after its stretch, the slots of the smaller
// swing unit are timed as the groove's busiest piece would strike them. Each interval is compared
// with the one that stands in its place a pair before (the longer pair where units differ): longs
// with longs and shorts with shorts. A feel that does not swing takes the other's unit. All is
// timed at the tempo of the seam, so that a new tempo is not taken for a jump; a pair that the bar
// line cuts does not count. Worked: eighths at 120 bpm from 1:1 to 2:1 at once: the long note grows
// from 250 ms to 333.3 ms, a jump of 83.3 ms or 33.3 %. Threads: pure functions.
#pragma once

#include <vector>

#include "core/perform/score.h"

namespace uneven {

struct Seam {
  std::uint32_t section = 0;  // that begins with the new feel
  std::uint32_t before = 0;   // feels, of the score
  std::uint32_t after = 0;
  Milliseconds jump{0};  // the greatest change of an interval from one pair to the next
  double share = 0;      // of the interval before
};

// One for each change of feel between sections, in their order.
std::vector<Seam> seams(const Score& score);

}  // namespace uneven
