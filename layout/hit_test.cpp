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

Beat slotAt(const StrikeScene& scene, double x) {
  // The last line is the bar line behind what is shown, where no hit can stand.
  const auto last = std::prev(scene.lines.end());
  return std::min_element(scene.lines.begin(), last,
                          [&](const GridLine& a, const GridLine& b) {
                            return std::abs(a.x - x) < std::abs(b.x - x);
                          })
      ->at;
}

std::optional<std::size_t> lineAt(const StrikeScene& scene, Beat at) {
  const auto found = std::lower_bound(scene.lines.begin(), scene.lines.end(), at,
                                      [](const GridLine& line, Beat b) { return line.at < b; });
  if (found == scene.lines.end() || found->at != at) return std::nullopt;
  return static_cast<std::size_t>(found - scene.lines.begin());
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
