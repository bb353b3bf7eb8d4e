// SPDX-License-Identifier: GPL-3.0-or-later
// The card of grooves: their list, and what can be done with the one that is edited.
#pragma once

#include "app/controls/card.h"
#include "app/edit/editing.h"

class QScrollArea;

namespace uneven {

class ActionButton;
class GrooveList;

class GroovePanel : public Card {
  Q_OBJECT
 public:
  explicit GroovePanel(Editing& editing, QWidget* parent = nullptr);

 private:
  void read();

  Editing& editing_;
  QScrollArea* scroll_;
  GrooveList* list_;
  ActionButton* back_;
};

}  // namespace uneven
