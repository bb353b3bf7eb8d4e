// SPDX-License-Identifier: GPL-3.0-or-later
// What stands under Check's sticks: a hill of strain for each limb, and a ruler of tempos.
//
//   hill's y = bottom - height * strain / kStrainShown       ruler's x: bpm from kRulerFrom to
//   kRulerTo
#pragma once

#include <array>
#include <vector>

#include "layout/geometry.h"
#include "layout/time_axis.h"

namespace uneven {

inline constexpr double kStrainShown = 1.3;               // of the limit: more is drawn as this
inline constexpr double kRulerFrom = 40, kRulerTo = 240;  // BPM

struct StrainRooms {
  double top = 0;             // what is above belongs to the sticks
  std::array<Rect, 4> hills;  // of each limb, from above
  Rect ruler;
  TimeAxis tempos;  // of the ruler, BPM in place of quarters

  double xOfBpm(double bpm) const;  // held to the ruler
  double bpmAt(double x) const;     // whole
};
// Between left and right of a view of that height.
StrainRooms strainRooms(double height, double left, double right);

// A stroke's strain, and how far to its right the limb is fresh again (docs/strain.md).
struct StrainAt {
  double x = 0, strain = 0, recovers = 0;  // px, limit, px
};
// The hill's edge from its left foot to its right one, of strokes in order of x.
std::vector<Point> hillEdge(const std::vector<StrainAt>& strokes, const Rect& hill);

}  // namespace uneven
