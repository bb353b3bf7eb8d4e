// SPDX-License-Identifier: GPL-3.0-or-later
// The house kit: every sound of it, computed.
//
// Drums are the modes of a circular membrane (ratios of Bessel zeros) whose pitch falls as the head
// comes to rest, with noise for stick and wires; cymbals are hundreds of inharmonic partials whose
// energy climbs to the high ones and dies from the top, with noise (after N. H. Fletcher & T. D.
// Rossing, The Physics of Musical Instruments). Pitches and decays: from memory and common
// practice. What is asked of crest, decay and balance is held against a sampled General MIDI kit
// (tests/sound/house_sound_test.cpp).
//
// A take differs from the others as a hand does: partials by up to 0.25 %, their levels by up to
// 0.4 dB, other noise; as loud.
#pragma once

#include <vector>

#include "sound/bank/house_bank.h"
#include "sound/bank/oscillators.h"

namespace uneven::bank {

HouseBank houseKit();

// One channel, or two of one length.
struct Recorded {
  Samples left, right;  // right empty: one
};

// drums.cpp, cymbals.cpp: force 0 soft .. 1 loud, take 0..kTakes - 1.
Recorded kick(double force, int take);
Recorded snare(double force, int take);
Recorded rimShot(double force, int take);
Recorded crossStick(double force, int take);
Recorded buzz(double force, int take);
Recorded tom(double hz, double decay, double force, int take);
Recorded cowbell(double force, int take);
Recorded click(double hz);

// How far open, 0 pressed shut .. 1 wide.
Recorded hat(double opening, double force, int take);
Recorded hatEdge(double opening, double force, int take);
double hatRing(double opening);  // seconds to -60 dB
Recorded chick(double force, int take);
Recorded footSplash(double force, int take);
Recorded ride(double force, int take);
Recorded rideEdge(double force, int take);
Recorded rideBell(double force, int take);
struct CrashShape {
  double low, seconds, decay, bloom;
  std::uint64_t seed;
};
Recorded crash(const CrashShape& shape, double force, int take);
Recorded china(double force, int take);
Recorded splash(double force, int take);
Recorded stack(double force, int take);

inline double between(double soft, double loud, double force) {
  return soft + (loud - soft) * force;
}

// What a take has of its own.
class Hand {
 public:
  Hand(std::uint64_t sound, int take)
      : draw_(sound * 1'000 + static_cast<std::uint64_t>(take)),
        noise_(sound * 1'000 + 500 + static_cast<std::uint64_t>(take)) {}
  double hz() { return 1 + 0.0025 * draw_.around(); }
  double level();
  std::uint64_t noise() { return noise_++; }

 private:
  Draw draw_;
  std::uint64_t noise_;
};

}  // namespace uneven::bank
