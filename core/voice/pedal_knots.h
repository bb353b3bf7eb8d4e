// SPDX-License-Identifier: GPL-3.0-or-later
// The pedal's path as controller values.
//
// Read back with straight lines between them, the knots give the path within kTolerance steps of
// 127, with as few of the path's corners as that allows and never two within a millisecond. (Ticks
// that are long beside a quick foot add to that in a file.) Threads: pure functions.
#pragma once

#include <vector>

#include "core/perform/hat_pedal.h"

namespace uneven {

struct PedalKnot {
  Moment time{0};
  int value = 0;  // 0..127
  bool operator==(const PedalKnot&) const = default;
};

inline constexpr double kTolerance = 2;

// `down`: the value of a foot pressed down, 127 or 0; the other end is the foot up. The first knot
// stands at `start`, where the path then is; what comes before is cut off.
std::vector<PedalKnot> pedalKnots(const HatPedal& pedal, int down, Moment start);

}  // namespace uneven
