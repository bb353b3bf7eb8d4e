// SPDX-License-Identifier: GPL-3.0-or-later
#include "layout/take_rows.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <numeric>

#include "core/match/along.h"
#include "tests/support/random_song.h"

namespace uneven {
namespace {

TEST(TakeRows, ABarIsARowAndAQuarterAColumn) {
  const TakeRows rows = takeRows({{1'000, 600}, -2, 30, 4, 4});
  EXPECT_NEAR(rows.axis.xFromQuarters(0), rows.area.left, 1e-9);
  EXPECT_NEAR(rows.axis.xFromQuarters(4), rows.area.right, 1e-9);
  EXPECT_NEAR(rows.yOf(5) - rows.yOf(4), rows.rowHeight, 1e-9);
  for (std::int64_t bar = rows.top; rows.shows(bar); ++bar) {
    EXPECT_EQ(rows.barAt(rows.yOf(bar)), bar);
    EXPECT_NEAR((rows.numberRect(bar).top + rows.numberRect(bar).bottom) / 2, rows.yOf(bar), 1e-9);
    EXPECT_LE(rows.numberRect(bar).bottom, rows.area.bottom + 1e-9);
  }
  const TakeRows alone = takeRows({{1'000, 600}, 0, 30, 4, 4, true});
  EXPECT_EQ(alone.shown, 1);
  EXPECT_NEAR(alone.rowHeight, alone.area.height(), 1e-9);
}

TEST(TakeRows, AnyBarComesIntoSightAndNothingBeyondTheLast) {
  testing::Random random(5);
  for (int i = 0; i < 500; ++i) {
    const int first = testing::pick(random, -8, 0), last = testing::pick(random, 0, 300);
    const double height = testing::pickReal(random, 200, 1'500);
    TakeRows rows = takeRows({{900, height}, first, last, testing::pick(random, first, last), 3});
    rows.top = rows.heldTop(rows.top);
    const std::int64_t bar = testing::pick(random, first, last), before = rows.top;
    const bool seen = rows.shows(bar);
    rows.top = rows.topFor(bar);
    EXPECT_TRUE(rows.shows(bar));
    if (seen) {
      EXPECT_EQ(rows.top, before) << "what is in sight moves nothing";
    }
    EXPECT_GE(rows.top, first);
    EXPECT_LE(rows.top, std::max<std::int64_t>(first, last - rows.shown + 1));
  }
}

TEST(TakeRows, AHillIsHighestWhereMostIs) {
  const Rect area{10, 0, 210, 50};
  const std::vector<double> hill = hillOf({60, 60, 60, 150, 9, 211}, area);
  ASSERT_EQ(hill.size(), 200U);
  EXPECT_EQ(std::max_element(hill.begin(), hill.end()) - hill.begin(), 50);
  EXPECT_NEAR(hill[50], 3, 1e-9);
  EXPECT_NEAR(hill[140], 1, 1e-9);
}

TEST(TakeRows, TheOutlineOfABarStandsWhereItIsLoud) {
  // A second a bar: loud over its third quarter.
  std::vector<float> energy(3'000, 0.01F);
  std::fill(energy.begin() + 1'250, energy.begin() + 1'375, 1.0F);
  const TakeRows rows = takeRows({{1'000, 600}, 0, 2, 0, 4, true});
  const BeatLine line({{0, 0}, {4, 1}});
  const std::vector<Point> outline = energyOutline(energy, 500, line, 8, rows, 400, 100);
  ASSERT_GT(outline.size(), 100U);
  for (const Point& p : outline) {
    const double quarter = rows.axis.quartersFromX(p.x);
    if (quarter > 2.02 && quarter < 2.96) {
      EXPECT_NEAR(p.y, 300, 1e-6);
    }
    if (quarter < 1.98 || quarter > 3.02) {
      EXPECT_GT(p.y, 385);
    }
  }
}

TEST(BarTempos, GoByWhatWasPlayed) {
  // Bars of 2 s at 120; the third begins 20 ms late, so that the second is slower.
  Fit fit;
  fit.grid.line = BeatLine({{0, 0}, {4, 2}});
  std::vector<Onset> onsets;
  for (int bar = 0; bar < 5; ++bar) {
    if (bar == 3) continue;  // nobody plays
    for (int quarter = 0; quarter < 4; ++quarter) {
      Placed p;
      p.bar = bar;
      p.at = Beat(quarter);
      p.late = Milliseconds(bar == 2 ? 20 : 0);
      p.used = true;
      fit.placed.push_back(p);
      onsets.push_back({});
    }
  }
  const std::vector<BarTempo> tempos = barTempos(fit, onsets);
  ASSERT_EQ(tempos.size(), 2U);
  EXPECT_EQ(tempos[0].bar, 0);
  EXPECT_NEAR(tempos[0].bpm.value, 120, 1e-9);
  EXPECT_EQ(tempos[1].bar, 1);
  EXPECT_NEAR(tempos[1].bpm.value, 240 / 2.02, 1e-9);
}

}  // namespace
}  // namespace uneven
