// SPDX-License-Identifier: GPL-3.0-or-later
// How one section leads into the next.
//
// Threads: pure functions. Errors: kLimit for a section that is not there or has none before it.
#pragma once

#include <optional>
#include <string>

#include "core/base/result.h"
#include "core/measure/seam.h"
#include "core/song/song.h"

namespace uneven {

// The jump where a section begins, at once or as it turns now; nothing where no feel changes.
std::optional<Seam> seamAt(const Song& song, std::size_t section);

// The shortest morph, in quarter notes, at which no interval at the section's start jumps by more
// than `most`. kLimit where the section is too short for one; the message says how far it comes.
Result<Beat> smoothMorph(const Song& song, std::size_t section, Milliseconds most);
Result<Song> withSmoothSeam(Song song, std::size_t section, Milliseconds most);

// A groove's sisters: linear, no two strokes at once, what is heard most stays; or shuffled, its
// off-notes written in triplets (p -> 4/3 p up to the half of a pair, then evenly to its end).
Groove linearSister(const Groove& groove, const Kit& kit);
Groove shuffledSister(const Groove& groove);
// Step `step` of `steps` between two grooves of one length: strokes that differ leave and enter one
// by one, the softest first; step 0 is the first groove, step `steps` the second.
Groove between(const Groove& from, const Groove& to, int step, int steps);
// Over its first `bars` bars the section turns from its groove into another ("linear", "shuffled"
// or a groove's id), which it plays from there on.
Result<Song> withTurnInto(Song song, std::size_t section, const std::string& into, int bars);

// The section's last `beats` quarter notes lead into it: the section before ends with them; before
// the first section a bar is put that has nothing else.
Result<Song> withPickup(Song song, std::size_t section, Beat beats);

}  // namespace uneven
