// SPDX-License-Identifier: GPL-3.0-or-later
// The Check stage: the part with its strain, and all that was found beside it.
#pragma once

#include "app/stage/checker.h"
#include "app/stage/stage.h"

namespace uneven {

class CheckView;
class Card;
class FoundCard;
class PartCard;
class PlayerCard;
class WaysCard;
class WordTabs;

class CheckStage : public Stage {
  Q_OBJECT
 public:
  static constexpr const char* kId = "check";
  explicit CheckStage(const Workplace& place, QWidget* parent = nullptr);

  Checker& checker() { return checker_; }
  CheckView& view() { return *view_; }
  FoundCard& found() { return *found_; }
  WaysCard& ways() { return *ways_; }
  // What stands beside the lanes, one at a time.
  enum class Side { kFound, kWays, kPart, kPlayer };
  void showSide(Side side);
  // The computed hands become the hits' own, as one step.
  void setHands();

 protected:
  void showEvent(QShowEvent* event) override;
  void hideEvent(QHideEvent* event) override;

 private:
  Editing& editing_;
  Checker& checker_;
  CheckView* view_;
  WordTabs* tabs_;
  FoundCard* found_;
  WaysCard* ways_;
  PartCard* part_;
  PlayerCard* player_;
};

}  // namespace uneven
