// SPDX-License-Identifier: GPL-3.0-or-later
// The menus of the window; what stages add may have others, which stand before Help.
#pragma once

#include <QStringList>

namespace uneven::menus {

QString file();
QString edit();
QString hit();
QString tools();
QString groove();
QString play();
QString view();
QString help();
// From left to right.
QStringList inOrder();

}  // namespace uneven::menus
