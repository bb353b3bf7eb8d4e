// SPDX-License-Identifier: GPL-3.0-or-later
// The list of pieces.
#include "app/strike/kit_list.h"

#include <QKeyEvent>
#include <QPainter>

#include "app/shell/card.h"
#include "app/shell/labels.h"
#include "app/shell/theme.h"
#include "core/song/names.h"

namespace uneven {

namespace {
constexpr int kRow = 24;
constexpr int kBox = 30;  // room of the box that shows or hides
}  // namespace

KitList::KitList(Editing& editing, QWidget* parent) : QWidget(parent), editing_(editing) {
  setObjectName(QStringLiteral("kit-list"));
  setFocusPolicy(Qt::StrongFocus);
  setToolTip(
      tr("Pieces from the top lane down. The box, or Space, gives a piece a lane of its own even "
         "where it is not struck; drag, or Alt and an arrow key, moves it"));
  connect(&editing_.document(), &Document::changed, this, [this] {
    row_ = std::clamp(row_, 0, static_cast<int>(kit().order.size()) - 1);
    updateGeometry();
    update();
    Q_EMIT chosenChanged();
  });
}

QSize KitList::sizeHint() const {
  return {Card::kWidth - 34, kRow * static_cast<int>(kit().order.size())};
}

QRect KitList::rowRect(int row) const {
  return {0, row * kRow, width(), kRow};
}

int KitList::rowAt(int y) const {
  return std::clamp(y / kRow, 0, static_cast<int>(kit().order.size()) - 1);
}

PieceId KitList::chosen() const {
  return kit().order[static_cast<std::size_t>(row_)];
}

void KitList::choose(int row) {
  row_ = std::clamp(row, 0, static_cast<int>(kit().order.size()) - 1);
  update();
  Q_EMIT chosenChanged();
  Q_EMIT currentShown(rowRect(row_));
}

void KitList::toggleShown() {
  Kit changed = kit();
  Piece& piece = changed.pieces[chosen().value];
  piece.shown = !piece.shown;
  const QString name = QString::fromStdString(piece.name);
  const QString step = piece.shown ? tr("%1 has a lane").arg(name)
                                   : tr("%1 has a lane only where it is struck").arg(name);
  editing_.setKit(step, std::move(changed));
}

void KitList::moveBy(int by) {
  Kit changed = kit();
  const int to = std::clamp(row_ + by, 0, static_cast<int>(changed.order.size()) - 1);
  if (to == row_) return;
  const PieceId moved = chosen();
  changed.order.erase(changed.order.begin() + row_);
  changed.order.insert(changed.order.begin() + to, moved);
  row_ = to;
  const QString step = tr("%1 moved").arg(QString::fromStdString(changed[moved].name));
  editing_.setKit(step, std::move(changed));
  Q_EMIT currentShown(rowRect(row_));
}

void KitList::paintEvent(QPaintEvent* /*event*/) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  for (int i = 0; i < static_cast<int>(kit().order.size()); ++i) {
    const PieceId id = kit().order[static_cast<std::size_t>(i)];
    const Piece& piece = kit()[id];
    const QRect row = rowRect(i);
    if (i == row_) p.fillRect(row.adjusted(0, 1, 0, -1), theme::kChosen);
    if (i == row_ && hasFocus()) {
      p.setPen(QPen(theme::kBrassEdge, 1, Qt::DotLine));
      p.setBrush(Qt::NoBrush);
      p.drawRect(row.adjusted(1, 2, -2, -3));
    }
    const QRectF box(row.left() + 9, row.center().y() - 5, 11, 11);
    p.setPen(QPen(theme::kQuiet, 1.2));
    p.setBrush(piece.shown ? theme::kInk : QColor(Qt::transparent));
    p.drawRoundedRect(box, 2, 2);
    p.setPen(piece.shown ? theme::kInk : theme::kQuiet);
    p.setFont(theme::font(13, piece.shown ? theme::Weight::kSemiBold : theme::Weight::kRegular));
    p.drawText(row.adjusted(kBox, 0, -30, 0), Qt::AlignLeft | Qt::AlignVCenter,
               QFontMetrics(p.font()).elidedText(QString::fromStdString(piece.name), Qt::ElideRight,
                                                 row.width() - kBox - 30));
    const Limb limb = kit().usualLimb(id);
    const bool foot = limb == Limb::kRightFoot || limb == Limb::kLeftFoot;
    p.setPen(theme::limbColor(limb));
    p.setFont(theme::font(12, theme::Weight::kSemiBold));
    p.drawText(row.adjusted(0, 0, -8, 0), Qt::AlignRight | Qt::AlignVCenter,
               limb == Limb::kAutomatic ? QString()
               : foot                   ? tr("%1 foot").arg(qs(limbLetter(limb)))
                                        : tr("%1 hand").arg(qs(limbLetter(limb))));
  }
}

void KitList::mousePressEvent(QMouseEvent* event) {
  if (event->button() != Qt::LeftButton) return;
  const QPoint p = event->position().toPoint();
  choose(rowAt(p.y()));
  if (p.x() < kBox) return toggleShown();
  pressed_ = row_;
}

void KitList::mouseReleaseEvent(QMouseEvent* event) {
  if (!pressed_) return;
  const int by = rowAt(event->position().toPoint().y()) - *pressed_;
  pressed_.reset();
  moveBy(by);
}

void KitList::keyPressEvent(QKeyEvent* event) {
  const bool moves = (event->modifiers() & Qt::AltModifier) != 0;
  switch (event->key()) {
    case Qt::Key_Up:
    case Qt::Key_Down: {
      const int by = event->key() == Qt::Key_Up ? -1 : 1;
      return moves ? moveBy(by) : choose(row_ + by);
    }
    case Qt::Key_Space:
      return toggleShown();
    default:
      QWidget::keyPressEvent(event);
  }
}

}  // namespace uneven
