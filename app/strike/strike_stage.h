// SPDX-License-Identifier: GPL-3.0-or-later
// The Strike stage: lanes, card, feel and legend put together.
#pragma once

#include <QWidget>

#include "app/strike/editing.h"

namespace uneven {

class ChoiceField;
class LanesView;

class StrikeStage : public QWidget {
  Q_OBJECT
 public:
  explicit StrikeStage(Editing& editing, QWidget* parent = nullptr);

  LanesView& lanes() { return *lanes_; }

 Q_SIGNALS:
  void refused(const QString& why);

 private:
  QWidget* gridRow();
  void readGrid();

  Editing& editing_;
  LanesView* lanes_;
  ChoiceField* grid_ = nullptr;
  ChoiceField* zoom_ = nullptr;
};

}  // namespace uneven
