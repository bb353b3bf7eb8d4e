// SPDX-License-Identifier: GPL-3.0-or-later
// The sounds, one after another. Notes are those of data/maps of the house sounds
// (sound/kit/house-sounds.json).
#include "sound/bank/house_kit.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/base/number.h"
#include "sound/bank/oscillators.h"

namespace uneven::bank {
namespace {

// A circular membrane's modes over its lowest: zeros of the Bessel functions.
constexpr std::array<double, 8> kMembrane{1, 1.594, 2.136, 2.296, 2.653, 2.918, 3.156, 3.501};

// Which layer of a sound: 0 soft, 1 middle, 2 loud.
struct Layer {
  int from, to;
  double force;  // 0 soft .. 1 loud
};
constexpr std::array<Layer, 3> kThree{{{1, 45, 0.0}, {46, 95, 0.5}, {96, 127, 1.0}}};
constexpr std::array<Layer, 2> kTwo{{{1, 79, 0.35}, {80, 127, 1.0}}};
constexpr std::array<Layer, 1> kOne{{{1, 127, 0.8}}};

double between(double soft, double loud, double force) {
  return soft + (loud - soft) * force;
}

struct Drum {
  double hz, decay, fall, fallTime;
  double stick;       // of the stick against the head
  double stickHz;     // upper end of its noise
  double brightness;  // how much of the higher modes
};

void addHead(Samples& out, const Drum& drum, double force) {
  double level = 1;
  for (std::size_t i = 0; i < kMembrane.size(); ++i) {
    const double ratio = kMembrane[i];
    Tone tone;
    tone.hz = drum.hz * ratio;
    tone.level = level / ratio;
    tone.decay = drum.decay / ratio;  // higher modes die sooner
    tone.fall = drum.fall * between(0.7, 1, force);
    tone.fallTime = drum.fallTime;
    tone.phase = 0.25;  // the head is struck: it is at its furthest at once
    add(out, tone);
    level = drum.brightness * between(0.78, 1, force);
  }
  add(out, Noise{.low = 400,
                 .high = between(0.35, 1, force) * drum.stickHz,
                 .level = drum.stick * between(0.85, 1, force),
                 .decay = 0.02,
                 .seed = 11});
}

Samples kick(double force) {
  Samples out = silence(0.42);
  add(out, Tone{.hz = 54 * between(1, 1.06, force),
                .level = 1,
                .decay = between(0.30, 0.38, force),
                .fall = 1.1,
                .fallTime = 0.012,
                .phase = 0.16});
  add(out,
      Tone{.hz = 86, .level = 0.25, .decay = 0.16, .fall = 1, .fallTime = 0.012, .phase = 0.2});
  // The beater's felt, then its click.
  add(out,
      Noise{
          .low = 120, .high = 900, .level = between(0.62, 0.5, force), .decay = 0.045, .seed = 21});
  add(out, Noise{.low = 1800,
                 .high = between(2600, 5200, force),
                 .level = between(0.34, 0.56, force),
                 .decay = 0.018,
                 .seed = 22});
  return out;
}

Samples snare(double force) {
  Samples out = silence(between(0.16, 0.30, force));
  addHead(out,
          {.hz = 192,
           .decay = between(0.09, 0.17, force),
           .fall = 0.06,
           .fallTime = 0.02,
           .stick = 0.9,
           .stickHz = 6500,
           .brightness = 0.75},
          force);
  // The wires answer a millisecond after the head; a ghost is nearly all wires, and dull.
  add(out, Noise{.low = 1400,
                 .high = between(4200, 11'000, force),
                 .level = between(1.35, 1.15, force),
                 .decay = between(0.11, 0.21, force),
                 .start = 0.001,
                 .rise = 0.0006,
                 .seed = 31});
  return out;
}

Samples rimShot(double force) {
  Samples out = snare(between(0.7, 1, force));
  out.resize(silence(0.32).size());
  for (const double hz : {431.0, 612.0, 884.0, 1320.0}) {
    add(out, Tone{.hz = hz, .level = 0.55, .decay = 0.15, .phase = 0.2});
  }
  add(out, Noise{.low = 1500,
                 .high = between(8000, 13'000, force),
                 .level = 2.2,
                 .decay = 0.014,
                 .seed = 32});
  return out;
}

Samples crossStick(double force) {
  Samples out = silence(0.11);
  add(out, Tone{.hz = 412, .level = 0.8, .decay = 0.06, .phase = 0.2});
  add(out, Tone{.hz = 1180, .level = 0.9, .decay = 0.05, .phase = 0.25});
  add(out, Tone{.hz = 1570, .level = 0.6, .decay = 0.04, .phase = 0.2});
  add(out, Noise{.low = 900,
                 .high = between(4000, 9000, force),
                 .level = 0.9,
                 .decay = 0.012,
                 .seed = 33});
  return out;
}

// A press: the stick bounces ever faster and softer.
Samples buzz(double force) {
  Samples out = silence(0.34);
  add(out, Noise{.low = 1500, .high = 7000, .level = 0.9, .decay = 0.02, .seed = 39});
  double at = 0, gap = 0.021, level = 1;
  std::uint64_t seed = 40;
  while (at < 0.26) {
    add(out, Noise{.low = 1100,
                   .high = between(4200, 8000, force),
                   .level = level,
                   .decay = 0.055,
                   .start = at,
                   .rise = 0.0005,
                   .seed = seed++});
    add(out, Tone{.hz = 192, .level = 0.5 * level, .decay = 0.07, .phase = 0.25, .start = at});
    at += gap;
    gap *= 0.95;
    level *= 0.86;
  }
  return out;
}

Samples tom(double hz, double decay, double force) {
  Samples out = silence(decay + 0.05);
  addHead(out,
          {.hz = hz,
           .decay = decay,
           .fall = 0.09,
           .fallTime = 0.045,
           .stick = 0.75,
           .stickHz = 5200,
           .brightness = 0.6},
          force);
  return out;
}

struct Cymbal {
  double low, high;  // Hz, of its partials
  int partials;
  double centre;      // Hz, where they are strongest
  double width;       // octaves around it
  double seconds;     // until the sound ends
  double decay;       // at 1 kHz
  double dieFromTop;  // decay goes by (1 kHz / f) to this power
  double bloom;       // seconds that the highest partials take to rise
  double wash;        // noise against partials
  double stick;       // of the first touch
  double stickLow, stickHigh;
  std::uint64_t seed;
};

Samples cymbal(const Cymbal& c, double force) {
  Samples out = silence(c.seconds);
  Draw draw(c.seed);
  std::vector<Partial> partials;
  const double octaves = std::log2(c.high / c.low);
  const double centre = c.centre * between(0.82, 1.08, force);
  for (int i = 0; i < c.partials; ++i) {
    Partial p;
    // Modes of a plate lie about evenly along the frequency: more of them in each octave.
    const double place = (i + draw.unit()) / c.partials;
    p.hz = c.low * std::exp2(octaves * std::pow(place, 0.62));
    const double off = std::log2(p.hz / centre) / c.width;
    p.level = std::exp(-off * off) * (0.4 + draw.unit());
    p.decay =
        std::max(0.012, c.decay * std::pow(1000 / p.hz, c.dieFromTop) * (0.75 + 0.5 * draw.unit()));
    p.rise = c.bloom * std::clamp(std::log2(p.hz / c.low) / octaves, 0.0, 1.0);
    partials.push_back(p);
  }
  double energy = 0;
  for (const Partial& p : partials) energy += p.level * p.level / 2;
  for (Partial& p : partials) p.level *= 0.5 / std::sqrt(energy);
  add(out, std::move(partials), c.seed + 1);
  const double top = c.decay * std::pow(1000 / centre, c.dieFromTop);
  add(out, Noise{.low = centre / 2.2,
                 .high = std::min(15'000.0, centre * 1.9),
                 .level = c.wash * between(0.7, 1, force),
                 .decay = top,
                 .rise = c.bloom / 2,
                 .seed = c.seed + 2});
  add(out, Noise{.low = c.stickLow,
                 .high = c.stickHigh * between(0.75, 1, force),
                 .level = c.stick * between(0.8, 1, force),
                 .decay = 0.012,
                 .seed = c.seed + 3});
  return out;
}

// The hats, from pressed shut to wide.
Samples hat(double seconds, double decay, double centre, double wash, double force) {
  const double open =
      std::clamp((seconds - 0.2) / 0.7, 0.0, 1.0);  // then the touch has more to stand out from
  return cymbal({.low = 2800,
                 .high = 16'000,
                 .partials = 240,
                 .centre = centre,
                 .width = 0.8,
                 .seconds = seconds,
                 .decay = decay,
                 .dieFromTop = 0.28,
                 .bloom = 0.006 * open,
                 .wash = wash,
                 .stick = 1.3 + 1.1 * open,
                 .stickLow = 3500,
                 .stickHigh = 13'000,
                 .seed = 500},
                force);
}

// The shoulder of the stick on the edge: lower, with more body.
Samples hatEdge(double seconds, double decay, double force) {
  Samples out = hat(seconds, decay, 6400, 0.5, force);
  std::vector<Partial> body;
  Draw draw(530);
  body.reserve(48);
  for (int i = 0; i < 48; ++i) {
    body.push_back({.hz = 1000 + 2200 * draw.unit(),
                    .level = 0.07 * (0.5 + draw.unit()),
                    .decay = 0.7 * decay,
                    .rise = 0.002});
  }
  add(out, body, 531);
  add(out, Noise{.low = 1800, .high = 9000, .level = 1.5, .decay = 0.012, .seed = 532});
  return out;
}

Samples chick(double force) {
  Samples out = cymbal({.low = 1500,
                        .high = 12'000,
                        .partials = 160,
                        .centre = 5600,
                        .width = 0.9,
                        .seconds = 0.09,
                        .decay = 0.10,
                        .dieFromTop = 0.3,
                        .bloom = 0,
                        .wash = 0.5,
                        .stick = 1.0,
                        .stickLow = 1500,
                        .stickHigh = 8000,
                        .seed = 540},
                       force);
  return out;
}

Samples ride(double force) {
  Samples out = cymbal({.low = 320,
                        .high = 14'000,
                        .partials = 280,
                        .centre = 4200,
                        .width = 1.5,
                        .seconds = 2.4,
                        .decay = 2.6,
                        .dieFromTop = 0.45,
                        .bloom = 0.05,
                        .wash = between(0.10, 0.3, force),
                        .stick = 1.4,
                        .stickLow = 2800,
                        .stickHigh = 9000,
                        .seed = 600},
                       force);
  for (const double hz : {3140.0, 3870.0, 4690.0}) {
    add(out, Tone{.hz = hz, .level = 0.28, .decay = 0.35, .phase = 0.25});
  }
  return out;
}

Samples rideEdge(double force) {
  return cymbal({.low = 260,
                 .high = 13'000,
                 .partials = 300,
                 .centre = 2600,
                 .width = 1.7,
                 .seconds = 2.6,
                 .decay = 2.8,
                 .dieFromTop = 0.5,
                 .bloom = 0.06,
                 .wash = 0.5,
                 .stick = 1.1,
                 .stickLow = 1500,
                 .stickHigh = 8000,
                 .seed = 620},
                force);
}

// Few strong partials, nearly harmonic.
Samples bell(double force) {
  Samples out = silence(2.6);
  const std::array<double, 8> hz{631, 1268, 1874, 2541, 3120, 3795, 4610, 5890};
  double level = 0.8;
  for (const double f : hz) {
    add(out, Tone{.hz = f, .level = level, .decay = 2.8 * std::pow(631 / f, 0.55), .phase = 0.25});
    level *= between(0.72, 0.86, force);
  }
  const Samples under = ride(0.4 * force);
  for (std::size_t i = 0; i < under.size() && i < out.size(); ++i) out[i] += 0.35 * under[i];
  add(out, Noise{.low = 2500, .high = 10'000, .level = 1.2, .decay = 0.008, .seed = 640});
  return out;
}

Samples crash(double low, double seconds, double decay, double bloom, std::uint64_t seed,
              double force) {
  return cymbal({.low = low,
                 .high = 15'000,
                 .partials = 360,
                 .centre = 4800,
                 .width = 1.6,
                 .seconds = seconds,
                 .decay = decay,
                 .dieFromTop = 0.42,
                 .bloom = bloom * between(0.7, 1, force),
                 .wash = 0.65,
                 .stick = 2.3,
                 .stickLow = 900,
                 .stickHigh = 9000,
                 .seed = seed},
                force);
}

Samples china(double force) {
  Samples out = cymbal({.low = 240,
                        .high = 12'000,
                        .partials = 300,
                        .centre = 3000,
                        .width = 1.7,
                        .seconds = 1.4,
                        .decay = 1.5,
                        .dieFromTop = 0.38,
                        .bloom = 0.03,
                        .wash = 0.9,
                        .stick = 2.1,
                        .stickLow = 800,
                        .stickHigh = 8000,
                        .seed = 720},
                       force);
  // Its turned edge is rough: the partials beat.
  for (std::size_t i = 0; i < out.size(); ++i) {
    const double t = static_cast<double>(i) / kRate;
    out[i] *= 1 + 0.3 * std::sin(2 * 3.14159265358979 * 37 * t) * std::exp(-t / 0.4);
  }
  return out;
}

Samples smallSplash(double force) {
  return cymbal({.low = 480,
                 .high = 15'000,
                 .partials = 240,
                 .centre = 6200,
                 .width = 1.3,
                 .seconds = 0.9,
                 .decay = 1.3,
                 .dieFromTop = 0.45,
                 .bloom = 0.012,
                 .wash = 0.6,
                 .stick = 2.8,
                 .stickLow = 1800,
                 .stickHigh = 11'000,
                 .seed = 740},
                force);
}

Samples stack(double force) {
  return cymbal({.low = 300,
                 .high = 13'000,
                 .partials = 260,
                 .centre = 4200,
                 .width = 1.6,
                 .seconds = 0.2,
                 .decay = 0.24,
                 .dieFromTop = 0.2,
                 .bloom = 0.004,
                 .wash = 0.9,
                 .stick = 2.6,
                 .stickLow = 1200,
                 .stickHigh = 10'000,
                 .seed = 760},
                force);
}

Samples cowbell(double force) {
  Samples out = silence(0.32);
  add(out, Tone{.hz = 561, .level = 0.9, .decay = 0.28, .phase = 0.25});
  add(out, Tone{.hz = 846, .level = 0.8, .decay = 0.24, .phase = 0.25});
  add(out, Tone{.hz = 1690, .level = 0.3 * force, .decay = 0.1, .phase = 0.25});
  add(out, Noise{.low = 1500,
                 .high = between(4000, 9000, force),
                 .level = 1.1,
                 .decay = 0.01,
                 .seed = 780});
  return out;
}

Samples click(double hz) {
  Samples out = silence(0.014);
  const double length = 0.012 * kRate;
  for (std::size_t i = 0; i < out.size() && static_cast<double>(i) < length; ++i) {
    const double t = static_cast<double>(i);
    const double window = 0.5 - 0.5 * std::cos(2 * 3.14159265358979 * t / length);
    out[i] = window * std::sin(2 * 3.14159265358979 * hz * t / kRate);
  }
  return out;
}

// How loud a sound is: half by its peak, half by its power where it is loudest, in dB. Both matter
// where layers meet.
double loudness(const Samples& samples) {
  double peak = 0, power = 0;
  const std::size_t most = std::min(samples.size(), static_cast<std::size_t>(0.05 * kRate));
  for (const double s : samples) peak = std::max(peak, std::abs(s));
  for (std::size_t i = 0; i < most; ++i) power += samples[i] * samples[i];
  power = std::sqrt(power / static_cast<double>(0.05 * kRate));
  return 0.5 * (20 * std::log10(peak) + 20 * std::log10(power));
}

class Kit {
 public:
  // Every layer at one level: `db` of loudness.
  template <std::size_t N, typename Make>
  void add(const std::string& name, int note, double db, const std::array<Layer, N>& layers,
           Make make) {
    for (const Layer& layer : layers) {
      Samples sound = make(layer.force);
      fade(sound);
      const double gain = std::pow(10, (db - loudness(sound)) / 20);
      Zone zone;
      zone.name = N == 1 ? name : name + " " + std::to_string(layer.from);
      zone.note = note;
      zone.velocityFrom = layer.from;
      zone.velocityTo = layer.to;
      Draw dither(static_cast<std::uint64_t>(note));
      for (const double s : sound) {
        const double value = 32'767 * gain * s + 0.5 * (dither.around() + dither.around());
        zone.samples.push_back(
            static_cast<std::int16_t>(roundToInt(std::clamp(value, -32'767.0, 32'767.0))));
      }
      font.zones.push_back(std::move(zone));
    }
  }
  SoundFont font;

 private:
  // A tenth of a millisecond to come in, and the last hundredth of a second to go.
  static void fade(Samples& sound) {
    constexpr std::size_t kIn = 5;
    for (std::size_t i = 0; i < kIn; ++i) sound[i] *= static_cast<double>(i + 1) / (kIn + 1);
    const std::size_t tail = std::min(sound.size() / 4, static_cast<std::size_t>(0.01 * kRate));
    for (std::size_t i = 0; i < tail; ++i) {
      sound[sound.size() - 1 - i] *= static_cast<double>(i) / static_cast<double>(tail);
    }
  }
};

}  // namespace

SoundFont houseKit() {
  Kit kit;
  kit.font.name = "House kit";
  kit.font.rate = static_cast<int>(kRate);
  kit.add("Kick", 30, -10, kThree, kick);
  kit.add("Snare", 32, -12, kThree, snare);
  kit.add("Rim shot", 33, -10, kTwo, rimShot);
  kit.add("Cross-stick", 34, -17, kTwo, crossStick);
  kit.add("Buzz", 35, -15, kTwo, buzz);
  kit.add("Floor tom", 38, -11, kThree, [](double f) { return tom(85, 0.8, f); });
  kit.add("Mid tom", 39, -12, kThree, [](double f) { return tom(125, 0.55, f); });
  kit.add("Rack tom", 40, -12, kThree, [](double f) { return tom(165, 0.4, f); });
  kit.add("Hat tight", 44, -20, kThree, [](double f) { return hat(0.07, 0.075, 9600, 0.35, f); });
  kit.add("Hat shut", 45, -20, kThree, [](double f) { return hat(0.11, 0.13, 9300, 0.35, f); });
  kit.add("Hat quarter", 46, -19, kTwo, [](double f) { return hat(0.24, 0.32, 8700, 0.4, f); });
  kit.add("Hat half", 47, -18, kTwo, [](double f) { return hat(0.5, 0.75, 8100, 0.45, f); });
  kit.add("Hat wider", 48, -18, kTwo, [](double f) { return hat(0.9, 1.5, 7600, 0.45, f); });
  kit.add("Hat wide", 49, -18, kTwo, [](double f) { return hat(1.5, 2.6, 7200, 0.45, f); });
  kit.add("Edge tight", 50, -18, kTwo, [](double f) { return hatEdge(0.1, 0.11, f); });
  kit.add("Edge shut", 51, -18, kTwo, [](double f) { return hatEdge(0.14, 0.17, f); });
  kit.add("Edge half", 52, -17, kTwo, [](double f) { return hatEdge(0.5, 0.75, f); });
  kit.add("Edge wide", 53, -17, kTwo, [](double f) { return hatEdge(1.5, 2.6, f); });
  kit.add("Chick", 56, -21, kTwo, chick);
  kit.add("Foot splash", 57, -21, kTwo, [](double f) { return hat(0.95, 1.6, 6000, 0.5, f); });
  kit.add("Ride", 60, -20, kTwo, ride);
  kit.add("Ride bell", 61, -18, kTwo, bell);
  kit.add("Ride edge", 62, -16, kTwo, rideEdge);
  kit.add("Crash", 64, -14, kTwo, [](double f) { return crash(230, 2.2, 3.4, 0.05, 700, f); });
  kit.add("Crash 2", 66, -14, kTwo, [](double f) { return crash(190, 2.6, 4.2, 0.07, 710, f); });
  kit.add("China", 68, -14, kTwo, china);
  kit.add("Splash", 69, -17, kTwo, smallSplash);
  kit.add("Stack", 70, -16, kTwo, stack);
  kit.add("Cowbell", 71, -16, kTwo, cowbell);
  kit.add("Click", 74, -16, kOne, [](double) { return click(1000); });
  kit.add("Click accent", 75, -16, kOne, [](double) { return click(1500); });
  return kit.font;
}

}  // namespace uneven::bank
