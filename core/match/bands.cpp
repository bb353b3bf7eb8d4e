// SPDX-License-Identifier: GPL-3.0-or-later
// Energies in bands.
#include "core/match/bands.h"

#include <cmath>

#include "core/base/number.h"

namespace uneven {

BandEnergies::BandEnergies(double rate) : rate_(rate) {
  frame_ = static_cast<std::size_t>(std::max(8.0, roundedTo(rate * 64 / 48'000, 1)));
  fine_ = static_cast<std::size_t>(std::max(2.0, roundedTo(rate / 4'000, 1)));
  // R. Bristow-Johnson's cookbook (W3C Audio EQ Cookbook): high pass and low pass with Q =
  // 1/sqrt 2.
  constexpr double kPi = 3.14159265358979;
  const auto set = [&](Row& row, std::size_t b, double hz, bool low) {
    const double w = 2 * kPi * std::min(hz, rate * 0.45) / rate;
    const double alpha = std::sin(w) / std::sqrt(2.0), c = std::cos(w), a0 = 1 + alpha;
    row.b1[b] = (low ? 1 - c : -(1 + c)) / a0;
    row.b0[b] = row.b2[b] = (low ? 1 - c : 1 + c) / 2 / a0;
    row.a1[b] = -2 * c / a0;
    row.a2[b] = (1 - alpha) / a0;
  };
  for (std::size_t b = 0; b < kBands; ++b) {
    set(high_, b, kEdges[b], false);
    set(low_, b, kEdges[b + 1], true);
  }
}

void BandEnergies::push(std::span<const float> samples) {
  std::array<double, kBands> band{};
  for (const float sample : samples) {
    const double x = std::isfinite(sample) ? std::clamp(static_cast<double>(sample), -8.0, 8.0) : 0;
    band.fill(x);
    high_.next(band);
    low_.next(band);
    for (std::size_t b = 0; b < kBands; ++b) sum_[b] += band[b] * band[b];
    const double step = x - before_;
    before_ = x;
    edge_ += step * step;
    if (++inFine_ == fine_) {
      edges_.push(edge_);
      edge_ = 0;
      inFine_ = 0;
    }
    if (++inFrame_ == frame_) endFrame();
  }
}

void BandEnergies::endFrame() {
  for (std::size_t b = 0; b < kBands; ++b) {
    bands_[b].push(sum_[b] / static_cast<double>(frame_));
    sum_[b] = 0;
  }
  inFrame_ = 0;
}

void BandEnergies::finish() {
  if (inFrame_ > 0) endFrame();
}

}  // namespace uneven
