// SPDX-License-Identifier: GPL-3.0-or-later
// The Rehearse stage: sessions with the simulated player, by keys alone; judged by hand; broken
// off; what is kept, and given back.
#include <QClipboard>
#include <QLabel>
#include <QPushButton>
#include <QTest>
#include <QUndoStack>

#include "app/controls/choice_field.h"
#include "app/controls/labels.h"
#include "app/rehearse/days_chart.h"
#include "app/rehearse/distance_view.h"
#include "app/rehearse/plan_card.h"
#include "app/rehearse/played_view.h"
#include "app/rehearse/rehearse_stage.h"
#include "app/rehearse/stairs_view.h"
#include "app/rehearse/steps_row.h"
#include "core/io/song_json.h"
#include "core/midi/render.h"
#include "core/midi/smf.h"
#include "core/voice/notes.h"
#include "tests/app/window_fixture.h"
#include "tests/support/lanes.h"

namespace uneven::testing {
namespace {

// What was not as it should be.
std::string faults(const std::optional<Alignment>& a) {
  std::string out;
  if (!a) return "nothing was heard";
  for (const AlignedStroke& s : a->strokes) {
    if (s.state != PlayedState::kPlayed || std::abs(s.late.count()) > 15)
      out += s.at.toString() + ": " + std::to_string(static_cast<int>(s.state)) + " " +
             std::to_string(s.late.count()) + " ms; ";
  }
  return out;
}

class RehearseTest : public WindowTest {
 protected:
  void SetUp() override {
    // A bar lasts 0.8 s, so that a session does not last long.
    Song made = songOfLanes({{"hat", "x.x.x.x."}, {"snare", "..X...Xg"}, {"kick", "X...Xx.."}},
                            Beat(1, 2), 300);
    made.title = "Short";
    window->document().replace(made, {});
    showStage("rehearse");
    change([](RehearseSettings& s) {
      s.rounds = 1;
      s.countIn = 0;
      s.up = s.down = 2;
      s.by = BrokenDown::kLimb;
      // A loaded machine's silent clock wavers.
      s.limits.late = Milliseconds(80);
      s.limits.sd = Milliseconds(40);
    });
    rehearsing().setLadder(290, 300);
    QApplication::processEvents();
  }
  RehearseStage& rehearse() { return stage<RehearseStage>("rehearse"); }
  Rehearsing& rehearsing() { return rehearse().rehearsing(); }
  void key(Qt::Key k, Qt::KeyboardModifiers with = Qt::NoModifier) {
    QTest::keyClick(&rehearse().stairs(), k, with);
    QApplication::processEvents();
  }
  void simulated(Milliseconds spread, double misses = 0) {
    ASSERT_TRUE(window->playIn().setSource(QLatin1String(PlayIn::kSimulated)));
    Skill skill;
    skill.spread = spread;
    skill.misses = misses;
    rehearsing().setSkill(skill);
  }
  void change(const std::function<void(RehearseSettings&)>& how) {
    RehearseSettings changed = rehearsing().settings();
    how(changed);
    rehearsing().setSettings(changed);
  }
  // What the file has, by another reader, once all is written.
  std::vector<LoggedTime> kept() {
    EXPECT_TRUE(soon([&] { return !rehearsing().log().reading(); }));
    const auto log = PracticeLog::read(rehearsing().log().file().toStdString());
    return log ? *(*log)->all() : std::vector<LoggedTime>{};
  }
};

TEST_F(RehearseTest, ASessionFromTheFirstStepToTheNextTempoByKeysAlone) {
  simulated(Milliseconds(3));
  const std::size_t steps = rehearsing().steps().size();
  ASSERT_EQ(steps, 3U);
  EXPECT_EQ(rehearsing().step().title, "Right hand alone");
  const int undo = window->document().undoStack().count();
  // Each step twice clean, then it stops; Space goes on.
  for (std::size_t step = 0; step < steps; ++step) {
    EXPECT_EQ(rehearsing().place().step, step);
    EXPECT_EQ(rehearsing().place().rung, 0U);
    key(Qt::Key_Space);
    EXPECT_TRUE(window->transport().playing());
    ASSERT_TRUE(soon([&] { return !window->transport().playing(); }));
    EXPECT_TRUE(rehearsing().last() && rehearsing().last()->result == Through::kClean)
        << faults(rehearsing().heard());
  }
  EXPECT_EQ(rehearsing().place().step, steps - 1);
  EXPECT_EQ(rehearsing().place().rung, 1U);
  EXPECT_NEAR(rehearsing().bpm(), 292, 1e-9);
  EXPECT_NEAR(window->transport().percent(), 100 * 292 / 300.0, 1e-9);
  // What was played is the player's: within their spread of where it is written.
  ASSERT_TRUE(rehearsing().heard());
  EXPECT_NEAR(rehearsing().heard()->all.mean.count(), 0, 12);
  EXPECT_LT(rehearsing().heard()->all.sd.count(), 25);
  const auto times = kept();
  // A machine that is busy may spoil one or another: that one is played again.
  const auto clean = static_cast<std::size_t>(
      std::count_if(times.begin(), times.end(),
                    [](const LoggedTime& time) { return time.through.result == Through::kClean; }));
  ASSERT_GE(clean, 2 * steps);
  EXPECT_LE(times.size() - clean, 2U);
  for (const LoggedTime& time : times) {
    EXPECT_NEAR(time.through.bpm, 290, 1e-6);
    EXPECT_NEAR(time.through.seconds, 4 * 60 / 290.0, 1e-3);
    EXPECT_EQ(time.groove.songTitle, "Short");
  }
  EXPECT_TRUE(times.back().through.whole);
  EXPECT_FALSE(times.front().through.whole);
  EXPECT_GE(rehearse().stairs().timesOf(0).size(), 2U);
  EXPECT_TRUE(rehearse().steps().done(0));
  // Nothing of it is an edit of the song.
  EXPECT_EQ(window->document().undoStack().count(), undo);
  EXPECT_FALSE(window->document().modified());
}

TEST_F(RehearseTest, ItRunsOnIntoTheNextTempo) {
  simulated(Milliseconds(3));
  change([](RehearseSettings& s) {
    s.runOn = true;
    s.by = BrokenDown::kWhole;
  });
  key(Qt::Key_Space);
  ASSERT_TRUE(soon([&] { return rehearsing().place().rung == 2; }));
  EXPECT_TRUE(window->transport().playing());
  // Every time through was told at the tempo that it was played at.
  for (int i = 0; i < 3; ++i) {
    const auto& last = rehearsing().last();
    ASSERT_TRUE(last);
    const std::string uid = last->uid;
    EXPECT_TRUE(soon([&] { return rehearsing().last()->uid != uid; }));
    EXPECT_EQ(rehearsing().last()->result, Through::kClean) << faults(rehearsing().heard());
    EXPECT_LT(std::abs(rehearsing().last()->meanMs), 12);
  }
  key(Qt::Key_Space);
  EXPECT_FALSE(window->transport().playing());
}

TEST_F(RehearseTest, WhatIsMissedIsToldAndFallsBack) {
  simulated(Milliseconds(2), 0.5);
  change([](RehearseSettings& s) { s.by = BrokenDown::kWhole; });
  key(Qt::Key_Up);
  EXPECT_EQ(rehearsing().place().rung, 1U);
  key(Qt::Key_Space);
  ASSERT_TRUE(soon([&] { return !window->transport().playing(); }));
  EXPECT_EQ(rehearsing().place().rung, 0U);
  ASSERT_TRUE(rehearsing().heard());
  EXPECT_GT(rehearsing().heard()->missing, 0);
  int rings = 0;
  for (const PlayedStick& s : rehearse().played().scene().sticks)
    rings += s.state == PlayedState::kMissing ? 1 : 0;
  EXPECT_EQ(rings, rehearsing().heard()->missing);
  EXPECT_TRUE(child<QLabel>("rehearse-result").text().contains(QStringLiteral("missing")));
  EXPECT_TRUE(rehearse().played().accessibleDescription().contains(QStringLiteral("not played")));
}

TEST_F(RehearseTest, ByHandWhereNothingIsConnected) {
  EXPECT_EQ(rehearsing().sourceText(), QStringLiteral("by hand"));
  key(Qt::Key_C);
  EXPECT_TRUE(status().contains(QStringLiteral("Nothing has been played")));
  key(Qt::Key_Space);
  ASSERT_TRUE(soon([&] { return rehearsing().now().has_value(); }));
  key(Qt::Key_C);  // of the one that plays
  ASSERT_TRUE(soon([&] { return rehearsing().last().has_value(); }));
  EXPECT_EQ(rehearsing().last()->result, Through::kClean);
  EXPECT_EQ(rehearsing().place().clean, 1);
  key(Qt::Key_Space);
  // A mistake: the last one was not clean.
  key(Qt::Key_N);
  EXPECT_EQ(rehearsing().last()->result, Through::kNotYet);
  EXPECT_EQ(rehearsing().place().clean, 0);
  prompts.typed = QStringLiteral("left hand at 4");
  key(Qt::Key_B);
  const auto times = kept();
  ASSERT_GE(times.size(), 1U);
  EXPECT_EQ(times.front().through.result, Through::kNotYet);
  EXPECT_EQ(times.front().through.felt, "left hand at 4");
  EXPECT_EQ(times.front().through.source, "by hand");
  rehearse().showSide(RehearseStage::Side::kLog);
  EXPECT_TRUE(child<QLabel>("log-felt").text().contains(QStringLiteral("left hand at 4")));
}

TEST_F(RehearseTest, APadSaysIt) {
  change([](RehearseSettings& s) { s.pads = {100, 101, 102, 103}; });
  ASSERT_TRUE(window->playIn().setSource(QLatin1String(PlayIn::kSimulated)));
  const auto hit = [&](int note) {
    window->playIn().queue().put({std::chrono::steady_clock::now(), note, 90});
    QTest::qWait(40);
  };
  hit(102);
  EXPECT_EQ(rehearsing().place().step, 1U);
  hit(103);
  EXPECT_EQ(rehearsing().place().step, 0U);
}

TEST_F(RehearseTest, BrokenOffItIsKeptAsSuch) {
  simulated(Milliseconds(3));
  change([](RehearseSettings& s) { s.rounds = 8; });
  key(Qt::Key_Space);
  ASSERT_TRUE(soon([&] { return rehearsing().heard().has_value(); }));
  QTest::qWait(1'300);
  key(Qt::Key_Space);
  auto times = kept();
  ASSERT_EQ(times.size(), 1U);
  EXPECT_EQ(times[0].through.result, Through::kBrokenOff);
  EXPECT_GT(times[0].through.seconds, 1);
  // Broken off at once it is no time at all; nor is leaving the stage while it plays.
  key(Qt::Key_Space);
  QTest::qWait(200);
  showStage("strike");
  EXPECT_FALSE(window->transport().playing());
  EXPECT_EQ(kept().size(), 1U);
}

TEST_F(RehearseTest, TheTransportIsGivenBackAsItWas) {
  showStage("strike");
  Transport& transport = window->transport();
  transport.setPercent(70);
  transport.setRange(Transport::Range::kBar);
  transport.setCountInBars(2);
  showStage("rehearse");
  EXPECT_TRUE(transport.lent());
  EXPECT_NEAR(transport.percent(), 100 * 290 / 300.0, 1e-6);
  // What is remembered is the user's, also where the window closes here.
  transport.writeSettings(*settings);
  EXPECT_EQ(settings->value(QStringLiteral("sound/count-in")).toInt(), 2);
  EXPECT_EQ(settings->value(QStringLiteral("sound/range")).toInt(), 1);
  key(Qt::Key_Space);
  showStage("strike");
  EXPECT_EQ(transport.percent(), 70);
  EXPECT_EQ(transport.range(), Transport::Range::kBar);
  EXPECT_EQ(transport.countInBars(), 2);
  EXPECT_FALSE(transport.heard().groove.has_value());
  EXPECT_FALSE(transport.lent());
}

TEST_F(RehearseTest, TheDelayIsMeasuredAndTakenOff) {
  key(Qt::Key_L);
  EXPECT_TRUE(status().contains(QStringLiteral("MIDI from")));
  simulated(Milliseconds(1));
  Skill late;
  late.bias = Milliseconds(35);
  rehearsing().setSkill(late);
  key(Qt::Key_L);
  EXPECT_TRUE(rehearsing().measuringLatency());
  ASSERT_TRUE(soon([&] { return !rehearsing().measuringLatency(); }));
  EXPECT_NEAR(rehearsing().latency().count(), 35, 10);
  change([](RehearseSettings& s) { s.by = BrokenDown::kWhole; });
  key(Qt::Key_Space);
  ASSERT_TRUE(soon([&] { return rehearsing().last().has_value(); }));
  EXPECT_NEAR(rehearsing().last()->meanMs, 0, 12);
  EXPECT_EQ(rehearsing().last()->result, Through::kClean) << faults(rehearsing().heard());
}

TEST_F(RehearseTest, TheSongChangesWhileItPlays) {
  simulated(Milliseconds(3));
  key(Qt::Key_Space);
  ASSERT_TRUE(soon([&] { return rehearsing().now().has_value(); }));
  Song song = window->document().song();
  song.grooves[0].edit([](Groove& g) { g.hits.pop_back(); });
  window->document().apply(QStringLiteral("less"), song);
  EXPECT_FALSE(window->transport().playing());
  EXPECT_EQ(rehearsing().steps().back().groove.hits.size(), groove().hits.size());
  window->document().undoStack().undo();
  EXPECT_EQ(rehearsing().steps().back().groove.hits.size(), groove().hits.size());
  // Another song: its groove, its tempo, from the first step on.
  key(Qt::Key_Right);
  openDemo();
  EXPECT_EQ(rehearsing().place(), RehearsalPlace{});
  EXPECT_NEAR(rehearsing().ladder().to, rehearsing().songBpm(), 0.1);
}

TEST_F(RehearseTest, EveryBreakdownFillAndClickPlays) {
  openDemo();
  for (const BrokenDown by : {BrokenDown::kVoice, BrokenDown::kLimb, BrokenDown::kBeat,
                              BrokenDown::kSurface, BrokenDown::kHardSpot, BrokenDown::kWhole}) {
    change([&](RehearseSettings& s) { s.by = by; });
    EXPECT_EQ(rehearsing().steps().back().groove.hits, groove().hits);
    for (const Behind behind : {Behind::kNothing, Behind::kFreeBar, Behind::kFill}) {
      change([&](RehearseSettings& s) { s.behind = behind; });
      const auto& heard = window->transport().heard().groove;
      ASSERT_TRUE(heard.has_value());
      EXPECT_EQ((*heard)->bars % rehearsing().practised().bars, 0);
      EXPECT_LE((*heard)->bars, kBarsMax);
    }
  }
  for (const ClickPattern& click : clickPatterns()) {
    change([&](RehearseSettings& s) { s.click = click; });
    key(Qt::Key_Space);
    EXPECT_TRUE(window->transport().playing()) << click.id;
    EXPECT_TRUE(window->transport().click().pattern.has_value());
    key(Qt::Key_Space);
  }
}

TEST_F(RehearseTest, StepsAndTemposByKeysAndMouse) {
  key(Qt::Key_Right);
  key(Qt::Key_Right);
  EXPECT_EQ(rehearsing().place().step, 2U);
  key(Qt::Key_Right);
  EXPECT_EQ(rehearsing().place().step, 2U);
  key(Qt::Key_Left);
  const std::string second = rehearsing().step().title;
  key(Qt::Key_Left, Qt::AltModifier);
  EXPECT_EQ(rehearsing().steps()[0].title, second);
  EXPECT_EQ(rehearsing().place().step, 0U);
  const std::vector<Stair> stairs = rehearse().stairs().stairs();
  ASSERT_EQ(stairs.size(), 6U);
  const Rect& third = stairs[2].rect;
  QTest::mouseClick(
      &rehearse().stairs(), Qt::LeftButton, Qt::NoModifier,
      QPoint(static_cast<int>((third.left + third.right) / 2), static_cast<int>(third.bottom) - 4));
  EXPECT_EQ(rehearsing().place().rung, 2U);
  QTest::mouseClick(&rehearse().steps(), Qt::LeftButton, Qt::NoModifier,
                    rehearse().steps().cardRect(1).center().toPoint());
  EXPECT_EQ(rehearsing().place().step, 1U);
  // Beyond what the transport stretches it is said and held.
  type(child<QLineEdit>("ladder-to"), "350");
  EXPECT_NEAR(rehearsing().ladder().to, 350, 1e-6);
  type(child<QLineEdit>("ladder-from"), "30");
  EXPECT_NEAR(rehearsing().ladder().from, 75, 1e-6);
  EXPECT_TRUE(status().contains(QStringLiteral("of the song's")));
}

TEST_F(RehearseTest, FromAcrossTheKit) {
  key(Qt::Key_D);
  ASSERT_TRUE(rehearse().distance());
  auto& far = child<DistanceView>("distance");
  EXPECT_EQ(far.size(), rehearse().size());
  EXPECT_EQ(far.countText(), QStringLiteral("ready"));
  simulated(Milliseconds(3));
  key(Qt::Key_Space);
  ASSERT_TRUE(soon([&] { return rehearsing().last().has_value(); }));
  EXPECT_EQ(far.resultText(), QStringLiteral("clean"));
  EXPECT_TRUE(soon([&] {
    return QStringList({"1", "2", "3", "4", "&"}).contains(far.countText().right(1));
  })) << far.countText().toStdString();
  key(Qt::Key_Escape);
  EXPECT_FALSE(rehearse().distance());
}

TEST_F(RehearseTest, TheCautionIsShownOnceAndReachableAlways) {
  change([](RehearseSettings& s) { s.cautionRead = false; });
  showStage("strike");
  showStage("rehearse");
  ASSERT_TRUE(rehearse().cautions());
  EXPECT_TRUE(child<QWidget>("cautions").hasFocus());
  QTest::mouseClick(&child<QPushButton>("cautions-read"), Qt::LeftButton);
  EXPECT_FALSE(rehearse().cautions());
  showStage("strike");
  showStage("rehearse");
  EXPECT_FALSE(rehearse().cautions());
  rehearse().writeSettings(*settings);
  QTest::mouseClick(&child<QPushButton>("rehearse-cautions"), Qt::LeftButton);
  EXPECT_TRUE(rehearse().cautions());
  // After a restart, too.
  const auto again = makeWindow();
  auto& other = dynamic_cast<RehearseStage&>(again->showStage(QStringLiteral("rehearse")));
  EXPECT_TRUE(other.rehearsing().settings().cautionRead);
}

TEST_F(RehearseTest, TodaysSheetIsTaken) {
  rehearsing().setToday(std::chrono::sys_days(*readDate("2026-12-01")));
  change([](RehearseSettings& s) {
    s.minutes = 12;
    s.days = 10;
  });
  ASSERT_TRUE(soon([&] { return rehearsing().plan() && rehearsing().plan()->days.size() == 10; }));
  const PlanItem item = rehearsing().plan()->days[0].items[0];
  rehearse().showSide(RehearseStage::Side::kPlan);
  EXPECT_TRUE(child<QLabel>("plan-today").text().contains(qs(item.step)));
  key(Qt::Key_S);
  EXPECT_EQ(rehearsing().step().title, item.step);
  EXPECT_NEAR(rehearsing().ladder().from, item.bpmFrom, 1e-6);
  EXPECT_NEAR(rehearsing().ladder().to, item.bpmTo, 1e-6);
  EXPECT_EQ(rehearsing().settings().click.id, item.click);
  prompts.save = path("practice.ics");
  QTest::mouseClick(&child<QPushButton>("plan-calendar"), Qt::LeftButton);
  EXPECT_NE(readText(folder.file("practice.ics")).find("DTSTART;VALUE=DATE:20261201"),
            std::string::npos);
  EXPECT_TRUE(rehearse().copy());
  EXPECT_TRUE(QGuiApplication::clipboard()->text().contains(QStringLiteral("day 1, 2026-12-01")));
}

TEST_F(RehearseTest, TheLogGoesOutAndIn) {
  simulated(Milliseconds(2));
  key(Qt::Key_Space);
  ASSERT_TRUE(soon([&] { return !window->transport().playing(); }));
  const std::size_t times = kept().size();
  for (const char* name : {"log.csv", "log.json"}) {
    prompts.save = path(name);
    rehearse().askExport();
    ASSERT_TRUE(soon([&] { return std::filesystem::exists(folder.file(name)); }));
    const auto read = readPractice(readText(folder.file(name)), name);
    ASSERT_TRUE(read);
    EXPECT_EQ(read->size(), times);
    prompts.open = path(name);
    rehearse().askImport();
    EXPECT_EQ(kept().size(), times);
  }
  writeText(folder.file("bad.csv"), "uid,day\n");
  prompts.open = path("bad.csv");
  rehearse().askImport();
  EXPECT_EQ(kept().size(), times);
  EXPECT_TRUE(soon([&] { return status().contains(QStringLiteral("bad.csv:1")); }));
}

TEST_F(RehearseTest, ADamagedLogIsSaid) {
  const std::string file = folder.file("other.sqlite");
  writeText(file, std::string(5000, 'x'));
  LogDesk desk(QString::fromStdString(file), nullptr);
  QStringList said;
  QObject::connect(&desk, &LogDesk::failed, &desk, [&](const QString& why) { said << why; });
  desk.setGroove(song(), {}, groove().id);
  ASSERT_TRUE(soon([&] { return !desk.reading() && !said.isEmpty(); }));
  EXPECT_TRUE(said[0].contains(QStringLiteral("damaged-1")));
  // Where it cannot be written the session goes on, and it is said once.
  LogDesk closed(QStringLiteral("/proc/none/practice.sqlite"), nullptr);
  QObject::connect(&closed, &LogDesk::failed, &closed, [&](const QString& why) { said << why; });
  closed.setGroove(song(), {}, groove().id);
  closed.begin({});
  closed.end({});
  ASSERT_TRUE(soon([&] { return !closed.reading(); }));
  EXPECT_EQ(said.size(), 2);
}

TEST_F(RehearseTest, ATakeFromAFileIsScored) {
  const Take& take = window->document().take();
  const auto rendering = render(take, *builtInKitMap("general-midi"), {});
  writeText(folder.file("take.mid"), *writeSmf(rendering->sequence));
  prompts.open = path("take.mid");
  rehearse().askTake();
  ASSERT_TRUE(rehearsing().heard()) << status().toStdString();
  EXPECT_EQ(rehearsing().heard()->missing + rehearsing().heard()->extra, 0);
  EXPECT_TRUE(status().contains(QStringLiteral("clean"))) << status().toStdString();
  EXPECT_TRUE(kept().empty());
  writeText(folder.file("take.mid"), "no MIDI");
  rehearse().scoreTake(path("take.mid"));
  EXPECT_TRUE(status().contains(QStringLiteral("Not read")));
}

}  // namespace
}  // namespace uneven::testing
