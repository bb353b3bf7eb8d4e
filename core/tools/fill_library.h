// SPDX-License-Identifier: GPL-3.0-or-later
// Fills to begin with, ours, as data (data/fills/fills.ustick).
#pragma once

#include <string>
#include <vector>

#include "core/arrange/fills.h"

namespace uneven {

struct LibraryFill {
  Groove groove;  // whose last `beats` quarter notes are the fill
  Beat beats;
  double density = 0;  // strokes a quarter note
};
// By length, then density.
const std::vector<LibraryFill>& fillLibrary();

// "playable to 132 BPM", "not playable at 154 BPM: to 120".
std::string triedText(const Tried& tried, double bpm);

}  // namespace uneven
