// SPDX-License-Identifier: GPL-3.0-or-later
// Drums: heads, beaters, sticks, wires.
#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

#include "sound/bank/house_kit.h"

namespace uneven::bank {
namespace {

// A circular membrane's modes over its lowest: zeros of the Bessel functions.
constexpr std::array<double, 8> kMembrane{1, 1.594, 2.136, 2.296, 2.653, 2.918, 3.156, 3.501};

struct Head {
  double hz, decay;
  double fall, fallTime;  // begins so much higher
  double bright;          // of the higher modes against the lowest, at full force
};

// The blow lifts all modes at once; the higher die sooner, roughly as 1 / f.
void addHead(Samples& out, const Head& head, double force, Hand& hand) {
  double level = 1;
  for (const double ratio : kMembrane) {
    // The lowest carries the level, which is the hand's at every take.
    const double own = ratio == 1 ? 1 : hand.level();
    add(out, Tone{.hz = head.hz * ratio * hand.hz(),
                  .level = level * own / std::sqrt(ratio),
                  .decay = head.decay / ratio,
                  .fall = head.fall,
                  .fallTime = head.fallTime,
                  .phase = 0.21});
    level = head.bright * between(0.55, 1, force);
  }
}

// The same stick and the same wires at every stroke: only some of the noise is the stroke's own.
void rattle(Samples& out, Noise noise, Hand& hand) {
  add(out, noise);
  noise.level *= 0.15;
  noise.seed = hand.noise();
  add(out, noise);
}

// A microphone and its amplifier take the edge off the first blow.
void soften(Samples& samples, double drive) {
  double peak = 0;
  for (const double s : samples) peak = std::max(peak, std::abs(s));
  if (peak <= 0) return;
  for (double& s : samples) s = peak * std::tanh(drive * s / peak) / std::tanh(drive);
}

}  // namespace

double Hand::level() {
  return std::pow(10, 0.4 * draw_.around() / 20);
}

Recorded kick(double force, int take) {
  Hand hand(1, take);
  Samples out = silence(0.45);
  addHead(out, {.hz = 55, .decay = 0.39, .fall = 0.95, .fallTime = 0.016, .bright = 0.10}, force,
          hand);
  // The beater: felt, then its click, which is what grows.
  add(out, Noise{.low = 90, .high = 700, .level = 0.30, .decay = 0.06, .seed = hand.noise()});
  rattle(out,
         {.low = 1800,
          .high = between(2600, 5200, force),
          .level = between(0.05, 0.30, force),
          .decay = 0.018,
          .seed = 22},
         hand);
  add(out, Tone{.hz = 2900 * hand.hz(),
                .level = between(0.01, 0.09, force),
                .decay = 0.012,
                .phase = 0.25});
  soften(out, 1.5);
  return {out, {}};
}

Recorded snare(double force, int take) {
  Hand hand(2, take);
  Samples out = silence(between(0.36, 0.42, force));
  addHead(out, {.hz = 190, .decay = 0.38, .fall = 0.05, .fallTime = 0.02, .bright = 0.42}, force,
          hand);
  rattle(out,
         {.low = 900,
          .high = between(3000, 5600, force),
          .level = between(0.3, 0.6, force),
          .decay = 0.016,
          .seed = 30},
         hand);
  // The wires answer a millisecond after the head; louder they are brighter.
  rattle(out,
         {.low = between(1100, 1600, force),
          .high = between(5000, 9000, force),
          .level = between(0.6, 0.68, force),
          .decay = between(0.30, 0.36, force),
          .start = 0.001,
          .rise = 0.0008,
          .seed = 31},
         hand);
  soften(out, 2.2);
  return {out, {}};
}

Recorded rimShot(double force, int take) {
  Hand hand(3, take);
  Samples out = snare(between(0.75, 1, force), take).left;
  for (const double hz : {431.0, 612.0, 884.0, 1320.0}) {
    add(out, Tone{.hz = hz * hand.hz(), .level = 0.62 * hand.level(), .decay = 0.2, .phase = 0.2});
  }
  add(out, Noise{.low = 1500,
                 .high = between(8000, 13'000, force),
                 .level = between(1.4, 2.0, force),
                 .decay = 0.014,
                 .seed = hand.noise()});
  soften(out, 1.5);
  return {out, {}};
}

Recorded crossStick(double force, int take) {
  Hand hand(4, take);
  Samples out = silence(0.14);
  const std::array<double, 3> hz{412, 1180, 1570}, level{0.8, 0.9, 0.6};
  for (std::size_t i = 0; i < hz.size(); ++i) {
    add(out, Tone{.hz = hz[i] * hand.hz(),
                  .level = level[i] * hand.level() * (i == 0 ? 1 : between(0.7, 1, force)),
                  .decay = 0.09 - 0.015 * static_cast<double>(i),
                  .phase = 0.22});
  }
  add(out, Noise{.low = 900,
                 .high = between(4000, 8500, force),
                 .level = between(0.5, 0.8, force),
                 .decay = 0.012,
                 .seed = hand.noise()});
  return {out, {}};
}

// A press: the stick bounces ever faster and softer.
Recorded buzz(double force, int take) {
  Hand hand(5, take);
  Samples out = silence(0.36);
  double at = 0, gap = 0.021, level = 1;
  while (at < 0.28) {
    add(out, Noise{.low = 1100,
                   .high = between(4400, 8200, force),
                   .level = level * hand.level(),
                   .decay = 0.07,
                   .start = at,
                   .rise = 0.0004,
                   .seed = hand.noise()});
    add(out, Tone{.hz = 190 * hand.hz(),
                  .level = 0.55 * level,
                  .decay = 0.09,
                  .phase = 0.21,
                  .start = at});
    at += gap;
    gap *= 0.95;
    level *= 0.87;
  }
  return {out, {}};
}

Recorded tom(double hz, double decay, double force, int take) {
  Hand hand(10 + static_cast<std::uint64_t>(hz), take);
  Samples out = silence(1.1 * decay);
  addHead(out,
          {.hz = hz,
           .decay = decay,
           .fall = between(0.09, 0.18, force),
           .fallTime = 0.07,
           .bright = 0.34},
          force, hand);
  rattle(out,
         {.low = 500,
          .high = between(2200, 5200, force),
          .level = between(0.25, 0.6, force),
          .decay = 0.02,
          .seed = 41},
         hand);
  soften(out, 1.1);
  return {out, {}};
}

Recorded cowbell(double force, int take) {
  Hand hand(6, take);
  Samples out = silence(0.34);
  add(out, Tone{.hz = 561 * hand.hz(), .level = 0.9 * hand.level(), .decay = 0.3, .phase = 0.25});
  add(out, Tone{.hz = 846 * hand.hz(), .level = 0.8 * hand.level(), .decay = 0.26, .phase = 0.25});
  add(out, Tone{.hz = 1690 * hand.hz(),
                .level = between(0.06, 0.3, force),
                .decay = 0.12,
                .phase = 0.25});
  add(out, Noise{.low = 1500,
                 .high = between(4000, 9000, force),
                 .level = between(0.5, 1, force),
                 .decay = 0.01,
                 .seed = hand.noise()});
  return {out, {}};
}

Recorded click(double hz) {
  Samples out = silence(0.014);
  const double length = 0.012 * kRate;
  for (std::size_t i = 0; i < out.size() && static_cast<double>(i) < length; ++i) {
    const double t = static_cast<double>(i);
    const double window = 0.5 - 0.5 * std::cos(2 * std::numbers::pi * t / length);
    out[i] = window * std::sin(2 * std::numbers::pi * hz * t / kRate);
  }
  return {out, {}};
}

}  // namespace uneven::bank
