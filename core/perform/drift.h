// SPDX-License-Identifier: GPL-3.0-or-later
// Drift: what a body adds to a part's timing and loudness.
//
// Two levels (after Wing & Kristofferson 1973): a clock that all limbs share, coloured noise with a
// spectrum of 1/f^exponent, and a white motor part of each limb. Limbs that strike together share
// the clock, so unisons stay together. The clock is white noise through fractional differencing
//
//   (1 - B)^(-exponent/2),  h[k] = Gamma(k + a) / (k! Gamma(a)),  a = exponent / 2
//
// (Kasdin 1995), computed as a sum of geometric filters: for 0 < a < 1
//
//   h[k] = 1/(Gamma(a) Gamma(1-a)) * integral over x in (0, 1) of x^(k+a-1) (1-x)^(-a) dx
//
// and scaled so that its root mean square over the song is the standard deviation asked for.
//
// The series belong to positions of the song: the clock to a lattice of thirty-seconds, a limb's
// part to the exact position. What is struck elsewhere changes neither. Every number comes from the
// seed and the position alone, whatever the order of asking, and is the same to the bit on every
// machine with IEEE doubles: only + - * / and sqrt are used (core/base/fixed_math.h). Threads:
// building allocates; reading is safe from anywhere.
#pragma once

#include <cstdint>
#include <span>
#include <string_view>
#include <vector>

#include "core/song/feel.h"
#include "core/song/kit.h"
#include "core/time/beat.h"

namespace uneven {

// Sizes of drift by name, from a machine's to a loose body's. The figures are from memory and of no
// one in particular.
struct DriftPreset {
  std::string_view id;
  std::string_view name;
  double clock;     // ms
  double motor;     // ms
  double velocity;  // steps
  double exponent;
};
std::span<const DriftPreset> driftPresets();
// The drift with the preset's sizes; seed and limbs stay.
Drift withPreset(Drift drift, const DriftPreset& preset);

// A standard normal number that belongs to these three.
double normalAt(std::uint64_t seed, std::uint64_t stream, std::uint64_t index);

// `count` numbers of 1/f^exponent noise with a root mean square near 1. exponent 0..kExponentMax.
std::vector<double> colouredNoise(std::uint64_t seed, std::uint64_t stream, double exponent,
                                  std::size_t count);

class DriftSeries {
 public:
  // For positions 0 <= at < until of a song that is `length` long, on the song's beats.
  DriftSeries(const Drift& drift, Beat length, Beat until);
  DriftSeries(const Drift& drift, Beat length) : DriftSeries(drift, length, length) {}

  // The clock in ms, and steps to add to a velocity, not yet rounded.
  struct Cell {
    double v[2] = {0, 0};
    Milliseconds clock() const { return Milliseconds(v[0]); }
    double velocity() const { return v[1]; }
  };
  const Cell& cellAt(Beat at) const;
  // The clock alone: the cell's, or what a take measured there.
  Milliseconds clockAt(Beat at) const;
  Milliseconds motorAt(Beat at, Limb limb) const;

 private:
  static constexpr std::size_t kLimbs = 5;
  Drift drift_;
  std::vector<Cell> cells_;  // empty: all 0
  double motor_[kLimbs];     // ms, by limb
  std::uint64_t keys_[kLimbs];
};

}  // namespace uneven
