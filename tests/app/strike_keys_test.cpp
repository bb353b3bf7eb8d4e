// SPDX-License-Identifier: GPL-3.0-or-later
// The lanes under the keys, and the card.
#include <QClipboard>
#include <QComboBox>
#include <QDialog>
#include <QGuiApplication>
#include <QLabel>
#include <QLineEdit>
#include <QUndoStack>

#include "app/controls/flat_edit.h"
#include "app/edit/editing.h"
#include "tests/app/window_fixture.h"

namespace uneven::testing {
namespace {

using StrikeKeys = WindowTest;

TEST_F(StrikeKeys, BuildABarWithTheKeyboardAlone) {
  // Hats on the eighths.
  press(Qt::Key_BracketLeft);
  press(Qt::Key_BracketLeft);
  EXPECT_EQ(groove().grid, (Grid{8, 0}));
  for (int i = 0; i < 8; ++i) {
    press(Qt::Key_Return);
    press(Qt::Key_Right);
  }
  // Down to the snare; back to beat 2.
  press(Qt::Key_Home);
  press(Qt::Key_Right, Qt::ControlModifier);
  while (window->editing().cursorPiece() != piece::kSnare) press(Qt::Key_Down);
  press(Qt::Key_Return);
  press(Qt::Key_A);
  // A ghost on the a of 2, on the sixteenths.
  press(Qt::Key_BracketRight);
  press(Qt::Key_BracketRight);
  for (int i = 0; i < 3; ++i) press(Qt::Key_Right);
  press(Qt::Key_Return);
  press(Qt::Key_G);
  press(Qt::Key_Plus);
  press(Qt::Key_Period, Qt::ShiftModifier);
  press(Qt::Key_R, Qt::ControlModifier);

  ASSERT_EQ(groove().hits.size(), 20U);
  EXPECT_EQ(hitAt(Beat(1), piece::kSnare).role, Role::kAccent);
  EXPECT_EQ(hitAt(Beat(7, 4), piece::kSnare).role, Role::kGhost);
  EXPECT_EQ(hitAt(Beat(7, 4), piece::kSnare).velocity, Velocity(kGhostVelocity + 1));
  EXPECT_EQ(hitAt(Beat(7, 4), piece::kSnare).nudge, Milliseconds(10));
  EXPECT_EQ(hitAt(Beat(4) + Beat(7, 4), piece::kSnare).nudge, Milliseconds(10));
  for (int i = 0; i < 16; ++i) EXPECT_TRUE(hasHit(Beat(i, 2), piece::kHat)) << i;
}

TEST_F(StrikeKeys, TheCountFollowsTheCursor) {
  EXPECT_EQ(child<QLabel>("count").text(), "1");
  press(Qt::Key_Right);
  EXPECT_EQ(child<QLabel>("count").text(), "1 e");
  press(Qt::Key_Right, Qt::ControlModifier);
  EXPECT_EQ(child<QLabel>("count").text(), "2 e");
  choose(child<QComboBox>("grid-choice"), "1/8T");
  press(Qt::Key_Home);
  press(Qt::Key_Right);
  EXPECT_EQ(child<QLabel>("count").text(), "1 trip");
}

TEST_F(StrikeKeys, TheCursorCrossesBarLinesOfAnyMeter) {
  type(child<QLineEdit>("meter"), "7/8");
  choose(child<QComboBox>("grid-choice"), "1/8T");
  // 7/8 holds ten and a half triplet eighths: the grid starts afresh at the bar line.
  press(Qt::Key_Home);
  for (int i = 0; i < 11; ++i) press(Qt::Key_Right);
  EXPECT_EQ(window->editing().cursorAt(), Beat(7, 2));
  press(Qt::Key_Left);
  EXPECT_EQ(window->editing().cursorAt(), Beat(10, 3));
  for (int i = 0; i < 40; ++i) press(Qt::Key_Left);
  EXPECT_EQ(window->editing().cursorAt(), Beat(0));
}

TEST_F(StrikeKeys, NumbersSetVelocityAndUndoHasNames) {
  press(Qt::Key_Return);
  press(Qt::Key_3);
  EXPECT_EQ(hitAt(Beat(0), piece::kHat).velocity, Velocity(42));
  press(Qt::Key_0);
  EXPECT_EQ(hitAt(Beat(0), piece::kHat).velocity, Velocity(127));
  EXPECT_EQ(window->document().undoStack().undoText(), "Velocity 127");
  press(Qt::Key_Z, Qt::ControlModifier);
  EXPECT_EQ(hitAt(Beat(0), piece::kHat).velocity, Velocity(42));
  press(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
  EXPECT_EQ(hitAt(Beat(0), piece::kHat).velocity, Velocity(127));
  press(Qt::Key_Delete);
  EXPECT_TRUE(groove().hits.empty());
}

TEST_F(StrikeKeys, OpensHatsOnly) {
  press(Qt::Key_Return);
  press(Qt::Key_O);
  EXPECT_EQ(hitAt(Beat(0), piece::kHat).open, 0.6);
  EXPECT_EQ(hitAt(Beat(0), piece::kHat).openFor, Beat(1, 4));
  press(Qt::Key_O);
  EXPECT_EQ(hitAt(Beat(0), piece::kHat).open, 0);
  while (window->editing().cursorPiece() != piece::kKick) press(Qt::Key_Down);
  press(Qt::Key_Return);
  press(Qt::Key_O);
  EXPECT_EQ(hitAt(Beat(0), piece::kKick).open, 0);
  EXPECT_EQ(status(), "Only hits on the hats can be opened");
}

TEST_F(StrikeKeys, CopyCutAndPasteAtTheCursor) {
  openDemo();
  const std::size_t before = groove().hits.size();
  press(Qt::Key_Home);
  window->editing().select({{Beat(1), piece::kSnare}, {Beat(1), piece::kHat}});
  press(Qt::Key_X, Qt::ControlModifier);
  EXPECT_EQ(groove().hits.size(), before - 2);
  press(Qt::Key_Home);
  press(Qt::Key_V, Qt::ControlModifier);
  EXPECT_EQ(hitAt(Beat(0), piece::kSnare).stroke, StrokeKind::kRimShot);
  EXPECT_EQ(window->editing().selection().size(), 2U);
  press(Qt::Key_C, Qt::ControlModifier);
  press(Qt::Key_End);
  for (int i = 0; i < 15; ++i) press(Qt::Key_Right);
  press(Qt::Key_V, Qt::ControlModifier);
  EXPECT_TRUE(hasHit(Beat(31, 4), piece::kSnare));
}

TEST_F(StrikeKeys, DrumTabTextIsPasted) {
  QGuiApplication::clipboard()->setText("HH|x-x-x-x-|\nS |--X---X-|\n");
  press(Qt::Key_V, Qt::ControlModifier);
  EXPECT_EQ(groove().hits.size(), 6U);
  EXPECT_EQ(hitAt(Beat(1), piece::kSnare).role, Role::kAccent);
  EXPECT_EQ(status(), "Drum tab pasted: guessed 1/8 in 4/4 from 8 characters to a bar");
  QGuiApplication::clipboard()->setText("HH|x-x?x-x-|\n");
  press(Qt::Key_V, Qt::ControlModifier);
  EXPECT_EQ(groove().hits.size(), 6U);
  EXPECT_NE(status().indexOf("clipboard:1:7"), -1) << status().toStdString();
}

TEST_F(StrikeKeys, ShiftArrowsSelectWhatTheyPass) {
  openDemo();
  press(Qt::Key_Home);
  while (window->editing().cursorPiece() != piece::kHat) press(Qt::Key_Up);
  for (int i = 0; i < 3; ++i) press(Qt::Key_Right, Qt::ShiftModifier);
  EXPECT_EQ(window->editing().selection().size(), 4U);
  press(Qt::Key_A, Qt::ControlModifier);
  EXPECT_EQ(window->editing().selection().size(), groove().hits.size());
  press(Qt::Key_Escape);
  EXPECT_TRUE(window->editing().selection().empty());
}

TEST_F(StrikeKeys, TheCardShowsAndTypesEveryField) {
  openDemo();
  window->editing().moveCursor(Beat(1), piece::kSnare);
  EXPECT_EQ(child<QLineEdit>("hit-velocity").text(), "111");
  EXPECT_EQ(child<QLineEdit>("hit-position").text(), "1");
  type(child<QLineEdit>("hit-velocity"), "99");
  EXPECT_EQ(hitAt(Beat(1), piece::kSnare).velocity, Velocity(99));
  type(child<QLineEdit>("hit-nudge"), "-3.5");
  EXPECT_EQ(hitAt(Beat(1), piece::kSnare).nudge, Milliseconds(-3.5));
  choose(child<QComboBox>("hit-stroke"), "Cross-stick");
  EXPECT_EQ(hitAt(Beat(1), piece::kSnare).stroke, StrokeKind::kCrossStick);
  choose(child<QComboBox>("hit-limb"), "Right hand");
  EXPECT_EQ(hitAt(Beat(1), piece::kSnare).limb, Limb::kRightHand);
  choose(child<QComboBox>("hit-ornament"), "Flam");
  EXPECT_EQ(hitAt(Beat(1), piece::kSnare).ornament, Ornament::kFlam);
  type(child<QLineEdit>("hit-position"), "4/3");
  EXPECT_EQ(hitAt(Beat(4, 3), piece::kSnare).velocity, Velocity(99)) << "moved, still chosen";
  choose(child<QComboBox>("hit-piece"), "Rack tom");
  EXPECT_TRUE(hasHit(Beat(4, 3), piece::kTomHigh));
  window->editing().moveCursor(Beat(11, 4), piece::kHat);
  type(child<QLineEdit>("hit-open"), "45");
  type(child<QLineEdit>("hit-open-for"), "1/2");
  EXPECT_EQ(hitAt(Beat(11, 4), piece::kHat).open, 0.45);
  EXPECT_EQ(hitAt(Beat(11, 4), piece::kHat).openFor, Beat(1, 2));
}

TEST_F(StrikeKeys, TheCardIsBlankWhereHitsDiffer) {
  openDemo();
  window->editing().select({{Beat(1), piece::kSnare}, {Beat(3), piece::kSnare}});
  EXPECT_EQ(child<QLineEdit>("hit-velocity").text(), "");
  EXPECT_EQ(child<QComboBox>("hit-role").currentText(), "Accent");
  EXPECT_EQ(child<QComboBox>("hit-piece").currentText(), "Snare");
  type(child<QLineEdit>("hit-velocity"), "105");
  EXPECT_EQ(hitAt(Beat(1), piece::kSnare).velocity, Velocity(105));
  EXPECT_EQ(hitAt(Beat(3), piece::kSnare).velocity, Velocity(105));
  EXPECT_EQ(child<QLineEdit>("hit-velocity").text(), "105");
}

TEST_F(StrikeKeys, RefusesWhatCannotBeAndSaysWhatCan) {
  openDemo();
  window->editing().moveCursor(Beat(1), piece::kSnare);
  auto& velocity = child<QLineEdit>("hit-velocity");
  type(velocity, "200");
  EXPECT_EQ(hitAt(Beat(1), piece::kSnare).velocity, Velocity(111));
  EXPECT_TRUE(child<FlatEdit>("hit-velocity").wrong());
  EXPECT_NE(status().indexOf("1 to 127"), -1) << status().toStdString();
  QTest::keyClick(&velocity, Qt::Key_Escape);
  EXPECT_EQ(velocity.text(), "111");
  EXPECT_FALSE(child<FlatEdit>("hit-velocity").wrong());
  type(child<QLineEdit>("hit-position"), "9");
  EXPECT_TRUE(hasHit(Beat(1), piece::kSnare));
  EXPECT_NE(status().indexOf("below 8 quarter notes"), -1) << status().toStdString();
}

TEST_F(StrikeKeys, F1ListsTheKeys) {
  press(Qt::Key_F1);
  auto* keys = window->findChild<QDialog*>(QStringLiteral("keys"));
  ASSERT_NE(keys, nullptr);
  EXPECT_LE(keys->height(), 800) << "it fits where the window fits";
  const auto shown = [&] {
    QStringList out;
    for (const QLabel* label : keys->findChildren<QLabel*>()) {
      if (label->isVisible()) out << label->text();
    }
    return out;
  };
  EXPECT_TRUE(shown().contains("Accent"));
  EXPECT_EQ(shown().first(), "Strike") << "the stage one is in comes first";
  EXPECT_GT(shown().size(), 40);
  QTest::keyClicks(&child<QLineEdit>("keys-search"), "tap");
  EXPECT_EQ(shown(), (QStringList{"Hit menu", "T", "Tap the tempo"}));
  QTest::keyClicks(&child<QLineEdit>("keys-search"), "xyz");
  EXPECT_EQ(shown(), QStringList{"No key says that"});
  QTest::keyClick(keys, Qt::Key_Escape);
  EXPECT_FALSE(keys->isVisible());
}

}  // namespace
}  // namespace uneven::testing
