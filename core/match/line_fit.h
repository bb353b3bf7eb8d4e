// SPDX-License-Identifier: GPL-3.0-or-later
// Where a take's beats lie by all of its strokes: on a straight line, or on one that bends.
#pragma once

#include <vector>

#include "core/match/apart.h"
#include "core/match/numbers.h"

namespace uneven {

struct LineFound {
  Line line;                           // seconds over quarters, through all
  bool straight = false;               // they stay near it, as a body's clock does
  std::vector<BeatLine::Point> bends;  // how they go where they do not
};
// By the timed strokes without their leans; far ones weigh less (P. J. Huber 1964, Annals of
// Mathematical Statistics 35(1)), bends are smoothed. `extent`: of `placed`. Threads: pure.
LineFound lineThroughAll(const std::vector<Onset>& onsets, const std::vector<Placed>& placed,
                         const Apart& apart, const Extent& extent);

}  // namespace uneven
