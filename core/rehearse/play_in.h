// SPDX-License-Identifier: GPL-3.0-or-later
// Strokes that were played onto a groove's grid: each on its nearest slot, with what is left of its
// timing kept as a nudge, so that the groove, performed, gives back what was played.
//
//   slot  = the one whose performed time (swing, displacement, slots' shifts) lies nearest
//   nudge = played - that time
//
// Drift is left out: it belongs to the place, not to what was played. A stroke near the groove's
// end may belong to its first slot, a round later. Threads: pure functions over values.
#pragma once

#include <vector>

#include "core/base/result.h"
#include "core/song/edit.h"

namespace uneven {

// From these velocities on (and below) a played stroke is an accent (a ghost): common practice.
inline constexpr int kPlayedAccent = 105, kPlayedGhost = 42;

struct PlayedStroke {
  PieceId piece;
  StrokeKind stroke = StrokeKind::kNormal;
  Velocity velocity{64};
  double opening = 0;  // of the hats, 0..1
  Milliseconds at{0};  // from the groove's start, at the song's tempo
};

// A hit as played, at `at`, without its timing.
Hit playedHit(const PlayedStroke& stroke, Beat at);

struct PlayedIn {
  Groove groove;
  Selection put;
};

// `at`: where of the song the groove was played, its first place by default. What stands on a
// stroke's slot and piece gives way. Errors: those of arrangeGroove.
Result<PlayedIn> playIn(const Song& song, const std::string& grooveId,
                        const std::vector<PlayedStroke>& played, AtPlace at = {});

}  // namespace uneven
