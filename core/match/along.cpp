// SPDX-License-Identifier: GPL-3.0-or-later
// The swing, bars by bars.
#include "core/match/along.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "core/match/numbers.h"
#include "core/match/weights.h"

namespace uneven {
namespace {

double pointToRatio(double point) {
  const double held = std::clamp(point, 0.45, 0.85);
  return held / (1 - held);
}
// How fast the ratio goes with the point.
double steepness(double point) {
  return 1 / ((1 - point) * (1 - point));
}

struct Points {
  std::vector<double> points;
  double mean() const {
    const double middle = medianOfReals(points), within = std::max(0.01, 3 * robustSpread(points));
    double sum = 0, n = 0;
    for (const double p : points) {
      if (std::abs(p - middle) > within) continue;
      sum += p;
      n += 1;
    }
    return sum / std::max(1.0, n);
  }
  double se() const {
    return ear::kSpanShared * std::max(1e-4, robustSpread(points)) /
           std::sqrt(static_cast<double>(points.size()));
  }
};

SwingSpan spanOf(const Fit& fit, std::int64_t from, std::int64_t to, const Points& of) {
  SwingSpan out;
  out.from = from;
  out.to = to;
  const double point = of.mean();
  out.ratio = pointToRatio(point);
  out.se = of.se() * steepness(point);
  out.pairs = static_cast<int>(of.points.size());
  const double bar = fit.grid.meter.barLength().toDouble();
  const double a = static_cast<double>(from) * bar, b = static_cast<double>(to) * bar;
  out.bpm = Bpm{60 * (b - a) / (fit.grid.line.secondsAt(b) - fit.grid.line.secondsAt(a))};
  return out;
}

}  // namespace

SwingAlong swingAlong(const Fit& fit, const std::vector<Onset>& onsets) {
  SwingAlong out;
  const Beat pair = fit.swing.unitLength() * Beat(2);
  const Beat off = fit.swing.written == Written::kTriplet ? pair * Beat(2, 3) : pair * Beat(1, 2);
  const Beat bar = fit.grid.meter.barLength();
  std::map<std::pair<PieceId, Beat>, std::size_t> at;
  std::map<PieceId, int> offs;
  for (std::size_t i = 0; i < fit.placed.size() && i < onsets.size(); ++i) {
    const Placed& p = fit.placed[i];
    if (!p.used) continue;
    at[{onsets[i].piece, Beat(p.bar) * bar + p.at}] = i;
    if (p.at - Beat(p.at.floorDiv(pair)) * pair == off) ++offs[onsets[i].piece];
  }
  const auto main = std::max_element(
      offs.begin(), offs.end(), [](const auto& a, const auto& b) { return a.second < b.second; });
  if (main == offs.end()) return out;
  std::map<std::int64_t, Points> groups;  // by spans of bars
  for (const auto& [place, i] : at) {
    if (place.first != main->first) continue;
    const Placed& p = fit.placed[i];
    const Beat start = Beat(p.at.floorDiv(pair)) * pair;
    if (p.at - start != off || start + pair > bar) continue;
    const auto before = at.find({place.first, place.second - off});
    const auto after = at.find({place.first, place.second - off + pair});
    if (before == at.end() || after == at.end()) continue;
    const double from = onsets[before->second].seconds, to = onsets[after->second].seconds;
    if (to - from <= 0) continue;
    groups[Beat(p.bar, kSpanBars).floorDiv(Beat(1))].points.push_back((onsets[i].seconds - from) /
                                                                      (to - from));
  }
  std::erase_if(groups, [](const auto& g) { return g.second.points.size() < ear::kSpanFewest; });
  if (groups.empty()) return out;
  // Against the tempo, before neighbours are put together.
  std::vector<double> x, y, weight;
  std::vector<std::pair<SwingSpan, Points>> spans;
  for (const auto& [group, points] : groups) {
    const SwingSpan span = spanOf(fit, group * kSpanBars, (group + 1) * kSpanBars, points);
    x.push_back(span.bpm.value);
    y.push_back(span.ratio);
    weight.push_back(1 / (span.se * span.se));
    spans.emplace_back(span, points);
  }
  const auto [slowest, fastest] = std::minmax_element(x.begin(), x.end());
  if (x.size() > 3 && *fastest - *slowest > ear::kMovesBpm) {
    const Line line = lineThrough(x, y, weight);
    double mean = 0, sum = 0, spread = 0, left = 0;
    for (std::size_t i = 0; i < x.size(); ++i) {
      mean += weight[i] * x[i];
      sum += weight[i];
    }
    mean /= sum;
    for (std::size_t i = 0; i < x.size(); ++i) {
      spread += weight[i] * (x[i] - mean) * (x[i] - mean);
      left += weight[i] * (y[i] - line.at(x[i])) * (y[i] - line.at(x[i]));
    }
    // No surer than the points lie on it.
    const double looser = std::max(1.0, left / static_cast<double>(x.size() - 2));
    out.perBpm = line.slope;
    out.perBpmSe = std::sqrt(looser / spread);
  }
  for (auto& [span, points] : spans) {
    if (!out.spans.empty()) {
      SwingSpan& last = out.spans.back();
      if (std::abs(last.ratio - span.ratio) < ear::kSpanApart * std::hypot(last.se, span.se)) {
        const double a = last.pairs, b = span.pairs;
        last.ratio = (a * last.ratio + b * span.ratio) / (a + b);
        last.se = std::hypot(a * last.se, b * span.se) / (a + b);
        last.bpm.value = (a * last.bpm.value + b * span.bpm.value) / (a + b);
        last.pairs += span.pairs;
        last.to = span.to;
        continue;
      }
    }
    out.spans.push_back(span);
  }
  return out;
}

std::vector<BarTempo> barTempos(const Fit& fit, const std::vector<Onset>& onsets) {
  std::map<std::int64_t, std::pair<Milliseconds, int>> late;  // together, of so many
  for (std::size_t i = 0; i < fit.placed.size(); ++i) {
    const Placed& placed = fit.placed[i];
    if (!placed.used) continue;
    auto& [sum, n] = late[placed.bar];
    sum += placed.late - fit.leanOf(onsets[i].piece);
    ++n;
  }
  const double length = fit.grid.meter.barLength().toDouble();
  std::vector<BarTempo> out;
  for (auto it = late.begin(); it != late.end(); ++it) {
    const auto next = std::next(it);
    if (next == late.end() || next->first != it->first + 1) continue;
    const double at = static_cast<double>(it->first) * length;
    const Seconds later =
        next->second.first / next->second.second - it->second.first / it->second.second;
    const double seconds =
        fit.grid.line.secondsAt(at + length) - fit.grid.line.secondsAt(at) + later.count();
    out.push_back({it->first, Bpm{60 * length / seconds}});
  }
  return out;
}

}  // namespace uneven
