// SPDX-License-Identifier: GPL-3.0-or-later
// Drift.
#include "core/perform/drift.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <numbers>

namespace uneven {
namespace {

const Beat kLattice(1, 8);

constexpr std::uint64_t kClockStream = 1;
constexpr std::uint64_t kVelocityStream = 2;
constexpr std::uint64_t kMotorStream = 16;  // and one a limb from here on

// splitmix64 (Steele, Lea & Flood 2014): well mixed, and the same on every machine.
std::uint64_t mixed(std::uint64_t x) {
  x += 0x9E3779B97F4A7C15ULL;
  x = (x ^ (x >> 30)) * 0xBF58476D1CE4E5B9ULL;
  x = (x ^ (x >> 27)) * 0x94D049BB133111EBULL;
  return x ^ (x >> 31);
}

// In (0, 1).
double uniform(std::uint64_t bits) {
  return (static_cast<double>(bits >> 11) + 0.5) * 0x1p-53;
}

// One geometric filter of the sum: y[n] = decay * y[n-1] + weight * w[n].
struct Filter {
  double decay;
  double weight;
};

// The integral over x by s = -ln x on logarithmic steps: x^(k+a-1) (1-x)^(-a) dx.
std::vector<Filter> filtersFor(double a) {
  constexpr double kSlowest = 1e-8;  // beyond the longest song
  constexpr double kFastest = 40;
  constexpr int kPerDecade = 4;
  const double step = std::numbers::ln10 / kPerDecade;
  const double scale = step / (std::tgamma(a) * std::tgamma(1 - a));
  std::vector<Filter> out;
  for (double u = std::log(kSlowest); u <= std::log(kFastest); u += step) {
    const double s = std::exp(u);
    const double decay = std::exp(-s);
    const double weight = scale * s * std::exp(-a * s) * std::pow(-std::expm1(-s), -a);
    out.push_back({decay, weight});
  }
  return out;
}

// Mean square of the filtered noise over `count` points, from the filter alone.
double expectedPower(double exponent, std::size_t count) {
  // h[0] = 1, h[k] = h[k-1] (k - 1 + a) / k.
  const double a = exponent / 2;
  double h = 1;
  double power = 0;  // of x[n], grows with n
  double mean = 0;
  for (std::size_t k = 0; k < count; ++k) {
    if (k > 0) h *= (static_cast<double>(k) - 1 + a) / static_cast<double>(k);
    power += h * h;
    mean += (power - mean) / static_cast<double>(k + 1);
  }
  return mean;
}

}  // namespace

std::span<const DriftPreset> driftPresets() {
  static constexpr DriftPreset kPresets[] = {
      {"machine", "Machine-tight", 0, 0, 0, 1}, {"steady", "Steady", 2, 1.5, 2, 1},
      {"settled", "Settled", 4, 2.5, 3, 1},     {"breathing", "Breathing", 8, 4, 5, 1},
      {"loose", "Loose", 13, 7, 8, 1.2},
  };
  return kPresets;
}

Drift withPreset(Drift drift, const DriftPreset& preset) {
  drift.clock = Milliseconds(preset.clock);
  drift.motor = Milliseconds(preset.motor);
  drift.velocity = preset.velocity;
  drift.exponent = preset.exponent;
  return drift;
}

double normalAt(std::uint64_t seed, std::uint64_t stream, std::uint64_t index) {
  const std::uint64_t base = mixed(mixed(seed) ^ mixed(stream * 0x632BE59BD9B4E019ULL) ^
                                   mixed(index + 0xD1B54A32D192ED03ULL));
  // Box & Muller 1958.
  const double radius = std::sqrt(-2 * std::log(uniform(base)));
  return radius * std::cos(2 * std::numbers::pi * uniform(mixed(base)));
}

std::vector<double> colouredNoise(std::uint64_t seed, std::uint64_t stream, double exponent,
                                  std::size_t count) {
  std::vector<double> out(count);
  for (std::size_t n = 0; n < count; ++n) out[n] = normalAt(seed, stream, n);
  if (exponent <= 0) return out;
  double a = exponent / 2;
  // Whole powers are running sums.
  for (; a >= 1; a -= 1) {
    double sum = 0;
    for (double& x : out) x = sum += x;
  }
  if (a > 1e-9) {
    std::vector<Filter> filters = filtersFor(a);
    // In rows of four, which are summed side by side: the order of additions is part of the result.
    while (filters.size() % 4 != 0) filters.push_back({0, 0});
    std::vector<double> decay, weight;
    for (const Filter& filter : filters) {
      decay.push_back(filter.decay);
      weight.push_back(filter.weight);
    }
    std::vector<double> state(filters.size(), 0);
    for (double& x : out) {
      double sums[4] = {0, 0, 0, 0};
      for (std::size_t i = 0; i < state.size(); i += 4) {
        for (std::size_t k = 0; k < 4; ++k) {
          state[i + k] = decay[i + k] * state[i + k] + weight[i + k] * x;
          sums[k] += state[i + k];
        }
      }
      x = (sums[0] + sums[2]) + (sums[1] + sums[3]);
    }
  }
  // By the next power of two, so that a bar more leaves the scale alone.
  const double power = expectedPower(exponent, std::bit_ceil(std::max<std::size_t>(count, 256)));
  for (double& x : out) x /= std::sqrt(power);
  return out;
}

DriftSeries::DriftSeries(const Drift& drift, Beat length) : drift_(drift) {
  const auto cells =
      static_cast<std::size_t>(std::max<std::int64_t>(0, length.floorDiv(kLattice))) + 1;
  if (drift.clock.count() > 0) {
    clock_ = colouredNoise(drift.seed, kClockStream, drift.exponent, cells);
  }
  if (drift.velocity > 0) {
    velocity_ = colouredNoise(drift.seed, kVelocityStream, drift.exponent, cells);
  }
}

std::size_t DriftSeries::cellOf(Beat at) const {
  return static_cast<std::size_t>(std::max<std::int64_t>(0, at.floorDiv(kLattice)));
}

Milliseconds DriftSeries::clockAt(Beat at) const {
  if (clock_.empty()) return Milliseconds(0);
  return drift_.clock * clock_[std::min(cellOf(at), clock_.size() - 1)];
}

Milliseconds DriftSeries::motorAt(Beat at, Limb limb) const {
  if (drift_.motor.count() <= 0) return Milliseconds(0);
  const auto factor = drift_.limbs.find(limb);
  const double share = factor == drift_.limbs.end() ? 1 : factor->second;
  const std::uint64_t index =
      mixed(static_cast<std::uint64_t>(at.num())) ^ static_cast<std::uint64_t>(at.den());
  return drift_.motor * share *
         normalAt(drift_.seed, kMotorStream + static_cast<std::uint64_t>(limb), index);
}

double DriftSeries::velocityAt(Beat at) const {
  if (velocity_.empty()) return 0;
  return drift_.velocity * velocity_[std::min(cellOf(at), velocity_.size() - 1)];
}

}  // namespace uneven
