// SPDX-License-Identifier: GPL-3.0-or-later
// The library of fills.
#include "core/tools/fill_library.h"

#include <fmt/format.h>

#include <algorithm>
#include <cassert>
#include <tuple>

#include "core/base/embedded.h"
#include "core/io/song_json.h"

namespace uneven {

const std::vector<LibraryFill>& fillLibrary() {
  static const std::vector<LibraryFill> all = [] {
    std::vector<LibraryFill> out;
    for (const EmbeddedText& file : embeddedFills()) {
      const Result<Song> song = readSong(file.text, file.name);
      assert(song);  // tests read what ships
      if (!song) continue;
      for (const auto& groove : song->grooves) {
        LibraryFill one;
        one.groove = *groove;
        const Beat first(groove->hits.front().at.floorDiv(Beat(1)));
        one.beats = groove->length() - first;
        one.density = static_cast<double>(groove->hits.size()) / one.beats.toDouble();
        out.push_back(std::move(one));
      }
    }
    std::stable_sort(out.begin(), out.end(), [](const LibraryFill& a, const LibraryFill& b) {
      return std::tie(a.beats, a.density) < std::tie(b.beats, b.density);
    });
    return out;
  }();
  return all;
}

std::string triedText(const Tried& tried, double bpm) {
  if (tried.playable >= bpm) {
    return tried.playable >= kBpmMax ? std::string("playable at any tempo")
                                     : fmt::format("playable to {:.0f} BPM", tried.playable);
  }
  return fmt::format("not playable at {:.0f} BPM: to {:.0f}", bpm, tried.playable);
}

}  // namespace uneven
