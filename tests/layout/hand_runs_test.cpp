// SPDX-License-Identifier: GPL-3.0-or-later
// Hands told once.
#include "layout/hand_runs.h"

#include <gtest/gtest.h>

#include <string_view>

namespace uneven {
namespace {

constexpr auto kOne = HandRun::Kind::kOne, kTurns = HandRun::Kind::kTurns,
               kEach = HandRun::Kind::kEach;

std::vector<HandRun> runsOf(std::string_view letters) {
  std::vector<Limb> limbs;
  for (const char c : letters) limbs.push_back(c == 'R' ? Limb::kRightHand : Limb::kLeftHand);
  return handRuns(limbs);
}

TEST(HandRuns, AreToldWhereRolesChange) {
  EXPECT_TRUE(runsOf("").empty());
  EXPECT_EQ(runsOf("RRRRRRRR"), (std::vector<HandRun>{{kOne, 0, 7}}));
  EXPECT_EQ(runsOf("RLRLRL"), (std::vector<HandRun>{{kTurns, 0, 5}}));
  EXPECT_EQ(runsOf("RRRRLRLRLLLL"),
            (std::vector<HandRun>{
                {kOne, 0, 3}, {kTurns, 4, 8}, {kEach, 9, 9}, {kEach, 10, 10}, {kEach, 11, 11}}));
  EXPECT_EQ(runsOf("RRL"), (std::vector<HandRun>{{kEach, 0, 0}, {kEach, 1, 1}, {kEach, 2, 2}}));
  // Doubles are told stroke by stroke: they are neither.
  EXPECT_EQ(runsOf("RRLLRRLL").size(), 8U);
}

TEST(HandRuns, HoldEveryStrokeOnce) {
  for (unsigned pattern = 0; pattern < 1U << 12; ++pattern) {
    std::vector<Limb> limbs;
    for (unsigned i = 0; i < 12; ++i)
      limbs.push_back((pattern >> i & 1U) != 0 ? Limb::kRightHand : Limb::kLeftHand);
    std::size_t next = 0;
    for (const HandRun& run : handRuns(limbs)) {
      ASSERT_EQ(run.first, next);
      ASSERT_GE(run.last, run.first);
      next = run.last + 1;
    }
    ASSERT_EQ(next, limbs.size());
  }
}

}  // namespace
}  // namespace uneven
