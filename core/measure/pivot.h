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

// The swing of a groove that is written the other way, chosen so that no stroke leaves where it is
// written: in triplets 2 : 1 in the unit whose last partial is struck most, straight 1 : 1.
Swing writtenAs(const Groove& groove, Swing swing, Written written);

// Pairs of that unit. Straight where neither outweighs the other.
PivotGuess guessWritten(const Groove& groove, SwingUnit unit);

}  // namespace uneven
