// SPDX-License-Identifier: GPL-3.0-or-later
// A take under itself: a row for each bar, one bar wide, so that what is played alike stands in
// columns.
//
//   x = axis.xFromQuarters(quarters in the bar)     y = the middle of the bar's row
#pragma once

#include <cstdint>
#include <vector>

#include "core/match/fit.h"
#include "layout/geometry.h"
#include "layout/time_axis.h"

namespace uneven {

struct TakeRowsWanted {
  Size size;                         // of the view
  std::int64_t first = 0, last = 0;  // bars that there are
  std::int64_t top = 0;              // that should be the first in sight
  double barLength = 4;              // quarters
  bool alone = false;                // one bar has all the room
};

struct TakeRows {
  // Room beside the rows: numbers, tempo, counts above, what all bars add up to below.
  static constexpr double kLeft = 90, kRight = 150, kAbove = 56, kSums = 74, kBelow = 18;

  Rect area;
  TimeAxis axis;
  double rowHeight = 1;
  int shown = 1;  // rows that have room
  std::int64_t first = 0, last = 0, top = 0;

  bool shows(std::int64_t bar) const { return bar >= top && bar < top + shown && bar <= last; }
  double yOf(std::int64_t bar) const {
    return area.top + (static_cast<double>(bar - top) + 0.5) * rowHeight;
  }
  Rect numberRect(std::int64_t bar) const;
  // The bar whose row is at y; it may lie beyond the last one.
  std::int64_t barAt(double y) const;
  // What should be on top so that a bar is in sight, and nothing beyond the last.
  std::int64_t topFor(std::int64_t bar) const;
  std::int64_t heldTop(std::int64_t wanted) const;
};
TakeRows takeRows(const TakeRowsWanted& wanted);

// How often something stands at each pixel of a row, from its left on, each a little spread.
std::vector<double> hillOf(const std::vector<double>& xs, const Rect& area);

// The loudness of a bar as an outline over `floor`, a point for each pixel, at most `height` high.
// `energy`: of the recording, `rate` a second; `from`: the bar's first quarter.
std::vector<Point> energyOutline(const std::vector<float>& energy, double rate,
                                 const BeatLine& line, double from, const TakeRows& rows,
                                 double floor, double height);

}  // namespace uneven
