// SPDX-License-Identifier: GPL-3.0-or-later
// A Standard MIDI File as strokes in time, with the tempo that the file itself has.
#pragma once

#include <string>
#include <vector>

#include "core/match/grid.h"
#include "core/midi/sequence.h"
#include "core/voice/kit_map.h"

namespace uneven {

struct MidiOnsets {
  std::vector<Onset> onsets;   // in order of time
  BeatLine line;               // quarter 0 is tick 0
  std::optional<Meter> meter;  // the file's first, where it has one
  std::string map;             // name of the map the notes were read by
  int strange = 0;             // notes that the map does not know: kNotInKit
};

// `map` nullptr: the built-in one that knows most of the notes. Notes of all channels; where
// channel 10 has any, only that. Several strokes of one piece within 1 ms are one.
MidiOnsets onsetsOf(const MidiSequence& sequence, const Kit& kit, const KitMap* map = nullptr);

}  // namespace uneven
