// SPDX-License-Identifier: GPL-3.0-or-later
// The Check stage under mouse and keys.
#include <QLabel>
#include <QPushButton>
#include <QTest>
#include <QUndoStack>

#include "app/check/check_stage.h"
#include "app/check/check_view.h"
#include "app/check/found_card.h"
#include "tests/app/window_fixture.h"

namespace uneven::testing {
namespace {

class CheckStageTest : public WindowTest {
 protected:
  void SetUp() override {
    openDemo();
    showStage("check");
    wait();
  }
  CheckStage& check() { return stage<CheckStage>("check"); }
  CheckView& view() { return check().view(); }
  FoundCard& found() { return check().found(); }
  void wait() {
    ASSERT_TRUE(QTest::qWaitFor([&] { return check().checker().now() != nullptr; }, 5'000));
    QApplication::processEvents();
  }
  void key(Qt::Key k, Qt::KeyboardModifiers with = Qt::NoModifier) {
    QTest::keyClick(&view(), k, with);
    QApplication::processEvents();
  }
  int countOf(FindingKind kind) {
    int out = 0;
    for (const Finding& f : found().findings())
      out += f.kind == kind && f.groove == "towpath" ? 1 : 0;
    return out;
  }
  void chooseFirst(FindingKind kind) {
    const auto& all = found().findings();
    for (std::size_t i = 0; i < all.size(); ++i) {
      if (all[i].kind == kind && all[i].groove == "towpath") return found().choose(i);
    }
    FAIL() << findingWord(kind);
  }
};

TEST_F(CheckStageTest, ListsTheGrooveAtHandFirstAndWalksIt) {
  const auto& all = found().findings();
  ASSERT_GT(all.size(), 10U);
  EXPECT_EQ(all.front().groove, "towpath");
  EXPECT_NE(all.back().groove, "towpath");
  EXPECT_FALSE(found().chosen());
  key(Qt::Key_Down);
  key(Qt::Key_Down);
  EXPECT_EQ(found().chosen(), 1U);
  EXPECT_EQ(window->editing().cursorAt(), all[1].inGroove);
  key(Qt::Key_Up);
  EXPECT_EQ(found().chosen(), 0U);
  // One of another groove brings that groove to the front.
  const std::string other = all.back().groove;
  found().choose(all.size() - 1);
  wait();
  EXPECT_EQ(window->document().grooveId(), other);
  EXPECT_EQ(found().findings().front().groove, other);
}

TEST_F(CheckStageTest, EnterMendsAndUndoBringsItBack) {
  const int before = countOf(FindingKind::kUnisonSpread);
  ASSERT_GT(before, 1);
  chooseFirst(FindingKind::kUnisonSpread);
  key(Qt::Key_Return);
  EXPECT_EQ(check().checker().now(), nullptr) << "nothing stale is shown as fresh";
  EXPECT_FALSE(found().isEnabled());
  wait();
  EXPECT_EQ(countOf(FindingKind::kUnisonSpread), before - 1);
  window->document().undo();
  wait();
  EXPECT_EQ(countOf(FindingKind::kUnisonSpread), before);
}

TEST_F(CheckStageTest, AButtonWithShiftMendsAllOfItsKind) {
  for (std::size_t i = 0; i < found().findings().size(); ++i) {
    if (found().findings()[i].kind != FindingKind::kUnisonSpread) continue;
    found().mendKind(i);
    break;
  }
  wait();
  EXPECT_EQ(countOf(FindingKind::kUnisonSpread), 0);
}

TEST_F(CheckStageTest, WhatIsLeftIsRememberedByTheSong) {
  const int before = countOf(FindingKind::kHard);
  chooseFirst(FindingKind::kHard);
  key(Qt::Key_L);
  wait();
  EXPECT_EQ(countOf(FindingKind::kHard), before - 1);
  ASSERT_EQ(song().check.ignored.size(), 1U);
  EXPECT_EQ(song().check.ignored.front().kind, "hard");
  bool told = false;
  for (QLabel* label : found().findChildren<QLabel*>()) {
    told = told || label->text().contains(QStringLiteral("1 left as they are"));
  }
  EXPECT_TRUE(told);
}

TEST_F(CheckStageTest, TheRulerShowsStrainAtAnotherTempoAndKeepsTheSong) {
  const Song before = song();
  const double here = view().strainOf(Limb::kRightHand);
  EXPECT_GT(here, 0.5);
  const QRectF ruler = view().rulerRect();
  QTest::mouseClick(&view(), Qt::LeftButton, {}, ruler.center().toPoint());
  ASSERT_TRUE(view().trial());
  EXPECT_NEAR(*view().trial(), 140, 2);
  EXPECT_NEAR(view().strainOf(Limb::kRightHand), here * *view().trial() / 92, 0.25);
  EXPECT_GT(view().strainOf(Limb::kRightHand), 1);
  key(Qt::Key_Plus);
  EXPECT_NEAR(*view().trial(), 141, 2);
  key(Qt::Key_Escape);
  EXPECT_FALSE(view().trial());
  EXPECT_EQ(view().strainOf(Limb::kRightHand), here);
  EXPECT_TRUE(song() == before);
}

TEST_F(CheckStageTest, HandsArePaleUntilTheyAreSet) {
  EXPECT_EQ(view().letterAt(Beat(1), piece::kHat), QStringLiteral("R"));
  press(Qt::Key_H, Qt::ControlModifier | Qt::ShiftModifier);
  wait();
  EXPECT_EQ(view().letterAt(Beat(1), piece::kHat), QStringLiteral("R set"));
  EXPECT_EQ(hitAt(Beat(1), piece::kHat).limb, Limb::kRightHand);
  window->document().undo();
  EXPECT_EQ(hitAt(Beat(1), piece::kHat).limb, Limb::kAutomatic);
}

TEST_F(CheckStageTest, AnEmptyGrooveHasNothingToFind) {
  window->editing().selectAll();
  showStage("strike");
  press(Qt::Key_Delete);
  Song alone = song();
  alone.arrangement.clear();
  alone.grooves = {alone.grooves.front()};
  alone.grooves.front().edit([](Groove& g) { g.hits.clear(); });
  window->document().apply(QStringLiteral("empty"), alone);
  showStage("check");
  wait();
  EXPECT_TRUE(found().findings().empty());
  EXPECT_EQ(view().strainOf(Limb::kRightHand), 0);
  key(Qt::Key_Down);
  key(Qt::Key_Return);
  key(Qt::Key_L);
  EXPECT_FALSE(found().chosen());
}

}  // namespace
}  // namespace uneven::testing
