// SPDX-License-Identifier: GPL-3.0-or-later
// Today: the ladder, this time through, and what a hand says of it; the cautions stand below.
#pragma once

#include "app/controls/field_card.h"
#include "app/rehearse/rehearsing.h"

class QLabel;

namespace uneven {

class TodayCard : public FieldCard {
  Q_OBJECT
 public:
  TodayCard(Rehearsing& rehearsing, QWidget* parent);

 Q_SIGNALS:
  void cautionsWanted();
  void feelsWanted();

 protected:
  void read() override;

 private:
  Rehearsing& rehearsing_;
  QLabel* result_;
  QLabel* figures_;
  QLabel* next_;
};

}  // namespace uneven
