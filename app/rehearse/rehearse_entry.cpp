// SPDX-License-Identifier: GPL-3.0-or-later
// What Rehearse adds to the window.
#include <QEventLoop>
#include <QFile>
#include <QTemporaryDir>
#include <QTimer>

#include "app/controls/labels.h"
#include "app/rehearse/played_view.h"
#include "app/rehearse/rehearse_stage.h"
#include "app/rehearse/stairs_view.h"
#include "app/stage/stage.h"

namespace uneven {
namespace {

void rehearseActions(ActionTable& table, StageDoor& door) {
  const QString menu = RehearseStage::tr("P&ractice");
  const auto add = [&](const QString& name, const QString& viewKey, auto run) {
    table.add(menu, name, {}, [&door, run] { run(shown<RehearseStage>(door)); }).viewKey = viewKey;
  };
  using Stage = RehearseStage;
  const auto command = [](RehearseSettings::Command which) {
    return [which](Stage& s) { s.rehearsing().run(which); };
  };
  add(Stage::tr("&Clean"), Stage::tr("C"), command(RehearseSettings::kClean));
  add(Stage::tr("&Not yet"), Stage::tr("N"), command(RehearseSettings::kNotYet));
  add(Stage::tr("Ne&xt step or tempo"), Stage::tr("Enter"), command(RehearseSettings::kNext));
  add(Stage::tr("&Back"), Stage::tr("Backspace"), command(RehearseSettings::kBack));
  add(Stage::tr("&What feels bad…"), Stage::tr("B"), [](Stage& s) { s.askFeels(); });
  add(Stage::tr("&Today's sheet"), Stage::tr("S"), [](Stage& s) { s.rehearsing().takeToday(); });
  add(Stage::tr("Seen from the &kit"), Stage::tr("D"),
      [](Stage& s) { s.showDistance(!s.distance()); });
  add(Stage::tr("&Measure the delay"), Stage::tr("L"),
      [](Stage& s) { s.rehearsing().measureLatency(); });
  add(Stage::tr("&Score a MIDI take…"), {}, [](Stage& s) { s.askTake(); });
  add(Stage::tr("&Plan for a calendar…"), {}, [](Stage& s) { s.askCalendar(); });
  add(Stage::tr("&Export the log…"), {}, [](Stage& s) { s.askExport(); });
  add(Stage::tr("&Import a log…"), {}, [](Stage& s) { s.askImport(); });
  add(Stage::tr("C&autions"), {}, [](Stage& s) { s.showCautions(true); });
}

std::vector<KeyHelp> rehearseKeys() {
  return {{RehearseStage::tr("Left, Right"),
           RehearseStage::tr("the step before, the next; with Alt in another order")},
          {RehearseStage::tr("Up, Down"), RehearseStage::tr("the next tempo, the one before")},
          {RehearseStage::tr("Space"), RehearseStage::tr("plays the step, with its click")}};
}

// Some days of practice, for the pictures.
std::vector<LoggedTime> inventedDays(const Rehearsing& rehearsing, const Song& song) {
  std::vector<LoggedTime> out;
  const std::vector<double>& rungs = rehearsing.rungs();
  const auto& steps = rehearsing.steps();
  int number = 0;
  constexpr int kDays = 14;
  for (int day = 0; day < kDays; ++day) {
    if (day % 7 == 6) continue;
    for (int time = 0; time < 9; ++time) {
      LoggedTime one;
      one.groove = loggedGroove(song, {}, rehearsing.groove());
      TimeThrough& t = one.through;
      t.uid = "picture-" + std::to_string(++number);
      t.begun = 1'790'000'000'000 + 86'400'000LL * day + 20'000LL * time;
      t.day = dateText(rehearsing.today() - std::chrono::days(kDays - 1 - day));
      const bool early = day < 5;
      t.whole = !early;
      t.step = early ? steps[static_cast<std::size_t>(day)].title : steps.back().title;
      const std::size_t rung =
          early ? 0 : std::min(rungs.size() - 1, static_cast<std::size_t>(day - 5 + time / 5));
      t.bpm = rungs[rung];
      t.seconds = 34 + 3 * (number % 5);
      t.source = "simulated player";
      t.result = (number * 7) % 10 < 3 ? Through::kNotYet : Through::kClean;
      t.strokes = 52;
      if (day == 9 && time == 4) t.felt = "left hand, the ghost on 2 a";
      if (day == 11 && time == 2) t.felt = "the kick on 3 e drags";
      out.push_back(std::move(one));
    }
  }
  return out;
}

void rehearsePictures(Photographer& photographer) {
  photographer.openDemo();
  auto& stage = shown<RehearseStage>(photographer);
  Rehearsing& rehearsing = stage.rehearsing();
  rehearsing.setToday(std::chrono::sys_days(*readDate("2026-11-29")));
  stage.showCautions(false);
  const Song& song = photographer.editing().document().song();
  const QTemporaryDir folder;
  const QString file = folder.filePath(QStringLiteral("days.csv"));
  const std::string days = practiceCsv(inventedDays(rehearsing, song));
  QFile out(file);
  if (!out.open(QFile::WriteOnly)) return;
  out.write(days.data(), static_cast<qint64>(days.size()));
  out.close();
  rehearsing.log().importFrom(file);
  // What is read aside and what is planned.
  const auto wait = [](auto until) {
    constexpr int kMost = 1'000;
    for (int i = 0; i < kMost && !until(); ++i) {
      QEventLoop loop;
      QTimer::singleShot(10, &loop, &QEventLoop::quit);
      loop.exec();
    }
  };
  wait([&] { return !rehearsing.log().reading() && !rehearsing.log().summary().times.empty(); });
  rehearsing.goTo(rehearsing.steps().size() - 1,
                  std::min<std::size_t>(8, rehearsing.rungs().size() - 1));
  Skill skill;
  skill.seed = 4;
  skill.bias = Milliseconds(6);
  skill.spread = Milliseconds(8);
  skill.velocitySpread = 8;
  skill.misses = 0.04;
  const Document& document = photographer.editing().document();
  const Groove groove = rehearsing.practised();
  Heard heard;
  heard.groove = SharedValue<Groove>(groove);
  const Result<SharedTake> part =
      Take::ofGroove(heardAs(song, heard), rehearsing.groove().id, document.at());
  if (part)
    rehearsing.show(
        align(**part, playedBy(**part, skill, 1).onsets, {.searchOffset = false, .rounds = 1}));
  wait([&] { return rehearsing.plan().has_value(); });
  (void)shown<RehearseStage>(photographer);  // nothing in the status line
  const bool dots = !stage.stairs().timesOf(rehearsing.place().rung).empty();
  photographer.take(QStringLiteral("rehearse"), dots && stage.played().scene().sticks.size() > 10);
  stage.showSide(RehearseStage::Side::kLog);
  photographer.take(QStringLiteral("rehearse-log"), rehearsing.log().summary().days.size() > 8);
  stage.showSide(RehearseStage::Side::kToday);
  stage.showDistance(true);
  photographer.take(QStringLiteral("rehearse-distance"), stage.distance());
  stage.showDistance(false);
}

}  // namespace

StageEntry rehearseEntry() {
  StageEntry entry = entryOf<RehearseStage>(
      RehearseStage::tr("&Rehearse"), RehearseStage::tr("Get it under the hands, tempo by tempo"));
  entry.actions = rehearseActions;
  entry.keys = rehearseKeys();
  entry.pictures = rehearsePictures;
  return entry;
}

}  // namespace uneven
