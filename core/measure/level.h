// SPDX-License-Identifier: GPL-3.0-or-later
// How loud a velocity is, and how far ghosts lie under accents.
//
// Level of a velocity v: L(v) = 40 log10(v / 127) dB, the curve recommended for General MIDI sound
// sets (MMA, General MIDI 2; DLS Level 1). Worked: 35 under 110 is -19.9 dB.
#pragma once

#include <optional>
#include <vector>

#include "core/song/song.h"

namespace uneven {

struct Decibels {
  double value = 0;
  auto operator<=>(const Decibels&) const = default;
};

// 0 dB at 127, less below.
Decibels levelOf(Velocity velocity);
// 40 log10(v / 127) for a median, which can lie between two velocities; v > 0.
Decibels levelOf(double velocity);

// What lies `db` above (below: negative) another velocity, not rounded and not held to 1..127.
double louder(Velocity velocity, double db);

// The middle one, or the mean of the two in the middle; of one value at least.
double medianOf(std::vector<int> values);

struct Separation {
  PieceId piece;
  double accentMedian = 0;  // velocities
  double ghostMedian = 0;
  int accents = 0;
  int ghosts = 0;
  Decibels difference;  // level of the accents' median over the ghosts'
};

// One entry for each piece that has both accents and ghosts, in the kit's order.
std::vector<Separation> separations(const Groove& groove);

}  // namespace uneven
