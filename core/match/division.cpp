// SPDX-License-Identifier: GPL-3.0-or-later
// Dividing a quarter.
#include "core/match/division.h"

#include <algorithm>
#include <cmath>
#include <numeric>
#include <optional>

#include "core/match/weights.h"

namespace uneven {
namespace {

double insideOf(double value) {
  return value - std::floor(value);
}

}  // namespace

Quarter::Quarter(const std::vector<double>& at, double width) : n_(static_cast<double>(at.size())) {
  for (const double a : at)
    cells_[std::min(kCells - 1, static_cast<std::size_t>(insideOf(a) * kCells))] += 1;
  for (std::size_t d = 0; d < kCells; ++d) {
    const double away =
        std::min(static_cast<double>(d), static_cast<double>(kCells - d)) / kCells / width;
    bell_[d] = std::exp(-away * away / 2) / (width * 2.5066);
  }
}

Quarter::Suited Quarter::suit(const std::array<double, 4>& slots, std::size_t count, int free,
                              double phase) const {
  Suited out;
  std::array<std::size_t, 4> at{};
  for (std::size_t s = 0; s < count; ++s)
    at[s] = static_cast<std::size_t>(insideOf(slots[s] + phase) * kCells) % kCells;
  std::array<double, 4> weight{};
  weight.fill(1.0 / static_cast<double>(count));
  double log = 0;
  for (int round = 0; round < 3; ++round) {
    std::array<double, 4> sum{};
    log = 0;
    for (std::size_t c = 0; c < kCells; ++c) {
      if (cells_[c] == 0) continue;
      std::array<double, 4> part{};
      double all = ear::kStraySlot;
      for (std::size_t s = 0; s < count; ++s) {
        part[s] = (1 - ear::kStraySlot) * weight[s] * bell_[(c + kCells - at[s]) % kCells];
        all += part[s];
      }
      log += cells_[c] * std::log(all);
      for (std::size_t s = 0; s < count; ++s) sum[s] += cells_[c] * part[s] / all;
    }
    const double total = std::accumulate(sum.begin(), sum.end(), 1e-9);
    for (std::size_t s = 0; s < count; ++s) weight[s] = sum[s] / total;
  }
  int used = free - 1;
  for (std::size_t s = 0; s < count; ++s) used += weight[s] > 0.015 ? 1 : 0;
  out.gain = (log - 0.5 * std::log(std::max(2.0, n_)) * used) / std::max(1.0, n_);
  out.share = weight;
  return out;
}

std::vector<Divided> divisionsOf(const Quarter& quarter, double phase) {
  std::vector<Divided> out;
  const auto take = [&](Divided d, int free) {
    d.suited = quarter.suit(d.slots, d.count, free, phase);
    return d;
  };
  Divided straight;
  straight.swing.unit = SwingUnit::kSixteenth;
  straight.slots = {0, 0.25, 0.5, 0.75};
  out.push_back(take(straight, 0));
  constexpr double kStep = 0.0125;
  const auto bend = [&](SwingUnit unit, double most) {
    std::optional<Divided> best;
    for (double t = ear::kSwingPointFrom; t <= most + 1e-9; t += kStep) {
      Divided d;
      d.swings = true;
      d.swing.unit = unit;
      d.swing.ratio = t / (1 - t);
      d.slots = unit == SwingUnit::kEighth ? std::array<double, 4>{0, t / 2, t, (1 + t) / 2}
                                           : std::array<double, 4>{0, t / 2, 0.5, 0.5 + t / 2};
      d = take(d, 1);
      // Swing is heard in what it moves.
      const auto& share = d.suited.share;
      const double moved = unit == SwingUnit::kEighth ? share[2] : share[1] + share[3];
      if (moved < ear::kMovedLeast) continue;
      if (!best || d.suited.gain > best->suited.gain) best = d;
    }
    if (best) out.push_back(*best);
  };
  bend(SwingUnit::kEighth, 0.79);
  bend(SwingUnit::kSixteenth, 0.75);
  Divided three;
  three.triplets = true;
  three.swing.written = Written::kTriplet;
  three.swing.unit = SwingUnit::kEighth;
  three.swing.ratio = 2;
  three.slots = {0, 1.0 / 3, 2.0 / 3, 0};
  three.count = 3;
  out.push_back(take(three, 0));
  return out;
}

}  // namespace uneven
