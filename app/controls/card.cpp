// SPDX-License-Identifier: GPL-3.0-or-later
// The card's paper.
#include "app/controls/card.h"

#include <QPainter>

#include "app/controls/theme.h"

namespace uneven {

Card::Card(QWidget* parent) : QWidget(parent) {
  setFixedWidth(kWidth);
}

void Card::paintEvent(QPaintEvent* /*event*/) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.setPen(QPen(theme::kLine, 1));
  p.setBrush(theme::kCard);
  p.drawRoundedRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), 6, 6);
}

}  // namespace uneven
