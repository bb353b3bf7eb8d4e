// SPDX-License-Identifier: GPL-3.0-or-later
// A section written out, so that any of its passes can be edited by itself, and folded again.
//
//   Result<Song> open = writtenOut(song, 2);
//   Folded folded = foldedUp(*open);        // performs the same as `song`
//
// Written out, each pass of each groove is a groove of its own that holds what the section made of
// it (mute, swap, crash, fill); Groove::origin names where it came from. Feel, morph and level stay
// the section's. Folding finds grooves that are equal, plays one of them in their place, and says a
// list that repeats itself as passes. Threads: pure functions.
#pragma once

#include <optional>
#include <string>

#include "core/base/result.h"
#include "core/song/song.h"

namespace uneven {

// One section, from 0; nothing: all. Errors: kLimit beyond kPassMost grooves of a section, those
// of arrange().
Result<Song> writtenOut(Song song, std::optional<std::size_t> section);

struct FoldTolerance {
  int velocity = 0;  // steps, of each hit
  Milliseconds nudge{0};
};
struct Folded {
  Song song;
  int grooves = 0;   // that have gone
  int sections = 0;  // likewise, each joined with the one before it
  // What the tolerance has changed.
  int hits = 0;
  int velocity = 0;       // at most
  Milliseconds nudge{0};  // at most
};
Folded foldedUp(Song song, const FoldTolerance& tolerance = {});
std::string foldText(const Folded& folded);

}  // namespace uneven
