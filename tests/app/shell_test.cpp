// SPDX-License-Identifier: GPL-3.0-or-later
// What frames the stages: rail, tabs, tooltips, the lanes' kept picture.
#include <QApplication>
#include <QHelpEvent>
#include <QLabel>
#include <QStyle>
#include <QToolTip>

#include "app/controls/theme.h"
#include "app/controls/word_tabs.h"
#include "app/frame/stage_rail.h"
#include "app/lean/lean_stage.h"
#include "app/open/open_stage.h"
#include "app/stage/bar_view.h"
#include "app/strike/strike_stage.h"
#include "core/song/edit.h"
#include "tests/app/window_fixture.h"

namespace uneven::testing {
namespace {

class ShellTest : public WindowTest {
 protected:
  StageRail& rail() { return *window->findChild<StageRail*>(); }
  QString tipAt(QWidget& widget, QPoint p) {
    QToolTip::hideText();
    QHelpEvent help(QEvent::ToolTip, p, widget.mapToGlobal(p));
    QApplication::sendEvent(&widget, &help);
    return QToolTip::text();
  }
};

TEST_F(ShellTest, TheRailIsClickedAndWalkedByKeys) {
  auto* strike = window->findChild<StrikeStage*>();
  const QPoint second(30, 129);  // below Strike
  QTest::mouseClick(&rail(), Qt::LeftButton, Qt::NoModifier, second);
  EXPECT_TRUE(stage<OpenStage>("open").isVisible());
  EXPECT_FALSE(strike->isVisible());
  rail().setFocus();
  QTest::keyClick(&rail(), Qt::Key_Down);
  EXPECT_TRUE(window->findChild<LeanStage*>()->isVisible());
  rail().setFocus();
  QTest::keyClick(&rail(), Qt::Key_Up);
  rail().setFocus();
  QTest::keyClick(&rail(), Qt::Key_Up);
  EXPECT_TRUE(strike->isVisible());
  rail().setFocus();
  QTest::keyClick(&rail(), Qt::Key_Up);
  rail().setFocus();
  QTest::keyClick(&rail(), Qt::Key_Up);
  EXPECT_FALSE(strike->isVisible()) << "the first stays the first";
  EXPECT_TRUE(tipAt(rail(), second).contains("Alt+3")) << QToolTip::text().toStdString();
}

TEST_F(ShellTest, TheTabsAreWalkedByKeysAndExplainThemselves) {
  auto& tabs = child<WordTabs>("side-tabs");
  tabs.setFocus();
  QTest::keyClick(&tabs, Qt::Key_Right);
  EXPECT_TRUE(child<QWidget>("tool-panel").isVisible());
  tabs.setFocus();
  QTest::keyClick(&tabs, Qt::Key_Left);
  EXPECT_FALSE(child<QWidget>("tool-panel").isVisible());
  QStringList tips;
  for (int i = 0; i < 4; ++i) tips << tipAt(tabs, {tabs.width() * (2 * i + 1) / 8, 8});
  EXPECT_EQ(tips.removeDuplicates(), 0) << "each has a tip of its own";
  EXPECT_FALSE(tips.contains(QString()));
}

TEST_F(ShellTest, AStickTellsWhatItIs) {
  openDemo();
  EXPECT_EQ(tipAt(lanes(), headPoint(Beat(1), piece::kSnare)).toStdString(),
            "Snare on 2: accent, velocity 111, 11.0 ms late");
}

TEST_F(ShellTest, TheKeptPictureOfTheLanesIsTheDrawnOne) {
  openDemo();
  lanes().clearFocus();
  // A picture that has just become stale is drawn at once, the next comes from the kept one.
  lanes().setPxPerMs(1.5 * lanes().pxPerMs());
  const QImage drawn = lanes().grab().toImage();
  const QImage kept = lanes().grab().toImage();
  EXPECT_EQ(drawn, kept);
  lanes().setPlayhead(Quarters(1.5));
  QApplication::processEvents();
  EXPECT_NE(lanes().grab().toImage(), drawn) << "the playhead shows";
  lanes().setPlayhead({});
  QApplication::processEvents();
  EXPECT_EQ(lanes().grab().toImage(), drawn) << "and leaves nothing behind";
  // Under the mouse a stick is lit; it is not once the mouse has left.
  QTest::mouseMove(&lanes(), headPoint(Beat(1), piece::kSnare));
  QApplication::processEvents();
  EXPECT_NE(lanes().grab().toImage(), drawn);
  QEvent leave(QEvent::Leave);
  QApplication::sendEvent(&lanes(), &leave);
  EXPECT_EQ(lanes().grab().toImage(), drawn);
}

TEST_F(ShellTest, TheWheelScrollsBarsAndWithCtrlSetsTheScaleOfLeaning) {
  openDemo();
  Song song = window->document().song();
  song.grooves[0].edit([](Groove& g) { g.bars = 6; });
  window->document().apply("six bars", song);
  const Beat first = lanes().scene().begin;
  wheel(lanes(), -1);
  EXPECT_GT(lanes().scene().begin, first);
  wheel(lanes(), 1);
  wheel(lanes(), 1);
  EXPECT_EQ(lanes().scene().begin, first);
  const double scale = lanes().pxPerMs();
  wheel(lanes(), 1, Qt::ControlModifier);
  EXPECT_NEAR(lanes().pxPerMs(), 1.25 * scale, 1e-9);
  wheel(lanes(), -1, Qt::ControlModifier);
  EXPECT_NEAR(lanes().pxPerMs(), scale, 1e-9);
}

TEST_F(ShellTest, EveryStageAndCardFitsIn1280By800) {
  openDemo();
  window->editing().moveCursor(Beat(11, 4), piece::kHat);
  const auto look = [&](const std::string& where) {
    QApplication::processEvents();
    EXPECT_EQ(window->size(), QSize(1280, 800)) << where << " wants more room";
    for (QLabel* label : window->findChildren<QLabel*>()) {
      if (!label->isVisible() || label->wordWrap() || label->text().isEmpty()) continue;
      EXPECT_GE(label->width() + 1, label->fontMetrics().horizontalAdvance(label->text()))
          << where << ": " << label->text().toStdString();
    }
  };
  for (int i = 0; i < 4; ++i) {
    stage<StrikeStage>("strike").showSide(static_cast<StrikeStage::Side>(i));
    look("Strike " + std::to_string(i));
  }
  showStage("open");
  for (int i = 0; i < 3; ++i) {
    stage<OpenStage>("open").showSide(static_cast<OpenStage::Side>(i));
    look("Open " + std::to_string(i));
  }
  showStage("lean");
  for (int i = 0; i < 5; ++i) {
    stage<LeanStage>("lean").showSide(static_cast<LeanStage::Side>(i));
    stage<LeanStage>("lean").showTable(i % 2 == 0 ? LeanStage::Table::kStrokes
                                                  : LeanStage::Table::kSlots);
    look("Lean " + std::to_string(i));
  }
  showStage("deliver");
  look("Deliver");
}

TEST_F(ShellTest, AMenuBarWithoutRoomShowsThatThereIsMore) {
  const QIcon icon =
      QApplication::style()->standardIcon(QStyle::SP_ToolBarHorizontalExtensionButton);
  const QImage image = icon.pixmap(16, 16).toImage();
  int inked = 0;
  for (int y = 0; y < image.height(); ++y) {
    for (int x = 0; x < image.width(); ++x) inked += qAlpha(image.pixel(x, y)) > 128 ? 1 : 0;
  }
  EXPECT_GT(inked, 8);
  EXPECT_LT(inked, 80);
  // Other icons are the style's own still.
  EXPECT_FALSE(QApplication::style()->standardIcon(QStyle::SP_MessageBoxWarning).isNull());
}

TEST_F(ShellTest, KeysOnTheLanesChangeWhatIsChosen) {
  press(Qt::Key_Return);
  window->editing().moveCursor(Beat(0), piece::kHat);
  const auto hit = [&] { return hitAt(Beat(0), piece::kHat); };
  const int velocity = hit().velocity.value();
  press(Qt::Key_Minus);
  press(Qt::Key_Minus);
  EXPECT_EQ(hit().velocity.value(), velocity - 2);
  press(Qt::Key_Plus);
  EXPECT_EQ(hit().velocity.value(), velocity - 1);
  press(Qt::Key_Comma);
  EXPECT_EQ(hit().nudge, Milliseconds(-1));
  press(Qt::Key_Period, Qt::ShiftModifier);
  EXPECT_EQ(hit().nudge, Milliseconds(9));
  press(Qt::Key_L);
  EXPECT_EQ(hit().limb, Limb::kLeftHand);
  press(Qt::Key_R);
  EXPECT_EQ(hit().limb, Limb::kRightHand);
  press(Qt::Key_R);
  EXPECT_EQ(hit().limb, Limb::kAutomatic) << "again: as usual";
  press(Qt::Key_O);
  EXPECT_GT(hit().open, 0);
  press(Qt::Key_A);
  EXPECT_EQ(hit().role, Role::kAccent);
  press(Qt::Key_G);
  EXPECT_EQ(hit().role, Role::kGhost);
  press(Qt::Key_N);
  EXPECT_EQ(hit().role, Role::kNormal);
  const int steps = window->document().undoStack().index();
  window->document().undoStack().setIndex(0);
  EXPECT_TRUE(groove().hits.empty());
  EXPECT_GE(steps, 8) << "repeated keys are one step, different ones are not";
}

// Wheel, PgUp and PgDn and the cursor are the same in every view of bars.
TEST_F(ShellTest, EveryViewOfBarsIsPagedAndFollowsTheCursor) {
  openDemo();
  Song longer = song();
  for (auto& g : longer.grooves) g.edit([](Groove& one) { one.bars = 6; });
  window->document().apply(QStringLiteral("Six bars"), std::move(longer));
  const Beat bar = groove().meter.barLength();
  for (const char* id : {"strike", "open", "lean", "check"}) {
    SCOPED_TRACE(id);
    window->editing().moveCursor(Beat(0), piece::kHat);
    showStage(id);
    BarView* view = window->stage(QString::fromLatin1(id)).findChild<BarView*>();
    ASSERT_NE(view, nullptr);
    view->setFocus();
    const int last = 6 - view->visibleBars();
    EXPECT_EQ(view->firstBar(), 0);
    wheel(*view, -1);
    EXPECT_EQ(view->firstBar(), 1);
    EXPECT_EQ(view->frame().begin, bar);
    wheel(*view, 1);
    wheel(*view, 1);
    EXPECT_EQ(view->firstBar(), 0) << "before the first there is none";
    for (int i = 0; i < 8; ++i) QTest::keyClick(view, Qt::Key_PageDown);
    EXPECT_EQ(view->firstBar(), last);
    QTest::keyClick(view, Qt::Key_PageUp);
    EXPECT_EQ(view->firstBar(), last - 1);
    window->editing().moveCursor(Beat(5) * bar, piece::kHat);
    EXPECT_EQ(view->firstBar(), last);
    window->editing().moveCursor(bar, piece::kHat);
    EXPECT_EQ(view->firstBar(), 1);
    // Of fewer bars those are shown that there are.
    Song shorter = song();
    for (auto& g : shorter.grooves) g.edit([](Groove& one) { one.bars = 1; });
    window->document().apply(QStringLiteral("One bar"), std::move(shorter));
    EXPECT_EQ(view->firstBar(), 0);
    EXPECT_LE(view->frame().end, Beat(view->visibleBars()) * bar);
    window->document().undo();
  }
}

}  // namespace
}  // namespace uneven::testing
