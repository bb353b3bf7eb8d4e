// SPDX-License-Identifier: GPL-3.0-or-later
// Standard MIDI Files.
#include "core/midi/smf.h"
#include "fuzz/support.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  using namespace uneven;
  const auto sequence = readSmf(fuzz::textOf(data, size), "fuzzed");
  if (sequence) return 0;
  fuzz::insistOnOneLine(sequence.error());
  fuzz::insist(sequence.error().where.byte && *sequence.error().where.byte <= size,
               "an error lies inside the file");
  return 0;
}
