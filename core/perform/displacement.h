// SPDX-License-Identifier: GPL-3.0-or-later
// How far a hit is displaced, and where that comes from.
//
//   displacement = piece + limb + slot + nudge, held to its role's limit
//
// in ms, positive late. Where a feel keeps its share of the beat (shareOf), piece, limb and slot
// are multiplied by the length of the beat over its length at that tempo. Threads: plain values.
#pragma once

#include "core/song/feel.h"
#include "core/song/hit.h"
#include "core/time/units.h"

namespace uneven {

struct ShiftParts {
  Milliseconds piece{0};
  Milliseconds limb{0};
  Milliseconds slot{0};
  Milliseconds nudge{0};
  Milliseconds limited{0};  // what the role's limit takes back; 0: nothing
  int velocity = 0;         // that the slots add
  Milliseconds sum() const { return piece + limb + slot + nudge + limited; }
};

// What the feel's milliseconds are multiplied by at a tempo.
double shareFactor(const Feel& feel, Tempo tempo);

// `limb` is who plays it, `inBar` its position in the bar. The feel's slots must stand in order of
// their positions, as those of a Score do.
ShiftParts shiftOf(const Feel& feel, const Hit& hit, Limb limb, Beat inBar, double factor);

}  // namespace uneven
