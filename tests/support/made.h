// SPDX-License-Identifier: GPL-3.0-or-later
// Strokes and songs made by hand.
#pragma once

#include <vector>

#include "core/perform/performance.h"
#include "core/song/song.h"

namespace uneven::testing {

Hit hitAt(Beat at, PieceId piece, int velocity = 90, Role role = Role::kNormal);

// A song of one groove in 4/4 at 120 BPM, once, under no feel.
Song songOf(std::vector<Hit> hits, int bars = 1);
Performance played(const Song& song);

}  // namespace uneven::testing
