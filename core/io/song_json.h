// SPDX-License-Identifier: GPL-3.0-or-later
// The song file: JSON text <-> Song. Every key, unit and limit is in docs/file-format.md.
#pragma once

#include <functional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.h"
#include "core/song/song.h"

namespace uneven {

inline constexpr int kSongVersion = 1;

// Reads a song. `file` is only for messages. Errors carry line, column, the path of the key and
// what is allowed: kSyntax (not JSON, wrong type, a key missing or twice), kLimit (out of range),
// kUnknown (an id that does not exist), kVersion (written by a newer program). Hits are put into
// order. Of hits that share piece and position the loudest is kept, of drawn openings that begin at
// one position the widest, and the watch is told; nothing else is changed.
struct ReadWatch {
  std::vector<std::string> notes;             // what was left out, in words
  std::function<bool(double done)> progress;  // 0..1, now and then; false: it is given up
};
Result<Song> readSong(std::string_view text, const std::string& file, ReadWatch* watch = nullptr);

// The file's text: one line for a hit, keys in a fixed order, unknown keys last. Reading it gives
// the same Song.
std::string writeSong(const Song& song);

// One feel in a file of its own, as it would stand in a song of that kit. Pieces that the kit does
// not have are an error, as in a song.
Result<Feel> readFeel(std::string_view text, const std::string& file, const Kit& kit);
std::string writeFeel(const Feel& feel, const Kit& kit);

}  // namespace uneven
