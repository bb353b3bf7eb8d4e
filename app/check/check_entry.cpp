// SPDX-License-Identifier: GPL-3.0-or-later
// What Check adds to the window.
#include "app/check/check_stage.h"
#include "app/check/check_view.h"
#include "app/check/found_card.h"
#include "app/check/player_card.h"
#include "app/check/ways_card.h"
#include "app/stage/menu_titles.h"
#include "app/stage/stage.h"

namespace uneven {
namespace {

void checkActions(ActionTable& table, StageDoor& door) {
  ActionEntry& hands = table.add(menus::groove(), CheckStage::tr("Set the &hands as computed"), {},
                                 [&door] { shown<CheckStage>(door).setHands(); });
  hands.keys = {QKeySequence(Qt::CTRL | Qt::SHIFT | Qt::Key_H)};
  hands.first = true;
}

void checkPictures(Photographer& photographer) {
  CheckStage& check = shown<CheckStage>(photographer);
  check.found().choose(1);
  photographer.take(QStringLiteral("check"), check.found().chosen().has_value());
  check.showSide(CheckStage::Side::kPlayer);
  photographer.take(QStringLiteral("check-player"), check.findChild<PlayerCard*>()->isVisible());
  check.showSide(CheckStage::Side::kFound);
}

}  // namespace

StageEntry checkEntry() {
  StageEntry entry = entryOf<CheckStage>(
      CheckStage::tr("&Check"), CheckStage::tr("What flams, stands out or cannot be played"));
  entry.actions = checkActions;
  entry.keys = {
      {CheckStage::tr("up, down"), CheckStage::tr("the finding before, the next one")},
      {CheckStage::tr("Enter"),
       CheckStage::tr("mends the chosen finding; a button with Shift mends all of its kind")},
      {CheckStage::tr("1 to 9, 0"), CheckStage::tr("hears another way to play it; 0: as it is")},
      {CheckStage::tr("L"), CheckStage::tr("leaves it as it is: the song remembers")},
      {CheckStage::tr("left, right"), CheckStage::tr("walks the slots")},
      {CheckStage::tr("+, -"),
       CheckStage::tr("the strain at a tempo 1 BPM faster or slower; Escape: the song's")},
      {CheckStage::tr("mouse"), CheckStage::tr("drag the tempo ruler")}};
  entry.pictures = checkPictures;
  return entry;
}

}  // namespace uneven
