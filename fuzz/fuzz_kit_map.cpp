// SPDX-License-Identifier: GPL-3.0-or-later
// Kit maps.
#include "core/song/kit.h"
#include "core/voice/kit_map.h"
#include "fuzz/support.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  using namespace uneven;
  const auto map = readKitMap(fuzz::textOf(data, size), "fuzzed");
  if (!map) {
    fuzz::insistOnOneLine(map.error());
    return 0;
  }
  for (const Piece& piece : houseKit().pieces) {
    const KitMapRow* row = rowFor(*map, piece, StrokeKind::kNormal, 0.5);
    fuzz::insist(row == nullptr || (row->note >= 0 && row->note <= 127), "a note is a note");
  }
  (void)hatDegrees(*map);
  return 0;
}
