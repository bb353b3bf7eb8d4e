// SPDX-License-Identifier: GPL-3.0-or-later
// The house kit's sounds as they are kept and played: each in layers from soft to loud, each layer
// in several takes, so that no two strokes are alike.
//
// A stroke lies between two layers, an opening of the hats between two sounds; both are crossfaded.
// Neighbours are made of the same partials in the same phases, so that what lies between them
// sounds as one. Every sound is at its level at force 1: what velocity takes off is the player's,
// 40 log10(v / 127) dB.
#pragma once

#include <array>
#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.h"

namespace uneven::bank {

inline constexpr int kTakes = 4;
inline constexpr int kVelocitySoft = 24, kVelocityLoud = 124;  // of the outer layers

struct SoundTake {
  std::vector<std::int16_t> left, right;  // right empty: one channel
};
struct SoundLayer {
  double force = 1;  // 0 soft .. 1 loud
  double gain = 1;   // of full scale in its samples
  double alike = 1;  // how far it and the next layer are one sound, 0..1
  std::array<SoundTake, kTakes> takes;
};
struct HouseSound {
  int note = 0;
  std::string name;
  // Of the hats: how far open, 0..1, and which of their sounds belong together; -1: no hats.
  double opening = -1;
  int hats = 0;
  double ring = 0;                 // seconds to -60 dB
  double alike = 1;                // how far it and the next opening are one sound, 0..1
  std::vector<SoundLayer> layers;  // ascending
};
struct HouseBank {
  std::vector<HouseSound> sounds;
};

// 0 at kVelocitySoft and below, 1 at kVelocityLoud and above.
double forceOf(int velocity);

// As a file: a line that names the format, counts and numbers of 32 bits, samples of 16; all little
// endian.
std::string writeHouseBank(const HouseBank& bank);
// Errors: kSyntax with the byte where it is cut off or contradicts itself.
Result<HouseBank> readHouseBank(std::string_view bytes, const std::string& file);

}  // namespace uneven::bank
