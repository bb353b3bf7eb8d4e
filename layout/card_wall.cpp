// SPDX-License-Identifier: GPL-3.0-or-later
// Cards and points.
#include "layout/card_wall.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>

namespace uneven {

CardWall cardWall(std::uint64_t count, Size size) {
  CardWall out;
  out.count = count;
  out.size = size;
  constexpr double kBetween = CardWall::kGap;
  const int most = std::max(1, static_cast<int>((size.width - CardWall::kBar + kBetween) /
                                                (CardWall::kCardWidth + kBetween)));
  const double down =
      std::max(1.0, std::floor((size.height + kBetween) / (CardWall::kCardHeight + kBetween)));
  const double across = std::ceil(static_cast<double>(count) / down);
  out.columns = std::clamp(across < most ? static_cast<int>(across) : most, 1, most);
  const auto n = static_cast<std::uint64_t>(out.columns);
  out.rows = (count + n - 1) / n;
  const double each =
      (size.height + kBetween) / static_cast<double>(std::max<std::uint64_t>(1, out.rows));
  out.cardHeight =
      std::clamp(std::floor(each - kBetween), CardWall::kCardHeight, CardWall::kCardHeightMost);
  return out;
}

double CardWall::scrollMost() const {
  return std::max(0.0, static_cast<double>(rows) * step() - kGap - size.height);
}

Rect CardWall::card(std::uint64_t index, double scrolled) const {
  const auto n = static_cast<std::uint64_t>(columns);
  const double bar = scrollMost() >= 1 ? kBar : 0;
  const double wide = (size.width - bar - 4 - (columns - 1) * kGap) / columns;
  const std::uint64_t row = index / n;
  const double left = 1 + static_cast<double>(index % n) * (wide + kGap);
  const double top = static_cast<double>(row) * step() - scrolled + 1;
  return {left, top, left + wide, top + cardHeight - 2};
}

std::pair<std::uint64_t, std::uint64_t> CardWall::seen(double scrolled) const {
  const auto n = static_cast<std::uint64_t>(columns);
  const auto first = static_cast<std::uint64_t>(std::max(0.0, scrolled / step()));
  const auto last = static_cast<std::uint64_t>((scrolled + size.height) / step()) + 1;
  return {std::min(first * n, count), std::min(last * n, count)};
}

int CardWall::rowsSeen() const {
  return std::max(1, static_cast<int>(size.height / step()));
}

std::optional<std::uint64_t> CardWall::at(Point p, double scrolled) const {
  const auto [from, to] = seen(scrolled);
  for (std::uint64_t i = from; i < to; ++i) {
    if (card(i, scrolled).contains(p)) return i;
  }
  return std::nullopt;
}

std::vector<std::optional<Point>> spreadOut(const std::vector<std::optional<Point>>& places,
                                            const Rect& edge) {
  constexpr double kApart = 11;
  constexpr int kFirstRing = 6;  // ring r has 6 r places
  std::vector<std::optional<Point>> out(places.size());
  std::map<std::pair<int, int>, int> taken;
  for (std::size_t i = 0; i < places.size(); ++i) {
    if (!places[i]) continue;
    const Point& at = *places[i];
    const int nth = taken[{static_cast<int>(at.x / kApart), static_cast<int>(at.y / kApart)}]++;
    int ring = 0, before = 0;
    while (nth > before) before += kFirstRing * ++ring;
    const int place = ring == 0 ? 0 : nth - (before - kFirstRing * ring) - 1;
    const double turn = ring == 0 ? 0 : 2 * std::numbers::pi * place / (kFirstRing * ring);
    out[i] = Point{std::clamp(at.x + std::cos(turn) * kApart * ring, edge.left, edge.right),
                   std::clamp(at.y + std::sin(turn) * kApart * ring, edge.top, edge.bottom)};
  }
  return out;
}

}  // namespace uneven
