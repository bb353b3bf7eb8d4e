// SPDX-License-Identifier: GPL-3.0-or-later
// Choice fields.
#include "app/controls/choice_field.h"

#include <QPainter>
#include <QStandardItemModel>

#include "app/controls/theme.h"

namespace uneven {

namespace {
constexpr int kArrowRoom = 16;
}

ChoiceField::ChoiceField(Qt::Alignment alignment, QWidget* parent)
    : QComboBox(parent), alignment_(alignment) {
  setFocusPolicy(Qt::StrongFocus);
  if ((alignment & Qt::AlignRight) != 0) setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
}

void ChoiceField::addHeading(const QString& text) {
  addItem(text);
  auto* items = qobject_cast<QStandardItemModel*>(model());
  QStandardItem* heading = items->item(count() - 1);
  heading->setFlags(Qt::NoItemFlags);
  heading->setFont(theme::font(12));
  heading->setForeground(theme::kQuiet);
  if (currentIndex() == count() - 1) setCurrentIndex(-1);
}

QSize ChoiceField::sizeHint() const {
  const QFontMetrics metrics(theme::font(pixels_, theme::Weight::kSemiBold));
  int width = 40;
  for (int i = 0; i < count(); ++i) width = std::max(width, metrics.horizontalAdvance(itemText(i)));
  return {std::min(width, 240) + kArrowRoom + 10, metrics.height() + 6};
}

QSize ChoiceField::minimumSizeHint() const {
  return {60, sizeHint().height()};
}

void ChoiceField::hidePopup() {
  fromList_ = true;
  QComboBox::hidePopup();
}

void ChoiceField::keyPressEvent(QKeyEvent* event) {
  fromList_ = false;
  QComboBox::keyPressEvent(event);
}

void ChoiceField::wheelEvent(QWheelEvent* event) {
  fromList_ = false;
  QComboBox::wheelEvent(event);
}

void ChoiceField::paintEvent(QPaintEvent* /*event*/) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const bool lit = underMouse() || hasFocus();
  if (lit) {
    p.setPen(QPen(hasFocus() ? theme::kBrassEdge : theme::kLine, 1));
    p.drawLine(QPointF(2, height() - 0.5), QPointF(width() - 2, height() - 0.5));
  }
  const QFont font = theme::font(pixels_, theme::Weight::kSemiBold);
  p.setFont(font);
  p.setPen(isEnabled() ? theme::kInk : palette().color(QPalette::Disabled, QPalette::Text));
  const QRect room = rect().adjusted(3, 0, -kArrowRoom, 0);
  const QString text = currentIndex() < 0 ? QStringLiteral("–") : currentText();
  p.drawText(room, static_cast<int>(alignment_ | Qt::AlignVCenter),
             QFontMetrics(font).elidedText(text, Qt::ElideRight, room.width()));
  const QPointF tip(width() - 8, height() / 2.0 + 2.5);
  p.setPen(Qt::NoPen);
  p.setBrush(theme::kQuiet);
  p.drawPolygon(QPolygonF({tip + QPointF(-4, -4.5), tip + QPointF(4, -4.5), tip}));
}

}  // namespace uneven
