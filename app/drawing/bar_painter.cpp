// SPDX-License-Identifier: GPL-3.0-or-later
// Painting frames of bars.
#include "app/drawing/bar_painter.h"

#include <QCoreApplication>
#include <QPainter>
#include <cmath>

#include "app/controls/labels.h"
#include "app/controls/theme.h"

namespace uneven {

void paintBars(QPainter& p, const BarFrame& frame, BarNames names) {
  const double bottom = frame.area.bottom;
  for (const GridLine& line : frame.lines) {
    const bool bar = line.weight == LineWeight::kBar;
    const bool count = line.weight == LineWeight::kCount;
    // Upright lines fill whole pixels: crisp, and drawn many times as quickly as a stroke.
    const int width = bar ? 2 : 1;
    const int top = qRound(frame.area.top - 8);
    p.fillRect(QRect(qRound(line.x - width / 2.0), top, width, qRound(bottom) - top),
               bar     ? theme::kBarLine
               : count ? theme::kLine
                       : theme::kFaintLine);
    // Where straight time would be, wherever the swing has moved the line away from it.
    if (std::abs(line.x - line.straightX) > 0.5) {
      p.fillRect(QRectF(line.straightX - 1, frame.area.top - 12, 2, 7), theme::kBrass);
    }
    if (bar && names == BarNames::kShown && line.at < frame.end) {
      p.setPen(theme::kQuiet);
      p.setFont(theme::font(12));
      p.drawText(QRectF(line.x - 4, 0, 80, 14), Qt::AlignLeft | Qt::AlignVCenter,
                 QCoreApplication::translate("uneven::Editing", "bar %1")
                     .arg(line.at.floorDiv(frame.barLength) + 1));
    }
    if (!line.labelled) continue;
    p.setPen(bar || count ? theme::kInk : theme::kQuiet);
    p.setFont(bar || count ? theme::font(13, theme::Weight::kSemiBold) : theme::font(12));
    p.drawText(QRectF(line.x - 30, 12, 60, 18), Qt::AlignCenter, qs(line.count.label()));
  }
}

QRectF laneNameRect(double baseline) {
  return {0, baseline - 17, kLaneNameWidth - 12, 18};
}

void paintLaneName(QPainter& p, const QRectF& rect, const QString& name) {
  p.setPen(theme::kInk);
  p.setFont(theme::font(13, theme::Weight::kSemiBold));
  p.drawText(rect, Qt::AlignRight | Qt::AlignVCenter, name);
}

void paintFocus(QPainter& p, const QRectF& around) {
  p.setPen(QPen(theme::kBrassEdge, 1, Qt::DotLine));
  p.setBrush(Qt::NoBrush);
  p.drawRect(around);
}

void paintBand(QPainter& p, const Rect& band) {
  QColor fill = theme::kBrass;
  fill.setAlpha(40);
  p.setPen(QPen(theme::kBrassEdge, 1, Qt::DashLine));
  p.setBrush(fill);
  p.drawRect(QRectF(band.left, band.top, band.width(), band.height()));
}

void paintPlayhead(QPainter& p, const BarFrame& frame, double quarters) {
  const double x = frame.axis.xFromQuarters(quarters);
  p.setPen(QPen(theme::kAttention, 1.5));
  p.drawLine(QPointF(x, frame.area.top - 14), QPointF(x, frame.area.bottom));
}

}  // namespace uneven
