// SPDX-License-Identifier: GPL-3.0-or-later
// Small sticks.
#include "app/drawing/mini_groove.h"

#include <QPainter>
#include <algorithm>

#include "app/controls/theme.h"

namespace uneven {

MiniSpan miniSpan(const Groove& groove, const Changes& changes, int bars) {
  const Beat bar = groove.meter.barLength();
  if (groove.bars <= bars || changes.empty())
    return {Beat(0), Beat(std::min(bars, groove.bars)) * bar};
  const std::int64_t first =
      std::clamp<std::int64_t>(changes.begin()->first.at.floorDiv(bar), 0, groove.bars - bars);
  return {Beat(first) * bar, Beat(first + bars) * bar};
}

void paintMini(QPainter& p, const QRectF& rect, const Groove& groove, const Groove* core,
               const Kit& kit, int bars) {
  const Changes changes = core == nullptr || core->length() != groove.length()
                              ? Changes{}
                              : changesBetween(*core, groove);
  const MiniSpan span = miniSpan(groove, changes, bars);
  const double length = (span.to - span.from).toDouble();
  constexpr double kFeet = 0.32;  // of the height
  const double line = rect.bottom() - kFeet * rect.height();
  const double inset = 4, width = rect.width() - 2 * inset;
  const auto x = [&](Beat at) {
    return rect.left() + inset + (at - span.from).toDouble() / length * width;
  };
  p.setPen(QPen(theme::kLine, 1));
  p.drawLine(QPointF(rect.left(), line), QPointF(rect.right(), line));
  const Beat bar = groove.meter.barLength();
  for (Beat at = span.from + bar; at < span.to; at += bar)
    p.drawLine(QPointF(x(at) - 2, rect.top()), QPointF(x(at) - 2, rect.bottom()));
  // Where most of it is another figure, brass would tell nothing.
  const bool some = changes.size() * 2 <= std::max<std::size_t>(groove.hits.size(), 8);
  const auto stick = [&](const Hit& hit, const QColor& color, double pen) {
    const Limb limb = hit.limb == Limb::kAutomatic ? kit.usualLimb(hit.piece) : hit.limb;
    const bool foot = isFoot(limb);
    const double room = foot ? kFeet * rect.height() - 2 : (1 - kFeet) * rect.height() - 2;
    const double size = room * (0.25 + 0.75 * hit.velocity.value() / Velocity::kMax);
    // Hands beside each other where they stand together.
    const double at = x(hit.at) + (limb == Limb::kLeftHand ? 1.5 : 0);
    p.setPen(QPen(color, pen));
    p.drawLine(QPointF(at, line), QPointF(at, foot ? line + size : line - size));
  };
  for (const Hit& hit : groove.hits) {
    if (hit.at < span.from || hit.at >= span.to) continue;
    const bool differs = some && changes.contains({hit.at, hit.piece});
    const Limb limb = hit.limb == Limb::kAutomatic ? kit.usualLimb(hit.piece) : hit.limb;
    const double pen = differs ? 3.2 : hit.role == Role::kAccent ? 2.4 : 1.4;
    stick(hit, differs ? theme::kBrass : theme::limbColor(limb), pen);
  }
  // What is gone: a short mark where it stood.
  p.setPen(QPen(theme::kBrassEdge, 1.4));
  for (const auto& [ref, hit] : changes) {
    if (hit || !some || ref.at < span.from || ref.at >= span.to) continue;
    p.drawEllipse(QPointF(x(ref.at), line), 2.2, 2.2);
  }
}

}  // namespace uneven
