// SPDX-License-Identifier: GPL-3.0-or-later
// Tones, partials and noise. Biquads after R. Bristow-Johnson's cookbook formulae.
#include "sound/bank/oscillators.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

#include "core/base/number.h"

namespace uneven::bank {
namespace {

constexpr double kTurn = 2 * std::numbers::pi;

double perFrame(double decay) {
  return std::pow(10.0, -3.0 / (decay * kRate));
}

std::size_t frameOf(double seconds) {
  return static_cast<std::size_t>(roundToInt(seconds * kRate));
}

class Biquad {
 public:
  enum class Kind : std::uint8_t { kLowPass, kHighPass };
  Biquad(Kind kind, double hz) {
    const double w = kTurn * std::min(hz, 0.45 * kRate) / kRate;
    const double alpha = std::sin(w) / std::numbers::sqrt2;  // Q = 1/sqrt(2)
    const double a0 = 1 + alpha;
    const double edge = kind == Kind::kLowPass ? 1 - std::cos(w) : 1 + std::cos(w);
    b0_ = edge / 2 / a0;
    b1_ = (kind == Kind::kLowPass ? edge : -edge) / a0;
    a1_ = -2 * std::cos(w) / a0;
    a2_ = (1 - alpha) / a0;
  }
  double next(double in) {
    const double out = b0_ * in + z1_;
    z1_ = b1_ * in - a1_ * out + z2_;
    z2_ = b0_ * in - a2_ * out;
    return out;
  }

 private:
  double b0_, b1_, a1_, a2_;
  double z1_ = 0, z2_ = 0;
};

// How many partials are turned at once, so that the compiler can use its wide registers.
constexpr std::size_t kLanes = 8;

// A damped sine is y[n] = 2 r cos(w) y[n-1] - r^2 y[n-2].
struct Lanes {
  std::array<double, kLanes> a{}, b{}, now{}, before{};
};

}  // namespace

Samples silence(double seconds) {
  return Samples(frameOf(seconds), 0.0);
}

double Draw::unit() {
  state_ += 0x9E3779B97F4A7C15;
  std::uint64_t z = state_;
  z = (z ^ (z >> 30)) * 0xBF58476D1CE4E5B9;
  z = (z ^ (z >> 27)) * 0x94D049BB133111EB;
  z ^= z >> 31;
  return static_cast<double>(z >> 11) * 0x1p-53;
}

double Draw::around() {
  return 2 * unit() - 1;
}

void add(Samples& out, const Tone& tone) {
  const double damp = perFrame(tone.decay);
  const double settle = std::exp(-1 / (tone.fallTime * kRate));
  double level = tone.level;
  double fall = tone.fall;
  double turn = tone.phase;
  const std::size_t start = frameOf(tone.start);
  const double rise = tone.rise * kRate;
  for (std::size_t i = start; i < out.size(); ++i) {
    const auto age = static_cast<double>(i - start);
    const double gain = age < rise ? age / rise : 1;
    out[i] += gain * level * std::sin(kTurn * turn);
    turn += tone.hz * (1 + fall) / kRate;
    turn -= std::floor(turn);
    level *= damp;
    fall *= settle;
  }
}

void add(Samples& out, std::vector<Partial> partials, std::uint64_t seed) {
  Draw draw(seed);
  // Neighbours share a rise, so that one envelope serves all lanes.
  std::sort(partials.begin(), partials.end(),
            [](const Partial& x, const Partial& y) { return x.hz < y.hz; });
  for (std::size_t first = 0; first < partials.size(); first += kLanes) {
    Lanes lanes;
    double rise = 0;
    for (std::size_t i = 0; i < kLanes && first + i < partials.size(); ++i) {
      const Partial& p = partials[first + i];
      const double w = kTurn * p.hz / kRate;
      const double r = perFrame(p.decay);
      const double phase = kTurn * draw.unit();
      lanes.a[i] = 2 * r * std::cos(w);
      lanes.b[i] = -r * r;
      lanes.now[i] = p.level * std::sin(phase);
      lanes.before[i] = p.level / r * std::sin(phase - w);
      rise = p.rise;
    }
    const double climb = rise > 0 ? std::exp(-1 / (rise * kRate)) : 0;
    double missing = rise > 0 ? 1 : 0;
    for (double& sample : out) {
      double sum = 0;
      for (std::size_t i = 0; i < kLanes; ++i) {
        sum += lanes.now[i];
        const double next = lanes.a[i] * lanes.now[i] + lanes.b[i] * lanes.before[i];
        lanes.before[i] = lanes.now[i];
        lanes.now[i] = next;
      }
      sample += (1 - missing) * sum;
      missing *= climb;
    }
  }
}

void add(Samples& out, const Noise& noise) {
  Draw draw(noise.seed);
  Biquad low(Biquad::Kind::kHighPass, noise.low);
  Biquad high(Biquad::Kind::kLowPass, noise.high);
  const double damp = perFrame(noise.decay);
  const std::size_t start = frameOf(noise.start);
  const double rise = noise.rise * kRate;
  // As loud whatever the band: white noise spreads evenly over all frequencies.
  double level = noise.level / std::sqrt(std::min(1.0, (noise.high - noise.low) / (kRate / 2)));
  for (std::size_t i = start; i < out.size(); ++i) {
    const auto age = static_cast<double>(i - start);
    const double gain = age < rise ? age / rise : 1;
    out[i] += gain * level * high.next(low.next(draw.around()));
    level *= damp;
  }
}

}  // namespace uneven::bank
