// SPDX-License-Identifier: GPL-3.0-or-later
// The card of swing: ratio in every unit, how it is written, by tempo or fixed, and who follows.
#pragma once

#include "app/lean/feel_card.h"

namespace uneven {

class ActionButton;
class ChoiceField;
class TempoCurve;

class SwingCard : public FeelCard {
  Q_OBJECT
 public:
  explicit SwingCard(Editing& editing, QWidget* parent = nullptr);

 protected:
  void read() override;

 private:
  void build();
  void buildRatio();
  void buildDepth();
  void setRatio(double ratio, const QString& step, bool stepped);

  std::vector<PieceId> shown_;  // pieces that there are rows for
  ChoiceField* kind_ = nullptr;
  NumberField* ratio_ = nullptr;
  NumberField* percent_ = nullptr;
  NumberField* short_ = nullptr;
  QLabel* lengths_ = nullptr;
  ChoiceField* unit_ = nullptr;
  ChoiceField* written_ = nullptr;
  QLabel* guess_ = nullptr;
  ActionButton* takeGuess_ = nullptr;
  TempoCurve* curve_ = nullptr;
};

}  // namespace uneven
