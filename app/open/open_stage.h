// SPDX-License-Identifier: GPL-3.0-or-later
// The Open stage: the gap between the hats and the cards beside it.
#pragma once

#include "app/stage/stage.h"

namespace uneven {

class Card;
class FindingsCard;
class OpenView;
class PedalCard;
class WalkCard;
class WordTabs;

class OpenStage : public Stage {
  Q_OBJECT
 public:
  static constexpr const char* kId = "open";
  explicit OpenStage(const Workplace& place, QWidget* parent = nullptr);

  enum class Side { kPedal, kFindings, kWalk };
  void showSide(Side side);
  OpenView& view() { return *view_; }
  WalkCard& walk() { return *walk_; }
  FindingsCard& findings() { return *findings_; }

 private:
  Editing& editing_;
  OpenView* view_;
  WordTabs* tabs_;
  PedalCard* pedal_;
  FindingsCard* findings_;
  WalkCard* walk_;
};

}  // namespace uneven
