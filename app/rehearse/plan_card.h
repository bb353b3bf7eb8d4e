// SPDX-License-Identifier: GPL-3.0-or-later
// The next days: minutes, rests, today's sheet, and when the goal comes at this pace.
#pragma once

#include "app/controls/field_card.h"
#include "app/rehearse/rehearsing.h"

namespace uneven {

class PlanCard : public FieldCard {
  Q_OBJECT
 public:
  PlanCard(Rehearsing& rehearsing, QWidget* parent);
  QString sheet() const;  // today's

 Q_SIGNALS:
  void calendarWanted();
  void copyWanted();

 protected:
  void read() override;

 private:
  Rehearsing& rehearsing_;
  QLabel* today_;
  QLabel* ahead_;
  QLabel* pace_;
};

}  // namespace uneven
