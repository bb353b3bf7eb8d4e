// SPDX-License-Identifier: GPL-3.0-or-later
// The card of displacement: per piece, limb and slot, what it keeps, its limits, and unisons.
#pragma once

#include "app/lean/feel_card.h"

namespace uneven {

class ActionButton;
class ChoiceField;

class DisplaceCard : public FeelCard {
  Q_OBJECT
 public:
  explicit DisplaceCard(Editing& editing, QWidget* parent = nullptr);

 protected:
  void read() override;

 private:
  void build();
  void readChosen();
  void readUnison();
  void pullTogether();
  void setKeep(bool share);

  std::vector<PieceId> shown_;
  QLabel* chosen_ = nullptr;
  NumberField* slot_ = nullptr;       // of the chosen position, for all pieces
  NumberField* pieceSlot_ = nullptr;  // and for the chosen piece
  ChoiceField* keep_ = nullptr;
  QLabel* units_ = nullptr;
  QLabel* unison_ = nullptr;
  ActionButton* together_ = nullptr;
};

}  // namespace uneven
