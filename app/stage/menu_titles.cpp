// SPDX-License-Identifier: GPL-3.0-or-later
// The titles of menus.
#include "app/stage/menu_titles.h"

#include <QCoreApplication>

namespace uneven::menus {
namespace {

QString tr(const char* text) {
  return QCoreApplication::translate("uneven::MainWindow", text);
}

}  // namespace

QString file() {
  return tr("&File");
}
QString edit() {
  return tr("&Edit");
}
QString hit() {
  return tr("&Hit");
}
QString tools() {
  return tr("&Tools");
}
QString groove() {
  return tr("&Groove");
}
QString play() {
  return tr("&Play");
}
QString view() {
  return tr("&View");
}
QString help() {
  return tr("Hel&p");
}

QStringList inOrder() {
  return {file(), edit(), hit(), tools(), groove(), play(), view(), help()};
}

}  // namespace uneven::menus
