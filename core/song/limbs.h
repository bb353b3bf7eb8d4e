// SPDX-License-Identifier: GPL-3.0-or-later
// Which hand or foot plays each hit.
//
// A hit's own limb where it has one; else the piece's usual limb with the player's setup. With a
// double pedal, kicks closer than an eighth take the feet in turn, the lead foot first.
// Threads: pure functions.
#pragma once

#include <vector>

#include "core/song/song.h"

namespace uneven {

// One entry a hit. Automatic only for what no limb plays (the click).
std::vector<Limb> limbsOf(const Groove& groove, const Kit& kit);

}  // namespace uneven
