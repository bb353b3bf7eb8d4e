// SPDX-License-Identifier: GPL-3.0-or-later
#include "layout/card_wall.h"

#include <gtest/gtest.h>

#include <cmath>

#include "tests/support/random_song.h"

namespace uneven {
namespace {

using testing::pick;
using testing::pickReal;

TEST(CardWall, EveryCardIsReachedWhereverItIsScrolled) {
  testing::Random random(3);
  for (int i = 0; i < 300; ++i) {
    const auto count = static_cast<std::uint64_t>(pick(random, 1, i % 5 == 0 ? 2'000'000 : 300));
    const Size size{pickReal(random, 150, 1'600), pickReal(random, 100, 1'200)};
    const CardWall wall = cardWall(count, size);
    const double scrolled = pickReal(random, 0, 1) * wall.scrollMost();
    const auto [from, to] = wall.seen(scrolled);
    ASSERT_LT(from, to);
    EXPECT_LE(to, count);
    for (std::uint64_t c = from; c < to; ++c) {
      const Rect card = wall.card(c, scrolled);
      EXPECT_GE(card.left, 0);
      EXPECT_LE(card.right, std::max(size.width, 180.0));
      EXPECT_EQ(wall.at({(card.left + card.right) / 2, (card.top + card.bottom) / 2}, scrolled), c);
    }
    // At its end the last card is seen, at its beginning the first.
    EXPECT_EQ(wall.seen(wall.scrollMost()).second, count);
    EXPECT_EQ(wall.seen(0).first, 0U);
    EXPECT_LE(wall.card(count - 1, wall.scrollMost()).bottom, std::max(size.height, 98.0) + 1e-6);
    if (wall.scrollMost() == 0) {
      EXPECT_EQ(wall.seen(0).second, count);
    }
  }
}

TEST(CardWall, FewStandHigher) {
  EXPECT_EQ(cardWall(2, {1'000, 800}).columns, 1);
  EXPECT_EQ(cardWall(2, {1'000, 800}).cardHeight, CardWall::kCardHeightMost);
  EXPECT_EQ(cardWall(500, {1'000, 800}).cardHeight, CardWall::kCardHeight);
  EXPECT_EQ(cardWall(0, {1'000, 800}).seen(0).second, 0U);
}

TEST(SpreadOut, NoneLiesOnAnother) {
  const Rect edge{0, 0, 600, 400};
  std::vector<std::optional<Point>> places(40, Point{300, 200});
  places[7].reset();
  const auto points = spreadOut(places, edge);
  EXPECT_FALSE(points[7]);
  EXPECT_EQ(points[0]->x, 300);
  for (std::size_t i = 0; i < points.size(); ++i) {
    for (std::size_t k = 0; k < i; ++k) {
      if (!points[i] || !points[k]) continue;
      EXPECT_GT(std::hypot(points[i]->x - points[k]->x, points[i]->y - points[k]->y), 9)
          << i << " on " << k;
    }
  }
  // Nothing leaves the room.
  for (const auto& p : spreadOut(std::vector<std::optional<Point>>(60, Point{599, 1}), edge))
    EXPECT_TRUE(edge.contains(*p));
}

}  // namespace
}  // namespace uneven
