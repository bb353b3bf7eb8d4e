// SPDX-License-Identifier: GPL-3.0-or-later
// Writes the house kit's sound bank: make_house_kit OUT.sf2 (at build time; it is not checked in).
#include <cstdio>
#include <fstream>

#include "sound/bank/house_kit.h"

int main(int argc, char** argv) {
  if (argc != 2) {
    std::fprintf(stderr, "usage: make_house_kit OUT.sf2\n");
    return 2;
  }
  const uneven::Result<std::string> bytes = uneven::bank::writeSoundFont(uneven::bank::houseKit());
  if (!bytes) {
    std::fprintf(stderr, "make_house_kit: %s\n", bytes.error().line().c_str());
    return 2;
  }
  std::ofstream out(argv[1], std::ios::binary);
  out.write(bytes->data(), static_cast<std::streamsize>(bytes->size()));
  out.close();
  if (!out) {
    std::fprintf(stderr, "make_house_kit: cannot write %s\n", argv[1]);
    return 2;
  }
}
