// SPDX-License-Identifier: GPL-3.0-or-later
// Quarter notes in time.
#include "core/match/beat_line.h"

#include <algorithm>
#include <cmath>

namespace uneven {
namespace {

constexpr double kUsualPeriod = 0.5;  // s

}  // namespace

BeatLine::BeatLine(const std::vector<Point>& points) {
  constexpr double kLeast = 1e-6;
  for (const Point& p : points) {
    if (!std::isfinite(p.quarters) || !std::isfinite(p.seconds)) continue;
    if (!points_.empty() && (p.quarters - points_.back().quarters < kLeast ||
                             p.seconds - points_.back().seconds < kLeast)) {
      continue;
    }
    points_.push_back(p);
  }
  if (points_.empty()) points_.push_back({0, 0});
  if (points_.size() == 1)
    points_.push_back({points_[0].quarters + 1, points_[0].seconds + kUsualPeriod});
}

std::size_t BeatLine::pieceAt(double value, double Point::*of) const {
  const auto next = std::upper_bound(points_.begin() + 1, points_.end() - 1, value,
                                     [of](double v, const Point& p) { return v < p.*of; });
  return static_cast<std::size_t>(next - points_.begin()) - 1;
}
double BeatLine::secondsAt(double quarters) const {
  const std::size_t i = pieceAt(quarters, &Point::quarters);
  return points_[i].seconds + (quarters - points_[i].quarters) * periodOf(i);
}
double BeatLine::quartersAt(double seconds) const {
  const std::size_t i = pieceAt(seconds, &Point::seconds);
  const Point& a = points_[i];
  const Point& b = points_[i + 1];
  return a.quarters + (seconds - a.seconds) * (b.quarters - a.quarters) / (b.seconds - a.seconds);
}
double BeatLine::periodAt(double quarters) const {
  return periodOf(pieceAt(quarters, &Point::quarters));
}
double BeatLine::periodOf(std::size_t piece) const {
  const Point& a = points_[piece];
  const Point& b = points_[piece + 1];
  return (b.seconds - a.seconds) / (b.quarters - a.quarters);
}
BeatLine BeatLine::shifted(double quarters) const {
  std::vector<Point> points = points_;
  for (Point& p : points) p.quarters -= quarters;
  return BeatLine(points);
}

std::optional<double> BeatLine::shiftTo(const BeatLine& other) const {
  if (points_.size() != other.points_.size()) return std::nullopt;
  const double shift = points_.front().quarters - other.points_.front().quarters;
  constexpr double kSame = 1e-9;
  for (std::size_t i = 0; i < points_.size(); ++i) {
    const Point &a = points_[i], &b = other.points_[i];
    if (std::abs(a.seconds - b.seconds) > kSame ||
        std::abs(a.quarters - b.quarters - shift) > kSame)
      return std::nullopt;
  }
  return shift;
}

double gatheringOf(const std::vector<double>& quarters, double period, double width) {
  // Pairs within a kernel, by bins a quarter of its width.
  constexpr double kBinsMost = 100'000;
  if (!(period > 0)) return 1;
  const auto bins =
      static_cast<std::size_t>(std::clamp(std::ceil(4 * period / width), 16.0, kBinsMost));
  std::vector<double> count(bins, 0);
  for (const double q : quarters) {
    const double share = q - std::floor(q);
    if (!(share >= 0 && share <= 1)) continue;
    count[std::min(bins - 1, static_cast<std::size_t>(share * static_cast<double>(bins)))] += 1;
  }
  const auto n = static_cast<double>(quarters.size());
  if (n < 2) return 1;
  double pairs = 0;
  constexpr std::ptrdiff_t kReach = 4;
  for (std::size_t i = 0; i < bins; ++i) {
    for (std::ptrdiff_t k = -kReach; k <= kReach; ++k) {
      const auto j = static_cast<std::size_t>((static_cast<std::ptrdiff_t>(i + bins) + k) %
                                              static_cast<std::ptrdiff_t>(bins));
      const double weight = 1 - std::abs(static_cast<double>(k)) / (kReach + 1);
      pairs += weight * count[i] * (count[j] - (k == 0 ? 1 : 0));
    }
  }
  const double even = n * (n - 1) / static_cast<double>(bins) * (kReach + 1);
  return pairs / even;
}

}  // namespace uneven
