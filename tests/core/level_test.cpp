// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/measure/level.h"

#include <gtest/gtest.h>

#include "core/io/song_json.h"
#include "tests/support/process.h"

namespace uneven {
namespace {

Hit snare(Beat at, int velocity, Role role) {
  Hit hit;
  hit.at = at;
  hit.piece = piece::kSnare;
  hit.velocity = Velocity(velocity);
  hit.role = role;
  return hit;
}

TEST(Level, ThirtyFiveUnderOneHundredAndTenIsTwentyDecibelsDown) {
  // L(v) = 40 log10(v / 127): General MIDI 2 and DLS Level 1 (MMA).
  EXPECT_NEAR(levelOf(Velocity(35)).value - levelOf(Velocity(110)).value, -19.9, 0.05);
  EXPECT_EQ(levelOf(Velocity(127)).value, 0);
}

TEST(Level, LouderByTwelveDecibelsIsTwiceTheVelocity) {
  // 40 log10(2) = 12.04 dB.
  EXPECT_NEAR(louder(Velocity(50), 12.0412), 100, 1e-3);
  EXPECT_NEAR(louder(Velocity(50), -12.0412), 25, 1e-3);
  EXPECT_GT(louder(Velocity(120), 6), 127) << "not held: who asks may want to know";
  for (int v = 1; v <= 127; ++v) {
    EXPECT_NEAR(levelOf(louder(Velocity(v), 7.5)).value, levelOf(Velocity(v)).value + 7.5, 1e-9);
  }
}

TEST(Level, TheMedianIsTheMiddleOrTheMeanOfTwo) {
  EXPECT_EQ(medianOf({7}), 7);
  EXPECT_EQ(medianOf({9, 1, 5}), 5);
  EXPECT_EQ(medianOf({9, 1, 5, 6}), 5.5);
  EXPECT_EQ(medianOf({4, 4, 100, 4}), 4);
}

TEST(Separation, ComparesMedians) {
  Groove groove;
  groove.hits = {snare(0, 110, Role::kAccent), snare(Beat(1, 4), 20, Role::kGhost),
                 snare(Beat(1, 2), 35, Role::kGhost), snare(Beat(3, 4), 36, Role::kGhost),
                 snare(Beat(1), 90, Role::kNormal)};
  const auto found = separations(groove);
  ASSERT_EQ(found.size(), 1U);
  EXPECT_EQ(found[0].piece, piece::kSnare);
  EXPECT_EQ(found[0].ghostMedian, 35);
  EXPECT_EQ(found[0].ghosts, 3);
  EXPECT_NEAR(found[0].difference.value, 19.9, 0.05);
  groove.hits.pop_back();
  groove.hits.push_back(snare(Beat(1), 100, Role::kAccent));
  EXPECT_EQ(separations(groove)[0].accentMedian, 105)
      << "of an even number: the mean of the middle";
}

TEST(Separation, TheDemosGhostsLieWellUnderItsAccents) {
  const auto demo = readSong(
      testing::readText(std::string(SOURCE_DIR) + "/data/demo/lock-gate-nine.ustick"), "demo");
  ASSERT_TRUE(demo);
  for (const auto& groove : demo->grooves) {
    const auto found = separations(*groove);
    ASSERT_EQ(found.size(), 1U) << groove->name;
    EXPECT_GE(found[0].difference.value, 18) << groove->name;
    EXPECT_LE(found[0].difference.value, 28) << groove->name;
  }
}

TEST(Separation, NeedsBothAccentsAndGhosts) {
  Groove groove;
  groove.hits = {snare(0, 110, Role::kAccent)};
  EXPECT_TRUE(separations(groove).empty());
}

}  // namespace
}  // namespace uneven
