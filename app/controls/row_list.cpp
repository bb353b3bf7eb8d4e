// SPDX-License-Identifier: GPL-3.0-or-later
// Rows that are chosen and moved.
#include "app/controls/row_list.h"

#include <QKeyEvent>
#include <QPainter>
#include <algorithm>

#include "app/controls/card.h"
#include "app/controls/theme.h"

namespace uneven {

namespace {
constexpr int kDragSlack = 6;
}  // namespace

RowList::RowList(int rowHeight, QWidget* parent) : QWidget(parent), height_(rowHeight) {
  setFocusPolicy(Qt::StrongFocus);
}

QSize RowList::sizeHint() const {
  return {Card::kWidth - 34, height_ * rows()};
}

void RowList::rowsChanged() {
  updateGeometry();
  resize(width(), sizeHint().height());
  update();
}

int RowList::rowAt(int y) const {
  return std::clamp(y / height_, 0, rows() - 1);
}

void RowList::chooseRow(int row) {
  choose(std::clamp(row, 0, rows() - 1));
  update();
  Q_EMIT currentShown(rowRect(current()));
}

void RowList::paintEvent(QPaintEvent* event) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  for (int i = 0; i < rows(); ++i) {
    const QRect row = rowRect(i);
    if (!row.intersects(event->rect())) continue;
    if (i == current()) p.fillRect(row.adjusted(0, 1, 0, -1), theme::kChosen);
    if (i == current() && hasFocus()) {
      p.setPen(QPen(theme::kBrassEdge, 1, Qt::DotLine));
      p.setBrush(Qt::NoBrush);
      p.drawRect(row.adjusted(1, 2, -2, -3));
    }
    paintRow(p, i, row);
  }
  if (!target_ || !pressed_ || *target_ == *pressed_) return;
  const int y = height_ * (*target_ > *pressed_ ? *target_ + 1 : *target_);
  p.fillRect(QRect(0, std::clamp(y - 1, 0, height() - 3), width(), 3), theme::kBrassEdge);
}

void RowList::mousePressEvent(QMouseEvent* event) {
  if (event->button() != Qt::LeftButton) return;
  const QPoint p = event->position().toPoint();
  chooseRow(rowAt(p.y()));
  if (!pressedInside(p - rowRect(current()).topLeft())) pressed_ = current();
}

void RowList::mouseMoveEvent(QMouseEvent* event) {
  if (!pressed_) return;
  const int y = event->position().toPoint().y();
  const QRect home = rowRect(*pressed_).adjusted(0, -kDragSlack, 0, kDragSlack);
  target_ = home.contains(home.center().x(), y) ? *pressed_ : rowAt(y);
  update();
}

void RowList::mouseReleaseEvent(QMouseEvent* /*event*/) {
  const auto from = pressed_;
  const auto to = target_;
  pressed_.reset();
  target_.reset();
  update();
  if (!from || !to || *from == *to) return;
  moveBy(*to - *from);
  Q_EMIT currentShown(rowRect(current()));
}

void RowList::keyPressEvent(QKeyEvent* event) {
  if (event->key() != Qt::Key_Up && event->key() != Qt::Key_Down) {
    return QWidget::keyPressEvent(event);
  }
  const int by = event->key() == Qt::Key_Up ? -1 : 1;
  if ((event->modifiers() & Qt::AltModifier) == 0) return chooseRow(current() + by);
  moveBy(by);
  Q_EMIT currentShown(rowRect(current()));
}

}  // namespace uneven
