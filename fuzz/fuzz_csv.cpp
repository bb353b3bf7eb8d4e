// SPDX-License-Identifier: GPL-3.0-or-later
// Hits as CSV.
#include "core/io/hits_csv.h"
#include "core/song/edit.h"
#include "fuzz/support.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  using namespace uneven;
  const auto groove = readHitsCsv(fuzz::textOf(data, size), houseKit(), "fuzzed");
  if (!groove) {
    fuzz::insistOnOneLine(groove.error());
    return 0;
  }
  fuzz::insistOnSong(withGroove(blankSong(), *groove));
  const auto again = readHitsCsv(writeHitsCsv(*groove, houseKit()), houseKit(), "again");
  fuzz::insist(again && again->hits == groove->hits, "hits are read as they were written");
  return 0;
}
