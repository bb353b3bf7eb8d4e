// SPDX-License-Identifier: GPL-3.0-or-later
// The slots of a groove: the positions that its grid gives.
//
// The grid starts afresh at every bar line. A beat (Meter::countUnit) that has a grid of its own
// gives that grid's positions, counted from the beat's start, in place of the groove's: a triplet
// beat in a bar of sixteenths. Threads: pure functions.
#pragma once

#include <vector>

#include "core/song/song.h"

namespace uneven {

// The slots in from <= at < to, ascending. `to` is held to the groove's end.
std::vector<Beat> slotsOf(const Groove& groove, Beat from, Beat to);

// The first slot after `at`; the groove's length when there is none.
Beat slotAfter(const Groove& groove, Beat at);
// The last slot before `at`; 0 when there is none.
Beat slotBefore(const Groove& groove, Beat at);
// The distance from the slot that holds `at` to the next one.
Beat slotLength(const Groove& groove, Beat at);

// The start of the beat that holds `at`.
Beat beatStart(const Groove& groove, Beat at);
// The grid that holds at `at`.
Grid gridAt(const Groove& groove, Beat at);
// That beat's grid changed; the groove's own grid takes the beat's away.
Groove withBeatGrid(Groove groove, Beat at, Grid grid);

}  // namespace uneven
