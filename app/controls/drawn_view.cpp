// SPDX-License-Identifier: GPL-3.0-or-later
// Views that paint themselves.
#include "app/controls/drawn_view.h"

#include <QHelpEvent>
#include <QToolTip>

#include "app/controls/labels.h"

namespace uneven {

bool DrawnView::event(QEvent* event) {
  if (event->type() != QEvent::ToolTip) return QWidget::event(event);
  const auto* help = static_cast<QHelpEvent*>(event);
  QToolTip::showText(help->globalPos(), plainText(tipAt(help->pos())), this);
  return true;
}

void DrawnView::focusInEvent(QFocusEvent* event) {
  QWidget::focusInEvent(event);
  update();
}

void DrawnView::focusOutEvent(QFocusEvent* event) {
  QWidget::focusOutEvent(event);
  update();
}

}  // namespace uneven
