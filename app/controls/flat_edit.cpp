// SPDX-License-Identifier: GPL-3.0-or-later
// Flat lines to type in.
#include "app/controls/flat_edit.h"

#include <QKeyEvent>
#include <QPainter>

namespace uneven {

FlatEdit::FlatEdit(QWidget* parent) : QLineEdit(parent) {
  setFrame(false);  // font and colours are set for the whole class (theme::install)
}

void FlatEdit::setTextPixels(int pixels, theme::Weight weight) {
  setFont(theme::font(pixels, weight));
}

void FlatEdit::setWrong(bool wrong) {
  if (wrong == wrong_) return;
  wrong_ = wrong;
  QPalette colors = palette();
  colors.setColor(QPalette::Text, wrong ? theme::kAttention : theme::kInk);
  setPalette(colors);
}

void FlatEdit::setGuarded() {
  guarded_ = true;
  setReadOnly(true);
}

void FlatEdit::begin() {
  before_ = text();
  setReadOnly(false);
  setFocus();
  selectAll();
}

void FlatEdit::end() {
  deselect();
  setReadOnly(true);
}

bool FlatEdit::event(QEvent* event) {
  // These mean other things elsewhere.
  if (guarded_ && isReadOnly() && event->type() == QEvent::ShortcutOverride) {
    const int key = static_cast<QKeyEvent*>(event)->key();
    if (key == Qt::Key_F2 || key == Qt::Key_Return || key == Qt::Key_Enter) {
      event->accept();
      return true;
    }
  }
  return QLineEdit::event(event);
}

void FlatEdit::keyPressEvent(QKeyEvent* event) {
  if (!guarded_) return QLineEdit::keyPressEvent(event);
  const bool enter = event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter;
  if (isReadOnly()) {
    if (enter || event->key() == Qt::Key_F2) return begin();
    event->ignore();
    return;
  }
  if (event->key() == Qt::Key_Escape) {
    setText(before_);
    return end();
  }
  QLineEdit::keyPressEvent(event);
  if (enter) end();
}

void FlatEdit::focusOutEvent(QFocusEvent* event) {
  QLineEdit::focusOutEvent(event);
  if (guarded_) end();
}

void FlatEdit::mouseDoubleClickEvent(QMouseEvent* event) {
  if (!guarded_ || !isReadOnly()) return QLineEdit::mouseDoubleClickEvent(event);
  begin();
}

void FlatEdit::paintEvent(QPaintEvent* event) {
  QLineEdit::paintEvent(event);
  if (!wrong_ && !hasFocus() && !underMouse()) return;
  QPainter p(this);
  p.setPen(QPen(wrong_       ? theme::kAttention
                : hasFocus() ? theme::kBrassEdge
                             : theme::kLine,
                wrong_ ? 2 : 1));
  p.drawLine(QPointF(2, height() - 1), QPointF(width() - 2, height() - 1));
}

}  // namespace uneven
