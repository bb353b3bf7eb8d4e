// SPDX-License-Identifier: GPL-3.0-or-later
// What every view of bars stands on: which bars of a groove are shown, where time falls in x, and
// the lines of the grid with their count names.
//
//   line.x = axis.x(swung position)      line.straightX = axis.x(written position)
//
// The scenes of the stages are frames with shapes of their own. Threads: plain values.
#pragma once

#include <cstdint>
#include <optional>
#include <vector>

#include "core/song/song.h"
#include "core/time/count.h"
#include "layout/geometry.h"
#include "layout/time_axis.h"

namespace uneven {

class FeelClock;

enum class LineWeight : std::uint8_t { kBar, kCount, kPartial };

struct GridLine {
  Beat at;       // from the groove's start
  double x = 0;  // swung
  double straightX = 0;
  CountName count;
  LineWeight weight = LineWeight::kPartial;
  bool labelled = true;  // there is room for its count name
};

struct BarFrame {
  TimeAxis axis;
  Rect area;   // over which the lines stand
  Beat begin;  // of what is shown, from the groove's start
  Beat end;
  Beat barLength;
  std::vector<GridLine> lines;  // the groove's grid, in order; the last bar line included

  bool shows(Beat at) const { return at >= begin && at < end; }
  // Of a written position that is shown: its line's, else the straight one; nothing when it is not.
  std::optional<double> xOf(Beat at) const;
};

// Room left of the lines for the names of lanes, and above them for the counts.
inline constexpr double kLaneNameWidth = 96;
inline constexpr double kCountHeight = 46;

struct BarFrameWanted {
  Rect area;
  double inset = 14;  // from the area's left to the first line
  int firstBar = 0;   // of the groove, from 0
  int bars = 1;
};

// `swung` bends the lines; nullptr: straight time.
BarFrame barFrame(const Groove& groove, const FeelClock* swung, const BarFrameWanted& wanted);

// The first bar to show so that as many bars as there are room for are shown.
int heldFirstBar(const Groove& groove, int firstBar, int bars);
int barOf(const Groove& groove, Beat at);

// The grid position whose line is nearest to x.
Beat slotAt(const BarFrame& frame, double x);
// The grid line of a position, nothing when it is off the grid or not shown.
std::optional<std::size_t> lineAt(const BarFrame& frame, Beat at);

}  // namespace uneven
