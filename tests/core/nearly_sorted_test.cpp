// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/nearly_sorted.h"

#include <gtest/gtest.h>

#include <vector>

#include "tests/support/random_song.h"

namespace uneven {
namespace {

struct Item {
  int key = 0;
  int place = 0;  // before sorting
  bool operator==(const Item&) const = default;
};

// std::stable_sort is the reference: the same order, equal keys left as they stood.
TEST(NearlySorted, IsAStableSort) {
  testing::Random random(71);
  const auto less = [](const Item& a, const Item& b) { return a.key < b.key; };
  for (int round = 0; round < 60; ++round) {
    std::vector<Item> items(static_cast<std::size_t>(testing::pick(random, 0, 20'000)));
    // From quite in order to not at all; keys that repeat.
    const int shake = std::vector{0, 3, 500, 60'000}[static_cast<std::size_t>(round % 4)];
    for (std::size_t i = 0; i < items.size(); ++i) {
      items[i] = {static_cast<int>(i) / 3 + testing::pick(random, 0, shake), static_cast<int>(i)};
    }
    std::vector<Item> wanted = items;
    std::stable_sort(wanted.begin(), wanted.end(), less);
    sortByTiles(items.begin(), items.end(), less);
    ASSERT_EQ(items, wanted) << items.size() << " shaken by " << shake;
  }
}

TEST(NearlySorted, AMergeOfTilesThatDoNotOverlapMovesNothing) {
  std::vector<int> items = {1, 2, 2, 2, 3, 5};
  int compared = 0;
  const auto less = [&](int a, int b) {
    ++compared;
    return a < b;
  };
  mergeOverlap(items.begin(), items.begin() + 3, items.end(), less);
  EXPECT_EQ(items, (std::vector<int>{1, 2, 2, 2, 3, 5}));
  EXPECT_LE(compared, 3) << "only the place is looked for";
}

}  // namespace
}  // namespace uneven
