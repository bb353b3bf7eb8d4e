// SPDX-License-Identifier: GPL-3.0-or-later
// Hills of strain.
#include "layout/strain_hills.h"

#include <algorithm>

#include "core/base/number.h"

namespace uneven {
namespace {

constexpr double kLanesShare = 0.55;  // of the view's height, where there is room
constexpr double kBelowLanes = 306;   // what strain and ruler take
constexpr double kHillHeight = 34, kHillGap = 9, kHillsHead = 30;
constexpr double kRulerGap = 52, kRulerHeight = 16;

}  // namespace

StrainRooms strainRooms(double height, double left, double right) {
  StrainRooms out;
  out.top = std::min(kLanesShare * height, height - kBelowLanes);
  double top = out.top + kHillsHead;
  for (Rect& hill : out.hills) {
    hill = {left, top, right, top + kHillHeight};
    top += kHillHeight + kHillGap;
  }
  const double ruler = out.hills.back().bottom + kRulerGap;
  out.ruler = {left, ruler, right, ruler + kRulerHeight};
  out.tempos = TimeAxis(left, right, kRulerFrom, kRulerTo - kRulerFrom);
  return out;
}

double StrainRooms::xOfBpm(double bpm) const {
  return tempos.xFromQuarters(std::clamp(bpm, kRulerFrom, kRulerTo));
}

double StrainRooms::bpmAt(double x) const {
  return roundedTo(std::clamp(tempos.quartersFromX(x), kRulerFrom, kRulerTo), 1);
}

std::vector<Point> hillEdge(const std::vector<StrainAt>& strokes, const Rect& hill) {
  std::vector<Point> out{{hill.left, hill.bottom}};
  const auto to = [&](double x, double strain) {
    out.push_back({x, hill.bottom - hill.height() * std::min(strain, kStrainShown) / kStrainShown});
  };
  const auto left = [](const StrainAt& s, double x) {
    return s.recovers <= 0
               ? 0
               : std::min(s.strain, kStrainShown) * std::max(0.0, 1 - (x - s.x) / s.recovers);
  };
  for (std::size_t i = 0; i < strokes.size(); ++i) {
    const StrainAt& s = strokes[i];
    to(s.x, i == 0 ? 0 : left(strokes[i - 1], s.x));
    to(s.x, s.strain);
    const double next = i + 1 < strokes.size() ? strokes[i + 1].x : hill.right;
    const double end = std::min(next, s.x + s.recovers);
    to(end, left(s, end));
  }
  out.push_back({out.back().x, hill.bottom});
  return out;
}

}  // namespace uneven
