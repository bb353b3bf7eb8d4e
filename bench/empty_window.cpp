// SPDX-License-Identifier: GPL-3.0-or-later
// The yardstick of starting: an empty main window, which tells the moment of its first paint.
#include <QApplication>
#include <QMainWindow>
#include <cstdio>

#include "app/frame/first_paint.h"

int main(int argc, char** argv) {
  QApplication app(argc, argv);
  QMainWindow window;
  window.resize(1280, 800);
  std::printf("%lld\n", uneven::paintedAt(window));
  return 0;
}
