// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/perform/swing.h"

#include <gtest/gtest.h>

#include "tests/support/random_song.h"

namespace uneven {
namespace {

Swing swing(SwingUnit unit, double ratio, Written written = Written::kStraight) {
  Swing s;
  s.unit = unit;
  s.ratio = ratio;
  s.written = written;
  return s;
}

TEST(Swing, TargetPointsOfTheNamedRatios) {
  // 1:1 -> 50 %, 2:1 -> 66.7 %, 3:1 -> 75 % (arithmetic).
  EXPECT_DOUBLE_EQ(swing(SwingUnit::kEighth, 1).targetPoint(), 0.5);
  EXPECT_NEAR(swing(SwingUnit::kEighth, 2).targetPoint(), 0.667, 0.001);
  EXPECT_DOUBLE_EQ(swing(SwingUnit::kEighth, 3).targetPoint(), 0.75);
}

TEST(Swing, TwoToOneIsATripletWithItsMiddleLeftOut) {
  // Common practice: the off-note falls at 2/3 of the beat.
  const SwingCurve curve(swing(SwingUnit::kEighth, 2), 1, Beat(4));
  EXPECT_DOUBLE_EQ(curve.swung(Beat(1, 2)), 2.0 / 3.0);
  EXPECT_DOUBLE_EQ(curve.swung(Beat(7, 2)), 3 + 2.0 / 3.0);
}

TEST(Swing, MovesWhatLiesInsideAPairInProportion) {
  // Ratio 3, eighths, straight: t = 3/4. The e (p = 1/4) goes to 3/8, the a (p = 3/4) to 7/8.
  const SwingCurve curve(swing(SwingUnit::kEighth, 3), 1, Beat(4));
  EXPECT_DOUBLE_EQ(curve.swung(Beat(1, 4)), 0.375);
  EXPECT_DOUBLE_EQ(curve.swung(Beat(3, 4)), 0.875);
}

TEST(Swing, DoesNotSwingTripletsTwice) {
  const SwingCurve curve(swing(SwingUnit::kEighth, 2, Written::kTriplet), 1, Beat(4));
  EXPECT_DOUBLE_EQ(curve.swung(Beat(2, 3)), 2.0 / 3.0);
  EXPECT_DOUBLE_EQ(curve.swung(Beat(1, 3)), 1.0 / 3.0);
}

TEST(Swing, DepthLiesBetweenWrittenAndTarget) {
  // Ratio 3 at depth one half: t' = 1/2 + 1/2 (3/4 - 1/2) = 5/8.
  const SwingCurve half(swing(SwingUnit::kEighth, 3), 0.5, Beat(4));
  EXPECT_DOUBLE_EQ(half.swung(Beat(1, 2)), 0.625);
  const SwingCurve none(swing(SwingUnit::kEighth, 3), 0, Beat(4));
  EXPECT_DOUBLE_EQ(none.swung(Beat(1, 2)), 0.5);
}

TEST(Swing, LeavesAPairThatTheBarLineCutsStraight) {
  // 7/8: the last eighth (at 3) begins a pair that the bar line at 7/2 cuts.
  const SwingCurve curve(swing(SwingUnit::kEighth, 2), 1, Meter{7, 8}.barLength());
  EXPECT_DOUBLE_EQ(curve.swung(Beat(5, 2)), 2 + 2.0 / 3.0);
  EXPECT_DOUBLE_EQ(curve.swung(Beat(13, 4)), 3.25);
}

TEST(Swing, NeverMovesWhatIsOnTheBeatAndKeepsTheOrder) {
  testing::Random random(3);
  for (int i = 0; i < 300; ++i) {
    const Swing s = testing::randomFeel(random, "f").swing;
    const Groove groove = testing::randomGroove(random, "g", "");
    const Beat bar = groove.meter.barLength();
    const SwingCurve curve(s, testing::pickReal(random, 0, 1), bar);
    const Beat pair = Beat(2) * s.unitLength();
    for (Beat at; at < bar; at += pair) EXPECT_DOUBLE_EQ(curve.swung(at), at.toDouble());
    double before = -1;
    for (Beat at; at <= bar; at += Beat(1, 24)) {
      EXPECT_GT(curve.swung(at), before) << at.toString();
      before = curve.swung(at);
    }
    EXPECT_DOUBLE_EQ(curve.swung(bar), bar.toDouble());
  }
}

}  // namespace
}  // namespace uneven
