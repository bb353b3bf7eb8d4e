// SPDX-License-Identifier: GPL-3.0-or-later
// What a stage does that does nothing of its own.
#include "app/stage/stage.h"

namespace uneven {

void Stage::zoom(double /*by*/) {}

bool Stage::intoSong() {
  return false;
}

bool Stage::copy() {
  return false;
}

void Stage::readSettings(const QSettings& /*settings*/) {}

void Stage::writeSettings(QSettings& /*settings*/) const {}

}  // namespace uneven
