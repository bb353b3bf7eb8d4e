// SPDX-License-Identifier: GPL-3.0-or-later
// The tempo reached from day to day, with the goal; below it the minutes of each day.
#pragma once

#include <QWidget>

#include "app/rehearse/rehearsing.h"

namespace uneven {

class DaysChart : public QWidget {
  Q_OBJECT
 public:
  DaysChart(Rehearsing& rehearsing, QWidget* parent);

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  Rehearsing& rehearsing_;
};

}  // namespace uneven
