// SPDX-License-Identifier: GPL-3.0-or-later
// Buttons.
#include "app/controls/action_button.h"

#include <QPainter>

#include "app/controls/theme.h"

namespace uneven {

ActionButton::ActionButton(const QString& text, Tone tone, QWidget* parent)
    : QPushButton(text, parent), tone_(tone) {
  setFont(theme::font(13, theme::Weight::kSemiBold));
}

QSize ActionButton::sizeHint() const {
  return {fontMetrics().horizontalAdvance(text()) + 34, fontMetrics().height() + 16};
}

void ActionButton::paintEvent(QPaintEvent* /*event*/) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const bool main = tone_ == Tone::kMain;
  QColor face = main ? theme::kInk : theme::kPaper;
  if (!isEnabled()) face = theme::kCard;
  if (isEnabled() && (underMouse() || isDown())) face = main ? face.lighter(150) : theme::kBar;
  p.setBrush(face);
  const bool line = !main || !isEnabled();
  p.setPen(hasFocus() ? QPen(theme::kBrass, 2) : QPen(line ? theme::kLine : face, 1));
  p.drawRoundedRect(QRectF(rect()).adjusted(1, 1, -1, -1), 4, 4);
  p.setPen(!isEnabled() ? palette().color(QPalette::Disabled, QPalette::ButtonText)
           : main       ? theme::kPaper
                        : theme::kInk);
  p.drawText(rect(), Qt::AlignCenter, text());
}

}  // namespace uneven
