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

void varyActions(ActionTable& table, StageDoor& door) {
  const auto add = [&](const QString& name, auto run) {
    table.add(menus::groove(), name, {}, [&door, run] { run(shown<VaryStage>(door)); });
  };
  add(VaryStage::tr("Copy the &verdicts as text"), [](VaryStage& s) { s.copyVerdicts(false); });
  add(VaryStage::tr("Copy the verdicts as CSV"), [](VaryStage& s) { s.copyVerdicts(true); });
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
  auto& vary = shown<VaryStage>(photographer);
  vary.panel().form().set("to", QStringLiteral("4"));
  waitForAll(vary);
  for (const auto& [index, verdict] : {std::pair{0, 1}, {2, 2}, {4, 1}, {7, 3}, {9, 1}}) {
    vary.wall().choose(static_cast<std::uint64_t>(index));
    vary.setVerdict(verdict);
  }
  vary.wall().choose(4);
  waitForAll(vary);
  photographer.take(QStringLiteral("vary"), vary.walker().judgedCount() == vary.walker().count());
  vary.showTab(WalkPanel::Tab::kAgainst);
  vary.panel().form().set("cell", QStringLiteral("5/16"));
  waitForAll(vary);
  photographer.take(
      QStringLiteral("vary-against"),
      vary.walker().walk()->relaid.has_value() && !vary.walker().walk()->relaid->cycle.empty());
  vary.showTab(WalkPanel::Tab::kWalk);
  vary.panel().form().set("to", QStringLiteral("end"));
}

}  // namespace

StageEntry varyEntry() {
  StageEntry entry =
      entryOf<VaryStage>(VaryStage::tr("&Vary"), VaryStage::tr("Every useful variation, in order"));
  entry.actions = varyActions;
  entry.keys = {
      {VaryStage::tr("arrows"),
       VaryStage::tr("step through the variants; where it plays, each is heard")},
      {VaryStage::tr("1, 2, 3"), VaryStage::tr("good, awkward, not for me; 0 takes it back")},
      {VaryStage::tr("Enter"), VaryStage::tr("keeps the variant as a version of the groove")},
      {VaryStage::tr("C"), VaryStage::tr("hears the groove itself, or the variant again")},
      {VaryStage::tr("H"), VaryStage::tr("goes to the variant under the mouse")},
      {VaryStage::tr("X"),
       VaryStage::tr("gathers it, to be put into the arrangement with others")}};
  entry.pictures = varyPictures;
  return entry;
}

}  // namespace uneven
