// SPDX-License-Identifier: GPL-3.0-or-later
// What Vary adds to the window.
#include <QEventLoop>
#include <QTimer>

#include "app/edit/argument_form.h"
#include "app/stage/menu_titles.h"
#include "app/stage/stage.h"
#include "app/vary/pulse_strip.h"
#include "app/vary/vary_stage.h"
#include "app/vary/wall_view.h"

namespace uneven {
namespace {

QString varyTr(const char* text) {
  return VaryStage::tr(text);
}

VaryStage& varyOf(Stage& stage) {
  return static_cast<VaryStage&>(stage);
}

void varyActions(ActionTable& table, StageDoor& door) {
  const auto add = [&](const QString& name, auto run) {
    table.add(menus::groove(), name, {},
              [&door, run] { run(varyOf(door.showStage(QStringLiteral("vary")))); });
  };
  add(varyTr("Copy the &verdicts as text"), [](VaryStage& s) { s.copyVerdicts(false); });
  add(varyTr("Copy the verdicts as CSV"), [](VaryStage& s) { s.copyVerdicts(true); });
}

void waitForAll(VaryStage& vary) {
  QEventLoop loop;
  QObject::connect(&vary.walker(), &Walker::judgedMore, &loop, [&] {
    if (vary.walker().judgedCount() >= vary.walker().count()) loop.quit();
  });
  constexpr int kLongest = 20'000;
  QTimer::singleShot(kLongest, &loop, &QEventLoop::quit);
  if (vary.walker().judgedCount() < vary.walker().count()) loop.exec();
  // And what Check says of the chosen one.
  QEventLoop rest;
  QTimer::singleShot(600, &rest, &QEventLoop::quit);
  rest.exec();
}

void varyPictures(Photographer& photographer) {
  auto& vary = varyOf(photographer.stage(QStringLiteral("vary")));
  vary.panel().form().set("to", QStringLiteral("4"));
  waitForAll(vary);
  for (const auto& [index, verdict] : {std::pair{0, 1}, {2, 2}, {4, 1}, {7, 3}, {9, 1}}) {
    vary.wall().choose(static_cast<std::uint64_t>(index));
    vary.setVerdict(verdict);
  }
  vary.wall().choose(4);
  waitForAll(vary);
  photographer.take(QStringLiteral("vary"));
  vary.showTab(WalkPanel::Tab::kGrid);
  vary.panel().form().set("lay", QStringLiteral("all"));
  waitForAll(vary);
  photographer.take(QStringLiteral("vary-grid"));
  vary.showTab(WalkPanel::Tab::kAgainst);
  vary.panel().form().set("cell", QStringLiteral("5/16"));
  waitForAll(vary);
  photographer.take(QStringLiteral("vary-against"));
  vary.showTab(WalkPanel::Tab::kWalk);
  vary.panel().form().set("to", QStringLiteral("end"));
}

}  // namespace

StageEntry varyEntry() {
  StageEntry entry;
  entry.id = QStringLiteral("vary");
  entry.title = varyTr("&Vary");
  entry.purpose = varyTr("Every useful variation, in order");
  entry.make = [](const Workplace& place, QWidget* parent) -> Stage* {
    return new VaryStage(place, parent);
  };
  entry.actions = varyActions;
  entry.keys = {
      {varyTr("arrows"), varyTr("step through the variants; where it plays, each is heard")},
      {varyTr("1, 2, 3"), varyTr("good, awkward, not for me; 0 takes it back")},
      {varyTr("Enter"), varyTr("keeps the variant as a version of the groove")},
      {varyTr("C"), varyTr("hears the groove itself, or the variant again")},
      {varyTr("H"), varyTr("goes to the variant under the mouse")},
      {varyTr("X"), varyTr("gathers it, to be put into the arrangement with others")}};
  entry.pictures = varyPictures;
  return entry;
}

}  // namespace uneven
