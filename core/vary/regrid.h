// SPDX-License-Identifier: GPL-3.0-or-later
// A figure on another grid, and a cell against the bar. The pulse stays.
//
//   at' = at * b / a      lasts' = lasts * b / a      seems = bpm * a / b
//
// for strokes written at partials of size a that are replayed at partials of size b. It meets the
// bar again after lcm(lasts', bar). Example: 24 triplets as sixteenths, a = 1/3, b = 1/4: 6
// quarters, the tempo seems 4/3 of what it is, in 4/4 it meets after 12 quarters, 3 bars (common
// practice, arithmetic). A cell of 3/8 over 5/4: lcm(3/2, 5) = 15 quarters, 3 bars.
//
// All exact; there and back is the identity. Threads: pure functions.
#pragma once

#include "core/vary/variant.h"

namespace uneven {

// The least length that both go into whole times. Both above 0.
Beat commonMultiple(Beat a, Beat b);

// The groove's hits replayed; as long as that lasts, which need not be whole bars.
struct Figure {
  std::vector<Hit> hits;
  Beat length;
};
Figure replayed(const Groove& groove, Beat from, Beat to);

// What lasts so long, over bars of that length and so many times the song's tempo.
Relaid relaidAs(Beat lasts, Beat bar, Beat times);

// How a figure is laid over the bar.
enum class Lay : std::uint8_t {
  kCycle,         // over and over until it meets the bar
  kBars,          // so many bars, cut at their end
  kFill,          // the last quarters of the phrase; its end is the phrase's: cut at its start
  kFillBackbeat,  // the same, begun so that a backbeat of it falls on one of the core's
  kStretch,       // the bar becomes as long as the figure: another meter
};
// `bars`: of kBars; `beats`: quarters of a fill. What would be longer than a groove can be is cut
// at its most bars.
Groove laid(const Groove& core, const Figure& figure, Grid grid, Lay lay, int bars, Beat beats);

// The meter of a bar of that length: the least denominator that it has. Nothing where there is
// none.
std::optional<Meter> meterOfLength(Beat length);

// "3/8", "5/16", or groups of slots, "3 3 2": its length in quarters and where groups begin.
struct Cell {
  Beat length;
  std::vector<Beat> starts;
};
std::optional<Cell> readCell(const std::string& text, Beat slot);

}  // namespace uneven
