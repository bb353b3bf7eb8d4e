// SPDX-License-Identifier: GPL-3.0-or-later
#include "layout/mini_scene.h"

#include <gtest/gtest.h>

#include "core/song/edit.h"
#include "tests/support/random_song.h"

namespace uneven {
namespace {

Hit hitAt(Beat at, PieceId piece, int velocity = 127) {
  Hit hit;
  hit.at = at;
  hit.piece = piece;
  hit.velocity = Velocity(velocity);
  return hit;
}

TEST(MiniScene, HandsStandAboveTheLineAndFeetBelow) {
  Groove groove;
  groove.bars = 1;
  groove.hits = {hitAt(Beat(0), piece::kHat), hitAt(Beat(0), piece::kKick),
                 hitAt(Beat(2), piece::kSnare, 30)};
  const Rect room{0, 0, 208, 100};
  const MiniScene scene = miniScene(groove, nullptr, houseKit(), room);
  ASSERT_EQ(scene.sticks.size(), 3U);
  EXPECT_NEAR(scene.axis.xFromQuarters(2), 104, 1e-9);
  for (const MiniStick& stick : scene.sticks) {
    EXPECT_EQ(stick.foot.y, scene.line);
    EXPECT_EQ(isFoot(stick.limb), stick.head.y > scene.line);
    EXPECT_TRUE(room.contains(stick.head));
    EXPECT_FALSE(stick.differs);
  }
  EXPECT_GT(scene.sticks[2].head.y, scene.sticks[0].head.y) << "softer is lower";
  EXPECT_TRUE(scene.bars.empty());
}

TEST(MiniScene, WhatDiffersIsMarkedAndWhatIsGoneHasItsPlace) {
  Groove core;
  core.bars = 6;
  for (int quarter = 0; quarter < 24; ++quarter)
    core.hits.push_back(hitAt(Beat(quarter), piece::kHat));
  Groove other = withoutHits(core, {{Beat(13), piece::kHat}});
  other = withHit(std::move(other), hitAt(Beat(15), piece::kSnare));
  const MiniScene scene = miniScene(other, &core, houseKit(), {0, 0, 300, 60});
  // Two bars from where it differs: the fourth and the fifth.
  EXPECT_NEAR(scene.axis.quartersFromX(4), 12, 1e-9);
  ASSERT_EQ(scene.bars.size(), 1U);
  ASSERT_EQ(scene.gone.size(), 1U);
  EXPECT_NEAR(scene.gone[0].x, scene.axis.xFromQuarters(13), 1e-9);
  int marked = 0;
  for (const MiniStick& stick : scene.sticks) marked += stick.differs ? 1 : 0;
  EXPECT_EQ(marked, 1);
  // Against another figure altogether nothing is marked.
  Groove empty = core;
  empty.hits.clear();
  const MiniScene all = miniScene(core, &empty, houseKit(), {0, 0, 300, 60});
  for (const MiniStick& stick : all.sticks) EXPECT_FALSE(stick.differs);
}

}  // namespace
}  // namespace uneven
