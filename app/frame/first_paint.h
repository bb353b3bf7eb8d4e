// SPDX-License-Identifier: GPL-3.0-or-later
// Waiting until a window is on the screen. Header only: the yardstick of the benchmark is a program
// without anything of ours.
#pragma once

#include <QCoreApplication>
#include <QEventLoop>
#include <QTimer>
#include <QWidget>
#include <QWindow>
#include <chrono>

namespace uneven {

// Shows the window and returns when it has been exposed and painted: the nanosecond of the steady
// clock.
inline long long paintedAt(QWidget& window) {
  window.show();
  QTimer wake;  // so that a display that never answers does not hold us for ever
  bool late = false;
  wake.callOnTimeout([&late] { late = true; });
  wake.start(std::chrono::seconds(10));
  while (!late && !(window.windowHandle() != nullptr && window.windowHandle()->isExposed())) {
    QCoreApplication::processEvents(QEventLoop::WaitForMoreEvents);
  }
  QCoreApplication::processEvents();
  return static_cast<long long>(std::chrono::steady_clock::now().time_since_epoch().count());
}

}  // namespace uneven
