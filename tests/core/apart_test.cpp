// SPDX-License-Identifier: GPL-3.0-or-later
// Lateness that is made of known parts comes apart into them again.
#include "core/match/apart.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/match/numbers.h"
#include "core/perform/swing.h"
#include "tests/support/random_song.h"

namespace uneven {
namespace {

using testing::pickReal;
using testing::Random;

constexpr double kSecondsPerQuarter = 0.5;

// Strokes that are where they were put, and how late they are.
struct Late {
  std::vector<Onset> onsets;
  std::vector<Placed> placed;

  void add(PieceId piece, int bar, Beat at, double swungBy, double ms) {
    const double quarters = bar * 4 + at.toDouble() + swungBy;
    Onset onset;
    onset.piece = piece;
    onset.seconds = quarters * kSecondsPerQuarter + ms / 1'000;
    onsets.push_back(onset);
    placed.push_back({bar, at, quarters, Milliseconds(ms), true, true});
  }
  Apart apart(const Swing& swing = {}) const {
    Apart out;
    out.take(onsets, placed, swing, Seconds(kSecondsPerQuarter), 8);
    return out;
  }
};

// A slow wave of the clock, whose mean is zero.
double wave(double quarters, double bars) {
  return 6 * std::sin(2 * std::numbers::pi * quarters / (bars * 4 / 2));
}

constexpr int kBarsHere = 48;

Late played(Random& random, double noise) {
  Late out;
  for (int bar = 0; bar < kBarsHere; ++bar) {
    for (int k = 0; k < 8; ++k) {
      const Beat at(k, 2);
      const auto add = [&](PieceId piece, double lean) {
        const double clock = wave(bar * 4 + at.toDouble(), kBarsHere);
        out.add(piece, bar, at, 0, lean + clock + testing::pickReal(random, -noise, noise));
      };
      add(piece::kHat, k == 3 ? -2.0 : -6.0);  // one slot 4 ms beside the others
      if (k % 4 == 2) add(piece::kSnare, 11);
      if (k % 4 == 0) add(piece::kKick, 0);
    }
  }
  return out;
}

TEST(Apart, PiecesSlotsAndTheClockComeApart) {
  Random random(1);
  const Apart apart = played(random, 1).apart();
  const double kick = apart.ofPiece(piece::kKick).count();
  EXPECT_NEAR(apart.ofPiece(piece::kSnare).count() - kick, 11, 0.5);
  EXPECT_NEAR(apart.ofPiece(piece::kHat).count() - kick, -6, 0.5);
  EXPECT_NEAR(apart.ofSlot({Beat(3, 2), piece::kHat}).count(), 4, 0.5);
  EXPECT_NEAR(apart.ofSlot({Beat(1), piece::kHat}).count(), 0, 0.5);
  for (double q = 4; q < (kBarsHere - 1) * 4; q += 0.5)
    EXPECT_NEAR(apart.clockAt(q).count(), wave(q, kBarsHere), 1) << q;
  EXPECT_TRUE(apart.depths().empty());
}

TEST(Apart, ItsPartsMakeUpTheWhole) {
  Random random(2);
  const Late late = played(random, 0);
  const Apart apart = late.apart();
  double most = 0;
  for (std::size_t i = 0; i < late.placed.size(); ++i) {
    const Placed& p = late.placed[i];
    const double told =
        apart.at({p.at, late.onsets[i].piece}).count() + apart.clockAt(p.quarters).count();
    most = std::max(most, std::abs(told - p.late.count()));
  }
  EXPECT_LT(most, 0.5) << "the wave's crests, smoothed";
}

TEST(Apart, WhatDoesNotCountChangesNothing) {
  Random random(3);
  Late late = played(random, 1);
  const Apart before = late.apart();
  for (int bar = 0; bar < kBarsHere; bar += 3) {
    late.add(piece::kSnare, bar, Beat(1), 0, 150);
    late.placed.back().used = late.placed.back().timed = false;
    late.add(piece::kRide, 10 * kBarsHere, Beat(1), 0, -80);
    late.placed.back().used = late.placed.back().timed = false;
  }
  const Apart after = late.apart();
  EXPECT_EQ(after.means(), before.means());
  EXPECT_EQ(after.ofPiece(piece::kRide).count(), 0);
  for (double q = 0; q < kBarsHere * 4; q += 1)
    EXPECT_EQ(after.clockAt(q).count(), before.clockAt(q).count());
}

TEST(Apart, AVoiceThatSwingsLessIsToldByItsDepth) {
  Swing swing;
  swing.unit = SwingUnit::kEighth;
  swing.ratio = 2;
  const double moved = pointOfRatio(swing.ratio) - 0.5;  // of a pair, which is a quarter
  for (const double depth : {0.0, 0.5}) {
    Late late;
    for (int bar = 0; bar < 16; ++bar) {
      for (int k = 0; k < 8; ++k) {
        const bool off = k % 2 == 1;
        const double by = off ? moved : 0;
        late.add(piece::kRide, bar, Beat(k, 2), by, 0);
        const double early = off ? -(1 - depth) * moved * kSecondsPerQuarter * 1'000 : 0;
        late.add(piece::kSnare, bar, Beat(k, 2), by, 3 + early);
      }
    }
    const Apart apart = late.apart(swing);
    ASSERT_TRUE(apart.depths().contains(piece::kSnare)) << depth;
    EXPECT_FALSE(apart.depths().contains(piece::kRide));
    EXPECT_NEAR(apart.depths().at(piece::kSnare), depth, 0.02);
    EXPECT_NEAR(apart.ofPiece(piece::kSnare).count() - apart.ofPiece(piece::kRide).count(), 3, 0.5);
  }
}

TEST(Apart, ZeroIsSetForPiecesAlone) {
  Random random(4);
  Apart apart = played(random, 1).apart();
  const Apart::Place place{Beat(3, 2), piece::kHat};
  const double piece = apart.ofPiece(piece::kHat).count(), slot = apart.ofSlot(place).count();
  const double stroke = apart.leanAt(3).count();
  apart.setZero(Milliseconds(2.5));
  EXPECT_DOUBLE_EQ(apart.leanAt(3).count(), stroke - 2.5);
  EXPECT_DOUBLE_EQ(apart.ofPiece(piece::kHat).count(), piece - 2.5);
  EXPECT_EQ(apart.ofSlot(place).count(), slot);
}

TEST(Apart, AnExtentIsOfWhatCounts) {
  Late late;
  late.add(piece::kKick, 3, Beat(1), 0, 0);
  late.add(piece::kKick, 1, Beat(2), 0, 0);
  late.add(piece::kKick, 9, Beat(2), 0, 0);
  late.placed.back().used = late.placed.back().timed = false;
  EXPECT_EQ(extentOf(late.placed).first, 6);
  EXPECT_EQ(extentOf(late.placed).last, 13);
}

TEST(Apart, OfNothingNothingIsKnown) {
  Late late;
  late.add(piece::kKick, 3, Beat(1), 0, 50);
  late.placed.back().used = late.placed.back().timed = false;
  for (const Apart& apart : {Apart{}, Late{}.apart(), late.apart()}) {
    EXPECT_EQ(apart.clockAt(13).count(), 0);
    EXPECT_EQ(apart.at({Beat(1), piece::kKick}).count(), 0);
    EXPECT_TRUE(apart.means().empty());
  }
  EXPECT_EQ(extentOf(late.placed).first, 0);
  EXPECT_EQ(extentOf(late.placed).last, 0);
}

TEST(Apart, ASureMeanLeavesOutWhatIsFar) {
  EXPECT_DOUBLE_EQ(sureMean({1, 2, 3}), 2);
  EXPECT_DOUBLE_EQ(sureMean({10, 10.5, 11, 10.2, 300}), (10 + 10.5 + 11 + 10.2) / 4);
  EXPECT_DOUBLE_EQ(sureMean({5, 5, 5, 5.9}), 5.225) << "one at least is near";
  EXPECT_EQ(sureMean({}), 0);
}

// However the values lie in their row, and however many are alike.
TEST(Numbers, TheMedianIsTheMiddleOfTheSorted) {
  Random random(11);
  for (int i = 0; i < 400; ++i) {
    std::vector<double> values(
        static_cast<std::size_t>(testing::pick(random, 1, i % 3 == 0 ? 3'000 : 600)));
    const int alike = testing::pick(random, 0, 3);
    for (double& v : values) {
      v = testing::pickReal(random, -5, 5);
      if (alike == 1) v = std::floor(v);
      if (alike == 2 && v > -4) v = 1;
    }
    // Rising and falling in the row, so that a sample may miss the middle.
    if (alike == 3) std::sort(values.begin(), values.end());
    if (alike == 3 && i % 2 == 0)
      std::reverse(values.begin(), values.begin() + std::ssize(values) / 2);
    std::vector<double> sorted = values;
    std::sort(sorted.begin(), sorted.end());
    const std::size_t middle = sorted.size() / 2;
    const double expected =
        sorted.size() % 2 == 1 ? sorted[middle] : (sorted[middle - 1] + sorted[middle]) / 2;
    EXPECT_EQ(medianOfReals(values), expected) << sorted.size() << " " << alike;
  }
}

}  // namespace
}  // namespace uneven
