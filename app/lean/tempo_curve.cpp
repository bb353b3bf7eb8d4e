// SPDX-License-Identifier: GPL-3.0-or-later
// The curve over the tempo.
#include "app/lean/tempo_curve.h"

#include <QPainter>
#include <QPainterPath>
#include <algorithm>

#include "app/controls/theme.h"
#include "core/perform/swing.h"

namespace uneven {
namespace {

constexpr double kLeft = 26, kRight = 8, kTop = 10, kBottom = 20;
constexpr double kSlow = 40, kFast = 320, kRatioShown = 4;

}  // namespace

TempoCurve::TempoCurve(QWidget* parent) : QWidget(parent) {
  setObjectName(QStringLiteral("tempo-curve"));
  setFixedHeight(112);
  setToolTip(
      tr("Ratio over tempo in quarter notes a minute. Curve: the ratio that follows the tempo. "
         "Line: the fixed one. Marks: the song's tempos"));
}

void TempoCurve::show(const Song& song, const Swing& swing, Tempo here) {
  swing_ = swing;
  tempos_.clear();
  for (const TempoMark& mark : song.tempo) tempos_.push_back(mark.bpm.value);
  here_ = here.bpm().value;
  update();
}

QPointF TempoCurve::at(double bpm, double ratio) const {
  const double x = (std::clamp(bpm, kSlow, kFast) - kSlow) / (kFast - kSlow);
  const double y = (std::clamp(ratio, 1.0, kRatioShown) - 1) / (kRatioShown - 1);
  return {kLeft + x * (width() - kLeft - kRight),
          height() - kBottom - y * (height() - kTop - kBottom)};
}

void TempoCurve::paintEvent(QPaintEvent* /*event*/) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.setFont(theme::font(11));
  for (const int ratio : {1, 2, 3, 4}) {
    const QPointF left = at(kSlow, ratio);
    p.fillRect(QRectF(left.x(), left.y() - 0.5, width() - kLeft - kRight, 1), theme::kFaintLine);
    p.setPen(theme::kQuiet);
    p.drawText(QRectF(0, left.y() - 8, kLeft - 5, 16), Qt::AlignRight | Qt::AlignVCenter,
               QStringLiteral("%1:1").arg(ratio));
  }
  for (const int bpm : {60, 120, 180, 240, 300}) {
    p.drawText(QRectF(at(bpm, 1).x() - 20, height() - kBottom + 4, 40, 14), Qt::AlignCenter,
               QString::number(bpm));
  }
  QPainterPath linked;
  for (double bpm = kSlow; bpm <= kFast; bpm += 2) {
    const QPointF point = at(bpm, linkedRatio(pairLength(swing_.unit, Tempo::fromBpm({bpm}))));
    if (bpm == kSlow) linked.moveTo(point);
    linked.lineTo(point);
  }
  p.setBrush(Qt::NoBrush);
  p.setPen(QPen(theme::kBrassEdge, swing_.linked ? 2.4 : 1.2));
  p.drawPath(linked);
  p.setPen(QPen(theme::kInk, swing_.linked ? 1 : 2.2));
  p.drawLine(at(kSlow, swing_.ratio), at(kFast, swing_.ratio));
  for (const double bpm : tempos_) {
    const double ratio = ratioAt(swing_, Tempo::fromBpm({bpm}));
    const bool here = std::abs(bpm - here_) < 0.01;
    p.setPen(QPen(theme::kInk, 1.2));
    p.setBrush(here ? theme::kInk : theme::kCard);
    p.drawEllipse(at(bpm, ratio), here ? 4.5 : 3.2, here ? 4.5 : 3.2);
  }
}

}  // namespace uneven
