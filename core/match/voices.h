// SPDX-License-Identifier: GPL-3.0-or-later
// Which drums sound in a moment of sound: its energies in bands, at once and fifty milliseconds
// later, are taken for a sum of what a kick, a snare, hats and a tom sound like.
//
// What they sound like is begun with usual values (means of several sampled kits) and learnt from
// the take itself, in bands where one of them outweighs the others (score-informed factorisation
// after Smaragdis & Brown 2003 and Dittmar & Gaertner 2014; gains by the multiplicative rule of the
// Itakura-Saito divergence, Fevotte, Bertin & Durrieu 2009, Neural Computation 21(3), from memory).
// How many sound is the fewest that explain what is heard. Threads: pure functions.
#pragma once

#include <array>
#include <vector>

#include "core/match/bands.h"

namespace uneven {

enum class Voice : std::uint8_t { kKick, kSnare, kHat, kTom };
inline constexpr std::size_t kVoices = 4;

// Energies in each band at once, then the same later.
inline constexpr std::size_t kSoundParts = 2 * BandEnergies::kBands;
using SoundParts = std::array<double, kSoundParts>;

struct Sounding {
  SoundParts energy{};  // above what sounded already
  SoundParts trust{};   // 0..1, how far each is to be trusted
};

struct VoicesTold {
  bool other = false;  // something is struck, and it is none of them
  std::array<bool, kVoices> sounds{};
  std::array<double, kVoices> energy{};  // of all bands at once
  bool has(Voice v) const { return sounds[static_cast<std::size_t>(v)]; }
  double of(Voice v) const { return energy[static_cast<std::size_t>(v)]; }
  int count() const {
    int n = 0;
    for (const bool s : sounds) n += s ? 1 : 0;
    return n;
  }
};

// Beside the moments, of which all of a take are given: voices are learnt from it.
std::vector<VoicesTold> tellVoices(const std::vector<Sounding>& moments);

}  // namespace uneven
