// SPDX-License-Identifier: GPL-3.0-or-later
// The Listen stage under mouse and keys.
#include <QLabel>
#include <QPushButton>
#include <QTest>
#include <QUndoStack>

#include "app/controls/choice_field.h"
#include "app/drawing/stick_painter.h"
#include "app/listen/listen_stage.h"
#include "app/listen/rows_view.h"
#include "core/io/atomic_save.h"
#include "core/midi/render.h"
#include "core/midi/smf.h"
#include "tests/app/window_fixture.h"
#include "tests/support/invented.h"
#include "tests/support/played_takes.h"

namespace uneven::testing {
namespace {

class ListenStageTest : public WindowTest {
 protected:
  void SetUp() override {
    openDemo();
    Random random(4);
    made = invent(random, 16, 3, SwingUnit::kSixteenth, 1.6);
  }
  ListenStage& listen() { return stage<ListenStage>("listen"); }
  const Fit& fitted() {
    wait();
    return *listen().listener().found();
  }
  void wait() {
    ASSERT_TRUE(
        soon([&] { return !listen().listener().reading() && !listen().listener().fitting(); }));
    QApplication::processEvents();
  }
  // As a file that was played freely: its ticks are only a clock.
  QString takeFile() {
    Song song = made.song;
    song.tempo = {{Beat(0), Bpm{made.bpm}, {}}};
    const auto rendering = render(song, builtInKitMaps().front(), {});
    EXPECT_TRUE(rendering);
    const std::string file = path("harbour take.mid").toStdString();
    EXPECT_TRUE(saveAtomically(files, file, *writeSmf(rendering->sequence)));
    return QString::fromStdString(file);
  }
  void open() {
    prompts.open = takeFile();
    showStage("listen");
    press(Qt::Key_O, Qt::ControlModifier | Qt::ShiftModifier);
    wait();
    ASSERT_NE(listen().listener().found(), nullptr);
  }
  void key(Qt::Key k, Qt::KeyboardModifiers with = Qt::NoModifier) {
    QTest::keyClick(&listen().rows(), k, with);
    wait();
  }
  QString label(const char* name) { return child<QLabel>(name).text(); }
  Invented made;
};

TEST_F(ListenStageTest, BeforeATakeThereIsNothingToUse) {
  showStage("listen");
  EXPECT_FALSE(child<QPushButton>("make-feel").isEnabled());
  key(Qt::Key_H);
  QTest::mouseClick(&listen().rows(), Qt::LeftButton, {}, {40, 100});
  listen().makeFeel();
  EXPECT_TRUE(status().contains(QStringLiteral("no beat"))) << status().toStdString();
  prompts.open.clear();
  press(Qt::Key_O, Qt::ControlModifier | Qt::ShiftModifier);
  EXPECT_FALSE(listen().listener().reading()) << "cancelled";
}

TEST_F(ListenStageTest, WhatIsFoundStandsThereWithItsError) {
  open();
  EXPECT_NEAR(fitted().bpm.value, made.bpm, 0.1);
  EXPECT_NEAR(fitted().swing.ratio, 1.6, 0.05);
  EXPECT_TRUE(label("found-tempo").contains(QStringLiteral("BPM")));
  EXPECT_TRUE(label("found-ratio").contains(QChar(0x00b1)));
  EXPECT_TRUE(label("found-snare").contains(QStringLiteral("ms")));
  EXPECT_TRUE(label("listen-status").startsWith(QStringLiteral("harbour take.mid")));
  EXPECT_TRUE(child<QPushButton>("make-feel").isEnabled());
}

TEST_F(ListenStageTest, WrongGuessesAreCorrectedByAKey) {
  open();
  const double bpm = fitted().bpm.value, start = fitted().start.count();
  const Meter meter = fitted().grid.meter;
  key(Qt::Key_H);
  EXPECT_NEAR(fitted().bpm.value, bpm / 2, 0.2);
  key(Qt::Key_D);
  EXPECT_NEAR(fitted().bpm.value, bpm, 0.2);
  QTest::mouseClick(&child<QPushButton>("start-over"), Qt::LeftButton);
  wait();
  EXPECT_EQ(fitted().bpm.value, bpm);
  key(Qt::Key_E);
  EXPECT_NEAR(fitted().start.count(), start + 30 / bpm, 0.001);
  QTest::keyClick(&listen().rows(), Qt::Key_E, Qt::ShiftModifier);
  wait();
  EXPECT_NEAR(fitted().start.count(), start, 0.001);
  key(Qt::Key_M);
  EXPECT_FALSE(fitted().grid.meter == meter);
  auto& against = child<ChoiceField>("lean-against");
  against.setCurrentIndex(against.findData(static_cast<int>(LeanAgainst::kKick)));
  Q_EMIT against.activated(against.currentIndex());
  wait();
  EXPECT_EQ(fitted().pieces.at(piece::kKick).lean.count(), 0);
}

// A half-time shuffle may be half its pulse: what else a take may be stands there, a click away.
TEST_F(ListenStageTest, ARivalReadingIsAClickOrAKeyAway) {
  showStage("listen");
  Recording recording;
  recording.file = "shuffle";
  recording.onsets = testing::playedTake("half-time shuffle", 20'001).onsets;
  Listener& listener = listen().listener();
  listener.take(std::move(recording));
  wait();
  const double bpm = fitted().bpm.value;
  const std::vector<ReadingTold> readings = listener.readings();
  ASSERT_GE(readings.size(), 2U);
  const auto isThere = [&](std::size_t i) {
    return std::abs(fitted().bpm / readings[i].bpm - 1) < 0.02 &&
           fitted().grid.meter == readings[i].meter;
  };
  std::size_t shown = readings.size();
  for (std::size_t i = 0; i < readings.size(); ++i) {
    const auto* button = window->findChild<QPushButton*>(QStringLiteral("reading-%1").arg(i));
    if (button != nullptr && shown == readings.size()) shown = i;
  }
  ASSERT_LT(shown, readings.size()) << "none is offered";
  QTest::mouseClick(&child<QPushButton>(qPrintable(QStringLiteral("reading-%1").arg(shown))),
                    Qt::LeftButton);
  QApplication::processEvents();
  wait();
  EXPECT_TRUE(isThere(shown)) << fitted().bpm.value;
  EXPECT_EQ(listener.readings().size(), readings.size()) << "what was found stays offered";
  key(Qt::Key_A);
  EXPECT_TRUE(isThere((shown + 1) % readings.size())) << fitted().bpm.value;
  QTest::mouseClick(&child<QPushButton>("start-over"), Qt::LeftButton);
  wait();
  EXPECT_EQ(fitted().bpm.value, bpm);
  key(Qt::Key_S);
  EXPECT_TRUE(fitted().grid.steady);
  EXPECT_EQ(fitted().marks.size(), 1U);
  key(Qt::Key_S);
  EXPECT_FALSE(listener.wanted().where.steady);
}

TEST_F(ListenStageTest, BarsAndStrokesAreChosenByHand) {
  open();
  const double start = fitted().start.count(), bar = 240 / fitted().bpm.value;
  QTest::mouseClick(&listen().rows(), Qt::LeftButton, {},
                    qr(listen().rows().shown().numberRect(2)).center().toPoint());
  wait();
  EXPECT_NEAR(fitted().start.count(), start + 2 * bar, 0.01);
  key(Qt::Key_Up);
  key(Qt::Key_Return);
  EXPECT_NEAR(fitted().start.count(), start + bar, 0.01);
  const int used = fitted().used;
  // A stroke by itself: some hats of bar 2.
  std::size_t alone = 0;
  for (std::size_t i = 0; i < fitted().placed.size(); ++i) {
    const Placed& p = fitted().placed[i];
    if (p.bar == 1 && p.at == Beat(1, 4)) alone = i;
  }
  const QPoint at = listen().rows().pointOf(alone).toPoint();
  QTest::mouseClick(&listen().rows(), Qt::LeftButton, {}, at);
  wait();
  EXPECT_EQ(fitted().used, used - 1);
  QTest::mouseClick(&listen().rows(), Qt::LeftButton, {}, at);
  wait();
  EXPECT_EQ(fitted().used, used);
  key(Qt::Key_Delete);
  EXPECT_LT(fitted().used, used - 10) << "a bar";
  key(Qt::Key_Delete);
  EXPECT_EQ(fitted().used, used);
  // Several bars at once, and only those.
  QTest::keyClick(&listen().rows(), Qt::Key_Down, Qt::ShiftModifier);
  key(Qt::Key_Down, Qt::ShiftModifier);
  const auto [from, to] = listen().rows().chosenBars();
  EXPECT_EQ(to - from, 2);
  key(Qt::Key_O);
  EXPECT_LT(fitted().used, used / 3);
  EXPECT_GT(fitted().used, used / 8);
  QTest::mouseClick(&child<QPushButton>("start-over"), Qt::LeftButton);
  wait();
  // The same by keys: a stroke, and the beat by milliseconds.
  key(Qt::Key_Right);
  key(Qt::Key_Right);
  ASSERT_TRUE(listen().rows().currentStroke());
  key(Qt::Key_L);
  EXPECT_EQ(fitted().used, used - 1);
  key(Qt::Key_L);
  EXPECT_EQ(fitted().used, used);
  const double begins = fitted().start.count();
  key(Qt::Key_Period);
  EXPECT_NEAR(fitted().start.count(), begins + 0.001, 1e-6);
  key(Qt::Key_Less, Qt::ShiftModifier);
  EXPECT_NEAR(fitted().start.count(), begins - 0.009, 1e-6);
  // The counts are dragged: the beat moves.
  const double there = fitted().start.count();
  const QPoint head(static_cast<int>(listen().rows().shown().axis.xFromQuarters(1)), 40);
  QTest::mousePress(&listen().rows(), Qt::LeftButton, {}, head);
  QTest::mouseMove(&listen().rows(), head + QPoint(30, 0));
  QTest::mouseRelease(&listen().rows(), Qt::LeftButton, {}, head + QPoint(30, 0));
  wait();
  EXPECT_GT(fitted().start.count(), there + 0.03);
}

TEST_F(ListenStageTest, WhatIsFoundIsMadeAFeelATempoAndAGroove) {
  open();
  const Song before = song();
  QTest::mouseClick(&child<QPushButton>("make-feel"), Qt::LeftButton);
  const std::string feel = feelInForce(song(), window->document().grooveId());
  ASSERT_NE(song().findFeel(feel), nullptr);
  EXPECT_EQ(song().findFeel(feel)->name, "harbour take");
  EXPECT_NEAR(song().findFeel(feel)->swing.ratio, 1.6, 0.05);
  QTest::mouseClick(&child<QPushButton>("follow-tempo"), Qt::LeftButton);
  EXPECT_NEAR(song().tempo.front().bpm.value, made.bpm, 0.1);
  QTest::mouseClick(&child<QPushButton>("make-groove"), Qt::LeftButton);
  EXPECT_EQ(groove().name, "harbour take");
  EXPECT_EQ(groove().hits.size(), made.song.grooves.front()->hits.size());
  for (int i = 0; i < 3; ++i) window->document().undo();
  EXPECT_TRUE(song() == before);
}

TEST_F(ListenStageTest, WhatCannotBeReadIsSaidAndNothingIsLost) {
  open();
  const int used = fitted().used;
  const std::string bad = path("bad.ogg").toStdString();
  ASSERT_TRUE(saveAtomically(files, bad, "no sound at all"));
  prompts.open = QString::fromStdString(bad);
  press(Qt::Key_O, Qt::ControlModifier | Qt::ShiftModifier);
  wait();
  EXPECT_TRUE(status().contains(QStringLiteral("bad.ogg"))) << status().toStdString();
  EXPECT_EQ(fitted().used, used);
  // Given up.
  prompts.open = takeFile();
  listen().askForTake();
  listen().listener().cancel();
  wait();
  EXPECT_NE(listen().listener().found(), nullptr);
}

}  // namespace
}  // namespace uneven::testing
