// SPDX-License-Identifier: GPL-3.0-or-later
// The Strike stage: lanes, cards, feel and legend put together.
#pragma once

#include "app/stage/stage.h"

class QVBoxLayout;

namespace uneven {

class Card;
class ChoiceField;
class HitCard;
class LanesView;
class ToolPanel;
class WordTabs;

class StrikeStage : public Stage {
  Q_OBJECT
 public:
  static constexpr const char* kId = "strike";
  explicit StrikeStage(const Workplace& place, QWidget* parent = nullptr);

  void zoom(double by) override;
  void readSettings(const QSettings& settings) override;
  void writeSettings(QSettings& settings) const override;
  LanesView& lanes() { return *lanes_; }
  // The cards that stand beside the lanes, one at a time.
  enum class Side { kHit, kTool, kGrooves, kKit };
  void showSide(Side side);
  void openTool(const std::string& name);
  ToolPanel& tools() { return *tools_; }  // once one has been opened
  void closeTool() { showSide(Side::kHit); }

 protected:
  void keyPressEvent(QKeyEvent* event) override;

 private:
  QWidget* gridRow();
  void readGrid();
  Card* cardOf(Side side);

  Editing& editing_;
  LanesView* lanes_;
  WordTabs* tabs_;
  QVBoxLayout* side_;
  Card* shown_ = nullptr;
  HitCard* hit_ = nullptr;
  ToolPanel* tools_ = nullptr;  // this and the others are made when first shown
  Card* grooves_ = nullptr;
  Card* kit_ = nullptr;
  ChoiceField* grid_ = nullptr;
  ChoiceField* beat_ = nullptr;
  ChoiceField* zoom_ = nullptr;
};

}  // namespace uneven
