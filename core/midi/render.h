// SPDX-License-Identifier: GPL-3.0-or-later
// From notes in moments (core/voice/notes.h) to MIDI events in ticks.
//
// The tick of a stroke is the one nearest to its time under the file's own tempo events, whose
// positions are rounded to ticks: whoever plays the file gets each time back within half a tick. A
// lead-in of B bars of the first meter goes before everything:
//
//   tick(t) = round(ppq * quarters(t + lead))      under the file's tempo map
//
// Notes are a thirty-second long (an open hat lasts until it is shut) and never overlap the same
// note. Two strokes on one note and tick become the louder one, and the notices say so.
// Threads: pure functions over values.
#pragma once

#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/midi/sequence.h"
#include "core/take/take.h"
#include "core/voice/kit_map.h"

namespace uneven {

inline constexpr int kPpqMin = 24;
inline constexpr int kPpqMax = 15'360;
inline constexpr int kLeadInMax = 16;  // bars

struct RenderOptions {
  int ppq = 960;               // ticks per quarter note
  int type = 1;                // 0 or 1
  bool trackPerPiece = false;  // type 1 only
  int leadInBars = 0;
};

struct Rendering {
  MidiSequence sequence;
  std::vector<std::string> notices;  // what could not be carried exactly, in words
};

// Errors: kLimit when an option is out of range; givenUp() where it was told to stop.
Result<Rendering> render(const Take& take, const KitMap& map, const RenderOptions& options,
                         const std::stop_token& stop = {});

// arrange, perform and render in one.
Result<Rendering> render(const Song& song, const KitMap& map, const RenderOptions& options);

}  // namespace uneven
