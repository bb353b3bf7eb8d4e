// SPDX-License-Identifier: GPL-3.0-or-later
// How it is practised: in which steps, how a time through goes, what counts as clean, what is
// listened to and which pads say what.
#pragma once

#include "app/controls/field_card.h"
#include "app/rehearse/rehearsing.h"

namespace uneven {

class HowCard : public FieldCard {
  Q_OBJECT
 public:
  HowCard(Rehearsing& rehearsing, QWidget* parent);

 protected:
  void read() override;

 private:
  // A number of the settings.
  template <typename T>
  void number(QGridLayout* grid, const Row& row, const QString& unit, NumberField::Range range,
              T RehearseSettings::*member);
  template <typename E>
  void choice(QGridLayout* grid, const Row& row, const std::vector<std::pair<E, QString>>& words,
              E RehearseSettings::*member);

  Rehearsing& rehearsing_;
  QLabel* source_;
};

}  // namespace uneven
