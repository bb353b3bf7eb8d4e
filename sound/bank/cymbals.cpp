// SPDX-License-Identifier: GPL-3.0-or-later
// Cymbals, and the hats by degrees. Each is heard from two places: its partials reach them at
// different levels and in different phases.
#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

#include "sound/bank/house_kit.h"

namespace uneven::bank {
namespace {

struct Shape {
  double low, high;  // Hz, of its partials
  int partials;
  double centre;      // Hz, where they are strongest at full force
  double width;       // octaves around it
  double seconds;     // until the sound ends
  double decay;       // seconds to -60 dB at 1 kHz
  double dieFromTop;  // decay goes by (1 kHz / f) to this power
  double bloom;       // seconds that the highest partials take to rise
  double wash;        // noise against partials
  double stick;       // of the first touch
  double stickLow, stickHigh;
  std::uint64_t seed;
};

Recorded cymbal(const Shape& c, double force, int take) {
  Hand hand(c.seed, take);
  const double octaves = std::log2(c.high / c.low);
  const double centre = c.centre * between(0.84, 1.0, force);
  // The plate is one and the same: its modes are drawn once, what a stroke lifts of them anew.
  Draw plate(c.seed);
  std::vector<Partial> left, right;
  for (int i = 0; i < c.partials; ++i) {
    // Modes of a plate lie about evenly along the frequency: more of them in each octave.
    const double place = (i + plate.unit()) / c.partials;
    Partial p;
    p.hz = c.low * std::exp2(octaves * std::pow(place, 0.62));
    const double off = std::log2(p.hz / centre) / c.width;
    const double own = 0.4 + plate.unit(), side = 0.55 * plate.around();
    p.decay =
        std::max(0.02, c.decay * std::pow(1000 / p.hz, c.dieFromTop) * (0.75 + 0.5 * plate.unit()));
    p.rise = c.bloom * std::clamp(std::log2(p.hz / c.low) / octaves, 0.0, 1.0);
    p.hz *= hand.hz();
    p.level = std::exp(-off * off) * own * hand.level();
    left.push_back(p);
    right.push_back(p);
    left.back().level *= 1 + side;
    right.back().level *= 1 - side;
  }
  double energy = 0;
  for (const Partial& p : left) energy += p.level * p.level / 2;
  for (auto* channel : {&left, &right}) {
    for (Partial& p : *channel) p.level *= 0.5 / std::sqrt(energy);
  }
  Recorded out{silence(c.seconds), silence(c.seconds)};
  add(out.left, std::move(left), c.seed + 1);
  add(out.right, std::move(right), c.seed + 7);
  const double top = c.decay * std::pow(1000 / centre, c.dieFromTop);
  Samples stick = silence(c.seconds);
  Noise touch{.low = c.stickLow,
              .high = c.stickHigh * between(0.75, 1, force),
              .level = c.stick * between(0.75, 1, force),
              .decay = 0.012,
              .seed = c.seed + 3};
  add(stick, touch);
  touch.level *= 0.25;
  touch.seed = hand.noise();
  add(stick, touch);
  for (Samples* channel : {&out.left, &out.right}) {
    add(*channel, Noise{.low = centre / 2.2,
                        .high = std::min(15'000.0, centre * 1.9),
                        .level = c.wash * between(0.75, 1, force),
                        .decay = top,
                        .rise = c.bloom / 2,
                        .seed = hand.noise()});
    for (std::size_t i = 0; i < channel->size(); ++i) (*channel)[i] += stick[i];
  }
  // Each place hears what is nearer to the other, too.
  constexpr double kOwn = 0.9, kOther = 0.28;
  for (std::size_t i = 0; i < out.left.size(); ++i) {
    const double l = out.left[i], r = out.right[i];
    out.left[i] = kOwn * l + kOther * r;
    out.right[i] = kOwn * r + kOther * l;
  }
  return out;
}

// Degrees between which the hats are played: what is made of an opening must change steadily.
Shape hatShape(double opening) {
  const double ring = hatRing(opening);
  // The decay is told at 1 kHz; the ring is heard at the centre.
  constexpr double kFromTop = 0.28;
  const double centre = 9600 - 2400 * std::pow(opening, 0.7);
  return {.low = 2800,
          .high = 16'000,
          .partials = 240,
          .centre = centre,
          .width = 0.8,
          .seconds = std::min(1.7, 0.05 + ring),
          .decay = ring * std::pow(centre / 1000, kFromTop),
          .dieFromTop = kFromTop,
          .bloom = 0.004 * opening,
          .wash = 0.35 + 0.1 * opening,
          .stick = 1.2 + 1.6 * opening,
          .stickLow = 3500,
          .stickHigh = 13'000,
          .seed = 500};
}

}  // namespace

double hatRing(double opening) {
  // 0.14 s pressed shut, as far as 2.4 s wide: each tenth of the way about a third more.
  return 0.14 * std::pow(17, std::pow(opening, 0.8));
}

Recorded hat(double opening, double force, int take) {
  return cymbal(hatShape(opening), force, take);
}

// The shoulder of the stick on the edge: lower, with more body.
Recorded hatEdge(double opening, double force, int take) {
  Shape shape = hatShape(opening);
  shape.centre *= 0.72;
  shape.stick *= 1.9;
  shape.stickLow = 1800;
  shape.stickHigh = 10'000;
  Recorded out = cymbal(shape, force, take);
  std::vector<Partial> body;
  Draw draw(530);
  body.reserve(48);
  for (int i = 0; i < 48; ++i) {
    body.push_back({.hz = 1000 + 2200 * draw.unit(),
                    .level = 0.06 * (0.5 + draw.unit()),
                    .decay = 0.6 * hatRing(opening),
                    .rise = 0.002});
  }
  add(out.left, body, 531);
  add(out.right, body, 533);
  return out;
}

Recorded chick(double force, int take) {
  return cymbal({.low = 1500,
                 .high = 12'000,
                 .partials = 160,
                 .centre = 5600,
                 .width = 0.9,
                 .seconds = 0.16,
                 .decay = 0.24,
                 .dieFromTop = 0.3,
                 .bloom = 0,
                 .wash = 0.5,
                 .stick = 1.1,
                 .stickLow = 1200,
                 .stickHigh = 8000,
                 .seed = 540},
                force, take);
}

Recorded footSplash(double force, int take) {
  return cymbal({.low = 2200,
                 .high = 14'000,
                 .partials = 240,
                 .centre = 6000,
                 .width = 0.9,
                 .seconds = 1.0,
                 .decay = 1.6,
                 .dieFromTop = 0.28,
                 .bloom = 0.006,
                 .wash = 0.5,
                 .stick = 1.1,
                 .stickLow = 1800,
                 .stickHigh = 9000,
                 .seed = 550},
                force, take);
}

Recorded ride(double force, int take) {
  Recorded out = cymbal({.low = 320,
                         .high = 14'000,
                         .partials = 280,
                         .centre = 4200,
                         .width = 1.5,
                         .seconds = 2.4,
                         .decay = 2.8,
                         .dieFromTop = 0.45,
                         .bloom = 0.05,
                         .wash = between(0.14, 0.26, force),
                         .stick = 1.5,
                         .stickLow = 2800,
                         .stickHigh = 9000,
                         .seed = 600},
                        force, take);
  Hand hand(601, take);
  for (const double hz : {3140.0, 3870.0, 4690.0}) {
    const double own = hz * hand.hz();
    add(out.left, Tone{.hz = own, .level = 0.26, .decay = 0.4, .phase = 0.25});
    add(out.right, Tone{.hz = own, .level = 0.26, .decay = 0.4, .phase = 0.31});
  }
  return out;
}

Recorded rideEdge(double force, int take) {
  return cymbal({.low = 260,
                 .high = 13'000,
                 .partials = 300,
                 .centre = 2800,
                 .width = 1.7,
                 .seconds = 2.6,
                 .decay = 2.8,
                 .dieFromTop = 0.5,
                 .bloom = 0.06,
                 .wash = 0.5,
                 .stick = 1.9,
                 .stickLow = 1500,
                 .stickHigh = 8000,
                 .seed = 620},
                force, take);
}

// Few strong partials, nearly harmonic.
Recorded rideBell(double force, int take) {
  Hand hand(640, take);
  Recorded out{silence(2.6), silence(2.6)};
  constexpr std::array<double, 8> kHz{631, 1268, 1874, 2541, 3120, 3795, 4610, 5890};
  double level = 0.8;
  for (const double f : kHz) {
    const Tone tone{.hz = f * hand.hz(),
                    .level = level * hand.level(),
                    .decay = 2.8 * std::pow(631 / f, 0.55),
                    .phase = 0.25};
    add(out.left, tone);
    Tone other = tone;
    other.phase = 0.3;
    add(out.right, other);
    level *= between(0.74, 0.86, force);
  }
  const Recorded under = ride(0.5 * force, take);
  const std::uint64_t touch = hand.noise();
  for (auto [to, from] : {std::pair(&out.left, &under.left), std::pair(&out.right, &under.right)}) {
    for (std::size_t i = 0; i < from->size() && i < to->size(); ++i) (*to)[i] += 0.4 * (*from)[i];
    add(*to, Noise{.low = 2500,
                   .high = between(7000, 10'000, force),
                   .level = between(0.4, 0.8, force),
                   .decay = 0.008,
                   .seed = touch});
  }
  return out;
}

Recorded crash(const CrashShape& shape, double force, int take) {
  return cymbal({.low = shape.low,
                 .high = 15'000,
                 .partials = 360,
                 .centre = 4800,
                 .width = 1.6,
                 .seconds = shape.seconds,
                 .decay = shape.decay,
                 .dieFromTop = 0.42,
                 .bloom = shape.bloom,
                 .wash = 0.6,
                 .stick = 2.2,
                 .stickLow = 900,
                 .stickHigh = 9000,
                 .seed = shape.seed},
                force, take);
}

Recorded china(double force, int take) {
  Recorded out = cymbal({.low = 240,
                         .high = 12'000,
                         .partials = 300,
                         .centre = 3000,
                         .width = 1.7,
                         .seconds = 1.4,
                         .decay = 1.6,
                         .dieFromTop = 0.38,
                         .bloom = 0.03,
                         .wash = 0.85,
                         .stick = 2.2,
                         .stickLow = 800,
                         .stickHigh = 8000,
                         .seed = 720},
                        force, take);
  // Its turned edge is rough: the partials beat.
  for (Samples* channel : {&out.left, &out.right}) {
    for (std::size_t i = 0; i < channel->size(); ++i) {
      const double t = static_cast<double>(i) / kRate;
      (*channel)[i] *= 1 + 0.3 * std::sin(2 * std::numbers::pi * 37 * t) * std::exp(-t / 0.4);
    }
  }
  return out;
}

Recorded splash(double force, int take) {
  return cymbal({.low = 480,
                 .high = 15'000,
                 .partials = 240,
                 .centre = 6200,
                 .width = 1.3,
                 .seconds = 0.9,
                 .decay = 1.4,
                 .dieFromTop = 0.45,
                 .bloom = 0.012,
                 .wash = 0.6,
                 .stick = 2.8,
                 .stickLow = 1800,
                 .stickHigh = 11'000,
                 .seed = 740},
                force, take);
}

Recorded stack(double force, int take) {
  return cymbal({.low = 300,
                 .high = 13'000,
                 .partials = 260,
                 .centre = 4200,
                 .width = 1.6,
                 .seconds = 0.24,
                 .decay = 0.3,
                 .dieFromTop = 0.2,
                 .bloom = 0.004,
                 .wash = 0.9,
                 .stick = 2.8,
                 .stickLow = 1200,
                 .stickHigh = 10'000,
                 .seed = 760},
                force, take);
}

}  // namespace uneven::bank
