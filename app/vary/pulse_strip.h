// SPDX-License-Identifier: GPL-3.0-or-later
// Two pulses one over the other: the one that is felt and the one that a figure on another grid, or
// a cell against the bar, seems to have; where it comes round and where it meets the bar.
#pragma once

#include <QWidget>

#include "app/vary/walker.h"

namespace uneven {

class PulseStrip : public QWidget {
  Q_OBJECT
 public:
  PulseStrip(Walker& walker, QWidget* parent);
  const QString& words() const { return words_; }

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  void read();
  Walker& walker_;
  QString words_;
};

}  // namespace uneven
