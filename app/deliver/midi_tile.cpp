// SPDX-License-Identifier: GPL-3.0-or-later
// The tile that is dragged out.
#include "app/deliver/midi_tile.h"

#include <QApplication>
#include <QDrag>
#include <QMimeData>
#include <QMouseEvent>
#include <QPainter>
#include <QUrl>

#include "app/controls/theme.h"

namespace uneven {

MidiTile::MidiTile(std::function<QString()> makeFile, QWidget* parent)
    : QWidget(parent), makeFile_(std::move(makeFile)) {
  setFixedHeight(72);
  setCursor(Qt::OpenHandCursor);
  setToolTip(tr("Drag this onto another program to hand it the MIDI file"));
}

void MidiTile::setFile(const QString& name, const QString& details) {
  name_ = name;
  details_ = details;
  update();
}

QMimeData* MidiTile::dragData() const {
  const QString path = makeFile_();
  if (path.isEmpty()) return nullptr;
  auto* carried = new QMimeData;
  carried->setUrls({QUrl::fromLocalFile(path)});
  return carried;
}

void MidiTile::mousePressEvent(QMouseEvent* event) {
  pressed_ = event->position().toPoint();
}

void MidiTile::mouseMoveEvent(QMouseEvent* event) {
  if ((event->buttons() & Qt::LeftButton) == 0) return;
  const QPoint now = event->position().toPoint();
  if ((now - pressed_).manhattanLength() < QApplication::startDragDistance()) return;
  QMimeData* carried = dragData();
  if (carried == nullptr) return;
  auto* drag = new QDrag(this);  // Qt deletes it when the drag ends
  drag->setMimeData(carried);
  drag->setPixmap(grab().scaledToWidth(200, Qt::SmoothTransformation));
  drag->exec(Qt::CopyAction);
}

void MidiTile::paintEvent(QPaintEvent* /*event*/) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.setPen(QPen(theme::kLine, 1));
  p.setBrush(theme::kCard);
  p.drawRoundedRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), 6, 6);
  // Three leaning sticks for a mark.
  p.setPen(QPen(theme::limbColor(Limb::kRightHand), 2.4, Qt::SolidLine, Qt::RoundCap));
  for (int i = 0; i < 3; ++i) {
    const QPointF foot(22 + 11 * i, 52);
    const QPointF head = foot + QPointF(-4 + 4 * i, -18 - 7 * (i % 2));
    p.drawLine(foot, head);
    p.setBrush(theme::limbColor(Limb::kRightHand));
    p.drawEllipse(head, 2, 2);
  }
  p.setPen(theme::kInk);
  p.setFont(theme::font(13, theme::Weight::kSemiBold));
  const QRectF text(66, 14, width() - 78, 20);
  p.drawText(text, Qt::AlignLeft | Qt::AlignVCenter,
             QFontMetricsF(p.font()).elidedText(name_, Qt::ElideMiddle, text.width()));
  p.setPen(theme::kQuiet);
  p.setFont(theme::font(12));
  p.drawText(text.translated(0, 22), Qt::AlignLeft | Qt::AlignVCenter, details_);
}

}  // namespace uneven
