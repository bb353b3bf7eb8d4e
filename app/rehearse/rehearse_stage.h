// SPDX-License-Identifier: GPL-3.0-or-later
// Rehearse: get it under the hands. The staircase of tempos, the groove built up in steps, what was
// played; all of it worked from across the kit.
#pragma once

#include "app/rehearse/rehearsing.h"
#include "app/stage/stage.h"

class QLabel;

namespace uneven {

class ClickCard;
class DistanceView;
class FieldCard;
class HowCard;
class LogCard;
class PlanCard;
class PlayedView;
class StairsView;
class StepsRow;
class TodayCard;
class WordTabs;

class RehearseStage : public Stage {
  Q_OBJECT
 public:
  static constexpr const char* kId = "rehearse";
  enum class Side { kToday, kHow, kClick, kPlan, kLog };

  RehearseStage(const Workplace& place, QWidget* parent);

  Rehearsing& rehearsing() { return rehearsing_; }
  StairsView& stairs() { return *stairs_; }
  StepsRow& steps() { return *steps_; }
  PlayedView& played() { return *played_; }
  void showSide(Side side);
  // The view that is read from across the kit, over everything else of the stage.
  void showDistance(bool shown);
  bool distance() const;
  void showCautions(bool shown);
  bool cautions() const;
  void askFeels();
  void askTake();
  void scoreTake(const QString& path);
  void askCalendar();
  void askExport();
  void askImport();

  bool copy() override;
  void readSettings(const QSettings& settings) override;
  void writeSettings(QSettings& settings) const override;

 protected:
  void showEvent(QShowEvent* event) override;
  void hideEvent(QHideEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  void readTitle();

  FileSystem& files_;
  Prompts& prompts_;
  Rehearsing rehearsing_;
  QLabel* title_;
  QLabel* facts_;
  StairsView* stairs_;
  QLabel* stepsTitle_;
  StepsRow* steps_;
  PlayedView* played_;
  WordTabs* tabs_;
  std::vector<FieldCard*> cards_;
  PlanCard* plan_ = nullptr;
  DistanceView* distance_;
  QWidget* cautions_ = nullptr;
};

}  // namespace uneven
