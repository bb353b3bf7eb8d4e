// SPDX-License-Identifier: GPL-3.0-or-later
// Writes the house kit's sounds: make_house_kit OUT.sounds (at build time; it is not checked in).
#include <cstdio>
#include <fstream>

#include "sound/bank/house_kit.h"

int main(int argc, char** argv) {
  if (argc != 2) {
    std::fprintf(stderr, "usage: make_house_kit OUT.sounds\n");
    return 2;
  }
  const std::string bytes = uneven::bank::writeHouseBank(uneven::bank::houseKit());
  std::ofstream out(argv[1], std::ios::binary);
  out.write(bytes.data(), static_cast<std::streamsize>(bytes.size()));
  out.close();
  if (!out) {
    std::fprintf(stderr, "make_house_kit: cannot write %s\n", argv[1]);
    return 2;
  }
}
