// SPDX-License-Identifier: GPL-3.0-or-later
// The list of keys: searched by typing, scrolled where it is long.
#pragma once

#include <QDialog>
#include <vector>

#include "app/stage/stage.h"

class QLabel;
class QLineEdit;

namespace uneven {

class KeysWindow : public QDialog {
  Q_OBJECT
 public:
  // `shown`: the stage that one is in, whose keys come first.
  KeysWindow(const ActionTable& actions, const std::vector<StageEntry>& stages, std::size_t shown,
             QWidget* parent = nullptr);

 private:
  struct Row {
    QLabel* keys;
    QLabel* what;
    QLabel* heading;
  };
  void search(const QString& text);

  std::vector<Row> rows_;
  QLabel* none_ = nullptr;
};

}  // namespace uneven
