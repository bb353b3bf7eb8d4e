// SPDX-License-Identifier: GPL-3.0-or-later
// The click of a rehearsal: one of the patterns, or what is made of it.
#pragma once

#include "app/controls/field_card.h"
#include "app/rehearse/rehearsing.h"

namespace uneven {

class ClickCard : public FieldCard {
  Q_OBJECT
 public:
  ClickCard(Rehearsing& rehearsing, QWidget* parent);

 protected:
  void read() override;

 private:
  Rehearsing& rehearsing_;
  QLabel* help_;
  QWidget* bars_;
};

}  // namespace uneven
