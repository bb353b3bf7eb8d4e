// SPDX-License-Identifier: GPL-3.0-or-later
// The application's event loop.
#include "app/frame/application.h"

#include <QHelpEvent>
#include <QToolTip>
#include <QWidget>
#include <cstdio>
#include <exception>

#include "app/controls/labels.h"

namespace uneven {

void Application::setFailureHandler(std::function<void(const QString& what)> handler) {
  handler_ = std::move(handler);
}

bool Application::notify(QObject* receiver, QEvent* event) {
  try {
    // Tips name pieces, feels and files, whose names are anybody's: they are never rich text.
    const auto* widget = qobject_cast<QWidget*>(receiver);
    const QString tip =
        event->type() == QEvent::ToolTip && widget != nullptr ? widget->toolTip() : QString();
    if (plainText(tip) != tip) {
      QToolTip::showText(static_cast<QHelpEvent*>(event)->globalPos(), plainText(tip));
      return true;
    }
    return QApplication::notify(receiver, event);
  } catch (const std::exception& e) {
    failed(e.what());
  } catch (...) {
    failed("unknown");
  }
  return true;
}

void Application::failed(const char* what) noexcept {
  std::fprintf(stderr, "uneven-stick: something went wrong: %s\n", what);
  if (!handler_ || handling_) return;
  handling_ = true;
  try {
    handler_(QString::fromUtf8(what));
  } catch (...) {
    std::fprintf(stderr, "uneven-stick: nor could the work be kept aside\n");
  }
  handling_ = false;
}

}  // namespace uneven
