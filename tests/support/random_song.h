// SPDX-License-Identifier: GPL-3.0-or-later
// Songs made of chance, within every limit of the format.
#pragma once

#include <random>

#include "core/song/song.h"

namespace uneven::testing {

using Random = std::mt19937_64;

int pick(Random& random, int low, int high);  // both ends included
double pickReal(Random& random, double low, double high);
// As many rounds as are wanted; a quarter under the sanitizers, which look at what a round touches
// and take some eight times as long: what the numbers are is for the other build.
int rounds(int wanted);

Feel randomFeel(Random& random, const std::string& id);
Groove randomGroove(Random& random, const std::string& id, const std::string& feel);
// Up to four grooves and three feels, tempo changes at odd places, meters of all kinds.
Song randomSong(Random& random);
// Sections play their groove as it is written, and tempos stay: for what is told of grooves alone.
Song asWritten(Song song);

}  // namespace uneven::testing
