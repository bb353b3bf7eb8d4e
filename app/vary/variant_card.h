// SPDX-License-Identifier: GPL-3.0-or-later
// The chosen variant: what differs, how hard it is, what is thought of it, and what becomes of it.
#pragma once

#include <QTimer>

#include "app/controls/aside.h"
#include "app/controls/card.h"
#include "app/vary/walker.h"

class QLabel;

namespace uneven {

class ActionButton;
class FlatEdit;
class WallView;

class VariantCard : public Card {
  Q_OBJECT
 public:
  VariantCard(Editing& editing, Walker& walker, Checker& checker, WallView& wall, QWidget* parent);

 Q_SIGNALS:
  void verdictWanted(int number);
  void noted(const QString& note);
  void keepWanted();
  void arrangeWanted();
  void coreWanted();

 private:
  void read();
  void lookAtFindings();

  Editing& editing_;
  Walker& walker_;
  Checker& checker_;
  WallView& wall_;
  QLabel *name_, *number_, *changed_, *syncopation_, *tempo_, *limit_, *findings_, *tally_;
  FlatEdit* note_;
  ActionButton *marks_[3], *keep_, *gather_, *arrange_, *core_, *before_, *next_;
  QTimer rest_;
  std::string lookedAt_;  // key
  Aside<QString> looking_;
};

}  // namespace uneven
