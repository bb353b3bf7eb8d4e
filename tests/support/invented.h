// SPDX-License-Identifier: GPL-3.0-or-later
// Takes with a known feel: hats in sixteenths or eighths, backbeats, kicks, ghosts.
#pragma once

#include <vector>

#include "core/match/onset.h"
#include "core/song/song.h"
#include "tests/support/random_song.h"

namespace uneven::testing {

struct Invented {
  Song song;
  Feel feel;
  double bpm = 92;
};
// `drift` in ms, of clock and limbs together.
Invented invent(Random& random, int bars, double drift, SwingUnit unit, double ratio);

// When it is struck, all of it `late` s later.
std::vector<Onset> struck(const Song& song, double late = 0);

}  // namespace uneven::testing
