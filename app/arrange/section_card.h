// SPDX-License-Identifier: GPL-3.0-or-later
// The chosen section: what it plays, how often, how loud and by whom; how it is entered.
#pragma once

#include "app/arrange/arranging.h"
#include "app/controls/field_card.h"

namespace uneven {

class SectionCard : public FieldCard {
  Q_OBJECT
 public:
  explicit SectionCard(Arranging& arranging, QWidget* parent = nullptr);

 protected:
  void read() override;

 private:
  void setPlays(const QString& text);
  void setMute(const QString& text);

  Arranging& arranging_;
  QLabel* into_ = nullptr;
  NumberField* aim_ = nullptr;
  ActionButton* smooth_ = nullptr;
};

}  // namespace uneven
