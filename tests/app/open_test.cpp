// SPDX-License-Identifier: GPL-3.0-or-later
// The Open stage under mouse and keys.
#include <QComboBox>
#include <QLineEdit>
#include <QPushButton>
#include <QUndoStack>

#include "app/open/open_stage.h"
#include "app/open/open_view.h"
#include "app/open/walk_card.h"
#include "core/check/finding.h"
#include "core/midi/smf.h"
#include "tests/app/window_fixture.h"

namespace uneven::testing {
namespace {

class OpenTest : public WindowTest {
 protected:
  // Sixteenths on the hats, and the Open stage.
  void SetUp() override {
    window->editing().grooves().runTool("ostinato", {{"kind", "sixteenths"}});
    press(Qt::Key_3, Qt::AltModifier);
    QApplication::processEvents();
  }
  OpenView& view() { return child<OpenView>("open-view"); }
  QPoint at(double x, double opening) {
    return {static_cast<int>(std::lround(x)),
            static_cast<int>(std::lround(view().scene().yOf(opening)))};
  }
  // No stroke of the hand in from <= at < to.
  void clear(Beat from, Beat to) {
    Selection there;
    for (const Hit& hit : groove().hits) {
      if (hit.at >= from && hit.at < to) there.insert({hit.at, hit.piece});
    }
    window->editing().select(there);
    window->editing().hits().removeSelected();
  }
  double lineX(Beat slot) {
    for (const GridLine& line : view().scene().lines) {
      if (line.at == slot) return line.x;
    }
    return -1;
  }
  void dragView(QPoint from, QPoint to, Qt::KeyboardModifiers modifiers = Qt::NoModifier) {
    QTest::mousePress(&view(), Qt::LeftButton, modifiers, from);
    for (int i = 1; i <= 6; ++i) {
      const QPoint p = from + (to - from) * i / 6;
      QMouseEvent move(QEvent::MouseMove, p, view().mapToGlobal(p), Qt::NoButton, Qt::LeftButton,
                       modifiers);
      QApplication::sendEvent(&view(), &move);
    }
    QTest::mouseRelease(&view(), Qt::LeftButton, modifiers, to);
  }
  void key(Qt::Key key, Qt::KeyboardModifiers modifiers = Qt::NoModifier) {
    view().setFocus();
    QTest::keyClick(&view(), key, modifiers);
  }
};

TEST_F(OpenTest, TheEdgeIsGrabbedAndItsEndDragged) {
  const int steps = window->document().undoStack().count();
  // Up from shut hats on the & of 1: a bark.
  dragView(at(lineX(Beat(1, 2)), 0), at(lineX(Beat(1, 2)), 0.5));
  EXPECT_NEAR(hitAt(Beat(1, 2), piece::kHat).open, 0.5, 0.02);
  EXPECT_EQ(hitAt(Beat(1, 2), piece::kHat).openFor, Beat(1, 4));
  EXPECT_EQ(window->document().undoStack().count(), steps + 1) << "one drag, one step";
  // Further open by its height.
  ASSERT_EQ(view().scene().grips.size(), 1U);
  const OpeningGrip grip = view().scene().grips[0];
  dragView({static_cast<int>(grip.from + 4), static_cast<int>(grip.y)}, at(grip.from + 4, 0.8));
  EXPECT_NEAR(hitAt(Beat(1, 2), piece::kHat).open, 0.8, 0.02);
  // Longer by its end, which snaps to the grid.
  dragView(at(grip.to, 0.1), at(lineX(Beat(5, 4)) + 5, 0.1));
  EXPECT_EQ(hitAt(Beat(1, 2), piece::kHat).openFor, Beat(3, 4));
  key(Qt::Key_Delete);
  EXPECT_EQ(hitAt(Beat(1, 2), piece::kHat).open, 0);
}

TEST_F(OpenTest, EscapeGivesADragUp) {
  const int steps = window->document().undoStack().count();
  QTest::mousePress(&view(), Qt::LeftButton, Qt::NoModifier, at(lineX(Beat(1, 2)), 0));
  const QPoint p = at(lineX(Beat(1, 2)), 0.9);
  QMouseEvent move(QEvent::MouseMove, p, view().mapToGlobal(p), Qt::NoButton, Qt::LeftButton,
                   Qt::NoModifier);
  QApplication::sendEvent(&view(), &move);
  EXPECT_GT(hitAt(Beat(1, 2), piece::kHat).open, 0);
  key(Qt::Key_Escape);
  EXPECT_EQ(hitAt(Beat(1, 2), piece::kHat).open, 0);
  EXPECT_EQ(window->document().undoStack().count(), steps);
  QTest::mouseRelease(&view(), Qt::LeftButton, Qt::NoModifier, p);
  EXPECT_EQ(hitAt(Beat(1, 2), piece::kHat).open, 0);
}

TEST_F(OpenTest, TheKeysDoTheSame) {
  window->editing().moveCursor(Beat(0), piece::kHat);
  key(Qt::Key_Right);
  key(Qt::Key_Right);
  key(Qt::Key_Up);
  key(Qt::Key_Up);
  EXPECT_NEAR(hitAt(Beat(1, 2), piece::kHat).open, 0.1, 1e-9);
  key(Qt::Key_Right, Qt::ShiftModifier);
  EXPECT_EQ(hitAt(Beat(1, 2), piece::kHat).openFor, Beat(1, 2));
  key(Qt::Key_Left, Qt::ShiftModifier);
  EXPECT_EQ(hitAt(Beat(1, 2), piece::kHat).openFor, Beat(1, 4));
  type(child<QLineEdit>("open-amount"), "65");
  EXPECT_NEAR(hitAt(Beat(1, 2), piece::kHat).open, 0.65, 1e-9);
  choose(child<QComboBox>("open-length-choice"), "Until the next stroke");
  EXPECT_EQ(hitAt(Beat(1, 2), piece::kHat).openFor, Beat(0));
}

TEST_F(OpenTest, ThePumpIsSwitchedAndShaped) {
  choose(child<QComboBox>("pump-kind"), "On the offbeats");
  type(child<QLineEdit>("pump-lift"), "60");
  ASSERT_TRUE(groove().pedal && groove().pedal->pump);
  EXPECT_EQ(groove().pedal->pump->phase, PumpPhase::kOff);
  const auto openings = [&] {
    std::string out;
    for (std::size_t i = 0; i < 4; ++i) {
      out += std::to_string(
                 std::lround(100 * window->document().take().strokes()[i].opening.value())) +
             " ";
    }
    return out;
  };
  EXPECT_EQ(openings(), "60 30 0 30 ");
  dragView(at(lineX(Beat(1, 4)), 0.3), at(lineX(Beat(1, 4)), 0.4), Qt::AltModifier);
  EXPECT_NEAR(groove().pedal->pump->lift, 0.4, 0.02);
  // A press taken off the strip at the foot: every & but the first.
  const OpenScene& scene = view().scene();
  ASSERT_TRUE(scene.pump[1].pressed);
  QTest::mouseClick(&view(), Qt::LeftButton, Qt::NoModifier,
                    {static_cast<int>(scene.pump[1].x), static_cast<int>(scene.pumpY)});
  EXPECT_EQ(groove().pedal->pump->cell, "...x.x.x");
}

TEST_F(OpenTest, TheFootStrikesWhereItsLineIsClicked) {
  window->editing().moveCursor(Beat(1, 2), piece::kHat);
  const QPoint foot(static_cast<int>(std::lround(lineX(Beat(1)))),
                    static_cast<int>(std::lround(view().scene().feet.top + 12)));
  QTest::mouseClick(&view(), Qt::LeftButton, Qt::NoModifier, foot);
  EXPECT_TRUE(hasHit(Beat(1), piece::kHatFoot));
  EXPECT_EQ(window->editing().cursorPiece(), piece::kHat);
  EXPECT_EQ(window->editing().cursorAt(), Beat(1, 2)) << "the chosen stroke stays chosen";
  const auto& sounds = window->document().take().performance().pedal.sounds;
  ASSERT_EQ(sounds.size(), 1U);
  EXPECT_TRUE(sounds[0].written);
  QTest::mouseClick(&view(), Qt::LeftButton, Qt::NoModifier, foot);
  EXPECT_FALSE(hasHit(Beat(1), piece::kHatFoot));
  key(Qt::Key_F);
  EXPECT_TRUE(hasHit(Beat(1, 2), piece::kHatFoot));
  key(Qt::Key_F);
  EXPECT_FALSE(hasHit(Beat(1, 2), piece::kHatFoot));
}

TEST_F(OpenTest, DrawnOverAStrokeItIsThatStrokesOwn) {
  const int steps = window->document().undoStack().count();
  dragView(at(lineX(Beat(2)), 0.4), at(lineX(Beat(5, 2)), 0.4), Qt::ControlModifier);
  EXPECT_NEAR(hitAt(Beat(2), piece::kHat).open, 0.4, 0.02);
  EXPECT_EQ(hitAt(Beat(2), piece::kHat).openFor, Beat(1, 2));
  EXPECT_TRUE(!groove().pedal || groove().pedal->moves.empty());
  EXPECT_EQ(window->document().undoStack().count(), steps + 1);
}

TEST_F(OpenTest, AnOpeningWithoutAStrokeIsDrawn) {
  clear(Beat(2), Beat(5, 2));
  dragView(at(lineX(Beat(2)), 0.4), at(lineX(Beat(5, 2)), 0.4), Qt::ControlModifier);
  ASSERT_TRUE(groove().pedal);
  ASSERT_EQ(groove().pedal->moves.size(), 1U);
  EXPECT_EQ(groove().pedal->moves[0].at, Beat(2));
  EXPECT_EQ(groove().pedal->moves[0].length, Beat(1, 2));
  EXPECT_NEAR(groove().pedal->moves[0].open, 0.4, 0.02);
}

TEST_F(OpenTest, ADrawnOpeningIsChosenTypedMovedAndTakenAway) {
  clear(Beat(2), Beat(11, 4));
  dragView(at(lineX(Beat(2)), 0.4), at(lineX(Beat(5, 2)), 0.4), Qt::ControlModifier);
  ASSERT_EQ(window->editing().drawn(), Beat(2)) << "what has just been drawn is chosen";
  EXPECT_EQ(child<QLineEdit>("open-start").text(), "2");
  const auto move = [&] { return groove().pedal->moves.at(0); };
  type(child<QLineEdit>("open-amount"), "55");
  EXPECT_NEAR(move().open, 0.55, 1e-9);
  type(child<QLineEdit>("open-length"), "3/4");
  EXPECT_EQ(move().length, Beat(3, 4));
  type(child<QLineEdit>("open-start"), "9/4");
  EXPECT_EQ(move().at, Beat(9, 4));
  EXPECT_EQ(window->editing().drawn(), Beat(9, 4)) << "and stays chosen";
  // Sideways by its round handle, further open by the same drag; one step.
  const int steps = window->document().undoStack().count();
  ASSERT_EQ(view().scene().grips.size(), 1U);
  const OpeningGrip grip = view().scene().grips[0];
  dragView({static_cast<int>(std::lround(grip.from)), static_cast<int>(std::lround(grip.y))},
           at(lineX(Beat(5, 2)), 0.8));
  EXPECT_EQ(move().at, Beat(5, 2));
  EXPECT_NEAR(move().open, 0.8, 0.02);
  EXPECT_EQ(window->document().undoStack().count(), steps + 1);
  // Keys: chosen by walking, opened, shut later, taken away.
  window->editing().moveCursor(Beat(3, 2), piece::kHat);
  key(Qt::Key_Right);
  EXPECT_FALSE(window->editing().drawn()) << "the stroke on the a comes first";
  key(Qt::Key_Right);
  EXPECT_EQ(window->editing().drawn(), Beat(5, 2));
  const double before = move().open;
  key(Qt::Key_Down);
  EXPECT_NEAR(move().open, before - 0.05, 1e-9);
  key(Qt::Key_Right, Qt::ShiftModifier);
  EXPECT_EQ(move().length, Beat(1));
  type(child<QLineEdit>("open-start"), "99");
  EXPECT_EQ(move().at, Beat(5, 2)) << "not in the groove: refused";
  EXPECT_TRUE(status().contains("99"));
  key(Qt::Key_Delete);
  EXPECT_TRUE(groove().pedal->moves.empty());
  EXPECT_FALSE(window->editing().drawn());
}

TEST_F(OpenTest, TheEndOfAnOpeningSnapsToStrokesOffTheGrid) {
  Song song = window->document().song();
  song.grooves[0].edit([](Groove& g) {
    Hit extra;
    extra.at = Beat(7, 8);  // a thirty-second before the 2
    extra.piece = piece::kHat;
    g = withHit(std::move(g), extra);
  });
  window->document().apply("an extra stroke", song);
  dragView(at(lineX(Beat(1, 2)), 0), at(lineX(Beat(1, 2)), 0.5));
  const OpeningGrip grip = view().scene().grips.at(0);
  double x = 0;
  for (const HatStrokeShape& hit : view().scene().hits) {
    if (hit.ref.at == Beat(7, 8)) x = hit.x;
  }
  dragView(at(grip.to, 0.1), at(x, 0.1));
  EXPECT_EQ(hitAt(Beat(1, 2), piece::kHat).openFor, Beat(3, 8));
}

TEST_F(OpenTest, DegreesOfTheKitMapAreChosenByName) {
  window->editing().moveCursor(Beat(1, 2), piece::kHat);
  auto& degree = child<QComboBox>("open-degree");
  QStringList names;
  for (int i = 0; i < degree.count(); ++i) names << degree.itemText(i);
  EXPECT_EQ(names.join(" "), "tight shut quarter half three quarters wide");
  EXPECT_EQ(degree.currentText(), "tight");
  choose(degree, "half");
  EXPECT_NEAR(hitAt(Beat(1, 2), piece::kHat).open, 0.48, 1e-9) << "the middle of 0.35 to 0.6";
  EXPECT_EQ(degree.currentText(), "half");
  choose(degree, "tight");
  EXPECT_EQ(hitAt(Beat(1, 2), piece::kHat).open, 0);
}

TEST_F(OpenTest, HandAndFootAreExchangedOnTheStrokeThatShuts) {
  window->editing().moveCursor(Beat(1, 2), piece::kHat);
  window->editing().pedal().openTo(0.6, {});
  auto& by = child<QComboBox>("open-shut-by");
  EXPECT_EQ(by.currentText(), "The hand");
  const std::size_t hits = groove().hits.size();
  choose(by, "The foot");
  EXPECT_EQ(hitAt(Beat(3, 4), piece::kHatFoot).at, Beat(3, 4));
  EXPECT_FALSE(indexOf(groove(), {Beat(3, 4), piece::kHat}));
  EXPECT_EQ(by.currentText(), "The foot");
  EXPECT_TRUE(hatFindings(window->document().take()).empty());
  choose(by, "The hand");
  EXPECT_TRUE(indexOf(groove(), {Beat(3, 4), piece::kHat}));
  EXPECT_EQ(groove().hits.size(), hits);
  window->editing().moveCursor(Beat(1), piece::kHat);
  EXPECT_FALSE(by.isEnabled()) << "a shut stroke is shut by nothing";
}

TEST_F(OpenTest, AllIsMendedInOneStep) {
  type(child<QLineEdit>("tempo"), "300");
  type(child<QLineEdit>("pedal-travel"), "200");
  for (const Beat at : {Beat(1, 2), Beat(2), Beat(3)}) {
    window->editing().moveCursor(at, piece::kHat);
    window->editing().pedal().openTo(0.9, {});
  }
  stage<OpenStage>("open").showSide(OpenStage::Side::kFindings);
  QApplication::processEvents();
  const auto findings = [&] { return hatFindings(window->document().take()).size(); };
  ASSERT_GT(findings(), 4U);
  const int steps = window->document().undoStack().count();
  QTest::mouseClick(&child<QPushButton>("mend-all"), Qt::LeftButton);
  EXPECT_EQ(findings(), 0U);
  EXPECT_EQ(window->document().undoStack().count(), steps + 1);
  for (const Beat at : {Beat(1, 2), Beat(2), Beat(3)}) {
    EXPECT_GT(hitAt(at, piece::kHat).open, 0) << "mended, not taken away";
  }
}

TEST_F(OpenTest, TheEightPlacementsAreWalkedMarkedAndOneIsKept) {
  key(Qt::Key_W);
  auto& walk = stage<OpenStage>("open").walk();
  ASSERT_TRUE(walk.current());
  EXPECT_EQ(walk.current()->key, "7/4 for 1") << "from the last to the first";
  std::vector<std::string> walked;
  for (int i = 0; i < 8; ++i) {
    walked.push_back(walk.current()->key);
    EXPECT_EQ(view().scene().grips.size(), 1U) << "shown over the same groove";
    key(i % 2 == 0 ? Qt::Key_1 : Qt::Key_3);
    if (i < 7) key(Qt::Key_Right);
  }
  EXPECT_EQ(walked.back(), "0 for 1");
  EXPECT_EQ(groove().walk.size(), 8U);
  for (const Hit& hit : groove().hits) EXPECT_EQ(hit.open, 0) << "nothing is kept yet";
  key(Qt::Key_Left);
  key(Qt::Key_Return);
  EXPECT_NEAR(hitAt(Beat(1, 4), piece::kHat).open, 0.6, 1e-9);
  EXPECT_FALSE(walk.current());
  // The marks are kept with the song.
  ASSERT_TRUE(window->document().save(path("walk.ustick")));
  window->fileDesk().openPath(path("walk.ustick"));
  EXPECT_EQ(groove().walk.size(), 8U);
}

TEST_F(OpenTest, AWalkHasItsSpanItsNotesAndAnEnd) {
  key(Qt::Key_W);
  auto& walk = stage<OpenStage>("open").walk();
  type(child<QLineEdit>("walk-from"), "1");
  type(child<QLineEdit>("walk-to"), "3/2");
  ASSERT_TRUE(walk.current());
  EXPECT_EQ(walk.current()->key, "5/4 for 1") << "begun anew in its span";
  type(child<QLineEdit>("walk-open"), "35");
  EXPECT_NEAR(view().scene().openingAt(view().scene().grips.at(0).y), 0.35, 0.01);
  // A word is kept with the mark, and shown again on coming back.
  type(child<QLineEdit>("walk-note"), "drags");
  key(Qt::Key_2);
  ASSERT_EQ(groove().walk.size(), 1U);
  EXPECT_EQ(groove().walk[0].note, "drags");
  EXPECT_EQ(groove().walk[0].mark, WalkMark::kAwkward);
  key(Qt::Key_Right);
  EXPECT_EQ(child<QLineEdit>("walk-note").text(), "");
  key(Qt::Key_Right);
  key(Qt::Key_Right);
  key(Qt::Key_Right);
  EXPECT_EQ(walk.current()->key, "1 for 2") << "the last of three: it goes no further";
  key(Qt::Key_Left);
  key(Qt::Key_Left);
  EXPECT_EQ(child<QLineEdit>("walk-note").text(), "drags");
  // Spans that are none.
  type(child<QLineEdit>("walk-to"), "1/2");
  EXPECT_FALSE(walk.current());
  EXPECT_TRUE(status().contains("span")) << status().toStdString();
  type(child<QLineEdit>("walk-to"), "abc");
  EXPECT_TRUE(status().contains("abc")) << status().toStdString();
  type(child<QLineEdit>("walk-to"), "2");
  EXPECT_TRUE(walk.current());
  key(Qt::Key_Escape);
  EXPECT_FALSE(walk.current());
  for (const Hit& hit : groove().hits) EXPECT_EQ(hit.open, 0) << "nothing was kept";
}

TEST_F(OpenTest, FindingsAreMendedInOneClick) {
  type(child<QLineEdit>("tempo"), "400");
  window->editing().moveCursor(Beat(1, 2), piece::kHat);
  window->editing().pedal().openTo(1, {});
  stage<OpenStage>("open").showSide(OpenStage::Side::kFindings);
  QApplication::processEvents();
  for (int round = 0; round < 6; ++round) {
    auto* mend = window->findChild<QPushButton*>(QStringLiteral("mend-0"));
    if (mend == nullptr) break;
    QTest::mouseClick(mend, Qt::LeftButton);
    QApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
    QApplication::processEvents();
  }
  EXPECT_TRUE(hatFindings(window->document().take()).empty());
  EXPECT_GT(hitAt(Beat(1, 2), piece::kHat).open, 0) << "mended, not taken away";
}

TEST_F(OpenTest, TheFileCarriesThePedal) {
  dragView(at(lineX(Beat(1, 2)), 0), at(lineX(Beat(1, 2)), 0.7));
  prompts.save = path("hats.mid");
  press(Qt::Key_E, Qt::ControlModifier);
  for (int i = 0; i < 200 && !files.read(path("hats.mid").toStdString()); ++i) QTest::qWait(10);
  const Result<std::string> bytes = files.read(path("hats.mid").toStdString());
  ASSERT_TRUE(bytes);
  const Result<MidiSequence> midi = readSmf(*bytes, "hats.mid");
  ASSERT_TRUE(midi);
  std::vector<int> controller;
  std::vector<int> notes;
  for (const MidiEvent& e : midi->tracks[1].events) {
    if ((e.status & 0xF0) == 0xB0 && e.data1 == 4) controller.push_back(e.data2);
    if (e.isNoteOn()) notes.push_back(e.data1);
  }
  ASSERT_EQ(controller.size(), 5U) << "down, setting out, open, coming down, shut";
  EXPECT_EQ(controller.front(), 127);
  EXPECT_NEAR(controller[2], 127 * 0.3, 3);
  EXPECT_EQ(controller.back(), 127);
  EXPECT_EQ(notes[1], 42);
  EXPECT_EQ(notes[2], 46);
  EXPECT_EQ(notes[3], 42);
}

}  // namespace
}  // namespace uneven::testing
