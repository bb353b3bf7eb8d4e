// SPDX-License-Identifier: GPL-3.0-or-later
// Stairs and played sticks.
#include "layout/stairs.h"

#include <algorithm>
#include <cmath>

#include "core/song/limbs.h"
#include "core/time/count.h"
#include "layout/time_axis.h"

namespace uneven {
namespace {

constexpr double kDot = 12, kFloor = 0.18, kGapMost = 3;

}  // namespace

std::vector<Stair> stairsOf(const std::vector<double>& rungs, const std::vector<int>& times,
                            const Rect& area, double labelWidth) {
  std::vector<Stair> out;
  if (rungs.empty()) return out;
  const double width = area.width() / static_cast<double>(rungs.size());
  const double gap = std::min(kGapMost, width / 6);
  const double way = rungs.back() - rungs.front();
  // Every so many have their number, the last one always.
  const auto each = static_cast<std::size_t>(std::max(1.0, std::ceil(labelWidth / width)));
  for (std::size_t i = 0; i < rungs.size(); ++i) {
    Stair stair;
    stair.bpm = rungs[i];
    const double share = way > 0 ? (rungs[i] - rungs.front()) / way : 1;
    const double height = area.height() * (kFloor + (1 - kFloor) * share);
    const double left = area.left + static_cast<double>(i) * width;
    stair.rect = {left, area.bottom - height, left + width - gap, area.bottom};
    stair.labelled = (rungs.size() - 1 - i) % each == 0;
    const int count = i < times.size() ? times[i] : 0;
    const int columns = std::max(1, static_cast<int>(stair.rect.width() / kDot));
    const int rows = std::max(1, static_cast<int>((height - 6) / kDot));
    const int shown = std::min(count, columns * rows);
    stair.more = count - shown;
    const double used = std::min(columns, std::max(shown, 1)) * kDot;
    const double first = (stair.rect.left + stair.rect.right - used) / 2;
    for (int d = 0; d < shown; ++d) {
      const int row = d / columns;
      stair.dots.push_back(
          {first + (d % columns + 0.5) * kDot, stair.rect.bottom - 4 - (row + 0.5) * kDot});
    }
    out.push_back(std::move(stair));
  }
  return out;
}

std::optional<std::size_t> stairAt(const std::vector<Stair>& stairs, Point p) {
  for (std::size_t i = 0; i < stairs.size(); ++i) {
    const Rect& rect = stairs[i].rect;
    // Above a step, too: it is the column that is meant.
    if (p.x >= rect.left && p.x <= rect.right && p.y <= rect.bottom) return i;
  }
  return std::nullopt;
}

PlayedScene playedScene(const Groove& groove, const Kit& kit, int rounds,
                        const Alignment* alignment, int firstBar, const Rect& area) {
  PlayedScene out;
  const int all = rounds * groove.bars;
  out.bars = std::min(all, kPlayedBars);
  out.firstBar = std::clamp(firstBar, 0, all - out.bars);
  const Beat bar = groove.meter.barLength();
  const double length = out.bars * bar.toDouble();
  const TimeAxis axis(area.left + 12, area.right - 12, 0, length);
  const auto x = [&](Beat inShown) { return axis.xFromQuarters(inShown.toDouble()); };
  std::vector<PieceId> struck;
  const auto has = [&](PieceId piece) {
    return std::find(struck.begin(), struck.end(), piece) != struck.end();
  };
  for (const PieceId piece : kit.order) {
    const bool written = std::any_of(groove.hits.begin(), groove.hits.end(),
                                     [&](const Hit& h) { return h.piece == piece; });
    const bool played = alignment != nullptr &&
                        std::any_of(alignment->strokes.begin(), alignment->strokes.end(),
                                    [&](const AlignedStroke& s) { return s.piece == piece; });
    if ((written || played) && !has(piece)) struck.push_back(piece);
  }
  out.lanes = struck;
  const double lane =
      struck.empty() ? 0 : (area.height() - 18) / static_cast<double>(struck.size());
  for (std::size_t i = 0; i < struck.size(); ++i)
    out.baselines.push_back(area.top + 18 + (static_cast<double>(i) + 1) * lane - 4);
  const Beat unit = groove.meter.countUnit();
  for (int b = 0; b < out.bars; ++b) {
    for (Beat at; at < bar; at += unit) {
      PlayedLine line;
      line.x = x(Beat(b) * bar + at);
      line.count = countName(at, groove.meter).text();
      line.bar = at == Beat(0);
      out.lines.push_back(std::move(line));
      const Beat half = at + unit / Beat(2);
      if (half < bar) out.lines.push_back({x(Beat(b) * bar + half), {}, false});
    }
  }
  const auto baseline = [&](PieceId piece) -> std::optional<double> {
    for (std::size_t i = 0; i < struck.size(); ++i) {
      if (struck[i] == piece) return out.baselines[i];
    }
    return std::nullopt;
  };
  const double room = std::max(8.0, lane - 10);
  if (alignment == nullptr) return out;
  for (std::size_t i = 0; i < alignment->strokes.size(); ++i) {
    const AlignedStroke& s = alignment->strokes[i];
    const int inTime = s.round * groove.bars + s.bar - alignment->firstBar;
    if (inTime < out.firstBar || inTime >= out.firstBar + out.bars) continue;
    const auto y = baseline(s.piece);
    if (!y) continue;
    PlayedStick stick;
    stick.state = s.state;
    stick.limb = s.limb == Limb::kAutomatic ? kit.usualLimb(s.piece) : s.limb;
    stick.role = s.role;
    stick.stroke = i;
    stick.foot = {x(Beat(inTime - out.firstBar) * bar + s.at), *y};
    const double lean = std::clamp(out.pxPerMs * s.late.count(), -kLeanMost, kLeanMost);
    stick.head = {stick.foot.x + lean, *y - room * std::clamp(s.velocity / 127.0, 0.1, 1.0)};
    out.sticks.push_back(stick);
  }
  return out;
}

}  // namespace uneven
