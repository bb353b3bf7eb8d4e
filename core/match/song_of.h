// SPDX-License-Identifier: GPL-3.0-or-later
// A measured take as a song: its strokes on the grid, bars that are alike as one groove, its tempo
// and its feel.
//
// Bars are put together to periods of 1, 2, 4 or 8, the shortest whose most usual block fills three
// fifths of the take; blocks whose strokes are the same within what listening errs are one groove:
// by hats and ghosts, in sound also by a drum now and then. What most of its repetitions have is in
// it; velocities are their medians. What comes seldom and goes over the toms, or fills the snare,
// is named a fill. Threads: pure functions.
#pragma once

#include "core/match/fit.h"
#include "core/song/song.h"

namespace uneven {

struct SongWanted {
  std::string title;
  bool nudges = false;  // what a stroke lies off its slot's mean goes into its nudge
  // The take's own clock is played again (drift.measured), and no limb adds one of its own to it.
  bool replay = false;
};

// The take's clock beside a song's tempo, ms at each sixteenth; `start` is where the song begins in
// the take, s.
MeasuredClock clockOf(const Fit& fit, const TempoMap& tempo, Seconds start);

// Tempo marks as a song has them: in 1/10000 BPM, within the song's limits, each later than the one
// before. Never empty.
std::vector<TempoMark> tempoOf(const std::vector<TempoFound>& marks);

// Where a recording whose bar 1 is at `start` seconds begins beside the song, in 1/10 ms.
Milliseconds offsetOf(Seconds start);

// The kit is the song's, whose pieces the onsets name. Bars before bar 1 are left out, strokes of
// no slot as well. At most 64 grooves; what is beyond is the one most like it.
Song songOf(const Fit& fit, const std::vector<Onset>& onsets, const Kit& kit,
            const SongWanted& wanted);

}  // namespace uneven
