// SPDX-License-Identifier: GPL-3.0-or-later
// What Check adds to the window.
#include <QEventLoop>
#include <QTimer>

#include "app/check/check_stage.h"
#include "app/check/check_view.h"
#include "app/check/found_card.h"
#include "app/stage/menu_titles.h"
#include "app/stage/stage.h"

namespace uneven {
namespace {

QString tr(const char* text) {
  return CheckStage::tr(text);
}

CheckStage& of(Stage& stage) {
  return static_cast<CheckStage&>(stage);
}

void actions(ActionTable& table, StageDoor& door) {
  ActionEntry& hands = table.add(menus::groove(), tr("Set the &hands as computed"), {}, [&door] {
    of(door.showStage(QStringLiteral("check"))).setHands();
  });
  hands.keys = {QKeySequence(Qt::CTRL | Qt::SHIFT | Qt::Key_H)};
  hands.first = true;
}

void pictures(Photographer& photographer) {
  CheckStage& check = of(photographer.stage(QStringLiteral("check")));
  const auto wait = [&] {
    if (check.checker().now() != nullptr) return;
    QEventLoop loop;
    QObject::connect(&check.checker(), &Checker::looked, &loop, [&] {
      if (check.checker().now() != nullptr) loop.quit();
    });
    loop.exec();
  };
  wait();
  check.found().choose(3);
  photographer.take(QStringLiteral("check"));
  check.view().setTrial(120);
  photographer.take(QStringLiteral("check-tempo"));
  check.view().setTrial(std::nullopt);
}

}  // namespace

StageEntry checkEntry() {
  StageEntry entry;
  entry.id = QStringLiteral("check");
  entry.title = tr("&Check");
  entry.purpose = tr("What flams, stands out or cannot be played");
  entry.make = [](const Workplace& place, QWidget* parent) -> Stage* {
    return new CheckStage(place.editing, parent);
  };
  entry.actions = actions;
  entry.keys = {
      {tr("up, down"), tr("the finding before, the next one")},
      {tr("Enter"), tr("mends the chosen finding; a button with Shift mends all of its kind")},
      {tr("L"), tr("leaves it as it is: the song remembers")},
      {tr("left, right"), tr("walks the slots")},
      {tr("+, -"), tr("the strain at a tempo 1 BPM faster or slower; Escape: the song's")},
      {tr("mouse"), tr("drag the tempo ruler")}};
  entry.pictures = pictures;
  return entry;
}

}  // namespace uneven
