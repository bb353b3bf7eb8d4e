// SPDX-License-Identifier: GPL-3.0-or-later
// Ornaments as strokes around the main one.
//
//   flam    one soft stroke 30 ms before, at 45 % of the main velocity; drag two, ruff three, 30 ms
//   apart diddle  a second stroke halfway through the slot, at 90 % buzz    presses every 25 ms,
//   each at 75 % of the one before, for at most 150 ms roll    thirty-seconds at 85 % for its
//   length
//
// Gaps of flam, drag, ruff and buzz are milliseconds, not beats: they do not change with the tempo
// (the figures are common practice, from memory). A hit's own ornamentGap and ornamentPercent, if
// any, stand in place of these figures; a roll with a gap of its own is even in milliseconds.
// `slot` is the length of the hit's slot; a hit's ornamentFor, if any, is the length of its buzz or
// roll. Nothing sounds after `room`, the distance
// to the next hit on the same piece. Threads: pure functions.
#pragma once

#include <vector>

#include "core/song/hit.h"

namespace uneven {

struct OrnamentStroke {
  Milliseconds shift{0};  // from the main stroke: before it is negative
  Beat after;             // further, in quarter notes, for what is measured in beats
  double velocityShare = 1;
  Role role = Role::kGrace;
};

inline constexpr Milliseconds kGraceGap{30};

// Besides the main one, in order of time; `quarter` is how long one lasts there.
std::vector<OrnamentStroke> ornamentStrokes(const Hit& hit, Beat slot, Beat room,
                                            Milliseconds quarter);

// At least as many strokes as a hit can become, the main one included; at any tempo.
std::int64_t strokesAtMost(const Hit& hit, Beat slot);

}  // namespace uneven
