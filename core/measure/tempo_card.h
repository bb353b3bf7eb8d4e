// SPDX-License-Identifier: GPL-3.0-or-later
// Tempo arithmetic: how long every note is, and at which tempo another note is just as long.
//
//   ms = 60000 / BPM * quarter notes        sixteenth at 98 BPM: 153.06 ms
//   BPM' = BPM * length' / length           thirty-seconds at 74 are sixteenths at 148
//
// Threads: pure functions.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/time/beat.h"
#include "core/time/units.h"

namespace uneven {

struct NoteValue {
  std::string_view name;  // "sixteenths"
  Beat length;            // in quarter notes
};
// From quarters to thirty-seconds, the longest first.
const std::vector<NoteValue>& noteValues();

// length x 60 000 / BPM: an eighth at 120 lasts 250 ms.
Milliseconds noteLength(Bpm bpm, Beat length);

// Another tempo at which other notes are exactly as long.
struct SameNotes {
  NoteValue here, there;
  Bpm bpm;           // of `there`
  std::string text;  // "thirty-seconds at 74 are sixteenths at 148"
};
// Those within the tempos that there are; for each note the sixteenths, else the eighths, that are
// as long.
std::vector<SameNotes> sameNotes(Bpm bpm);

}  // namespace uneven
