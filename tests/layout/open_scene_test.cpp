// SPDX-License-Identifier: GPL-3.0-or-later
#include "layout/open_scene.h"

#include <gtest/gtest.h>

#include <cmath>

#include "core/song/edit.h"
#include "tests/support/random_song.h"

namespace uneven {
namespace {

OpenScene openSceneOf(const Song& song, OpenViewport viewport = {{900, 600}, 0, 2}) {
  const auto take = Take::ofGroove(song, song.grooves[0]->id);
  EXPECT_TRUE(take);
  return openScene(**take, viewport);
}

Song openSong() {
  Song song = blankSong();
  song.grooves[0].edit([](Groove& g) {
    for (int i = 0; i < 16; ++i) {
      Hit hit;
      hit.at = Beat(i, 4);
      hit.piece = piece::kHat;
      g.hits.push_back(hit);
    }
    g.hits[2].open = 0.5;
    g.hits[2].openFor = Beat(1, 4);
    g.pedal.emplace();
    g.pedal->moves.push_back({Beat(2), 0.8, Beat(1, 4), {}});
  });
  return song;
}

TEST(OpenScene, TheEdgeFollowsThePathAndTheGripsStandOnIt) {
  const OpenScene scene = openSceneOf(openSong());
  ASSERT_EQ(scene.grips.size(), 2U);
  const OpeningGrip& grip = scene.grips[0];
  EXPECT_EQ(grip.hit, (HitRef{Beat(1, 2), piece::kHat}));
  EXPECT_FALSE(grip.move);
  EXPECT_NEAR(grip.from, scene.axis.xFromQuarters(0.5), 1e-3);
  EXPECT_NEAR(grip.to, scene.axis.xFromQuarters(0.75), 1e-3);
  EXPECT_NEAR(grip.y, scene.yOf(0.5), 1e-9);
  EXPECT_NEAR(scene.openingAt(grip.y), 0.5, 1e-9);
  EXPECT_EQ(scene.grips[1].move, 0U);
  EXPECT_NEAR(scene.grips[1].from, scene.axis.xFromQuarters(2), 1e-3);
  double highest = 1e9;
  for (const Point& p : scene.edge) highest = std::min(highest, p.y);
  EXPECT_NEAR(highest, scene.yOf(0.8), 1e-6);
  EXPECT_EQ(scene.edge.front().x, scene.band.left);
  EXPECT_EQ(scene.edge.back().x, scene.band.right);
}

TEST(OpenScene, PointsFindTheEndTheHeightAndTheStroke) {
  const OpenScene scene = openSceneOf(openSong());
  const OpeningGrip& grip = scene.grips[0];
  const auto end = gripAt(scene, {grip.to + 3, scene.band.bottom - 5});
  ASSERT_TRUE(end);
  EXPECT_TRUE(end->end);
  const auto top = gripAt(scene, {grip.from + 2, grip.y + 1});
  ASSERT_TRUE(top);
  EXPECT_FALSE(top->end);
  EXPECT_EQ(top->grip, 0U);
  EXPECT_FALSE(gripAt(scene, {scene.axis.xFromQuarters(6), scene.yOf(0.5)}));
  EXPECT_FALSE(gripAt(scene, {grip.to, scene.strokes.top}));
  const auto stroke = hatStrokeAt(scene, scene.axis.xFromQuarters(0.3));
  ASSERT_TRUE(stroke);
  EXPECT_EQ(scene.hits[*stroke].ref.at, Beat(1, 4));
  EXPECT_EQ(slotNear(scene, scene.axis.xFromQuarters(1.3)), Beat(5, 4));
  EXPECT_EQ(slotNear(scene, scene.band.right + 50), Beat(8)) << "the end of what is shown";
}

TEST(OpenScene, ThePumpsSlotsAreThereWithAndWithoutAPump) {
  Song song = openSong();
  EXPECT_EQ(openSceneOf(song).pump.size(), 16U) << "eighths of two bars";
  song.grooves[0].edit([](Groove& g) {
    g.pedal->pump = Pump{{4, 0}, PumpPhase::kOff, "", 0.3, {}};
  });
  const OpenScene scene = openSceneOf(song);
  ASSERT_EQ(scene.pump.size(), 8U);
  for (std::size_t i = 0; i < 8; ++i) EXPECT_EQ(scene.pump[i].pressed, i % 2 == 1);
  EXPECT_EQ(pumpSlotAt(scene, {scene.pump[3].x + 4, scene.pumpY}), 3U);
  EXPECT_FALSE(pumpSlotAt(scene, {scene.pump[3].x + 20, scene.pumpY}));
}

TEST(OpenScene, EveryThingStaysInsideOnRandomSongs) {
  testing::Random random(77);
  for (int i = 0; i < 200; ++i) {
    const Song song = testing::randomSong(random);
    const OpenScene scene = openSceneOf(song);
    ASSERT_LT(scene.strokes.bottom, scene.band.top);
    ASSERT_LT(scene.band.bottom, scene.feet.top);
    for (std::size_t k = 0; k < scene.edge.size(); ++k) {
      ASSERT_GE(scene.edge[k].y, scene.band.top - 1e-6);
      ASSERT_LE(scene.edge[k].y, scene.band.bottom + 1e-6);
      if (k > 0) {
        ASSERT_GE(scene.edge[k].x, scene.edge[k - 1].x - 1e-6);
      }
    }
    for (const HatStrokeShape& hit : scene.hits) {
      ASSERT_LE(hit.height, scene.strokes.height());
      ASSERT_GE(hit.height, 0);
    }
    for (const FootMark& mark : scene.marks) ASSERT_LE(mark.depth, scene.feet.height());
  }
}

}  // namespace
}  // namespace uneven
