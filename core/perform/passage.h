// SPDX-License-Identifier: GPL-3.0-or-later
// What a section makes of a groove at one pass: who is left out, what is played on another piece,
// the crash on its first position, the fill at its end. Made once for all passes that are alike, so
// that memory does not grow with passes.
//
//   base --mute--> --swap--> --after a fill--> --crash--> --fill--> what is written there
//
// Muting goes by what is written: a muted piece's hits are gone before another's are played on it.
// A muted limb is the hit's own, else the piece's usual one; with the foot of the hats, or hat-foot
// itself, its pump goes too. A fill's span holds the fill alone, as it is written there: hits,
// drawn openings and the grids of its beats; the base's pump goes on under it. After a fill the
// crash stands where the ride hand would, with a kick under it; or that hand's stroke is on the
// open hats. The level is no part of it: perform applies that to each stroke. Threads: pure
// functions.
#pragma once

#include <optional>

#include "core/song/song.h"

namespace uneven {

// The part of a groove that a fill takes over: [from, to) of the base, which the same stretch of
// `fill` from `start` on replaces.
struct FillSpan {
  Beat from, to;
  const Groove* fill = nullptr;
  Beat start;
};

// Whether a section changes what is written in any of its passes but for fills and the crash.
bool changesAll(const Section& section);

// What besides the section itself makes a pass of a groove another.
struct PassChange {
  bool crash = false;                     // the section's is in it
  FillAfter after = FillAfter::kNothing;  // what it begins with, since a fill is before it
  std::optional<FillSpan> fill;
  int take = -1;  // which of the section's fills that is

  bool none() const { return !crash && after == FillAfter::kNothing && !fill; }
};

// The groove as that pass of the section plays it; as long, and in the same meter.
Groove passageOf(const Groove& base, const Section& section, const Kit& kit,
                 const PassChange& change);

// What a section takes from or adds to a velocity at `along` of its length, 0..1, in dB.
double sectionLevel(const Section& section, double along);
// clamp(round(v * 10^(dB / 40))), the curve of core/measure/level.h.
Velocity atLevel(Velocity velocity, double db);

}  // namespace uneven
