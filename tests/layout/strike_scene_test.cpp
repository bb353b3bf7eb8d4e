// SPDX-License-Identifier: GPL-3.0-or-later
#include "layout/strike_scene.h"

#include <gtest/gtest.h>

#include <limits>

#include "core/song/limbs.h"
#include "core/song/slots.h"
#include "layout/hit_test.h"
#include "tests/support/random_song.h"

namespace uneven {
namespace {

TEST(TimeAxis, GoesThereAndBackExactly) {
  testing::Random random(61);
  for (int i = 0; i < 10'000; ++i) {
    const double left = testing::pickReal(random, -5000, 5000);
    const TimeAxis axis(left, left + testing::pickReal(random, 1, 20'000),
                        testing::pickReal(random, 0, 5'000'000),
                        testing::pickReal(random, 0.01, 256));
    const double x = testing::pickReal(random, -20'000, 20'000);
    // Within what doubles of this size can hold, far below a pixel.
    EXPECT_NEAR(axis.xFromQuarters(axis.quartersFromX(x)), x, 1e-9 * axis.pxPerQuarter() + 1e-9);
  }
}

struct Scene {
  Song song;
  SharedTake take;
  StrikeScene scene;
};

Scene sceneOf(const Song& song, const StrikeViewport& viewport) {
  Scene out{song, *Take::ofGroove(song, song.grooves[0]->id), {}};
  out.scene = strikeScene(*out.take, viewport);
  return out;
}

StrikeViewport viewportFor(const Song& song, int firstBar = 0, int bars = 64) {
  StrikeViewport v;
  v.size = {1200, 700};
  v.firstBar = firstBar;
  v.bars = bars;
  v.lanes = lanesFor(*song.grooves[0], *song.kit, true);
  return v;
}

Song swungSong() {
  Song song = blankSong();
  song.feels[0].swing.ratio = 2;
  song.feels[0].displacement[piece::kSnare] = Milliseconds(12);
  song.grooves[0].edit([](Groove& g) {
    Hit hat, snare;
    hat.at = Beat(1, 4);
    snare.at = Beat(1);
    snare.piece = piece::kSnare;
    snare.velocity = Velocity(127);
    snare.role = Role::kAccent;
    g.hits = {hat, snare};
  });
  return song;
}

TEST(StrikeScene, FeetStandAtSwungTimeAndHeadsLean) {
  const Song song = swungSong();
  StrikeViewport viewport = viewportFor(song);
  viewport.pxPerMs = 2;
  const StrikeScene scene = sceneOf(song, viewport).scene;
  ASSERT_EQ(scene.sticks.size(), 2U);
  const StickShape& hat = scene.sticks[0];
  EXPECT_NEAR(hat.foot.x, scene.axis.xFromQuarters(1.0 / 3.0), 1e-4);
  EXPECT_EQ(hat.head.x, hat.foot.x) << "neither late nor early";
  const StickShape& snare = scene.sticks[1];
  EXPECT_NEAR(snare.head.x - snare.foot.x, 24, 1e-6) << "12 ms late at 2 px a ms";
  const LaneShape& lane = *std::find_if(scene.lanes.begin(), scene.lanes.end(),
                                        [](auto& l) { return l.piece == piece::kSnare; });
  EXPECT_NEAR(snare.foot.y - snare.head.y, lane.room, 1e-9) << "velocity 127 fills the lane";
}

TEST(StrikeScene, TheGridBendsWithTheSwing) {
  const Song song = swungSong();
  const StrikeScene scene = sceneOf(song, viewportFor(song)).scene;
  ASSERT_EQ(scene.lines.size(), 33U);
  EXPECT_NEAR(scene.lines[1].x, scene.axis.xFromQuarters(1.0 / 3.0), 1e-9);
  EXPECT_NEAR(scene.lines[1].straightX, scene.axis.xFromQuarters(0.25), 1e-9);
  EXPECT_EQ(scene.lines[2].x, scene.lines[2].straightX) << "eighths do not move";
  EXPECT_EQ(scene.lines[1].count.label(), "e");
  EXPECT_EQ(scene.lines[16].weight, LineWeight::kBar);
}

TEST(StrikeScene, LabelsNeverCrowd) {
  testing::Random random(62);
  for (int i = 0; i < 200; ++i) {
    Song song = testing::randomSong(random);
    song.grooves[0].edit([](Groove& g) { g.grid = {32, 0}; });
    const StrikeScene scene = sceneOf(song, viewportFor(song)).scene;
    double free = -100;
    for (const GridLine& line : scene.lines) {
      if (!line.labelled) continue;
      const double half = 3.25 * static_cast<double>(line.count.label().size());
      EXPECT_GE(line.x - half, free) << line.count.label();
      free = line.x + half;
    }
  }
}

TEST(HitTest, FindsEveryStickAtItsHeadAndEverySlotAtItsLine) {
  testing::Random random(63);
  int found = 0;
  for (int i = 0; i < 100; ++i) {
    const Song song = testing::randomSong(random);
    const StrikeScene scene = sceneOf(song, viewportFor(song)).scene;
    for (const StickShape& stick : scene.sticks) {
      if (stick.part > 0) continue;  // gives way to hits
      const auto hit = stickAt(scene, stick.head);
      ASSERT_TRUE(hit);
      EXPECT_LE(distanceToSegment(stick.head, scene.sticks[*hit].foot, scene.sticks[*hit].head),
                1e-9);
      ++found;
    }
    for (std::size_t k = 0; k + 1 < scene.lines.size(); ++k) {
      EXPECT_EQ(slotAt(scene, scene.lines[k].x), scene.lines[k].at);
      EXPECT_EQ(lineAt(scene, scene.lines[k].at), k);
    }
    for (std::size_t k = 0; k < scene.lanes.size(); ++k) {
      EXPECT_EQ(laneAt(scene, scene.lanes[k].baseline), k);
    }
    EXPECT_EQ(laneAt(scene, scene.area.top - 1), std::nullopt);
  }
  EXPECT_GT(found, 1000);
}

TEST(HitTest, ARubberBandTakesWhatItHolds) {
  const Song song = swungSong();
  const StrikeScene scene = sceneOf(song, viewportFor(song)).scene;
  EXPECT_EQ(sticksIn(scene, {0, 0, 5000, 5000}).size(), 2U);
  const Point head = scene.sticks[1].head;
  EXPECT_EQ(sticksIn(scene, Rect::spanning({head.x + 2, head.y + 2}, {head.x - 2, head.y - 2})),
            (Selection{{Beat(1), piece::kSnare}}));
}

TEST(StrikeScene, AnOpeningIsAWedgeUntilItIsShut) {
  Song song = blankSong();
  song.grooves[0].edit([](Groove& g) {
    Hit open, shut;
    open.open = 0.5;
    shut.at = Beat(1);
    g.hits = {open, shut};
  });
  StrikeScene scene = sceneOf(song, viewportFor(song)).scene;
  ASSERT_EQ(scene.wedges.size(), 1U);
  // Open at the stroke, shut at the next one; the foot has been on its way before both.
  const std::vector<Point>& edge = scene.wedges[0].edge;
  ASSERT_EQ(edge.size(), 4U);
  EXPECT_NEAR(edge[1].x, scene.axis.xFromQuarters(0), 1e-4);
  EXPECT_LT(edge[0].x, edge[1].x);
  EXPECT_EQ(edge[1].y, edge[2].y);
  EXPECT_NEAR(edge[3].x, scene.axis.xFromQuarters(1), 1e-4);
  EXPECT_EQ(edge[3].y, scene.wedges[0].baseline);
  song.grooves[0].edit([](Groove& g) { g.hits[0].openFor = Beat(1, 2); });
  scene = sceneOf(song, viewportFor(song)).scene;
  ASSERT_EQ(scene.wedges.size(), 1U);
  EXPECT_NEAR(scene.wedges[0].edge.back().x, scene.axis.xFromQuarters(0.5), 1e-4);
}

TEST(StrikeScene, LanesOfLimbsHoldWhatEachLimbStrikes) {
  testing::Random random(78);
  for (int i = 0; i < 100; ++i) {
    Song song = testing::randomSong(random);
    StrikeViewport viewport = viewportFor(song);
    viewport.byLimb = true;
    viewport.bars = 64;
    const Groove& groove = *song.grooves[0];
    const StrikeScene scene = strikeScene(**Take::ofGroove(song, groove.id), viewport);
    ASSERT_EQ(scene.lanes.size(), 4U);
    const std::vector<Limb> limbs = limbsOf(groove, *song.kit);
    std::size_t played = 0;
    for (const Limb limb : limbs) played += limb == Limb::kAutomatic ? 0 : 1;
    std::size_t shown = 0;
    for (const StickShape& stick : scene.sticks) {
      if (stick.part > 0) continue;
      ++shown;
      const auto lane = laneAt(scene, stick.foot.y);
      ASSERT_TRUE(lane);
      ASSERT_EQ(scene.lanes[*lane].limb, stick.limb);
      ASSERT_EQ(stick.foreign, stick.ref.piece != scene.lanes[*lane].piece);
    }
    ASSERT_EQ(shown, played);
  }
}

TEST(StrikeScene, ABeatsOwnGridHasItsLines) {
  Song song = blankSong();
  song.grooves[0].edit([](Groove& g) { g = withBeatGrid(g, Beat(1), {16, 5}); });
  const StrikeScene scene = sceneOf(song, viewportFor(song)).scene;
  int inBeat = 0;
  for (const GridLine& line : scene.lines)
    inBeat += line.at >= Beat(1) && line.at < Beat(2) ? 1 : 0;
  EXPECT_EQ(inBeat, 5);
  EXPECT_TRUE(lineAt(scene, Beat(7, 5)));
  EXPECT_FALSE(lineAt(scene, Beat(5, 4)));
}

TEST(StrikeScene, ShowsOnlyTheBarsAskedFor) {
  const Song song = swungSong();
  const StrikeScene scene = sceneOf(song, viewportFor(song, 1, 1)).scene;
  EXPECT_EQ(scene.begin, Beat(4));
  EXPECT_EQ(scene.end, Beat(8));
  EXPECT_TRUE(scene.sticks.empty());
}

TEST(Lanes, ShowTheUsualPiecesAndWhatIsStruck) {
  Groove groove;
  EXPECT_EQ(lanesFor(groove, houseKit(), false).size(), 7U);
  Hit cowbell;
  cowbell.piece = piece::kCowbell;
  groove.hits = {cowbell};
  EXPECT_EQ(lanesFor(groove, houseKit(), false).size(), 8U);
  EXPECT_EQ(lanesFor(groove, houseKit(), true).size(), houseKit().pieces.size());
}

}  // namespace
}  // namespace uneven
