// SPDX-License-Identifier: GPL-3.0-or-later
// The list of pieces.
#include "app/strike/kit_list.h"

#include <QKeyEvent>
#include <QPainter>

#include "app/controls/labels.h"
#include "app/controls/theme.h"
#include "core/song/names.h"

namespace uneven {

namespace {
constexpr int kPieceRow = 24;
constexpr int kBox = 30;  // room of the box that shows or hides
}  // namespace

KitList::KitList(Editing& editing, QWidget* parent)
    : RowList(kPieceRow, parent), editing_(editing) {
  setObjectName(QStringLiteral("kit-list"));
  setToolTip(
      tr("Pieces from the top lane down. The box, or Space, gives a piece a lane of its own even "
         "where it is not struck; drag, or Alt and an arrow key, moves it"));
  connect(&editing_.document(), &Document::changed, this, [this] {
    row_ = std::clamp(row_, 0, rows() - 1);
    rowsChanged();
    Q_EMIT chosenChanged();
  });
}

int KitList::rows() const {
  return static_cast<int>(kit().order.size());
}

PieceId KitList::chosen() const {
  return kit().order[static_cast<std::size_t>(row_)];
}

void KitList::choose(int row) {
  row_ = std::clamp(row, 0, rows() - 1);
  update();
  Q_EMIT chosenChanged();
}

void KitList::toggleShown() {
  Kit changed = kit();
  Piece& piece = changed.pieces[chosen().value];
  piece.shown = !piece.shown;
  const QString name = QString::fromStdString(piece.name);
  const QString step = piece.shown ? tr("%1 has a lane").arg(name)
                                   : tr("%1 has a lane only where it is struck").arg(name);
  editing_.kit().setKit(step, std::move(changed));
}

void KitList::moveBy(int by) {
  Kit changed = kit();
  const int to = std::clamp(row_ + by, 0, rows() - 1);
  if (to == row_) return;
  const PieceId moved = chosen();
  changed.order.erase(changed.order.begin() + row_);
  changed.order.insert(changed.order.begin() + to, moved);
  row_ = to;
  const QString step = tr("%1 moved").arg(QString::fromStdString(changed[moved].name));
  editing_.kit().setKit(step, std::move(changed));
}

void KitList::paintRow(QPainter& p, int index, const QRect& row) const {
  const PieceId id = kit().order[static_cast<std::size_t>(index)];
  const Piece& piece = kit()[id];
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
  const bool foot = isFoot(limb);
  p.setPen(theme::limbColor(limb));
  p.setFont(theme::font(12, theme::Weight::kSemiBold));
  p.drawText(row.adjusted(0, 0, -8, 0), Qt::AlignRight | Qt::AlignVCenter,
             limb == Limb::kAutomatic ? QString()
             : foot                   ? tr("%1 foot").arg(qs(limbLetter(limb)))
                                      : tr("%1 hand").arg(qs(limbLetter(limb))));
}

bool KitList::pressedInside(const QPoint& inRow) {
  if (inRow.x() >= kBox) return false;
  toggleShown();
  return true;
}

void KitList::keyPressEvent(QKeyEvent* event) {
  if (event->key() == Qt::Key_Space) return toggleShown();
  RowList::keyPressEvent(event);
}

}  // namespace uneven
