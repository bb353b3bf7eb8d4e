// SPDX-License-Identifier: GPL-3.0-or-later
// Who has the keys.
#include "app/frame/focus_keeper.h"

#include <QAbstractButton>
#include <QAbstractItemView>
#include <QApplication>
#include <QComboBox>
#include <QKeyEvent>
#include <QLineEdit>

namespace uneven {

FocusKeeper::FocusKeeper(QWidget& window, std::function<QWidget*()> home)
    : QObject(&window), window_(window), home_(std::move(home)) {
  QApplication::instance()->installEventFilter(this);
}

bool FocusKeeper::eventFilter(QObject* watched, QEvent* event) {
  const QEvent::Type type = event->type();
  const bool enter =
      type == QEvent::KeyPress && (static_cast<QKeyEvent*>(event)->key() == Qt::Key_Return ||
                                   static_cast<QKeyEvent*>(event)->key() == Qt::Key_Enter);
  const bool space =
      type == QEvent::KeyRelease && static_cast<QKeyEvent*>(event)->key() == Qt::Key_Space;
  const bool picked =
      type == QEvent::FocusIn && static_cast<QFocusEvent*>(event)->reason() == Qt::PopupFocusReason;
  const bool released = type == QEvent::MouseButtonRelease;
  if (!enter && !space && !picked && !released && type != QEvent::ShortcutOverride) return false;
  auto* widget = qobject_cast<QWidget*>(watched);
  if (widget == nullptr || widget->window() != &window_) return false;
  if (type == QEvent::ShortcutOverride) {
    const auto* key = static_cast<QKeyEvent*>(event);
    const bool undo = key->matches(QKeySequence::Undo) || key->matches(QKeySequence::Redo);
    if (!undo || qobject_cast<QLineEdit*>(watched) == nullptr) return false;
    event->ignore();
    return true;
  }
  // What is typed in a table's cell is the table's.
  for (const QWidget* in = widget; in != nullptr; in = in->parentWidget()) {
    if (qobject_cast<const QAbstractItemView*>(in) != nullptr) return false;
  }
  const bool button = qobject_cast<QAbstractButton*>(watched) != nullptr;
  if (((released || space) && button) ||
      (enter && (button || qobject_cast<QLineEdit*>(watched) != nullptr)) ||
      (picked && qobject_cast<QComboBox*>(watched) != nullptr))
    giveBack(widget);
  return false;
}

void FocusKeeper::giveBack(QWidget* from) {
  // A button may be gone by then, with the row it stood in; then the keys went wherever.
  QMetaObject::invokeMethod(
      this,
      [this, from = QPointer<QWidget>(from)] {
        if (QApplication::activePopupWidget() != nullptr ||
            QApplication::activeModalWidget() != nullptr)
          return;
        const QWidget* now = QApplication::focusWidget();
        const bool gone = from == nullptr || !from->isVisible();
        if (now != nullptr && now != from && !gone) return;
        if (now != nullptr && now->window() != &window_) return;
        if (QWidget* home = home_()) home->setFocus();
      },
      Qt::QueuedConnection);
}

}  // namespace uneven
