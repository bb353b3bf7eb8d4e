// SPDX-License-Identifier: GPL-3.0-or-later
// The log: the tempo reached over the days, the minutes, what feels bad; out and in.
#pragma once

#include "app/controls/field_card.h"
#include "app/rehearse/rehearsing.h"

namespace uneven {

class DaysChart;

class LogCard : public FieldCard {
  Q_OBJECT
 public:
  LogCard(Rehearsing& rehearsing, QWidget* parent);

 Q_SIGNALS:
  void exportWanted();
  void importWanted();

 protected:
  void read() override;

 private:
  Rehearsing& rehearsing_;
  DaysChart* chart_;
  QLabel* facts_;
  QLabel* felt_;
  QLabel* file_;
};

}  // namespace uneven
