// SPDX-License-Identifier: GPL-3.0-or-later
// The tempo where the chosen section begins: typed, tapped, by relation, evenly to the next.
#pragma once

#include "app/arrange/arranging.h"
#include "app/controls/field_card.h"
#include "core/measure/tap_tempo.h"

namespace uneven {

class TempoCard : public FieldCard {
  Q_OBJECT
 public:
  explicit TempoCard(Arranging& arranging, QWidget* parent = nullptr);

  void tap();

 protected:
  void read() override;

 private:
  Arranging& arranging_;
  TapTempo taps_;
  QLabel* says_ = nullptr;
};

}  // namespace uneven
