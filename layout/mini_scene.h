// SPDX-License-Identifier: GPL-3.0-or-later
// A groove as small sticks: hands above the line, feet below, and what differs from its core.
#pragma once

#include <vector>

#include "core/vary/variant.h"
#include "layout/geometry.h"
#include "layout/time_axis.h"

namespace uneven {

// The part of a groove that is shown: all of it up to so many bars, else that many from where it
// differs.
struct MiniSpan {
  Beat from, to;
};
inline constexpr int kMiniBars = 2;
MiniSpan miniSpan(const Groove& groove, const Changes& changes, int bars = kMiniBars);

struct MiniStick {
  Point foot, head;
  Limb limb = Limb::kAutomatic;  // that plays it: set, or the piece's usual one
  Role role = Role::kNormal;
  bool differs = false;
};
struct MiniScene {
  MiniSpan span;
  TimeAxis axis;  // quarters of the groove
  double line = 0;
  std::vector<double> bars;  // x of the bar lines within
  std::vector<MiniStick> sticks;
  std::vector<Point> gone;  // where what the core has stood
};
// `core` nullptr, or of another length: nothing differs. Nor does anything where most is another
// figure: marking it would tell nothing.
MiniScene miniScene(const Groove& groove, const Groove* core, const Kit& kit, const Rect& room,
                    int bars = kMiniBars);

}  // namespace uneven
