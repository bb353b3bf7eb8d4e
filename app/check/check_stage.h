// SPDX-License-Identifier: GPL-3.0-or-later
// The Check stage: the part with its strain, and all that was found beside it.
#pragma once

#include "app/check/checker.h"
#include "app/stage/stage.h"

namespace uneven {

class CheckView;
class FoundCard;

class CheckStage : public Stage {
  Q_OBJECT
 public:
  explicit CheckStage(Editing& editing, QWidget* parent = nullptr);

  Checker& checker() { return checker_; }
  CheckView& view() { return *view_; }
  FoundCard& found() { return *found_; }
  // The computed hands become the hits' own, as one step.
  void setHands();

 protected:
  void showEvent(QShowEvent* event) override;
  void hideEvent(QHideEvent* event) override;

 private:
  Editing& editing_;
  Checker checker_;
  CheckView* view_;
  FoundCard* found_;
};

}  // namespace uneven
