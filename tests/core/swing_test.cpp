// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/perform/swing.h"

#include <gtest/gtest.h>

#include "core/perform/clock.h"
#include "core/perform/performance.h"
#include "core/song/edit.h"
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

// The curve of one ratio and depth.
struct Bent {
  SwingCurve curve;
  double target;
  Bent(const Swing& s, double depth, Beat bar)
      : curve(s, bar), target(curve.target(s.ratio, depth)) {}
  double swung(Beat at) const { return curve.swung(at, target).value(); }
};

TEST(Swing, TargetPointsOfTheNamedRatios) {
  // 1:1 -> 50 %, 2:1 -> 66.7 %, 3:1 -> 75 % (arithmetic).
  EXPECT_DOUBLE_EQ(pointOfRatio(1), 0.5);
  EXPECT_NEAR(pointOfRatio(2), 0.667, 0.001);
  EXPECT_DOUBLE_EQ(pointOfRatio(3), 0.75);
  EXPECT_EQ(nameOfRatio(1), "straight");
  EXPECT_EQ(nameOfRatio(2), "triplet");
  EXPECT_EQ(nameOfRatio(3), "dotted");
  EXPECT_EQ(nameOfRatio(1.45), "");
}

TEST(Swing, UnitsAgreeWithATableWorkedByHand) {
  // Pair P = 60 000 / bpm for eighths, half of it for sixteenths; short = P / (1 + r), percent =
  // 100 r / (1 + r) (arithmetic).
  struct Row {
    SwingUnit unit;
    int bpm;
    double ratio, percent, pairMs, shortMs;
  };
  const Row rows[] = {
      {SwingUnit::kEighth, 120, 1, 50, 500, 250},
      {SwingUnit::kEighth, 120, 1.5, 60, 500, 200},
      {SwingUnit::kEighth, 120, 2, 66.66667, 500, 166.66667},
      {SwingUnit::kEighth, 200, 3, 75, 300, 75},
      {SwingUnit::kSixteenth, 75, 1.5, 60, 400, 160},
      {SwingUnit::kSixteenth, 100, 1.45, 59.18367, 300, 122.44898},
      {SwingUnit::kSixteenth, 150, 9, 90, 200, 20},
  };
  for (const Row& row : rows) {
    const Milliseconds pair = pairLength(row.unit, Tempo::fromBpm({static_cast<double>(row.bpm)}));
    EXPECT_NEAR(pair.count(), row.pairMs, 1e-6);
    EXPECT_NEAR(100 * pointOfRatio(row.ratio), row.percent, 1e-5);
    EXPECT_NEAR(ratioOfPercent(row.percent).value(), row.ratio, 1e-5);
    EXPECT_NEAR(ratioOfShort(Milliseconds(row.shortMs), pair).value(), row.ratio, 1e-5);
    EXPECT_NEAR((pair * (1 - pointOfRatio(row.ratio))).count(), row.shortMs, 1e-5);
  }
  EXPECT_FALSE(ratioOfPercent(49).has_value());
  EXPECT_FALSE(ratioOfPercent(100).has_value());
  EXPECT_FALSE(ratioOfPercent(90.1).has_value());
  EXPECT_FALSE(ratioOfShort(Milliseconds(0), Milliseconds(500)).has_value());
  EXPECT_FALSE(ratioOfShort(Milliseconds(251), Milliseconds(500)).has_value());
}

TEST(Swing, TheTempoLinkedRatioHasItsPublishedEnds) {
  // After Friberg & Sundstrom 2002, figures from memory: about 3.5:1 slow, 1:1 fast, the short note
  // near 100 ms between. Pairs of eighths last a quarter note.
  const auto at = [](double bpm) {
    Swing s = swing(SwingUnit::kEighth, 2);
    s.linked = true;
    return ratioAt(s, Tempo::fromBpm({bpm}));
  };
  EXPECT_DOUBLE_EQ(at(60), 3.5);
  EXPECT_DOUBLE_EQ(at(120), 3.5);   // 500 ms: (500 - 100) / 100 = 4, held to 3.5
  EXPECT_DOUBLE_EQ(at(150), 3);     // 400 ms
  EXPECT_DOUBLE_EQ(at(200), 2);     // 300 ms
  EXPECT_NEAR(at(240), 1.5, 1e-9);  // 250 ms
  EXPECT_DOUBLE_EQ(at(300), 1);     // 200 ms
  EXPECT_DOUBLE_EQ(at(400), 1);
  for (double bpm = 140; bpm <= 299; bpm += 1) {
    const double pair = Tempo::fromBpm({bpm}).quarter().count();
    EXPECT_NEAR(pair / (1 + at(bpm)), 100, 1e-6) << bpm;
  }
}

TEST(Swing, TwoToOneIsATripletWithItsMiddleLeftOut) {
  // Common practice: the off-note falls at 2/3 of the beat.
  const Bent curve(swing(SwingUnit::kEighth, 2), 1, Beat(4));
  EXPECT_DOUBLE_EQ(curve.swung(Beat(1, 2)), 2.0 / 3.0);
  EXPECT_DOUBLE_EQ(curve.swung(Beat(7, 2)), 3 + 2.0 / 3.0);
}

TEST(Swing, MovesWhatLiesInsideAPairInProportion) {
  // Ratio 3, eighths, straight: t = 3/4. The e (p = 1/4) goes to 3/8, the a (p = 3/4) to 7/8.
  const Bent curve(swing(SwingUnit::kEighth, 3), 1, Beat(4));
  EXPECT_DOUBLE_EQ(curve.swung(Beat(1, 4)), 0.375);
  EXPECT_DOUBLE_EQ(curve.swung(Beat(3, 4)), 0.875);
}

TEST(Swing, DoesNotSwingTripletsTwice) {
  const Bent curve(swing(SwingUnit::kEighth, 2, Written::kTriplet), 1, Beat(4));
  EXPECT_DOUBLE_EQ(curve.swung(Beat(2, 3)), 2.0 / 3.0);
  EXPECT_DOUBLE_EQ(curve.swung(Beat(1, 3)), 1.0 / 3.0);
}

TEST(Swing, DepthLiesBetweenWrittenAndTarget) {
  // Ratio 3 at depth one half: t' = 1/2 + 1/2 (3/4 - 1/2) = 5/8.
  const Bent half(swing(SwingUnit::kEighth, 3), 0.5, Beat(4));
  EXPECT_DOUBLE_EQ(half.swung(Beat(1, 2)), 0.625);
  const Bent none(swing(SwingUnit::kEighth, 3), 0, Beat(4));
  EXPECT_DOUBLE_EQ(none.swung(Beat(1, 2)), 0.5);
}

TEST(Swing, LeavesAPairThatTheBarLineCutsStraight) {
  // 7/8: the last eighth (at 3) begins a pair that the bar line at 7/2 cuts.
  const Bent curve(swing(SwingUnit::kEighth, 2), 1, Meter{7, 8}.barLength());
  EXPECT_DOUBLE_EQ(curve.swung(Beat(5, 2)), 2 + 2.0 / 3.0);
  EXPECT_DOUBLE_EQ(curve.swung(Beat(13, 4)), 3.25);
}

TEST(Swing, NeverMovesWhatIsOnTheBeatAndKeepsTheOrder) {
  testing::Random random(3);
  for (int i = 0; i < 300; ++i) {
    const Swing s = testing::randomFeel(random, "f").swing;
    const Groove groove = testing::randomGroove(random, "g", "");
    const Beat bar = groove.meter.barLength();
    const Bent curve(s, testing::pickReal(random, 0, 1), bar);
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

// A beat whose own grid is triplets is in triplets already: strokes and lines stand where they are
// written; its neighbours swing. Written in triplets, the groove's ratio shapes all of them.
TEST(Swing, ABeatOfTripletsIsNotSwungAgain) {
  Song song = blankSong();
  Feel feel;
  feel.id = "straight";
  feel.swing = swing(SwingUnit::kEighth, 1.8);
  song.feels = {feel};
  song.grooves[0].edit([](Groove& g) {
    g.beatGrids[Beat(3)] = {8, 3};
    for (const Beat at : {Beat(5, 2), Beat(3), Beat(10, 3), Beat(11, 3)}) {
      Hit hit;
      hit.at = at;
      hit.piece = piece::kSnare;
      g.hits.push_back(hit);
    }
  });
  const auto times = [](const Song& of) {
    std::vector<double> out;
    for (const Stroke& s : perform(*arrange(of)).strokes)
      out.push_back(toMilliseconds(s.time).count() / 500);
    return out;
  };
  const std::vector<double> at = times(song);
  EXPECT_NEAR(at[0], 2 + 1.8 / 2.8, 1e-6);
  EXPECT_NEAR(at[2] - at[1], 1.0 / 3, 1e-6);
  EXPECT_NEAR(at[3] - at[2], 1.0 / 3, 1e-6);
  const Score score = *arrange(song);
  EXPECT_EQ(BlockClock(score, 0).line(Beat(10, 3)), Quarters(Beat(10, 3)));
  EXPECT_NE(BlockClock(score, 0).line(Beat(5, 2)), Quarters(Beat(5, 2)));
  song.feels[0].swing.written = Written::kTriplet;
  EXPECT_NEAR(times(song)[3], 3 + 1.8 / 2.8, 1e-6) << "written in triplets it follows";
}

// However it is said, it is the same swing. A pair of eighths at 120 BPM lasts 500 ms.
TEST(Swing, IsUnderstoodAsPeopleSayIt) {
  const Milliseconds pair(500);
  const auto said = [&](const char* text, SwingSaid plain = SwingSaid::kRatio) {
    return ratioSaid(text, plain, pair).value_or(-1);
  };
  for (const char* two : {"2", "2:1", "2 : 1", "4:2", "triplet", "Triplet", "shuffle",
                          "66.6666666667 %", "166.6666666667 ms", "333.3333333333ms"})
    EXPECT_NEAR(said(two), 2, 1e-9) << two;
  EXPECT_NEAR(said("5:3"), 5.0 / 3, 1e-12);
  EXPECT_NEAR(said("62 %"), 62.0 / 38, 1e-12);
  EXPECT_NEAR(said("1,6"), 1.6, 1e-12);
  EXPECT_EQ(said("straight"), 1);
  EXPECT_EQ(said("dotted"), 3);
  EXPECT_NEAR(said("62", SwingSaid::kPercent), 62.0 / 38, 1e-12);
  EXPECT_NEAR(said("125", SwingSaid::kMs), 3, 1e-12);
  for (const char* bad : {"", "two", "0.5", "3:0", ":", "5:", "-2", "10", "99 %", "40 %", "1e99",
                          "nan", "600 ms", "1.6.2", "% %"})
    EXPECT_EQ(said(bad), -1) << bad;
}

}  // namespace
}  // namespace uneven
