// SPDX-License-Identifier: GPL-3.0-or-later
// The Lean stage: the map, its table, and the cards of swing, displacement, drift, feels and seams.
#pragma once

#include <vector>

#include "app/stage/stage.h"

class QLabel;
class QTableView;

namespace uneven {

class Card;
class LeanView;
class Prompts;
class SeamsCard;
class SlotList;
class TimingList;
class WordTabs;

class LeanStage : public Stage {
  Q_OBJECT
 public:
  static constexpr const char* kId = "lean";
  explicit LeanStage(const Workplace& place, QWidget* parent = nullptr);

  void zoom(double by) override;
  void readSettings(const QSettings& settings) override;
  void writeSettings(QSettings& settings) const override;
  enum class Side { kSwing, kDisplace, kDrift, kFeels, kSeams };
  void showSide(Side side);
  LeanView& view() { return *view_; }
  SeamsCard& seams() { return *seams_; }
  // Which table stands under the map.
  enum class Table { kStrokes, kSlots };
  void showTable(Table table);
  // The table that is shown on the clipboard, of strokes for the whole groove: columns divided by
  // tabs, or CSV.
  void copyTable(bool csv);

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  void buildTable();
  void buildSlots();
  void readTable();

  Editing& editing_;
  LeanView* view_;
  QTableView* table_;
  TimingList* list_;
  QTableView* slotTable_;
  SlotList* slots_;
  WordTabs* tableTabs_;
  QLabel* legend_;
  WordTabs* tabs_;
  SeamsCard* seams_;
  std::vector<Card*> cards_;
};

}  // namespace uneven
