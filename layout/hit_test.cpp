// SPDX-License-Identifier: GPL-3.0-or-later
// Hit tests.
#include "layout/hit_test.h"

#include <algorithm>
#include <cmath>

namespace uneven {

double distanceToSegment(Point p, Point a, Point b) {
  const double dx = b.x - a.x;
  const double dy = b.y - a.y;
  const double length2 = dx * dx + dy * dy;
  const double along =
      length2 == 0 ? 0 : std::clamp(((p.x - a.x) * dx + (p.y - a.y) * dy) / length2, 0.0, 1.0);
  return std::hypot(p.x - (a.x + along * dx), p.y - (a.y + along * dy));
}

std::optional<std::size_t> stickAt(const StrikeScene& scene, Point p) {
  std::optional<std::size_t> nearest;
  double best = kStickReach;
  for (std::size_t i = 0; i < scene.sticks.size(); ++i) {
    const StickShape& stick = scene.sticks[i];
    // An ornament's strokes belong to their hit and leave it the precedence.
    const double distance =
        distanceToSegment(p, stick.foot, stick.head) + (stick.part > 0 ? 0.5 : 0);
    if (distance > best) continue;
    best = distance;
    nearest = i;
  }
  return nearest;
}

std::optional<std::size_t> laneAt(const StrikeScene& scene, double y) {
  for (std::size_t i = 0; i < scene.lanes.size(); ++i) {
    const double bottom = i + 1 < scene.lanes.size() ? scene.lanes[i + 1].top : scene.area.bottom;
    if (y >= scene.lanes[i].top && y < bottom) return i;
  }
  return std::nullopt;
}

Selection sticksIn(const StrikeScene& scene, const Rect& rect) {
  Selection out;
  for (const StickShape& stick : scene.sticks) {
    if (stick.part > 0) continue;
    if (rect.contains(stick.foot) || rect.contains(stick.head)) out.insert(stick.ref);
  }
  return out;
}

}  // namespace uneven
