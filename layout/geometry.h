// SPDX-License-Identifier: GPL-3.0-or-later
// Points and rectangles in pixels, x to the right, y down.
#pragma once

#include <algorithm>

namespace uneven {

struct Point {
  double x = 0;
  double y = 0;
  bool operator==(const Point&) const = default;
};

struct Size {
  double width = 0;
  double height = 0;
  bool operator==(const Size&) const = default;
};

struct Rect {
  double left = 0, top = 0, right = 0, bottom = 0;

  static Rect spanning(Point a, Point b) {
    return {std::min(a.x, b.x), std::min(a.y, b.y), std::max(a.x, b.x), std::max(a.y, b.y)};
  }
  bool contains(Point p) const {
    return p.x >= left && p.x <= right && p.y >= top && p.y <= bottom;
  }
  double width() const { return right - left; }
  double height() const { return bottom - top; }
  bool operator==(const Rect&) const = default;
};

}  // namespace uneven
