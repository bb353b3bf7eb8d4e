// SPDX-License-Identifier: GPL-3.0-or-later
// A measured take as a song: its strokes on the grid, bars that are alike as one groove, its tempo
// and its feel.
//
// Bars are put together to periods of 1, 2, 4 or 8, the shortest whose most usual block fills three
// fifths of the take; blocks with the same strokes are one groove. Velocities are the medians of
// the repetitions. Threads: pure functions.
#pragma once

#include "core/match/fit.h"
#include "core/song/song.h"

namespace uneven {

struct SongWanted {
  std::string title;
  bool nudges = false;  // what a stroke lies off its slot's mean goes into its nudge
};

// Tempo marks as a song has them: in 1/10000 BPM, within the song's limits, each later than the one
// before. Never empty.
std::vector<TempoMark> tempoOf(const std::vector<TempoFound>& marks);

// Where a recording whose bar 1 is at `start` seconds begins beside the song, in 1/10 ms.
Milliseconds offsetOf(double start);

// The kit is the song's, whose pieces the onsets name. Bars before bar 1 are left out, strokes of
// no slot as well. At most 64 grooves; what is beyond is the one most like it.
Song songOf(const Fit& fit, const std::vector<Onset>& onsets, const Kit& kit,
            const SongWanted& wanted);

}  // namespace uneven
