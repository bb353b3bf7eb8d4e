// SPDX-License-Identifier: GPL-3.0-or-later
// Drift.
#include "core/perform/drift.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <numbers>
#include <vector>

#include "core/base/fixed_math.h"

namespace uneven {
namespace {

constexpr double kCellsPerQuarter = 8;

constexpr std::uint64_t kClockStream = 1;
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

// The normal distribution's quantile, to about 1e-7 (Wichura 1988, algorithm AS 241, PPND7). Of
// fixed functions only (fixed_math.h), so that it is the same everywhere.
double quantile(double p) {
  const double q = p - 0.5;
  if (std::abs(q) <= 0.425) {
    const double r = 0.180625 - q * q;
    return q * (((5.9109374720e1 * r + 1.5929113202e2) * r + 5.0434271938e1) * r + 3.3871327179) /
           (((6.7187563600e1 * r + 7.8757757664e1) * r + 1.7895169469e1) * r + 1);
  }
  double r = std::sqrt(-fixed::log(q < 0 ? p : 1 - p));
  double x = 0;
  if (r <= 5) {
    r -= 1.6;
    x = (((1.7023821103e-1 * r + 1.3067284816) * r + 2.7568153900) * r + 1.4234372777) /
        ((1.2021132975e-1 * r + 7.3700164250e-1) * r + 1);
  } else {
    r -= 5;
    x = (((1.7337203997e-2 * r + 4.2868294337e-1) * r + 3.0812263860) * r + 6.6579051150) /
        ((1.2258202635e-2 * r + 2.4197894225e-1) * r + 1);
  }
  return q < 0 ? -x : x;
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
  constexpr int kPerDecade = 2;
  const double step = std::numbers::ln10 / kPerDecade;
  const double scale = step / (fixed::gamma(a) * fixed::gamma(1 - a));
  std::vector<Filter> out;
  for (double u = fixed::log(kSlowest); u <= fixed::log(kFastest); u += step) {
    const double s = fixed::exp(u);
    const double decay = fixed::exp(-s);
    const double weight = scale * s * fixed::exp(-a * s) * fixed::pow(-fixed::expm1(-s), -a);
    out.push_back({decay, weight});
  }
  return out;
}

// Mean square of the filtered noise over `count` points, from the filter alone:
//
//   sum over k < count of (1 - k / count) h[k]^2,   h[0] = 1, h[k] = h[k-1] (k - 1 + a) / k
//
// Far from 0, h[k] is k^(a-1) / Gamma(a), and the sum an integral.
double expectedPower(double exponent, std::size_t count) {
  constexpr std::size_t kExact = 4096;
  const double a = exponent / 2;
  const auto n = static_cast<double>(count);
  double h = 1;
  double power = 0;
  const std::size_t exact = std::min(count, kExact);
  for (std::size_t k = 0; k < exact; ++k) {
    if (k > 0) h *= (static_cast<double>(k) - 1 + a) / static_cast<double>(k);
    power += h * h * (1 - static_cast<double>(k) / n);
  }
  if (count <= kExact) return power;
  // By the midpoint rule from kExact - 1/2 to count - 1/2.
  const auto whole = [a, n](double k) {
    const double e = 2 * a - 1;
    const double first = std::abs(e) < 1e-9 ? fixed::log(k) : fixed::pow(k, e) / e;
    return first - fixed::pow(k, e + 1) / (e + 1) / n;
  };
  const double from = static_cast<double>(kExact) - 0.5;
  const double tail = whole(n - 0.5) - whole(from);
  return power + tail / fixed::pow(fixed::gamma(a), 2);
}

// What belongs to one seed and stream.
std::uint64_t keyOf(std::uint64_t seed, std::uint64_t stream) {
  return mixed(seed) ^ mixed(stream * 0x632BE59BD9B4E019ULL);
}

std::uint64_t bitsOf(std::uint64_t key, std::uint64_t index) {
  return mixed(key + index * 0x9E3779B97F4A7C15ULL);
}

double normalOf(std::uint64_t key, std::uint64_t index) {
  return quantile(uniform(bitsOf(key, index)));
}

// Two independent ones from the halves of one number.
DriftSeries::Cell normalsOf(std::uint64_t key, std::uint64_t index) {
  const std::uint64_t bits = bitsOf(key, index);
  const auto half = [](std::uint64_t b) {
    return quantile((static_cast<double>(b & 0xFFFFFFFF) + 0.5) * 0x1p-32);
  };
  return {{half(bits >> 32), half(bits)}};
}

// Two series side by side cost little more than one.
using Two = DriftSeries::Cell;

void addUp(std::vector<Two>& series) {
  Two sum;
  for (Two& x : series) {
    for (int i = 0; i < 2; ++i) x.v[i] = sum.v[i] += x.v[i];
  }
}

// Both series in one register.
typedef double Lanes __attribute__((vector_size(16)));

void filter(std::vector<Two>& series, double a) {
  struct Stage {
    Lanes decay;
    Lanes weight;
    Lanes state;
  };
  std::vector<Stage> stages;
  for (const Filter& f : filtersFor(a)) {
    stages.push_back(Stage{Lanes{f.decay, f.decay}, Lanes{f.weight, f.weight}, Lanes{0, 0}});
  }
  if (stages.size() % 2 != 0) stages.emplace_back();
  for (Two& x : series) {
    const Lanes in{x.v[0], x.v[1]};
    // The order of additions is part of the result.
    Lanes even{0, 0}, odd{0, 0};
    for (std::size_t i = 0; i < stages.size(); i += 2) {
      Stage& first = stages[i];
      Stage& second = stages[i + 1];
      first.state = first.decay * first.state + first.weight * in;
      second.state = second.decay * second.state + second.weight * in;
      even += first.state;
      odd += second.state;
    }
    const Lanes out = even + odd;
    x.v[0] = out[0];
    x.v[1] = out[1];
  }
}

// `count` numbers of each, of series of `whole`.
std::vector<Two> coloured(std::uint64_t key, double exponent, std::size_t count,
                          std::size_t whole) {
  std::vector<Two> out(count);
  for (std::size_t n = 0; n < count; ++n) out[n] = normalsOf(key, n);
  if (exponent <= 0) return out;
  double a = exponent / 2;
  // Whole powers are running sums.
  for (; a >= 1; a -= 1) addUp(out);
  if (a > 1e-9) filter(out, a);
  // By the next power of two, so that a bar more leaves the scale alone.
  const double scale =
      1 / std::sqrt(expectedPower(exponent, std::bit_ceil(std::max<std::size_t>(whole, 256))));
  for (Two& x : out) {
    for (double& v : x.v) v *= scale;
  }
  return out;
}

std::size_t cellOf(Beat at) {
  // Exact all the same: no quotient of a song's positions lies within a rounding of a whole number
  // without being one.
  return static_cast<std::size_t>(std::max(
      0.0, static_cast<double>(at.num()) * kCellsPerQuarter / static_cast<double>(at.den())));
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
  return normalOf(keyOf(seed, stream), index);
}

std::vector<double> colouredNoise(std::uint64_t seed, std::uint64_t stream, double exponent,
                                  std::size_t count) {
  std::vector<double> out;
  out.reserve(count);
  for (const Two& x : coloured(keyOf(seed, stream), exponent, count, count)) {
    out.push_back(x.v[0]);
  }
  return out;
}

DriftSeries::DriftSeries(const Drift& drift, Beat length, Beat until) : drift_(drift) {
  for (std::size_t limb = 0; limb < kLimbs; ++limb) {
    const auto factor = drift.limbs.find(static_cast<Limb>(limb));
    motor_[limb] = drift.motor.count() * (factor == drift.limbs.end() ? 1 : factor->second);
    keys_[limb] = keyOf(drift.seed, kMotorStream + limb);
  }
  if (drift.clock.count() <= 0 && drift.velocity <= 0) return;
  const std::size_t count = cellOf(std::min(length, until)) + 1;
  cells_ = coloured(keyOf(drift.seed, kClockStream), drift.exponent, count, cellOf(length) + 1);
  for (Cell& cell : cells_) {
    cell.v[0] *= drift.clock.count();
    cell.v[1] *= drift.velocity;
  }
}

const DriftSeries::Cell& DriftSeries::cellAt(Beat at) const {
  static const Cell kNothing;
  return cells_.empty() ? kNothing : cells_[std::min(cellOf(at), cells_.size() - 1)];
}

Milliseconds DriftSeries::clockAt(Beat at) const {
  if (!drift_.measured) return cellAt(at).clock();
  const std::vector<double>& ms = drift_.measured->ms;
  const double place = std::max(0.0, (at / drift_.measured->unit.step()).toDouble());
  const auto before = static_cast<std::size_t>(place);
  if (before + 1 >= ms.size())
    return Milliseconds(before + 1 == ms.size() && place == std::floor(place) ? ms.back() : 0);
  return Milliseconds(std::lerp(ms[before], ms[before + 1], place - std::floor(place)));
}

Milliseconds DriftSeries::motorAt(Beat at, Limb limb) const {
  const auto who = static_cast<std::size_t>(limb);
  if (motor_[who] <= 0) return Milliseconds(0);
  const std::uint64_t index =
      mixed(static_cast<std::uint64_t>(at.num())) ^ static_cast<std::uint64_t>(at.den());
  return Milliseconds(motor_[who] * normalOf(keys_[who], index));
}

}  // namespace uneven
