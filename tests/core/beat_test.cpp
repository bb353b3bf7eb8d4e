// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/time/beat.h"

#include <gtest/gtest.h>

#include <limits>

#include "tests/support/random_song.h"

namespace uneven {
namespace {

using testing::pick;
using testing::Random;

constexpr std::int64_t kHuge = std::numeric_limits<std::int64_t>::max();

TEST(Beat, ReducesToLowestTerms) {
  EXPECT_EQ(Beat(6, 8), Beat(3, 4));
  EXPECT_EQ(Beat(-6, 8).num(), -3);
  EXPECT_EQ(Beat(6, -8).num(), -3);
  EXPECT_EQ(Beat(0, 7).den(), 1);
}

TEST(Beat, AddsSixteenthsAndTripletsExactly) {
  EXPECT_EQ(Beat(1, 4) + Beat(1, 3), Beat(7, 12));
  EXPECT_EQ(Beat(1, 3) + Beat(1, 3) + Beat(1, 3), Beat(1));
  EXPECT_EQ(Beat(7, 8) - Beat(1), Beat(-1, 8));
  EXPECT_EQ(Beat(3, 4) / Beat(1, 4), Beat(3));
}

TEST(Beat, RefusesOverflowInsteadOfBeingWrong) {
  EXPECT_FALSE((Beat(kHuge) + Beat(1)).valid());
  EXPECT_FALSE((Beat(kHuge) * Beat(2)).valid());
  EXPECT_FALSE((Beat(1, kHuge) + Beat(1, kHuge - 1)).valid());
  EXPECT_FALSE((Beat(1) / Beat(0)).valid());
  EXPECT_FALSE(Beat(1, 0).valid());
  EXPECT_FALSE((Beat::invalid() + Beat(1)).valid()) << "overflow is sticky";
  EXPECT_GT(Beat::invalid(), Beat(kHuge)) << "and sorts last";
  // What only looks too large on the way is still right.
  EXPECT_EQ(Beat(kHuge, 3) * Beat(3, kHuge), Beat(1));
  EXPECT_EQ(Beat(1, kHuge) + Beat(1, kHuge), Beat(2, kHuge));
  EXPECT_LT(Beat(kHuge - 1, kHuge), Beat(1));
}

TEST(Beat, KeepsTheLawsOfArithmetic) {
  Random random(11);
  for (int i = 0; i < 20'000; ++i) {
    const auto any = [&] { return Beat(pick(random, -9999, 9999), pick(random, 1, 10'080)); };
    const Beat a = any(), b = any(), c = any();
    EXPECT_EQ(a + b, b + a);
    EXPECT_EQ((a + b) - b, a);
    EXPECT_EQ((a + b) * c, a * c + b * c);
    EXPECT_EQ(a < b, a + c < b + c);
    EXPECT_EQ(Beat::parse(a.toString()), a);
    const Beat unit(pick(random, 1, 40), pick(random, 1, 40));
    const Beat rest = a - Beat(a.floorDiv(unit)) * unit;
    EXPECT_TRUE(rest >= Beat(0) && rest < unit) << a.toString() << " over " << unit.toString();
  }
}

TEST(Beat, ParsesOnlyExactFractions) {
  EXPECT_EQ(Beat::parse("7/4"), Beat(7, 4));
  EXPECT_EQ(Beat::parse("14/8"), Beat(7, 4));
  EXPECT_EQ(Beat::parse("-3"), Beat(-3));
  for (const char* bad : {"", "/", "1/", "/4", "1/0", "1/-4", "+1", " 1", "1 ", "1.5", "1e3", "0x1",
                          "1/2/3", "9223372036854775808", "1/9223372036854775808"}) {
    EXPECT_EQ(Beat::parse(bad), std::nullopt) << bad;
  }
}

}  // namespace
}  // namespace uneven
