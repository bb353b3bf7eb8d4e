// SPDX-License-Identifier: GPL-3.0-or-later
// What was found, each number with its error, and what can be done with it.
#pragma once

#include "app/controls/card.h"
#include "app/stage/listener.h"

class QGridLayout;
class QLabel;
class QVBoxLayout;

namespace uneven {

class ActionButton;
class ChoiceField;
class PlayIn;

class MeasuredCard : public Card {
  Q_OBJECT
 public:
  MeasuredCard(Listener& listener, PlayIn& playIn, QWidget* parent);

 Q_SIGNALS:
  void openWanted();
  void takeWanted();
  void feelWanted();
  void tempoWanted();
  void grooveWanted();

 private:
  void read();
  void fill(const Fit& fit);
  void fillReadings(const Fit& fit, QGridLayout& grid);

  Listener& listener_;
  PlayIn& playIn_;
  QLabel* title_;
  QLabel* status_;
  ActionButton* open_;
  ActionButton* cancel_;
  ActionButton* take_;
  ChoiceField* against_;
  ChoiceField* meter_;
  QWidget* figures_ = nullptr;
  QVBoxLayout* middle_;
  ActionButton *feel_, *tempo_, *groove_, *over_;
};

}  // namespace uneven
