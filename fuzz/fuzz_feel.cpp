// SPDX-License-Identifier: GPL-3.0-or-later
// Files of one feel.
#include "core/io/song_json.h"
#include "fuzz/support.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  using namespace uneven;
  const auto feel = readFeel(fuzz::textOf(data, size), "fuzzed", houseKit());
  if (!feel) {
    fuzz::insistOnOneLine(feel.error());
    return 0;
  }
  const auto again = readFeel(writeFeel(*feel, houseKit()), "again", houseKit());
  fuzz::insist(again && *again == *feel, "a feel is read as it was written");
  return 0;
}
