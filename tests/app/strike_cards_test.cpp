// SPDX-License-Identifier: GPL-3.0-or-later
// The cards beside the lanes, lanes by limb, and what the legend lets be moved.
#include <QCheckBox>
#include <QComboBox>
#include <QLineEdit>
#include <QPushButton>
#include <QUndoStack>

#include "app/edit/editing.h"
#include "app/strike/groove_list.h"
#include "app/strike/kit_list.h"
#include "app/strike/legend_strip.h"
#include "app/strike/strike_stage.h"
#include "core/measure/level.h"
#include "tests/app/window_fixture.h"

namespace uneven::testing {
namespace {

using StrikeCards = WindowTest;

TEST_F(StrikeCards, GroovesAreChosenMovedAndEmbellished) {
  openDemo();
  press(Qt::Key_G, Qt::ControlModifier);
  auto& list = child<GrooveList>("groove-list");
  EXPECT_TRUE(list.hasFocus());
  QTest::keyClick(&list, Qt::Key_Down);
  EXPECT_EQ(groove().id, song().grooves[1]->id);
  const std::string second = groove().id;
  QTest::keyClick(&list, Qt::Key_Up, Qt::AltModifier);
  EXPECT_EQ(song().grooves[0]->id, second);
  // Dragged back down below the third.
  QTest::mousePress(&list, Qt::LeftButton, Qt::NoModifier, list.rowRect(0).center());
  QMouseEvent move(QEvent::MouseMove, list.rowRect(2).center(),
                   list.mapToGlobal(list.rowRect(2).center()), Qt::NoButton, Qt::LeftButton,
                   Qt::NoModifier);
  QApplication::sendEvent(&list, &move);
  QTest::mouseRelease(&list, Qt::LeftButton, Qt::NoModifier, list.rowRect(2).center());
  EXPECT_EQ(song().grooves[2]->id, second);
  window->document().undoStack().undo();
  EXPECT_EQ(song().grooves[0]->id, second);

  auto& back = child<QPushButton>("back-to-core");
  EXPECT_FALSE(back.isEnabled());
  const std::vector<Hit> plain = groove().hits;
  QTest::mouseClick(&child<QPushButton>("embellish"), Qt::LeftButton);
  EXPECT_EQ(groove().core, second);
  EXPECT_EQ(groove().hits, plain);
  window->editing().grooves().runTool("echo", {{"piece", "kick"}});
  EXPECT_GT(groove().hits.size(), plain.size());
  EXPECT_TRUE(back.isEnabled());
  QTest::mouseClick(&back, Qt::LeftButton);
  EXPECT_EQ(groove().hits, plain);
  QTest::keyClick(&list, Qt::Key_Escape);
  EXPECT_TRUE(lanes().hasFocus());
}

TEST_F(StrikeCards, TheKitIsRenamedOrderedAndGrown) {
  press(Qt::Key_J, Qt::ControlModifier);
  auto& list = child<KitList>("kit-list");
  ASSERT_EQ(list.chosen(), piece::kHat);
  type(child<QLineEdit>("kit-name"), "Old hats");
  EXPECT_EQ((*song().kit)[piece::kHat].name, "Old hats");
  list.setFocus();
  QTest::keyClick(&list, Qt::Key_Down, Qt::AltModifier);
  EXPECT_EQ(song().kit->order[1], piece::kHat);
  EXPECT_EQ(lanes().scene().lanes[1].piece, piece::kHat);
  // The crash gets a lane by a click on its box.
  const auto crash = std::find(song().kit->order.begin(), song().kit->order.end(), piece::kCrash);
  const int row = static_cast<int>(crash - song().kit->order.begin());
  QTest::mouseClick(&list, Qt::LeftButton, Qt::NoModifier,
                    QPoint(12, list.rowRect(row).center().y()));
  EXPECT_TRUE((*song().kit)[piece::kCrash].shown);
  choose(child<QComboBox>("kit-handed"), "Left-handed");
  EXPECT_EQ(song().kit->usualLimb(piece::kKick), Limb::kLeftFoot);

  QTest::mouseClick(&child<QPushButton>("kit-add"), Qt::LeftButton);
  auto& name = child<QLineEdit>("kit-name");
  EXPECT_TRUE(name.hasFocus());
  type(name, "Lock bell");
  const PieceId own = list.chosen();
  EXPECT_EQ((*song().kit)[own].name, "Lock bell");
  QTest::mouseClick(&child<QCheckBox>("kit-stroke-edge"), Qt::LeftButton, Qt::NoModifier, {8, 8});
  EXPECT_EQ((*song().kit)[own].strokes,
            (std::vector<StrokeKind>{StrokeKind::kNormal, StrokeKind::kEdge}));
  window->editing().hits().toggleAt(Beat(0), own);
  QTest::mouseClick(&child<QPushButton>("kit-remove"), Qt::LeftButton);
  EXPECT_EQ(song().kit->pieces.size(), houseKit().pieces.size() + 1) << "it is struck";
  window->editing().hits().toggleAt(Beat(0), own);
  QTest::mouseClick(&child<QPushButton>("kit-remove"), Qt::LeftButton);
  EXPECT_EQ(song().kit->pieces.size(), houseKit().pieces.size());
}

TEST_F(StrikeCards, LanesByLimbShowAndTakeWhatTheLimbStrikes) {
  openDemo();
  const std::vector<Hit> before = groove().hits;
  press(Qt::Key_L, Qt::ControlModifier);
  const StrikeScene& scene = lanes().scene();
  ASSERT_EQ(scene.lanes.size(), 4U);
  EXPECT_EQ(scene.lanes[1].limb, Limb::kLeftHand);
  EXPECT_EQ(scene.lanes[1].piece, piece::kSnare);
  EXPECT_EQ(scene.sticks.size(), before.size());
  // The left foot's lane takes a foot stroke on its own piece.
  press(Qt::Key_Home);
  for (int i = 0; i < 3; ++i) press(Qt::Key_Down);
  press(Qt::Key_Return);
  EXPECT_TRUE(hasHit(Beat(0), piece::kHatFoot));
  // A hit that the left hand takes over stands on its lane, named.
  press(Qt::Key_Home);
  for (int i = 0; i < 3; ++i) press(Qt::Key_Up);
  EXPECT_EQ(window->editing().cursorPiece(), piece::kHat);
  press(Qt::Key_L);
  EXPECT_EQ(hitAt(Beat(0), piece::kHat).limb, Limb::kLeftHand);
  const auto& sticks = lanes().scene().sticks;
  const auto moved = std::find_if(sticks.begin(), sticks.end(), [](const StickShape& s) {
    return s.ref == HitRef{Beat(0), piece::kHat};
  });
  ASSERT_NE(moved, sticks.end());
  EXPECT_TRUE(moved->foreign);
  EXPECT_EQ(moved->foot.y, lanes().scene().lanes[1].baseline);
  press(Qt::Key_L);
  EXPECT_EQ(hitAt(Beat(0), piece::kHat).limb, Limb::kAutomatic);
  press(Qt::Key_L, Qt::ControlModifier);
  EXPECT_GT(lanes().scene().lanes.size(), 4U);
}

TEST_F(StrikeCards, AToolShowsOnTheLanesWhatItWouldDo) {
  openDemo();
  EXPECT_FALSE(lanes().previewScene());
  openTool("sticking");
  EXPECT_FALSE(lanes().previewScene()) << "nothing typed, nothing to show";
  QTest::keyClicks(&child<QLineEdit>("tool-text"), "RLR");
  ASSERT_TRUE(lanes().previewScene());
  EXPECT_GT(lanes().previewScene()->sticks.size(), lanes().scene().sticks.size());
  for (std::size_t i = 0; i < lanes().scene().lanes.size(); ++i) {
    EXPECT_EQ(lanes().previewScene()->lanes[i].baseline, lanes().scene().lanes[i].baseline);
  }
  QTest::keyClick(&child<QLineEdit>("tool-text"), Qt::Key_Escape);
  EXPECT_FALSE(lanes().previewScene());
}

TEST_F(StrikeCards, TheBeatUnderTheCursorHasItsOwnGrid) {
  press(Qt::Key_Right, Qt::ControlModifier);
  choose(child<QComboBox>("beat-choice"), "1/8T");
  EXPECT_EQ(groove().beatGrids.at(Beat(1)), (Grid{8, 3}));
  press(Qt::Key_Right);
  EXPECT_EQ(window->editing().cursorAt(), Beat(4, 3));
  press(Qt::Key_BraceRight);
  EXPECT_TRUE(groove().beatGrids.empty()) << "finer is 1/16, which is the groove's own";
  press(Qt::Key_BraceRight);
  EXPECT_EQ(groove().beatGrids.at(Beat(1)), (Grid{16, 5}));
}

TEST_F(StrikeCards, SeparationIsMovedOnItsScale) {
  openDemo();
  auto& legend = child<LegendStrip>("legend");
  const auto ghosts = [&] {
    std::vector<int> out;
    for (const Hit& hit : groove().hits) {
      if (hit.piece == piece::kSnare && hit.role == Role::kGhost) {
        out.push_back(hit.velocity.value());
      }
    }
    return out;
  };
  const std::vector<int> before = ghosts();
  const QPoint dot = legend.dotOf(piece::kSnare)->toPoint();
  const int steps = window->document().undoStack().count();
  QTest::mousePress(&legend, Qt::LeftButton, Qt::NoModifier, dot);
  for (int i = 1; i <= 4; ++i) {
    const QPoint p = dot - QPoint(4 * i, 0);
    QMouseEvent move(QEvent::MouseMove, p, legend.mapToGlobal(p), Qt::NoButton, Qt::LeftButton,
                     Qt::NoModifier);
    QApplication::sendEvent(&legend, &move);
  }
  QTest::mouseRelease(&legend, Qt::LeftButton, Qt::NoModifier, dot - QPoint(16, 0));
  EXPECT_EQ(window->document().undoStack().count(), steps + 1);
  ASSERT_EQ(ghosts().size(), before.size());
  // 16 px of a scale of 110 px for 40 dB: about 5.8 dB louder, all alike (40 log10 of a velocity).
  for (std::size_t i = 0; i < before.size(); ++i) {
    const double moved = 40 * std::log10(ghosts()[i] / static_cast<double>(before[i]));
    EXPECT_NEAR(moved, 5.8, 1.2) << before[i];
  }
  // The aim's edges move too.
  const auto [low, high] = legend.aimEdges();
  QTest::mousePress(&legend, Qt::LeftButton, Qt::NoModifier, high.toPoint());
  const QPoint to = high.toPoint() + QPoint(11, 0);
  QMouseEvent move(QEvent::MouseMove, to, legend.mapToGlobal(to), Qt::NoButton, Qt::LeftButton,
                   Qt::NoModifier);
  QApplication::sendEvent(&legend, &move);
  QTest::mouseRelease(&legend, Qt::LeftButton, Qt::NoModifier, to);
  EXPECT_EQ(song().aim, (SeparationAim{18, 32}));
}

TEST_F(StrikeCards, AShapeIsDrawnOverALane) {
  press(Qt::Key_K, Qt::ControlModifier);
  window->editing().grooves().runTool("ostinato", {{"kind", "sixteenths"}});
  QTest::keyClick(&child<QWidget>("tool-panel"), Qt::Key_Escape);
  window->editing().select({});
  const LaneShape lane = lanes().scene().lanes.front();
  const QPoint left = slotPoint(Beat(0), piece::kHat);
  const QPoint right = slotPoint(Beat(2), piece::kHat);
  const auto at = [&](QPoint x, int velocity) {
    return QPoint(x.x(), static_cast<int>(std::lround(lane.baseline - lane.room * velocity / 127)));
  };
  drag(at(left, 20), at(right, 120), Qt::AltModifier);
  EXPECT_NEAR(hitAt(Beat(0), piece::kHat).velocity.value(), 20, 4);
  EXPECT_NEAR(hitAt(Beat(1), piece::kHat).velocity.value(), 70, 5);
  EXPECT_NEAR(hitAt(Beat(2), piece::kHat).velocity.value(), 120, 4);
  EXPECT_EQ(window->document().undoStack().undoText(), "9 × Shape drawn");
  EXPECT_TRUE(window->editing().selection().empty());
}

TEST_F(StrikeCards, AnOrnamentsGapAndVelocityAreTyped) {
  press(Qt::Key_Return);
  choose(child<QComboBox>("hit-ornament"), "Flam");
  type(child<QLineEdit>("hit-ornament-gap"), "42");
  type(child<QLineEdit>("hit-ornament-velocity"), "60");
  const Hit& hit = hitAt(Beat(0), piece::kHat);
  EXPECT_EQ(hit.ornamentGap, Milliseconds(42));
  EXPECT_EQ(hit.ornamentPercent, 60);
  const auto& strokes = window->document().take().strokes();
  ASSERT_EQ(strokes.size(), 2U);
  EXPECT_EQ(strokes[1].time - strokes[0].time, toMoment(Milliseconds(42)));
  EXPECT_EQ(strokes[0].velocity.value(), std::lround(0.6 * hit.velocity.value()));
}

TEST_F(StrikeCards, TheAimIsTyped) {
  prompts.typed = "15 25";
  window->askAim();
  EXPECT_EQ(song().aim, (SeparationAim{15, 25}));
  prompts.typed = "25 15";
  window->askAim();
  EXPECT_EQ(song().aim, (SeparationAim{15, 25}));
  EXPECT_TRUE(status().contains("is no aim"));
}

TEST_F(StrikeCards, WhatIsPushedBeyondItsBoundsOrSqueezedIsTold) {
  press(Qt::Key_Return);
  press(Qt::Key_G);
  press(Qt::Key_9);
  EXPECT_EQ(status(), "Velocity 126, ghosts above their ceiling of 50: 1");
  press(Qt::Key_A);
  press(Qt::Key_1);
  EXPECT_EQ(status(), "Velocity 14, accents below their floor of 90: 1");
  // A ruff needs 90 ms; the stroke before is 60 ms away.
  press(Qt::Key_BracketRight);
  press(Qt::Key_Right);
  press(Qt::Key_Return);
  choose(child<QComboBox>("hit-ornament"), "Four-stroke ruff");
  EXPECT_TRUE(status().contains("Squeezed")) << status().toStdString();
}

}  // namespace
}  // namespace uneven::testing
