// SPDX-License-Identifier: GPL-3.0-or-later
// The frame of a song that others play: its tempo, meters and markers, laid out as sections in
// which nothing is played yet.
//
// Sections begin at the markers, at a bar line: a marker aside goes to the nearest one. A section
// whose name the song has already takes over what that one plays, where whole passes of it fill the
// time; else it has empty bars. Threads: pure functions.
#pragma once

#include <string>
#include <utility>
#include <vector>

#include "core/base/result.h"
#include "core/song/song.h"

namespace uneven {

struct SongFrame {
  std::vector<TempoMark> tempo;                       // ascending, the first at 0
  std::vector<std::pair<Beat, Meter>> meters;         // likewise
  std::vector<std::pair<Beat, std::string>> markers;  // ascending
  Beat length;
  std::vector<int> density;  // notes struck in each quarter note, on any channel
};

struct FramedSong {
  Song song;
  std::string note;  // what was laid out, and what did not fit
};
// Errors: kLimit for a meter that does not begin on a bar line, and for a song that is too long.
Result<FramedSong> withFrame(Song song, const SongFrame& frame);

}  // namespace uneven
