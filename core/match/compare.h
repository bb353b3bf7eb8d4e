// SPDX-License-Identifier: GPL-3.0-or-later
// A part beside a recording: for each place of the groove and each piece how much later and how
// much louder the recording is.
//
//   ms = where theirs lies - where mine lies, both from the straight grid, swing with them
//   dB = level of their median velocity - level of mine
//
// Times are in ms at the part's own tempo, swing as share of the beat; the body's drift is left out
// of mine, and both are against the reference that the fit was made with. A difference is `beyond`
// where it is more than 1.96 standard errors of the recording and more than can matter (2 ms, 1
// dB). In sound loudness is only strength: the median difference is taken off all of them then.
//
// The distance is 0 for the same part: the root of the mean, over all places, of
// (ms / 10)^2 + (dB / 6)^2, where a place that only one of them has counts 1. The scales are ours:
// 10 ms is where a unison begins to spread, 6 dB half the amplitude. Threads: pure functions.
#pragma once

#include "core/match/fit.h"
#include "core/measure/level.h"
#include "core/take/take.h"

namespace uneven {

struct SlotCompared {
  Beat at;  // from the groove's start
  PieceId piece;
  bool mine = false, theirs = false;  // who strikes there
  Milliseconds late{0}, lateSe{0};    // theirs against mine
  Decibels louder, louderSe;
  double velocity = 0;  // theirs, as it would be in the part
  int n = 0;            // strokes of theirs
  bool beyond = false;
};

struct Compared {
  std::vector<SlotCompared> slots;  // what is farthest beyond its errors first
  // Of the sizes, where both strike.
  Milliseconds meanLate{0};
  Decibels meanLouder;
  int both = 0, onlyMine = 0, onlyTheirs = 0;
  double distance = 0;
};

// A stroke of the recording's where it falls in the groove.
struct StrokeBehind {
  Beat at;  // from the groove's start, as written
  PieceId piece;
  Milliseconds late{0};  // from the straight grid, at the part's tempo and against my reference
  double velocity = 0;
};
// All that were used, in their order; none where the meters differ. `mine` is a take of one groove.
std::vector<StrokeBehind> strokesBehind(const Take& mine, const Fit& theirs,
                                        const std::vector<Onset>& onsets);

// All of mine, on the recording's own line: what strokesBehind gives, seen from there.
std::vector<StrokeBehind> strokesOfMine(const Take& mine, const Fit& theirs);

// `mine` is a take of one groove. `levels`: the recording's velocities are velocities, as in MIDI.
// Errors: kUsage where the meters differ.
Result<Compared> compare(const Take& mine, const Fit& theirs, const std::vector<Onset>& onsets,
                         bool levels);

// The groove with mine moved there: timing as nudge, velocity; a stroke that only they have is put,
// one that only I have is taken away.
Groove movedThere(Groove groove, const SlotCompared& slot);

// The groove as they play it, under my feel: all moved there. Errors: those of compare.
Result<Groove> theirGroove(const Take& mine, const Fit& theirs, const std::vector<Onset>& onsets,
                           bool levels);

}  // namespace uneven
