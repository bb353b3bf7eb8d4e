// SPDX-License-Identifier: GPL-3.0-or-later
// The map.
#include "app/vary/map_view.h"

#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/controls/labels.h"
#include "app/controls/theme.h"

namespace uneven {

MapView::MapView(Walker& walker, QWidget* parent) : QWidget(parent), walker_(walker) {
  setObjectName(QStringLiteral("vary-map"));
  setMinimumWidth(180);
  setMouseTracking(true);
  setAccessibleName(tr("Map of the variants"));
  connect(&walker_, &Walker::changed, this, &MapView::read);
  connect(&walker_, &Walker::judgedMore, this, &MapView::read);
}

void MapView::read() {
  farthest_ = 1;
  least_ = most_ = walker_.core().measures.syncopation;
  for (std::uint64_t i = 0; i < std::min(walker_.count(), kDrawnMost); ++i) {
    const Judged* j = walker_.judged(i);
    if (j == nullptr) continue;
    farthest_ = std::max(farthest_, j->measures.distance);
    least_ = std::min(least_, j->measures.syncopation);
    most_ = std::max(most_, j->measures.syncopation);
  }
  if (most_ == least_) ++most_;
  update();
}

void MapView::setCurrent(std::uint64_t index) {
  current_ = index;
  update();
}

QRectF MapView::area() const {
  return {14, 44, width() - 28.0, std::max(40.0, height() - 44.0 - 46)};
}

std::optional<QPointF> MapView::pointOf(std::uint64_t index) const {
  const Judged* j = index < kDrawnMost ? walker_.judged(index) : nullptr;
  if (j == nullptr) return std::nullopt;
  const QRectF room = area().adjusted(12, 12, -12, -12);
  // What falls on one place lies beside it: by its number, always the same.
  const double turn = static_cast<double>(index) * 2.399963;
  const double off = 1.6 * std::sqrt(static_cast<double>(index % 29));
  return QPointF(
      room.left() + j->measures.distance / farthest_ * room.width() + off * std::cos(turn),
      room.bottom() -
          (j->measures.syncopation - least_) / static_cast<double>(most_ - least_) * room.height() +
          off * std::sin(turn));
}

void MapView::paintEvent(QPaintEvent* /*event*/) {
  QPainter p(this);
  p.fillRect(rect(), theme::kPaper);
  p.setRenderHint(QPainter::Antialiasing);
  const QRectF room = area();
  p.setFont(theme::font(11));
  p.setPen(theme::kQuiet);
  p.drawText(
      QRectF(room.left(), 6, room.width(), 32), Qt::AlignLeft | Qt::TextWordWrap,
      walker_.count() > walker_.judgedCount()
          ? tr("%1 of %2 measured, by distance and syncopation")
                .arg(walker_.judgedCount())
                .arg(walker_.count())
          : tr("All %1, by how far from the groove and how syncopated").arg(walker_.count()));
  p.setPen(QPen(theme::kBarLine, 1));
  p.drawLine(room.topLeft(), room.bottomLeft());
  p.drawLine(room.bottomLeft(), room.bottomRight());
  p.setPen(theme::kQuiet);
  p.drawText(QRectF(room.left() + 6, room.top(), room.width(), 16), Qt::AlignLeft,
             tr("more syncopated"));
  p.drawText(QRectF(room.left(), room.bottom() + 4, room.width(), 16), Qt::AlignRight,
             tr("further away"));
  p.drawText(QRectF(room.left(), room.bottom() + 22, room.width(), 16), Qt::AlignLeft,
             tr("large: goes fast · ring: no verdict"));
  const double fastest = std::max(60.0, walker_.core().ceiling.playable * 1.2);
  for (std::uint64_t i = 0; i < std::min(walker_.count(), kDrawnMost); ++i) {
    const auto at = pointOf(i);
    if (!at) continue;
    const double share = std::clamp(walker_.judged(i)->ceiling.playable / fastest, 0.0, 1.0);
    const double size = 2.2 + 3.6 * share;
    const WalkNote* note = walker_.verdict(i);
    QColor color = theme::kInk;
    if (note != nullptr) {
      color = note->mark == WalkMark::kGood      ? theme::limbColor(Limb::kRightFoot)
              : note->mark == WalkMark::kAwkward ? theme::kBrass
                                                 : theme::kDisabled;
    }
    p.setPen(note == nullptr ? QPen(theme::kQuiet, 1) : QPen(Qt::NoPen));
    p.setBrush(note == nullptr ? QBrush(theme::kCard) : QBrush(color));
    p.drawEllipse(*at, size, size);
  }
  if (const auto at = pointOf(current_)) {
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(theme::kBrassEdge, 2));
    p.drawEllipse(*at, 9, 9);
  }
}

std::optional<std::uint64_t> MapView::near(const QPointF& p) const {
  std::optional<std::uint64_t> out;
  double best = 10;
  for (std::uint64_t i = 0; i < std::min(walker_.count(), kDrawnMost); ++i) {
    const auto at = pointOf(i);
    if (!at) continue;
    const double away = std::hypot(at->x() - p.x(), at->y() - p.y());
    if (away >= best) continue;
    best = away;
    out = i;
  }
  return out;
}

void MapView::mousePressEvent(QMouseEvent* event) {
  if (const auto index = near(event->position())) Q_EMIT chosen(*index);
}

void MapView::mouseMoveEvent(QMouseEvent* event) {
  const auto index = near(event->position());
  setToolTip(index ? plainText(qs(walker_.variant(*index).name)) : QString());
}

}  // namespace uneven
