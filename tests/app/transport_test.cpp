// SPDX-License-Identifier: GPL-3.0-or-later
// Playing in the real window: keys, button, playhead, card; pulled by hand, so that time is ours.
#include <QApplication>
#include <QCheckBox>
#include <QElapsedTimer>
#include <QLabel>
#include <QSignalSpy>
#include <QTest>

#include "app/controls/choice_field.h"
#include "app/frame/module_monitor.h"
#include "app/frame/sound_card.h"
#include "app/frame/transport_block.h"
#include "app/stage/bar_view.h"
#include "tests/app/window_fixture.h"
#include "tests/support/process.h"

namespace uneven::testing {
namespace {

constexpr double kHeard = 1e-4, kUnheard = 1e-5;  // at the level it starts with

class TransportTest : public WindowTest {
 protected:
  TransportTest() {
    outputs.device = true;
    openDemo();
    lanes().setFocus();
  }
  Transport& transport() { return window->transport(); }
  HandOutput& device() {
    EXPECT_NE(outputs.output, nullptr);
    return *outputs.output;
  }
  // Seconds go by on the device's clock, and the window looks.
  double play(double seconds) {
    const double loud = device().pull(static_cast<int>(seconds * kSoundRate));
    if (transport().playing()) QSignalSpy(&transport(), &Transport::moved).wait(1'000);
    return loud;
  }
  double playheadAt() {
    const auto& playhead = transport().playhead();
    EXPECT_TRUE(playhead);
    return playhead ? playhead->at.value() : -1;
  }
  QCheckBox& box(const char* name) { return child<QCheckBox>(name); }
  SoundCard& card() {
    press(Qt::Key_F9);
    QApplication::processEvents();
    return child<SoundCard>("sound-card");
  }
};

TEST_F(TransportTest, SpacePlaysAndStopsInEveryStage) {
  for (const char* id : {"strike", "open", "lean", "check", "deliver"}) {
    window->showStage(QString::fromLatin1(id));
    QTest::keyClick(QApplication::focusWidget(), Qt::Key_Space);
    EXPECT_TRUE(transport().playing()) << id;
    EXPECT_GT(play(0.4), kHeard) << id;
    BarView* view = window->stage(QString::fromLatin1(id)).findChild<BarView*>();
    // 92 quarters a minute: after 0.4 s it is at 0.61.
    if (view != nullptr) {
      ASSERT_TRUE(view->playhead()) << id;
      EXPECT_NEAR(view->playhead()->value(), 0.4 * 92 / 60, 0.01) << id;
    }
    QTest::keyClick(QApplication::focusWidget(), Qt::Key_Space);
    EXPECT_FALSE(transport().playing()) << id;
    (void)play(0.1);
    EXPECT_EQ(play(0.1), 0) << "all notes off";
    EXPECT_FALSE(view != nullptr && view->playhead()) << id;
  }
}

TEST_F(TransportTest, TypingASpaceStaysTypingAndEnterPutsHits) {
  auto& title = child<QLineEdit>("title");
  title.setFocus();
  QTest::keyClick(&title, Qt::Key_F2);
  QTest::keyClicks(&title, " x");
  EXPECT_FALSE(transport().playing());
  EXPECT_TRUE(title.text().contains(QStringLiteral(" x")) || title.text() == QStringLiteral(" x"));
  lanes().setFocus();
  window->editing().moveCursor(Beat(1, 4), piece::kKick);
  press(Qt::Key_Return);
  EXPECT_TRUE(hasHit(Beat(1, 4), piece::kKick));
}

TEST_F(TransportTest, TheButtonTellsWhatItDoes) {
  auto& button = child<PlayButton>("play");
  EXPECT_EQ(button.accessibleName(), QStringLiteral("Play"));
  QTest::mouseClick(&button, Qt::LeftButton);
  EXPECT_TRUE(transport().playing());
  EXPECT_EQ(button.accessibleName(), QStringLiteral("Stop"));
  EXPECT_EQ(window->transport().sound().outputName(), QStringLiteral("by hand"));
}

TEST_F(TransportTest, EachRangeGoesRoundItsOwn) {
  window->editing().moveCursor(Beat(5), piece::kHat);  // bar 2, on 2
  choose(child<ChoiceField>("range"), QStringLiteral("Bar"));
  transport().play();
  (void)play(0.3);
  EXPECT_NEAR(playheadAt(), 5 + 0.3 * 92 / 60, 0.02);
  // Four quarters last 2.609 s.
  (void)play(2.6);
  EXPECT_GE(playheadAt(), 4);
  EXPECT_LT(playheadAt(), 8);
  EXPECT_NEAR(playheadAt(), 5 + 2.9 * 92 / 60 - 4, 0.02);

  window->editing().select({{Beat(2), piece::kHat}, {Beat(5, 2), piece::kHat}});
  transport().setRange(Transport::Range::kSelection);
  (void)play(0.1);
  EXPECT_NEAR(playheadAt(), 2 + 0.1 * 92 / 60, 0.02);
  for (int i = 0; i < 8; ++i) {
    (void)play(0.13);
    EXPECT_GE(playheadAt(), 1.99);
    EXPECT_LT(playheadAt(), 2.76);
  }
}

TEST_F(TransportTest, TheSongEndsWhereItEnds) {
  transport().setLoops(false);
  transport().setRange(Transport::Range::kSong);
  window->document().chooseGroove(song().arrangement.back().groove);
  window->editing().moveCursor(Beat(0), piece::kHat);
  transport().play();
  for (int i = 0; i < 60 && transport().playing(); ++i) (void)play(1);
  EXPECT_FALSE(transport().playing());
  EXPECT_FALSE(transport().playhead());
}

TEST_F(TransportTest, ABarThatDoesNotGoRoundEndsWithItself) {
  transport().setLoops(false);
  transport().setRange(Transport::Range::kBar);
  window->editing().moveCursor(Beat(0), piece::kHat);
  transport().play();
  (void)play(2.4);  // a bar lasts 2.609 s
  EXPECT_TRUE(transport().playing());
  (void)play(0.3);
  (void)play(0.1);
  EXPECT_FALSE(transport().playing());
}

TEST_F(TransportTest, ALongSongPlaysOnceItIsLaidOut) {
  Song song = window->document().song();
  for (Section& section : song.arrangement) section.repeat = 300;
  window->document().replace(song, {});
  transport().setRange(Transport::Range::kSong);
  transport().play();
  ASSERT_TRUE(soon([&] { return transport().playing(); }));
}

TEST_F(TransportTest, AnEditIsHeardFromTheNextStrokeOn) {
  transport().play();
  EXPECT_GT(play(1), kHeard);
  press(Qt::Key_A, Qt::ControlModifier);
  press(Qt::Key_Delete);
  ASSERT_TRUE(groove().hits.empty());
  for (int i = 0; i < 6; ++i) (void)play(0.5);  // all rings out, and the room
  EXPECT_LT(play(0.5), kUnheard);
  window->document().undo();
  QApplication::processEvents();
  EXPECT_GT(play(0.5), kHeard);
  EXPECT_TRUE(transport().playing());
}

TEST_F(TransportTest, SlowerKeepsTheSong) {
  const Song before = song();
  press(Qt::Key_Down, Qt::ControlModifier | Qt::ShiftModifier);
  EXPECT_EQ(transport().percent(), 95);
  transport().setPercent(50);
  transport().play();
  (void)play(1);
  EXPECT_NEAR(playheadAt(), 0.5 * 92 / 60, 0.01);
  EXPECT_TRUE(song() == before);
  transport().setPercent(10);
  EXPECT_EQ(transport().percent(), Transport::kSlowest);
}

TEST_F(TransportTest, AHeldKeyIsHeardUntilItIsLetGo) {
  QTest::keyPress(&lanes(), Qt::Key_F5);
  EXPECT_TRUE(transport().heard().straight);
  QTest::keyRelease(&lanes(), Qt::Key_F5);
  EXPECT_FALSE(transport().heard().straight);
  QTest::keyPress(&lanes(), Qt::Key_F8, Qt::ShiftModifier);
  EXPECT_EQ(transport().listening().only, Role::kGhost);
  QTest::keyRelease(&lanes(), Qt::Key_F8);
  EXPECT_FALSE(transport().listening().only);
}

TEST_F(TransportTest, HeardStraightIsStraight) {
  Heard heard;
  heard.straight = heard.noDrift = heard.noDisplacement = true;
  const Result<SharedTake> take = Take::ofSong(heardAs(song(), heard));
  ASSERT_TRUE(take);
  for (const Stroke& s : (*take)->strokes()) {
    if (s.part != 0) continue;
    const Score::Block& block = (*take)->score().blocks[s.block];
    if ((*take)->score().feels[block.feel].swing.written == Written::kTriplet) continue;
    const Moment written =
        toMoment((*take)->score().tempo.msAt(block.start + block.groove->hits[s.hit].at));
    EXPECT_NEAR(static_cast<double>((s.time - written).count()), 0, 2) << s.bar;
  }
}

TEST_F(TransportTest, TheCardSolosAndMutes) {
  card();
  transport().play();
  QTest::mouseClick(&box("muted-Hats"), Qt::LeftButton, {}, QPoint(6, 6));
  QTest::mouseClick(&box("muted-Snare"), Qt::LeftButton, {}, QPoint(6, 6));
  QTest::mouseClick(&box("muted-Kick"), Qt::LeftButton, {}, QPoint(6, 6));
  EXPECT_EQ(transport().listening().muted.size(), 3U);
  (void)play(2);
  EXPECT_LT(play(1), kUnheard) << "nobody is heard";
  QTest::mouseClick(&box("muted-Kick"), Qt::LeftButton, {}, QPoint(6, 6));
  EXPECT_GT(play(3), kHeard);
  press(Qt::Key_Escape);
}

TEST_F(TransportTest, AMixIsTheSongsAndCanBeUndone) {
  card();
  auto& level = child<QLineEdit>("level-Kick");
  type(level, "-60");
  EXPECT_EQ(song().mixOf(piece::kKick).levelDb, -60);
  type(child<QLineEdit>("pan-Kick"), "50");
  EXPECT_EQ(song().mixOf(piece::kKick).pan, 0.5);
  Listening alone;
  alone.solo = {piece::kKick};
  transport().setListening(alone);
  transport().play();
  EXPECT_LT(play(2), kUnheard);
  window->document().undo();
  window->document().undo();
  EXPECT_TRUE(song().mixer.empty());
  QApplication::processEvents();
  EXPECT_GT(play(3), kHeard);
}

TEST_F(TransportTest, TheClickIsHeardWithoutAnyStroke) {
  window->editing().selectAll();
  press(Qt::Key_Delete);
  transport().play();
  EXPECT_EQ(play(1), 0);
  card();
  choose(child<ChoiceField>("click-unit"), QStringLiteral("Quarters"));
  EXPECT_GT(play(1), kHeard);
}

TEST_F(TransportTest, ACountInComesBeforeThePlayhead) {
  transport().setCountInBars(1);
  transport().play();
  EXPECT_GT(play(0.5), kHeard);
  ASSERT_TRUE(transport().playhead());
  EXPECT_TRUE(transport().playhead()->counting);
  EXPECT_FALSE(lanes().playhead());
  (void)play(2.2);  // a bar lasts 2.609 s
  EXPECT_FALSE(transport().playhead()->counting);
  EXPECT_NEAR(playheadAt(), 0.091 * 92 / 60, 0.01);
  EXPECT_TRUE(lanes().playhead());
}

TEST_F(TransportTest, TheMeterRisesAndFalls) {
  auto& meter = child<LevelMeter>("meter");
  transport().play();
  (void)play(1);
  EXPECT_GT(meter.shownDb(), -40);
  EXPECT_LT(meter.heldDb(), -6) << "it starts low";
  EXPECT_GE(meter.heldDb(), meter.shownDb());
}

TEST_F(TransportTest, StrokesSoundAsTheyArePut) {
  transport().setByEar(true);
  window->editing().moveCursor(Beat(1, 2), piece::kKick);
  // The first one only makes the bank be read, aside.
  press(Qt::Key_Return);
  EXPECT_EQ(outputs.output, nullptr);
  QTest::qWait(300);
  press(Qt::Key_Return);
  press(Qt::Key_Return);
  ASSERT_TRUE(soon([&] {
    if (outputs.output != nullptr) return true;
    press(Qt::Key_Period);
    return false;
  }));
  EXPECT_GT(play(0.2), kHeard) << "put";
  EXPECT_FALSE(transport().playing());
  (void)play(2);
  EXPECT_EQ(play(0.1), 0);
  press(Qt::Key_Left);  // to an empty place
  EXPECT_EQ(play(0.1), 0);
  press(Qt::Key_Right);
  EXPECT_GT(play(0.2), kHeard) << "chosen";
  (void)play(2);
  press(Qt::Key_Period);
  EXPECT_GT(play(0.2), kHeard) << "nudged";
  (void)play(2);
  transport().setByEar(false);
  press(Qt::Key_Period);
  EXPECT_EQ(play(0.2), 0);
}

TEST_F(TransportTest, ADeviceThatVanishesIsSaidAndSurvived) {
  transport().play();
  (void)play(0.1);
  EXPECT_TRUE(soon([&] { return outputs.output == nullptr; })) << "nobody pulls";
  EXPECT_EQ(transport().sound().outputName(), QStringLiteral("silent"));
  EXPECT_NE(status().indexOf(QStringLiteral("is gone")), -1) << status().toStdString();
  EXPECT_TRUE(transport().playing());
  const double before = playheadAt();
  EXPECT_TRUE(soon([&] { return transport().playhead() && playheadAt() != before; }))
      << "it goes on, silently";
}

TEST_F(TransportTest, WithoutADeviceItPlaysSilentlyAndSaysSo) {
  outputs.device = false;
  QElapsedTimer since;
  since.start();
  press(Qt::Key_Space);
  EXPECT_NE(status().indexOf(QStringLiteral("No sound device")), -1);
  ASSERT_TRUE(soon([&] { return transport().playhead() && playheadAt() > 0.2; }));
  const double at = playheadAt();
  EXPECT_LT(at, static_cast<double>(since.elapsed()) / 1000 * 92 / 60 + 0.1)
      << "not before the clock";
}

TEST_F(TransportTest, ABadBankIsRefusedAndTheHouseKitStays) {
  const std::string bad = folder.file("bad.sf2");
  writeText(bad, "RIFF\x10\0\0\0sfbkLIST");
  const Status set = transport().setBank(QString::fromStdString(bad));
  ASSERT_FALSE(set);
  EXPECT_TRUE(transport().sound().bank().isEmpty());
  transport().play();
  EXPECT_GT(play(0.5), kHeard);
}

TEST_F(TransportTest, TheCardChoosesDeviceAndBank) {
  card();
  transport().play();
  EXPECT_EQ(outputs.opened, "by hand");
  choose(child<ChoiceField>("sound-device"), QStringLiteral("The second card"));
  EXPECT_EQ(outputs.opened, "by hand:second");
  EXPECT_GT(play(0.5), kHeard);
  choose(child<ChoiceField>("sound-device"), QStringLiteral("None, silently"));
  EXPECT_EQ(outputs.output, nullptr);
  EXPECT_EQ(transport().sound().outputName(), QStringLiteral("silent"));
  transport().sound().setDriver(QStringLiteral("by hand:gone"));
  EXPECT_NE(status().indexOf(QStringLiteral("by hand:gone does not answer")), -1)
      << status().toStdString();
  press(Qt::Key_F9);  // hidden and shown again
  card();
  EXPECT_NE(child<ChoiceField>("sound-device").currentText().indexOf(QStringLiteral("not there")),
            -1);
  choose(child<ChoiceField>("sound-device"), QStringLiteral("Whatever there is"));

  const QString bank = path("clicks.sf2");
  // One of Debian's, from the packages that tests need.
  writeText(bank.toStdString(), readText("/usr/share/sounds/sf2/TimGM6mb.sf2"));
  prompts.open = bank;
  // By its place: on the way to it with the keyboard lie all banks of the machine.
  auto& field = child<ChoiceField>("sound-bank");
  Q_EMIT field.activated(field.findText(QStringLiteral("Another…")));
  EXPECT_EQ(transport().sound().bank(), bank);
  EXPECT_EQ(child<ChoiceField>("sound-bank").currentText(), QStringLiteral("clicks.sf2"));
  EXPECT_TRUE(transport().playing()) << "it goes on, with the other sounds";
  prompts.open = path("nothing.sf2");
  Q_EMIT field.activated(field.findText(QStringLiteral("Another…")));
  EXPECT_EQ(transport().sound().bank(), bank);
  EXPECT_NE(status().indexOf(QStringLiteral("nothing.sf2")), -1) << status().toStdString();
  Q_EMIT field.activated(0);
  EXPECT_TRUE(transport().sound().bank().isEmpty());
}

TEST_F(TransportTest, TheNextTakeDriftsOtherwiseAndIsHeldBeside) {
  Heard heard;
  heard.nextTake = true;
  Song song = window->document().song();
  ASSERT_FALSE(song.feels.empty());
  for (Feel& feel : song.feels) {
    feel.drift = Drift{};
    feel.drift->clock = Milliseconds(6);
    feel.drift->seed = 41;
  }
  const Song next = heardAs(song, heard);
  for (const Feel& feel : next.feels) EXPECT_EQ(feel.drift->seed, 42U);
  const auto times = [](const Song& s) {
    std::vector<Moment> out;
    const SharedTake take = *Take::ofSong(s);
    for (const Stroke& stroke : take->strokes()) out.push_back(stroke.time);
    return out;
  };
  EXPECT_NE(times(song), times(next));
  card();
  QTest::mouseClick(&box("heard-next-take"), Qt::LeftButton, {}, QPoint(6, 6));
  EXPECT_TRUE(transport().heard().nextTake);
}

// Under a swing of 3 the "e" of a beat comes three quarters through its pair.
TEST_F(TransportTest, TheCountTurnsWhereSwingPutsIt) {
  Song song = window->document().song();
  for (Feel& feel : song.feels) {
    feel.swing = {};
    feel.swing.unit = SwingUnit::kSixteenth;
    feel.swing.ratio = 3;
  }
  window->document().replace(song, {});
  transport().play();
  const double quarter = 60.0 / 92;
  (void)play(0.36 * quarter);
  EXPECT_EQ(transport().playhead()->slot, Beat(0))
      << "an e that is written at 1/4 and played at 3/8";
  (void)play(0.04 * quarter);
  EXPECT_EQ(transport().playhead()->slot, Beat(1, 4));
  (void)play(0.11 * quarter);
  EXPECT_EQ(transport().playhead()->slot, Beat(1, 2));
}

TEST_F(TransportTest, CautionIsSaidOnceAndSettingsAreKept) {
  settings->setValue(QStringLiteral("sound/cautioned"), false);
  press(Qt::Key_Space);
  QWidget* notice = nullptr;
  for (QLabel* label : window->findChildren<QLabel*>()) {
    if (label->text().contains(QStringLiteral("harms hearing")) && label->isVisible())
      notice = label;
  }
  EXPECT_NE(notice, nullptr);
  EXPECT_TRUE(settings->value(QStringLiteral("sound/cautioned")).toBool());
  transport().setLevelDb(-30);
  transport().setCountInBars(2);
  transport().setRange(Transport::Range::kBar);
  window->close();
  const auto again = makeWindow();
  EXPECT_EQ(again->transport().levelDb(), -30);
  EXPECT_EQ(again->transport().countInBars(), 2);
  EXPECT_EQ(again->transport().range(), Transport::Range::kBar);
  EXPECT_TRUE(again->transport().sound().outputName().isEmpty())
      << "nothing of sound is loaded unasked";
}

TEST_F(TransportTest, AnotherStageTakesThePlayheadOver) {
  transport().play();
  (void)play(0.5);
  showStage("lean");
  (void)play(0.1);
  const auto view = window->stage(QStringLiteral("lean")).findChild<BarView*>();
  ASSERT_TRUE(view->playhead());
  EXPECT_NEAR(view->playhead()->value(), 0.6 * 92 / 60, 0.01);
}

TEST_F(TransportTest, TheSimulatedModuleShowsWhatItHears) {
  outputs.device = false;  // on the machine's clock, as where there is nothing
  card();
  choose(child<ChoiceField>("sound-midi"), QStringLiteral("simulated module"));
  auto& monitor = child<ModuleMonitor>("module-monitor");
  EXPECT_TRUE(monitor.isVisible());
  ASSERT_NE(transport().sound().module(), nullptr);
  transport().play();
  const auto shows = [&](const QString& name) { return monitor.rowText(0).indexOf(name) != -1; };
  // The latest stroke stands on top: sooner or later it is one of the hats.
  EXPECT_TRUE(soon([&] { return shows(QStringLiteral("Closed Hi-Hat")); }))
      << monitor.rowText(0).toStdString();
  EXPECT_TRUE(soon([&] { return transport().sound().module()->count() > 2; }));
  transport().stop();
  EXPECT_TRUE(soon([&] { return transport().sound().module()->soundingNotes() == 0; }));
  // Through the song's own map, also when it becomes another.
  Song other = song();
  other.map = "house-keys";
  window->document().apply(QStringLiteral("map"), other);
  transport().play();
  EXPECT_TRUE(soon([&] { return shows(QStringLiteral("Hat shut")); }))
      << monitor.rowText(0).toStdString();
}

TEST_F(TransportTest, PadsPutHitsAtTheCursor) {
  ASSERT_TRUE(window->playIn().setSource(QLatin1String(PlayIn::kSimulated)));
  window->editing().selectAll();
  press(Qt::Key_Delete);
  window->editing().moveCursor(Beat(0), piece::kHat);
  const auto played = std::chrono::steady_clock::now();
  // Kick, snare, open hats of General MIDI, and a note of nothing.
  for (const auto& [note, velocity] : {std::pair{36, 100}, {38, 25}, {46, 80}, {99, 80}}) {
    window->playIn().queue().put({played, note, velocity});
  }
  ASSERT_TRUE(soon([&] { return groove().hits.size() == 3; }));
  EXPECT_EQ(hitAt(Beat(0), piece::kKick).velocity, Velocity(100));
  EXPECT_EQ(hitAt(Beat(1, 4), piece::kSnare).role, Role::kGhost);
  EXPECT_GT(hitAt(Beat(1, 2), piece::kHat).open, 0.1);
  EXPECT_TRUE(soon([&] { return status().indexOf("no piece in the kit map") != -1; }))
      << status().toStdString();
}

TEST_F(TransportTest, AWindowThatGoesAwayWhileRecordingLeavesNothingBehind) {
  transport().play();
  (void)play(0.1);
  window->playIn().setRecording(true);
  ASSERT_TRUE(window->playIn().recording());
  window.reset();  // as when the program is ended from outside
  EXPECT_EQ(outputs.output, nullptr);
}

TEST_F(TransportTest, WhatIsPlayedInTheCountInIsNotRecorded) {
  transport().setCountInBars(1);
  ASSERT_TRUE(window->playIn().setSource(QLatin1String(PlayIn::kSimulated)));
  window->editing().selectAll();
  press(Qt::Key_Delete);
  window->playIn().setRecording(true);
  ASSERT_TRUE(transport().playing());
  const auto strike = [&] {
    window->playIn().queue().put({std::chrono::steady_clock::now(), 38, 90});
    QTest::qWait(60);
  };
  (void)play(0.7);
  ASSERT_TRUE(transport().playhead()->counting);
  strike();
  EXPECT_TRUE(groove().hits.empty());
  (void)play(2.6);  // a bar lasts 2.609 s
  ASSERT_FALSE(transport().playhead()->counting);
  strike();
  EXPECT_TRUE(soon([&] { return !groove().hits.empty(); }));
  window->playIn().setRecording(false);
}

TEST_F(TransportTest, ASimulatedPlayerIsRecordedOverTheLoopInOneStep) {
  outputs.device = false;  // on the machine's clock
  transport().setPercent(150);
  window->editing().selectAll();
  press(Qt::Key_Delete);
  const int before = window->document().undoStack().index();
  QTest::keyClick(&lanes(), Qt::Key_R, Qt::ControlModifier | Qt::ShiftModifier);
  EXPECT_TRUE(window->playIn().recording());
  EXPECT_TRUE(transport().playing());
  // Two bars at 138 last 3.5 s; all of the plain beat has come by then.
  QTest::qWait(5'000);
  press(Qt::Key_Space);
  EXPECT_FALSE(window->playIn().recording());
  // Hats in eighths, kick and snare by turns, over two bars.
  EXPECT_GE(groove().hits.size(), 22U);
  for (const Hit& hit : groove().hits) {
    EXPECT_EQ((hit.at * Beat(2)).den(), 1) << hit.at.toString();
    EXPECT_LT(std::abs(hit.nudge.count()), 45);
  }
  EXPECT_TRUE(hasHit(Beat(1), piece::kSnare));
  EXPECT_TRUE(hasHit(Beat(6), piece::kKick));
  EXPECT_EQ(window->document().undoStack().index(), before + 1);
  window->document().undo();
  EXPECT_TRUE(groove().hits.empty());
}

}  // namespace
}  // namespace uneven::testing
