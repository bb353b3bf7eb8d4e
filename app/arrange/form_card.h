// SPDX-License-Identifier: GPL-3.0-or-later
// The song's form as text that can be typed, and what is done with a section as a whole.
#pragma once

#include "app/arrange/arranging.h"
#include "app/controls/field_card.h"

class QPlainTextEdit;

namespace uneven {

class FormCard : public FieldCard {
  Q_OBJECT
 public:
  explicit FormCard(Arranging& arranging, QWidget* parent = nullptr);

  void setForm();

 Q_SIGNALS:
  void frameWanted();  // from a MIDI file

 protected:
  void read() override;
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  Arranging& arranging_;
  QPlainTextEdit* text_ = nullptr;
  QLabel* says_ = nullptr;
  QString read_;  // as it stood in the field last
  TemplateAsked asked_{"three-and-fill", Limb::kRightFoot, {}, {}};
  std::string added_, into_ = "linear";
  int bars_ = 2;
  double open_ = 25, openTo_ = 25, pickup_ = 1;
};

}  // namespace uneven
