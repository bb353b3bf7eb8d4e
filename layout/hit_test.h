// SPDX-License-Identifier: GPL-3.0-or-later
// What lies under a point of a Strike scene.
#pragma once

#include <optional>

#include "layout/strike_scene.h"

namespace uneven {

// How near a point must come to a stick, in pixels.
inline constexpr double kStickReach = 7;

double distanceToSegment(Point p, Point a, Point b);

// Index of the nearest stick within reach.
std::optional<std::size_t> stickAt(const StrikeScene& scene, Point p);
// Index of the lane whose band holds y; nothing above or below all lanes.
std::optional<std::size_t> laneAt(const StrikeScene& scene, double y);
// The sticks whose head or foot lies inside.
Selection sticksIn(const StrikeScene& scene, const Rect& rect);

}  // namespace uneven
