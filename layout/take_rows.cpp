// SPDX-License-Identifier: GPL-3.0-or-later
// Rows of bars.
#include "layout/take_rows.h"

#include <algorithm>
#include <cmath>

namespace uneven {
namespace {

constexpr double kRowMost = 22, kRowLeast = 9;

}  // namespace

Rect TakeRows::numberRect(std::int64_t bar) const {
  const double y = area.top + static_cast<double>(bar - top) * rowHeight;
  return {area.left - 50, y, area.left - 8, y + rowHeight};
}

std::int64_t TakeRows::barAt(double y) const {
  return top + static_cast<std::int64_t>((y - area.top) / rowHeight);
}

std::int64_t TakeRows::heldTop(std::int64_t wanted) const {
  return std::clamp(wanted, first, std::max(first, last - shown + 1));
}

std::int64_t TakeRows::topFor(std::int64_t bar) const {
  std::int64_t out = std::min(top, bar);
  if (bar >= out + shown) out = bar - shown + 1;
  return heldTop(out);
}

TakeRows takeRows(const TakeRowsWanted& wanted) {
  TakeRows out;
  out.area = {TakeRows::kLeft, TakeRows::kAbove, wanted.size.width - TakeRows::kRight,
              wanted.size.height - TakeRows::kSums - TakeRows::kBelow};
  out.axis = TimeAxis(out.area.left, out.area.right, 0, wanted.barLength);
  out.first = wanted.first;
  out.last = wanted.last;
  out.top = wanted.top;
  const auto bars = static_cast<double>(wanted.last - wanted.first + 1);
  out.rowHeight =
      wanted.alone ? out.area.height() : std::clamp(out.area.height() / bars, kRowLeast, kRowMost);
  out.shown = std::max(1, static_cast<int>(out.area.height() / out.rowHeight));
  return out;
}

std::vector<double> hillOf(const std::vector<double>& xs, const Rect& area) {
  constexpr int kSpread = 8;
  std::vector<double> hill(static_cast<std::size_t>(std::max(16.0, area.width())), 0);
  for (const double at : xs) {
    const auto x = static_cast<std::ptrdiff_t>(at - area.left);
    for (std::ptrdiff_t k = -kSpread; k <= kSpread; ++k) {
      if (x + k < 0 || x + k >= std::ssize(hill)) continue;
      hill[static_cast<std::size_t>(x + k)] += std::exp(static_cast<double>(-k * k) / 12);
    }
  }
  return hill;
}

std::vector<Point> energyOutline(const std::vector<float>& energy, double rate,
                                 const BeatLine& line, double from, const TakeRows& rows,
                                 double floor, double height) {
  const auto at = [&](double x) {
    return line.secondsAt(from + rows.axis.quartersFromX(x)) * rate;
  };
  const auto loudest = [&](double a, double b) {
    float most = 0;
    const auto size = static_cast<double>(energy.size());
    for (double i = std::max(0.0, a); i < std::min(b, size); ++i)
      most = std::max(most, energy[static_cast<std::size_t>(i)]);
    return most;
  };
  const double most = std::max(1e-6F, loudest(at(rows.area.left), at(rows.area.right)));
  std::vector<Point> out;
  for (double x = rows.area.left; x < rows.area.right; ++x) {
    const double a = at(x);
    const double level = std::sqrt(loudest(a, std::max(a + 1, at(x + 1))) / most);
    out.push_back({x, floor - level * height});
  }
  return out;
}

}  // namespace uneven
