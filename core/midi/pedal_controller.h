// SPDX-License-Identifier: GPL-3.0-or-later
// The pedal's path as controller values.
//
// Read back with straight lines between them, the events give the path within kTolerance steps of
// 127, with as few of the path's corners as that allows and never two within a millisecond. (The
// rounding to ticks adds to that where a tick is long and the foot quick.) Threads: pure functions.
#pragma once

#include <cstdint>
#include <functional>
#include <vector>

#include "core/perform/hat_pedal.h"

namespace uneven {

struct ControllerKnot {
  std::int64_t tick = 0;
  int value = 0;  // 0..127
  bool operator==(const ControllerKnot&) const = default;
};

inline constexpr double kTolerance = 2;

// `down`: the value of a foot pressed down, 127 or 0; the other end is the foot up. `tickOf` does
// not fall; times before the file are put at its start.
std::vector<ControllerKnot> pedalKnots(const HatPedal& pedal, int down,
                                       const std::function<std::int64_t(Moment)>& tickOf);

}  // namespace uneven
