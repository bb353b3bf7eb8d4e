// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/support/varied.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <utility>

#include "core/song/edit.h"
#include "tests/support/made.h"

namespace uneven::testing {

Hit varied(Beat at, PieceId piece, Role role) {
  return hitAt(at, piece, role == Role::kAccent ? 112 : role == Role::kGhost ? 30 : 84, role);
}

Song variedSong(std::vector<Hit> hits, int bars, Meter meter) {
  Song song = blankSong();
  Groove groove = *song.grooves.front();
  groove.id = "g";
  groove.name = "G";
  groove.meter = meter;
  groove.bars = bars;
  std::sort(hits.begin(), hits.end(), writtenBefore);
  groove.hits = std::move(hits);
  song.grooves = {SharedValue<Groove>(groove)};
  song.arrangement.clear();
  return song;
}

Song plainBeat(int bars) {
  std::vector<Hit> hits;
  for (int bar = 0; bar < bars; ++bar) {
    const Beat start(4 * bar);
    for (int i = 0; i < 8; ++i) hits.push_back(varied(start + Beat(i, 2), piece::kHat));
    hits.push_back(varied(start + Beat(1), piece::kSnare, Role::kAccent));
    hits.push_back(varied(start + Beat(3), piece::kSnare, Role::kAccent));
    hits.push_back(varied(start, piece::kKick));
    hits.push_back(varied(start + Beat(2), piece::kKick));
  }
  return variedSong(std::move(hits), bars);
}

Walk walkOf(const Song& song, const char* name, const Arguments& arguments) {
  Result<Walk> made = makeWalk(name, song, song.grooves.front()->id, arguments, Profile{});
  EXPECT_TRUE(made) << name << ": " << (made ? "" : made.error().line());
  return made ? *std::move(made) : Walk{};
}

std::vector<std::string> namesOfWalk(const Walk& of) {
  std::vector<std::string> out;
  for (std::uint64_t i = 0; i < of.count; ++i) out.push_back(of.at(i).name);
  return out;
}

}  // namespace uneven::testing
