// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/song/slots.h"

#include <gtest/gtest.h>

#include "core/time/count.h"
#include "tests/support/random_song.h"

namespace uneven {
namespace {

std::string textOf(const std::vector<Beat>& slots) {
  std::string out;
  for (const Beat at : slots) out += (out.empty() ? "" : " ") + at.toString();
  return out;
}

TEST(Slots, ABeatMayHaveAGridOfItsOwn) {
  Groove groove;
  groove.grid = {16, 0};
  groove = withBeatGrid(groove, Beat(3, 2), {8, 3});
  EXPECT_EQ(textOf(slotsOf(groove, Beat(0), groove.length())),
            "0 1/4 1/2 3/4 1 4/3 5/3 2 9/4 5/2 11/4 3 13/4 7/2 15/4");
  std::string counted;
  for (const Beat at : slotsOf(groove, Beat(1), Beat(3))) {
    counted += countName(at, groove.meter).text() + ", ";
  }
  EXPECT_EQ(counted, "2, 2 trip, 2 let, 3, 3 e, 3 &, 3 a, ");
  // The groove's own grid takes it back.
  EXPECT_EQ(withBeatGrid(groove, Beat(1), {16, 0}).beatGrids.size(), 0U);
}

TEST(Slots, FivesSevensAndDottedBeats) {
  Groove groove;
  groove.meter = {6, 8};
  groove.grid = {8, 0};
  groove = withBeatGrid(groove, Beat(2), {16, 0});
  EXPECT_EQ(textOf(slotsOf(groove, Beat(0), groove.length())), "0 1/2 1 3/2 7/4 2 9/4 5/2 11/4");
  groove.meter = {2, 4};
  groove.beatGrids.clear();
  groove = withBeatGrid(groove, Beat(0), {16, 5});
  groove = withBeatGrid(groove, Beat(1), {16, 7});
  EXPECT_EQ(textOf(slotsOf(groove, Beat(0), groove.length())),
            "0 1/5 2/5 3/5 4/5 1 8/7 9/7 10/7 11/7 12/7 13/7");
  EXPECT_EQ(Grid::parse("1/16:5"), (Grid{16, 5}));
  EXPECT_EQ((Grid{16, 7}).toString(), "1/16:7");
  EXPECT_FALSE(Grid::parse("1/16:6"));
}

TEST(Slots, TheGridStartsAfreshAtTheBarLine) {
  Groove groove;
  groove.meter = {7, 8};
  groove.bars = 2;
  groove.grid = {8, 3};
  EXPECT_EQ(slotAfter(groove, Beat(10, 3)), Beat(7, 2));
  EXPECT_EQ(slotBefore(groove, Beat(7, 2)), Beat(10, 3));
}

TEST(Slots, WalkingForthAndBackMeetsTheSameSlots) {
  testing::Random random(41);
  for (int i = 0; i < 200; ++i) {
    const Groove groove = testing::randomGroove(random, "g", "");
    const std::vector<Beat> slots = slotsOf(groove, Beat(0), groove.length());
    ASSERT_FALSE(slots.empty());
    ASSERT_EQ(slots.front(), Beat(0));
    ASSERT_TRUE(std::is_sorted(slots.begin(), slots.end(), std::less_equal<Beat>()) ||
                slots.size() == 1);
    for (std::size_t k = 0; k < slots.size(); ++k) {
      const Beat next = k + 1 < slots.size() ? slots[k + 1] : groove.length();
      ASSERT_EQ(slotAfter(groove, slots[k]), next);
      ASSERT_EQ(slotBefore(groove, next), slots[k]);
    }
    // Every beat line is there unless the groove's grid is coarser than a beat.
    for (const auto& [at, grid] : groove.beatGrids) {
      ASSERT_TRUE(std::binary_search(slots.begin(), slots.end(), at));
    }
  }
}

}  // namespace
}  // namespace uneven
