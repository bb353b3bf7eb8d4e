// SPDX-License-Identifier: GPL-3.0-or-later
// The song's form as a line of text that can be typed and read back.
//
//   Intro 4, Verse 8 + fill, "Chorus, open" 8 + fill, Verse 8, Coda 2
//
// An item is a section's name, how many bars it lasts (left out: one pass) and whether it ends with
// a fill. A name that stands in quotes may hold commas and end in figures. Read back, the first
// item of a name takes over what the song's first section of that name is, the second item the
// second one's, further ones the last one's; a name that is no section's is a groove's. Threads:
// pure functions.
#pragma once

#include <string>

#include "core/arrange/sections.h"

namespace uneven {

// The form as it stands: what withForm reads back to the same song.
std::string formText(const Song& song);

// Errors, with what is wrong at which item: kSyntax, kUnknown for a name that is neither a
// section's nor a groove's, kLimit for bars that are no whole passes, and those of withFill.
Result<Song> withForm(Song song, const std::string& text, TempoGoes tempo);

}  // namespace uneven
