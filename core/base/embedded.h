// SPDX-License-Identifier: GPL-3.0-or-later
// Texts from data/ that are compiled into the programs (cmake/embed.cmake).
#pragma once

#include <string>
#include <vector>

namespace uneven {

struct EmbeddedText {
  std::string name;  // the file's name without folder and ending
  std::string text;
};

// The kit maps of data/maps, the default one first.
std::vector<EmbeddedText> embeddedKitMaps();
// Songs whose grooves are starting points, and fills.
std::vector<EmbeddedText> embeddedStartingPoints();
std::vector<EmbeddedText> embeddedFills();

}  // namespace uneven
