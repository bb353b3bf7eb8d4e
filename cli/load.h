// SPDX-License-Identifier: GPL-3.0-or-later
// Songs as commands read them.
#pragma once

#include <string>
#include <vector>

#include "core/io/file_system.h"
#include "core/song/song.h"

namespace uneven::cli {

struct Loaded {
  Song song;
  std::vector<std::string> notes;  // what was read but left out
};
Result<Loaded> load(FileSystem& files, const std::string& file);

// The song's recording, which is relative to its file; empty: it has none.
std::string recordingOf(const Song& song, const std::string& file);

}  // namespace uneven::cli
