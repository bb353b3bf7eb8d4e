// SPDX-License-Identifier: GPL-3.0-or-later
// What Check adds to the window.
#include "app/check/check_stage.h"
#include "app/check/check_view.h"
#include "app/check/found_card.h"
#include "app/check/ways_card.h"
#include "app/stage/menu_titles.h"
#include "app/stage/stage.h"

namespace uneven {
namespace {

QString checkTr(const char* text) {
  return CheckStage::tr(text);
}

CheckStage& checkOf(Stage& stage) {
  return static_cast<CheckStage&>(stage);
}

void checkActions(ActionTable& table, StageDoor& door) {
  ActionEntry& hands =
      table.add(menus::groove(), checkTr("Set the &hands as computed"), {},
                [&door] { checkOf(door.showStage(QStringLiteral("check"))).setHands(); });
  hands.keys = {QKeySequence(Qt::CTRL | Qt::SHIFT | Qt::Key_H)};
  hands.first = true;
}

void checkPictures(Photographer& photographer) {
  CheckStage& check = checkOf(photographer.stage(QStringLiteral("check")));
  check.found().choose(3);
  photographer.take(QStringLiteral("check"));
  check.showSide(CheckStage::Side::kPart);
  check.view().setTrial(120);
  photographer.take(QStringLiteral("check-tempo"));
  check.view().setTrial(std::nullopt);
  check.showSide(CheckStage::Side::kPlayer);
  photographer.take(QStringLiteral("check-player"));
  check.showSide(CheckStage::Side::kFound);
}

}  // namespace

StageEntry checkEntry() {
  StageEntry entry;
  entry.id = QStringLiteral("check");
  entry.title = checkTr("&Check");
  entry.purpose = checkTr("What flams, stands out or cannot be played");
  entry.make = [](const Workplace& place, QWidget* parent) -> Stage* {
    return new CheckStage(place, parent);
  };
  entry.actions = checkActions;
  entry.keys = {{checkTr("up, down"), checkTr("the finding before, the next one")},
                {checkTr("Enter"),
                 checkTr("mends the chosen finding; a button with Shift mends all of its kind")},
                {checkTr("1 to 9, 0"), checkTr("hears another way to play it; 0: as it is")},
                {checkTr("L"), checkTr("leaves it as it is: the song remembers")},
                {checkTr("left, right"), checkTr("walks the slots")},
                {checkTr("+, -"),
                 checkTr("the strain at a tempo 1 BPM faster or slower; Escape: the song's")},
                {checkTr("mouse"), checkTr("drag the tempo ruler")}};
  entry.pictures = checkPictures;
  return entry;
}

}  // namespace uneven
