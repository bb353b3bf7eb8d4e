// SPDX-License-Identifier: GPL-3.0-or-later
// A card: what stands beside the lanes, on lighter paper with a thin edge.
#pragma once

#include <QWidget>

namespace uneven {

class Card : public QWidget {
  Q_OBJECT
 public:
  explicit Card(QWidget* parent = nullptr);
  static constexpr int kWidth = 250;

 protected:
  void paintEvent(QPaintEvent* event) override;
};

}  // namespace uneven
