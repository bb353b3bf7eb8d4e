// SPDX-License-Identifier: GPL-3.0-or-later
// Song files.
#include "core/io/song_json.h"
#include "fuzz/support.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  using namespace uneven;
  ReadWatch watch;
  const auto song = readSong(fuzz::textOf(data, size), "fuzzed", &watch);
  if (song) {
    fuzz::insistOnSong(*song);
  } else {
    fuzz::insistOnOneLine(song.error());
    fuzz::insist(song.error().where.line >= 1, "an error has a line");
  }
  return 0;
}
