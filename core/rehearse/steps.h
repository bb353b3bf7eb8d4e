// SPDX-License-Identifier: GPL-3.0-or-later
// A groove broken down into steps to be learnt one after the other, and the ladder of tempos for
// each.
//
//   by voice    hands alone; then the kicks one at a time, in order; the foot on the hats;
//               ghosts one at a time; openings last
//   by limb     one limb, then two, three and all
//   by beat     each count alone, pairs, half bars, the bar, bars joined
//   surface     the hands alone on one drum
//
// The first two are schools of their own (common practice); both are here. Each step is a groove of
// the same length; the last is the groove itself, but for the hands on one drum. Threads: pure
// functions.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/song/edit.h"

namespace uneven {

enum class StepsBy : std::uint8_t { kVoice, kLimb, kBeat, kSurface };

struct RehearsalStep {
  std::string title;  // "hands alone", "kick on 2 a", "counts 1 to 2 of bar 1"
  Groove groove;
  Selection added;  // that the step before has not
};
inline constexpr std::size_t kStepsMost = 200;
// At most kStepsMost; none of a groove without strokes.
std::vector<RehearsalStep> stepsOf(const Groove& groove, const Kit& kit, StepsBy by);
// The strokes around a position, with a count before and one after.
RehearsalStep hardSpot(const Groove& groove, Beat at);

// Up from one tempo to another. How it is climbed: core/rehearse/rehearsal.h.
struct Ladder {
  double from = 60, to = 98;  // BPM
  double by = 2;              // BPM, or percent of the rung before; 0: the one in the middle
  bool percent = false;
  int up = 3;    // clean times through in a row, then the next rung
  int down = 2;  // unclean ones in a row, then the rung below; 0: never

  std::vector<double> rungs() const;  // `to` is always the last
};
// Slow enough to begin with: the slower of 60 % of the goal and 80 % of what is comfortable (0: not
// known), in whole BPM; never below kBpmMin. Chosen by common practice.
double ladderStart(double goal, double comfortable);

}  // namespace uneven
