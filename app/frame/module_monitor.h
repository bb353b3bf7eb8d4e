// SPDX-License-Identifier: GPL-3.0-or-later
// What the simulated module has heard, the newest first: it stands over the stage like the sound
// card.
#pragma once

#include "app/controls/card.h"

class QLabel;
class QStandardItemModel;
class QTimer;

namespace uneven {

class Transport;

class ModuleMonitor : public Card {
  Q_OBJECT
 public:
  explicit ModuleMonitor(Transport& transport, QWidget* parent);
  QString rowText(int row) const;  // "38 | Acoustic Snare | 111 | ..."

 protected:
  void keyPressEvent(QKeyEvent* event) override;
  void showEvent(QShowEvent* event) override;
  void hideEvent(QHideEvent* event) override;

 private:
  void read();

  Transport& transport_;
  QLabel* title_;
  QStandardItemModel* model_;
  QTimer* look_;  // while it is shown
  std::size_t shown_ = 0;
};

}  // namespace uneven
