// SPDX-License-Identifier: GPL-3.0-or-later
// Drum tab text.
#include "core/io/drum_tab.h"
#include "core/song/edit.h"
#include "fuzz/support.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  using namespace uneven;
  const auto text = fuzz::textOf(data, size);
  (void)unknownLanes(text, houseKit());
  const auto tab = readDrumTab(text, houseKit(), "fuzzed");
  if (!tab) {
    fuzz::insistOnOneLine(tab.error());
    return 0;
  }
  fuzz::insistOnSong(withGroove(blankSong(), tab->groove));
  const auto again = readDrumTab(writeDrumTab(tab->groove, houseKit()).text, houseKit(), "again");
  fuzz::insist(again && again->groove.meter == tab->groove.meter, "meters are read as written");
  fuzz::insist(again->groove.hits.size() == tab->groove.hits.size(), "and so are hits");
  return 0;
}
