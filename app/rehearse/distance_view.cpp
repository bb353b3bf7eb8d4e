// SPDX-License-Identifier: GPL-3.0-or-later
// The view for distance.
#include "app/rehearse/distance_view.h"

#include <QPainter>
#include <algorithm>

#include "app/controls/labels.h"
#include "app/controls/theme.h"

namespace uneven {
namespace {

// As large as fits.
void drawLarge(QPainter& p, const QRectF& rect, const QString& text, int pixels,
               const QColor& color) {
  for (int size = pixels; size > 12; size -= 2) {
    p.setFont(theme::font(size, theme::Weight::kSemiBold));
    if (p.fontMetrics().horizontalAdvance(text) <= rect.width()) break;
  }
  p.setPen(color);
  p.drawText(rect, Qt::AlignCenter, text);
}

}  // namespace

QString resultOf(const std::optional<TimeThrough>& t) {
  if (!t) return {};
  if (t->result == Through::kClean) return DistanceView::tr("clean");
  if (t->result == Through::kBrokenOff) return DistanceView::tr("not judged yet");
  QStringList why;
  if (t->missing > 0) why << DistanceView::tr("%1 missing").arg(t->missing);
  if (t->extra > 0) why << DistanceView::tr("%1 extra").arg(t->extra);
  if (t->wrong > 0) why << DistanceView::tr("%1 on another piece").arg(t->wrong);
  if (why.isEmpty() && t->strokes > 0)
    why << DistanceView::tr("± %1 ms").arg(numberText(t->sdMs, 0));
  return why.isEmpty() ? DistanceView::tr("not yet")
                       : DistanceView::tr("not yet: %1").arg(why.join(QStringLiteral(", ")));
}

DistanceView::DistanceView(Rehearsing& rehearsing, QWidget* parent)
    : QWidget(parent), rehearsing_(rehearsing) {
  setObjectName(QStringLiteral("distance"));
  setAccessibleName(tr("Seen from the kit"));
  connect(&rehearsing_, &Rehearsing::changed, this, qOverload<>(&QWidget::update));
  connect(&rehearsing_, &Rehearsing::played, this, qOverload<>(&QWidget::update));
}

QString DistanceView::countText() const {
  const auto now = rehearsing_.now();
  if (!now) return tr("ready");
  return rehearsing_.editing().countAt(now->at);
}

QString DistanceView::resultText() const {
  return resultOf(rehearsing_.last());
}

void DistanceView::paintEvent(QPaintEvent* /*event*/) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.fillRect(rect(), theme::kCard);
  const double w = width(), h = height();
  const auto now = rehearsing_.now();
  drawLarge(p, {20, 0.02 * h, w - 40, 0.14 * h}, qs(rehearsing_.step().title), 56, theme::kInk);
  drawLarge(p, {20, 0.16 * h, 0.5 * w - 40, 0.42 * h}, countText(), static_cast<int>(0.4 * h),
            now && now->counting ? theme::kQuiet : theme::kInk);
  drawLarge(p, {0.5 * w, 0.18 * h, 0.5 * w - 20, 0.28 * h}, numberText(rehearsing_.bpm(), 0),
            static_cast<int>(0.27 * h), theme::kInk);
  drawLarge(p, {0.5 * w, 0.46 * h, 0.5 * w - 20, 0.08 * h},
            now ? tr("BPM · time %1").arg(now->time + 1) : tr("BPM"), 34, theme::kQuiet);
  // As many rings as clean ones are asked for in a row.
  const int up = std::max(1, rehearsing_.ladder().up);
  const double each = std::min(54.0, (w - 60) / up);
  for (int i = 0; i < up; ++i) {
    const bool clean = i < rehearsing_.place().clean;
    p.setPen(QPen(theme::kGood, 4));
    p.setBrush(clean ? theme::kGood : theme::kCard);
    p.drawEllipse(QPointF(w / 2 + (i - (up - 1) / 2.0) * each, 0.635 * h), 0.3 * each, 0.3 * each);
  }
  const auto& last = rehearsing_.last();
  const bool good = last && last->result == Through::kClean;
  drawLarge(p, {20, 0.69 * h, w - 40, 0.12 * h}, resultText(), 52,
            good ? theme::kGood : theme::kAttention);
  drawLarge(p, {20, 0.81 * h, w - 40, 0.09 * h}, rehearsing_.nextText(), 34, theme::kInk);
  drawLarge(p, {20, 0.91 * h, w - 40, 0.07 * h},
            tr("Space plays · C clean · N not yet · Enter next · Backspace back · D closes"), 24,
            theme::kQuiet);
}

}  // namespace uneven
