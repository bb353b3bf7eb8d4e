// SPDX-License-Identifier: GPL-3.0-or-later
// The yardstick of starting: an empty main window, which tells the moment of its first paint.
#include <QApplication>
#include <QMainWindow>
#include <chrono>
#include <cstdio>

int main(int argc, char** argv) {
  QApplication app(argc, argv);
  QMainWindow window;
  window.resize(1280, 800);
  window.show();
  QApplication::processEvents();
  std::printf("%lld\n",
              static_cast<long long>(std::chrono::steady_clock::now().time_since_epoch().count()));
  return 0;
}
