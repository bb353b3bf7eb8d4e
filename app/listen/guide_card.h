// SPDX-License-Identifier: GPL-3.0-or-later
// The recording beside the part: which, where it begins, how loud; and a beat tapped along to it.
#pragma once

#include "app/controls/card.h"
#include "app/stage/listener.h"

class QCheckBox;
class QLabel;

namespace uneven {

class ActionButton;
class Editing;
class NumberField;
class Transport;

class GuideCard : public Card {
  Q_OBJECT
 public:
  GuideCard(Editing& editing, Listener& listener, Transport& transport, QWidget* parent);

  // How many taps there are, of beats and of bar lines among them.
  void setTaps(std::size_t beats, std::size_t bars);

 Q_SIGNALS:
  void besideWanted();
  void alongWanted();
  void tapsWanted();
  void tapsDropped();
  void refused(const QString& why);

 private:
  void read();

  Editing& editing_;
  Listener& listener_;
  Transport& transport_;
  QLabel *file_, *taps_;
  ActionButton *beside_, *away_, *along_, *use_, *drop_;
  QCheckBox *on_, *alone_;
  NumberField *offset_, *level_;
};

}  // namespace uneven
