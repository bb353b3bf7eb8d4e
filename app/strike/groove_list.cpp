// SPDX-License-Identifier: GPL-3.0-or-later
// The list of grooves.
#include "app/strike/groove_list.h"

#include <QKeyEvent>
#include <QPainter>

#include "app/controls/theme.h"
#include "core/song/core_groove.h"
#include "core/song/limbs.h"
#include "layout/time_axis.h"

namespace uneven {

namespace {
constexpr int kGrooveRow = 74;
}  // namespace

GrooveList::GrooveList(Editing& editing, QWidget* parent)
    : RowList(kGrooveRow, parent), editing_(editing) {
  setObjectName(QStringLiteral("groove-list"));
  setToolTip(
      tr("Click or arrow keys choose; drag, or Alt and an arrow key, moves a groove in the list; "
         "Delete deletes it with its sections"));
  connect(&editing_.document(), &Document::changed, this, [this] { rowsChanged(); });
}

int GrooveList::rows() const {
  return static_cast<int>(editing_.document().song().grooves.size());
}

int GrooveList::current() const {
  const auto& grooves = editing_.document().song().grooves;
  for (std::size_t i = 0; i < grooves.size(); ++i) {
    if (grooves[i]->id == editing_.document().grooveId()) return static_cast<int>(i);
  }
  return 0;
}

void GrooveList::choose(int row) {
  const auto& grooves = editing_.document().song().grooves;
  editing_.document().chooseGroove(grooves[static_cast<std::size_t>(row)]->id);
  editing_.moveCursor(Beat(0), editing_.cursorPiece(), editing_.cursorLimb());
}

void GrooveList::moveBy(int by) {
  editing_.grooves().moveGroove(by);
}

void GrooveList::paintSticks(QPainter& p, const Groove& groove, const QRectF& room) const {
  const double middle = room.top() + room.height() * 0.62;
  p.setPen(QPen(theme::kLine, 1));
  p.drawLine(QPointF(room.left(), middle), QPointF(room.right(), middle));
  const double length = groove.length().toDouble();
  const double bar = groove.meter.barLength().toDouble();
  const TimeAxis bars(room.left(), room.right(), 0, length);
  const TimeAxis hits(room.left() + 2, room.right() - 2, 0, length);
  for (double at = bar; at < length; at += bar) {
    const double x = bars.xFromQuarters(at);
    p.drawLine(QPointF(x, room.top()), QPointF(x, room.bottom()));
  }
  const std::vector<Limb> limbs = limbsOf(groove, *editing_.document().song().kit);
  for (std::size_t i = 0; i < groove.hits.size(); ++i) {
    const Hit& hit = groove.hits[i];
    const bool foot = isFoot(limbs[i]);
    const double tall = foot ? room.bottom() - middle : middle - room.top();
    const double x = hits.xFromQuarters(hit.at.toDouble());
    const double reach = tall * hit.velocity.value() / Velocity::kMax;
    p.setPen(QPen(theme::limbColor(limbs[i]), hit.role == Role::kAccent ? 2 : 1.2));
    p.drawLine(QPointF(x, middle), QPointF(x, foot ? middle + reach : middle - reach));
  }
}

void GrooveList::paintRow(QPainter& p, int index, const QRect& row) const {
  const Song& song = editing_.document().song();
  const Groove& groove = *song.grooves[static_cast<std::size_t>(index)];
  p.setPen(theme::kInk);
  p.setFont(theme::font(13, theme::Weight::kSemiBold));
  const QRect text = row.adjusted(8, 4, -6, 0);
  p.drawText(text, Qt::AlignLeft | Qt::AlignTop,
             QFontMetrics(p.font()).elidedText(QString::fromStdString(groove.name), Qt::ElideRight,
                                               text.width()));
  const QString meter = QString::fromStdString(groove.meter.toString());
  QString about = groove.bars == 1 ? tr("1 bar of %1").arg(meter)
                                   : tr("%1 bars of %2").arg(groove.bars).arg(meter);
  const Groove* core = groove.core.empty() ? nullptr : song.findGroove(groove.core);
  if (core != nullptr) {
    about = tr("on %1: +%2 −%3")
                .arg(QString::fromStdString(core->name))
                .arg(addedTo(*core, groove).size())
                .arg(leftOutOf(*core, groove));
  }
  p.setPen(theme::kQuiet);
  p.setFont(theme::font(12));
  p.drawText(text.adjusted(0, 17, 0, 0), Qt::AlignLeft | Qt::AlignTop,
             QFontMetrics(p.font()).elidedText(about, Qt::ElideRight, text.width()));
  paintSticks(p, groove, QRectF(row.adjusted(8, 37, -8, -6)));
}

void GrooveList::keyPressEvent(QKeyEvent* event) {
  if (event->key() == Qt::Key_Delete) return editing_.grooves().deleteGroove();
  RowList::keyPressEvent(event);
}

}  // namespace uneven
