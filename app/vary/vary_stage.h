// SPDX-License-Identifier: GPL-3.0-or-later
// The Vary stage: the core above, its variants as a wall and a map, the walk and the chosen one
// beside.
#pragma once

#include "app/stage/stage.h"
#include "app/vary/walk_panel.h"
#include "app/vary/walker.h"

namespace uneven {

class CoreStrip;
class MapView;
class PulseStrip;
class VariantCard;
class WallView;
class WordTabs;

class VaryStage : public Stage {
  Q_OBJECT
 public:
  static constexpr const char* kId = "vary";
  explicit VaryStage(const Workplace& place, QWidget* parent = nullptr);

  Walker& walker() { return walker_; }
  WallView& wall() { return *wall_; }
  MapView& map() { return *map_; }
  WalkPanel& panel() { return *panel_; }
  PulseStrip& pulses() { return *pulses_; }
  void showTab(WalkPanel::Tab tab);
  // 1 good, 2 awkward, 3 not for me, 0 none.
  void setVerdict(int number);
  // The chosen variant becomes a groove of the song whose core is this one.
  void keep();
  // All that are gathered become versions and sections, one step.
  void arrangeGathered();
  // Whether the core or the chosen variant is heard.
  void hearCore(bool core);
  bool copy() override;
  bool intoSong() override;  // the chosen variant
  void copyVerdicts(bool csv);

 protected:
  void showEvent(QShowEvent* event) override;
  void hideEvent(QHideEvent* event) override;

 private:
  void hear();
  void hearInstead(std::optional<SharedValue<Groove>> groove);
  void note(const QString& text);
  std::string newVersion(Song& song, std::uint64_t index);

  Editing& editing_;
  Transport& transport_;
  Walker walker_;
  WordTabs* tabs_;
  CoreStrip* strip_;
  WallView* wall_;
  MapView* map_;
  PulseStrip* pulses_;
  WalkPanel* panel_;
  VariantCard* card_;
  bool coreHeard_ = false;
};

}  // namespace uneven
