// SPDX-License-Identifier: GPL-3.0-or-later
// Many cards in rows, scrolled: few stand wider and higher. And points spread over a map, so that
// none lies on another.
#pragma once

#include <cstdint>
#include <optional>
#include <utility>
#include <vector>

#include "layout/geometry.h"

namespace uneven {

struct CardWall {
  // px
  static constexpr double kCardWidth = 184, kCardHeight = 96, kCardHeightMost = 300, kGap = 8;
  static constexpr double kBar = 14;  // of the scroll bar

  std::uint64_t count = 0;
  Size size;
  int columns = 1;
  std::uint64_t rows = 0;
  double cardHeight = kCardHeight;

  // How far down it can be scrolled; 0: all is seen.
  double scrollMost() const;
  double step() const { return cardHeight + kGap; }  // from row to row
  Rect card(std::uint64_t index, double scrolled) const;
  // First and behind the last that is seen.
  std::pair<std::uint64_t, std::uint64_t> seen(double scrolled) const;
  int rowsSeen() const;
  // Under a point; nothing: none.
  std::optional<std::uint64_t> at(Point p, double scrolled) const;
};
CardWall cardWall(std::uint64_t count, Size size);

// Where points are drawn that lie at these places of a room: what falls on one place is laid round
// it, in rings of as many as have room, by their order. All within `edge`. Nothing stays nothing.
std::vector<std::optional<Point>> spreadOut(const std::vector<std::optional<Point>>& places,
                                            const Rect& edge);

}  // namespace uneven
