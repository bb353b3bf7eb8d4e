// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/time/tempo_map.h"

#include <gtest/gtest.h>

#include "tests/support/random_song.h"

namespace uneven {
namespace {

TEST(TempoMap, ASixteenthAt98BpmLasts153Ms) {
  // Arithmetic: 60000 / 98 / 4.
  const TempoMap map({{Beat(0), Tempo::fromBpm({98})}});
  EXPECT_NEAR(map.msAt(Quarters(0.25)).count(), 153.06, 0.005);
}

TEST(TempoMap, ThirtySecondsAt74AreSixteenthsAt148) {
  const TempoMap slow({{Beat(0), Tempo::fromBpm({74})}});
  const TempoMap fast({{Beat(0), Tempo::fromBpm({148})}});
  EXPECT_NEAR(slow.msAt(Quarters(0.125)).count(), fast.msAt(Quarters(0.25)).count(), 0.001);
}

TEST(TempoMap, SumsItsSteps) {
  // 4 quarters of 500 ms, 2 of 1000 ms, then 250 ms: worked by hand.
  const TempoMap map({{Beat(0), {500'000}}, {Beat(4), {1'000'000}}, {Beat(6), {250'000}}});
  EXPECT_DOUBLE_EQ(map.msAt(Quarters(3)).count(), 1500);
  EXPECT_DOUBLE_EQ(map.msAt(Quarters(4)).count(), 2000);
  EXPECT_DOUBLE_EQ(map.msAt(Quarters(5.5)).count(), 3500);
  EXPECT_DOUBLE_EQ(map.msAt(Quarters(8)).count(), 4500);
  EXPECT_DOUBLE_EQ(map.msAt(Quarters(-1)).count(), -500)
      << "before the start the first tempo holds";
  EXPECT_EQ(map.tempoAt(Beat(4)).usPerQuarter, 1'000'000);
  EXPECT_EQ(map.tempoAt(Beat(15, 4)).usPerQuarter, 500'000);
}

TEST(TempoMap, GoesThereAndBack) {
  testing::Random random(5);
  for (int i = 0; i < 200; ++i) {
    const TempoMap map = testing::randomSong(random).tempoMap();
    TempoMap::Cursor cursor(map);
    for (int k = 0; k < 50; ++k) {
      const double quarters = testing::pickReal(random, -4, 400);
      const Milliseconds ms = map.msAt(Quarters(quarters));
      EXPECT_NEAR(map.quartersAt(ms).value(), quarters, 1e-9);
      EXPECT_EQ(cursor.msAt(Quarters(quarters)), ms);
    }
  }
}

TEST(Tempo, IsWholeMicroseconds) {
  EXPECT_EQ(Tempo::fromBpm({92}).usPerQuarter, 652'174);
  EXPECT_EQ(Tempo::fromBpm({20}).usPerQuarter, 3'000'000);
  EXPECT_EQ(Tempo::fromBpm({400}).usPerQuarter, 150'000);
}

}  // namespace
}  // namespace uneven
