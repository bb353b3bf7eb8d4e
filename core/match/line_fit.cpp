// SPDX-License-Identifier: GPL-3.0-or-later
// Through where strokes are once their leans are known.
#include "core/match/line_fit.h"

#include <algorithm>
#include <cmath>

#include "core/base/number.h"
#include "core/match/weights.h"

namespace uneven {

LineFound lineThroughAll(const std::vector<Onset>& onsets, const std::vector<Placed>& placed,
                         const Apart& apart, const Extent& extent) {
  std::vector<double> x, y, weight;
  for (std::size_t i = 0; i < onsets.size(); ++i) {
    const Placed& p = placed[i];
    if (!p.timed) continue;
    const double lean = apart.leanAt(i).count();
    const double left = p.late.count() - lean - apart.clockAt(p.quarters).count();
    x.push_back(p.quarters);
    y.push_back(onsets[i].seconds - lean / 1'000);
    weight.push_back(std::abs(left) < 20 ? 1 : 20 / std::abs(left));
  }
  const Line line = lineThrough(x, y, weight);
  // How far a straight line is from the beats as they are followed.
  const std::int64_t first = roundToInt(std::floor(extent.first));
  const std::int64_t last = roundToInt(std::ceil(extent.last));
  const auto count = static_cast<std::size_t>(last - first + 1);
  std::vector<double> away(count, 0), weights(count, 0);
  for (std::size_t i = 0; i < x.size(); ++i) {
    const auto k = static_cast<std::size_t>(roundToInt(x[i]) - first);
    away[k] += weight[i] * (y[i] - line.at(x[i]));
    weights[k] += weight[i];
  }
  for (std::size_t k = 0; k < count; ++k) away[k] /= std::max(1e-9, weights[k]);
  // A body's clock stays within a few ms of a straight line; a tempo that moves does not.
  const std::vector<double> bend = smoothed(away, weights, ear::kLineStiff);
  double most = 0, squares = 0, n = 0;
  for (std::size_t k = 0; k < count; ++k) {
    if (weights[k] <= 0) continue;
    most = std::max(most, std::abs(bend[k]));
    squares += bend[k] * bend[k];
    n += 1;
  }
  const bool straight =
      most < ear::kLineBends && squares < ear::kLineBendsMean * ear::kLineBendsMean * n;
  std::vector<BeatLine::Point> points;
  for (std::size_t k = 0; k < count; ++k) {
    const double q = static_cast<double>(first + static_cast<std::int64_t>(k));
    const double at = line.at(q) + bend[k];
    if (!points.empty() && at <= points.back().seconds + 1e-3) continue;
    points.push_back({q, at});
  }
  return {line, straight, std::move(points)};
}

}  // namespace uneven
