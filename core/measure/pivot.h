// SPDX-License-Identifier: GPL-3.0-or-later
// Whether a groove is written straight or in triplets, from where its hits stand in their pairs.
#pragma once

#include "core/song/song.h"

namespace uneven {

struct PivotGuess {
  Written written = Written::kStraight;
  int straight = 0;  // hits on quarters and halves of a pair
  int triplet = 0;   // on thirds and sixths
};

// Pairs of that unit. Straight where neither outweighs the other.
PivotGuess guessWritten(const Groove& groove, SwingUnit unit);

}  // namespace uneven
