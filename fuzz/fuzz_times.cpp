// SPDX-License-Identifier: GPL-3.0-or-later
// Lists of times, and what is made of them.
#include <cmath>

#include "core/io/song_json.h"
#include "core/io/times_csv.h"
#include "core/match/song_of.h"
#include "core/take/take.h"
#include "fuzz/support.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  using namespace uneven;
  const auto onsets = readTimesCsv(fuzz::textOf(data, size), houseKit(), "fuzzed");
  if (!onsets) {
    fuzz::insistOnOneLine(onsets.error());
    return 0;
  }
  // A day of silence between two strokes only takes its time.
  constexpr double kLongest = 300;
  if (onsets->empty() || onsets->back().seconds - onsets->front().seconds > kLongest) return 0;
  const auto found = fit(*onsets, {});
  if (!found) return 0;
  fuzz::insist(std::isfinite(found->bpm.value) && found->bpm.value > 0, "a tempo");
  fuzz::insist(found->confidence >= 0 && found->confidence <= 1, "a share");
  fuzz::insist(found->placed.size() == onsets->size(), "each stroke has its place");
  const Song song = songOf(*found, *onsets, houseKit(), {"fuzzed", false});
  const auto again = readSong(writeSong(song), "again");
  fuzz::insist(again && *again == song, "it comes back as it was");
  fuzz::insist(static_cast<bool>(Take::ofSong(song)), "it can be performed");
  return 0;
}
