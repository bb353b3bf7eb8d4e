// SPDX-License-Identifier: GPL-3.0-or-later
// `ustick measure`.
#pragma once

#include <optional>

#include "cli/commands.h"

namespace uneven::cli {

struct MeasureCall {
  std::string file;
  std::string grid;   // empty: found, from sixteenths
  std::string meter;  // empty: found
  std::optional<double> bpm, start;
  bool steady = false;  // one tempo throughout
  std::string map;      // a file or an id; empty: the one that knows most of the notes
  CheckFormat format = CheckFormat::kText;
  std::string feel, song;  // files to write; empty: none
};
Result<Output> measure(FileSystem& files, const MeasureCall& call);

// A take as a song: for `ustick convert`.
Result<Song> measuredSong(FileSystem& files, const std::string& file,
                          std::vector<std::string>& notes);

}  // namespace uneven::cli
