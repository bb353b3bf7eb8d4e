// SPDX-License-Identifier: GPL-3.0-or-later
// Flat lines to type in.
#include "app/controls/flat_edit.h"

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
