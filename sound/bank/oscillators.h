// SPDX-License-Identifier: GPL-3.0-or-later
// What the house kit's sounds are put together from: tones that die away, bundles of partials, and
// noise in a band.
//
//   decay: seconds until the part has fallen by 60 dB, so its envelope is 10^(-3 t / decay)
//
// All of it is the same from run to run: noise and phases are drawn from a seed.
// Threads: plain values.
#pragma once

#include <cstdint>
#include <vector>

namespace uneven::bank {

inline constexpr double kRate = 48'000;  // frames a second; the synthesiser's rate, too

using Samples = std::vector<double>;
Samples silence(double seconds);

// Numbers drawn from a seed (SplitMix64: Steele, Lea & Flood 2014).
class Draw {
 public:
  explicit Draw(std::uint64_t seed) : state_(seed) {}
  double unit();    // 0 <= x < 1
  double around();  // -1 <= x < 1

 private:
  std::uint64_t state_;
};

struct Tone {
  double hz = 200;
  double level = 1;
  double decay = 0.3;
  double fall = 0;         // begins higher by this share of hz,
  double fallTime = 0.01;  // which dies away by 1/e in this time, in seconds
  double phase = 0;        // turns, 0..1
  double start = 0;        // seconds
  double rise = 0;         // seconds to full level
};
void add(Samples& out, const Tone& tone);

struct Partial {
  double hz = 1000;
  double level = 1;
  double decay = 1;
  double rise = 0;  // seconds to 63 % of its level: cymbals hand their energy up
};
// With phases of their own.
void add(Samples& out, std::vector<Partial> partials, std::uint64_t seed);

struct Noise {
  double low = 1000, high = 10'000;  // Hz, -3 dB
  double level = 1;
  double decay = 0.1;
  double start = 0;
  double rise = 0;
  std::uint64_t seed = 1;
};
void add(Samples& out, const Noise& noise);

}  // namespace uneven::bank
