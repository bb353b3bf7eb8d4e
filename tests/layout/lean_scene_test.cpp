// SPDX-License-Identifier: GPL-3.0-or-later
#include "layout/lean_scene.h"

#include <gtest/gtest.h>

#include <cmath>

#include "core/song/edit.h"
#include "tests/support/random_song.h"

namespace uneven {
namespace {

LeanScene leanSceneOf(const Song& song, LeanViewport viewport = {{1000, 500}, 0, 1.5}) {
  const std::string id = song.grooves[0]->id;
  const auto alone = Take::ofGroove(song, id);
  const auto whole = Take::ofSong(song);
  EXPECT_TRUE(alone && whole);
  return leanScene({**alone, whole->get(), nullptr}, viewport);
}

Song leaning() {
  Song song = blankSong();
  song.grooves[0].edit([](Groove& g) {
    g.bars = 1;
    for (int i = 0; i < 16; ++i) {
      Hit hit;
      hit.at = Beat(i, 4);
      hit.piece = i % 8 == 4 ? piece::kSnare : piece::kHat;
      g.hits.push_back(hit);
    }
  });
  song.feels[0].swing.unit = SwingUnit::kSixteenth;
  song.feels[0].swing.ratio = 3;
  song.feels[0].displacement[piece::kSnare] = Milliseconds(12);
  setSlot(song.feels[0], Beat(3, 4), std::nullopt, Milliseconds(-8));
  setSlot(song.feels[0], Beat(1), piece::kSnare, Milliseconds(2));
  song.arrangement[0].repeat = 3;
  return song;
}

TEST(LeanScene, SticksLeanFromStraightByTheirMilliseconds) {
  const LeanScene scene = leanSceneOf(leaning());
  ASSERT_EQ(scene.sticks.size(), 16U);
  ASSERT_EQ(scene.rows.size(), 2U);
  for (const LeanStick& stick : scene.sticks) {
    const double at = stick.ref.at.toDouble();
    // 120 bpm: a pair of sixteenths lasts 250 ms; 3:1 puts its second note at 187.5, 62.5 late.
    const double swung = stick.ref.at.den() == 4 ? 62.5 : 0;
    double lean = swung + (stick.ref.piece == piece::kSnare ? 12 : 0);
    if (stick.ref.at == Beat(3, 4)) lean -= 8;
    if (stick.ref.at == Beat(1)) lean += 2;
    const double straight =
        scene.lines.front().x + (scene.lines.back().x - scene.lines.front().x) * at / 4;
    EXPECT_NEAR(stick.foot.x, straight, 1e-9);
    EXPECT_NEAR(stick.head.x, straight + 1.5 * lean, 1e-3) << stick.ref.at.toString();
    EXPECT_NEAR(stick.swungX, straight + 1.5 * swung, 1e-3);
    EXPECT_EQ(stick.band, 0);
    EXPECT_NEAR(stick.timing.parts.sum().count(), lean - swung, 1e-9);
  }
  EXPECT_EQ(scene.faint.size(), 3 * 16U) << "all repetitions";
}

TEST(LeanScene, TheTemplateShowsWhatSlotsAdd) {
  const LeanScene scene = leanSceneOf(leaning());
  const double middle = (scene.strip.top + scene.strip.bottom) / 2;
  ASSERT_EQ(scene.slots.size(), 16U);
  EXPECT_NEAR(scene.slots[3].y, middle + 8 * scene.stripPxPerMs, 1e-9) << "early is down";
  EXPECT_EQ(scene.slots[0].y, middle);
  EXPECT_EQ(scene.slots[4].ofPieces.size(), 1U);
  EXPECT_EQ(leanSlotAt(scene, {scene.slots[3].x + 3, scene.slots[3].y}), 3U);
  EXPECT_FALSE(leanSlotAt(scene, {scene.slots[3].x, scene.rowsArea.bottom}));
}

TEST(LeanScene, PointsFindSticksAndNames) {
  const LeanScene scene = leanSceneOf(leaning());
  for (std::size_t i = 0; i < scene.sticks.size(); ++i) {
    const LeanStick& stick = scene.sticks[i];
    const auto found = leanStickAt(scene, stick.head);
    ASSERT_TRUE(found);
    EXPECT_EQ(scene.sticks[*found].row, stick.row);
  }
  EXPECT_EQ(leanRowAt(scene, {20, scene.rows[1].baseline - 5}), 1U);
  EXPECT_FALSE(leanRowAt(scene, {scene.rowsArea.left + 50, scene.rows[1].baseline - 5}));
}

TEST(LeanScene, ABodyHasABandAndRepetitionsDiffer) {
  Song song = leaning();
  song.feels[0].drift.emplace();
  song.feels[0].drift->clock = Milliseconds(6);
  song.feels[0].drift->motor = Milliseconds(8);
  song.feels[0].drift->limbs[Limb::kRightHand] = 0;
  const LeanScene scene = leanSceneOf(song);
  for (const LeanStick& stick : scene.sticks) {
    // Clock and motor add as squares.
    const bool right = stick.limb == Limb::kRightHand;
    EXPECT_NEAR(stick.band, 1.5 * (right ? 6.0 : 10.0), 1e-9);
    EXPECT_NEAR(stick.head.x - stick.foot.x,
                1.5 * (stick.timing.difference() - stick.timing.drift).count(), 1e-6);
  }
  int apart = 0;
  for (std::size_t i = 16; i < scene.faint.size(); ++i) {
    apart += scene.faint[i].head.x != scene.faint[i - 16].head.x ? 1 : 0;
  }
  EXPECT_GT(apart, 8);
}

TEST(LeanScene, AnyGrooveHasAStickForEveryHitOfItsBar) {
  testing::Random random(61);
  for (int i = 0; i < 100; ++i) {
    const Song song = testing::randomSong(random);
    const Groove& groove = *song.grooves[0];
    for (int bar = 0; bar < groove.bars; ++bar) {
      const LeanScene scene = leanSceneOf(song, {{900, 400}, bar, 1});
      std::size_t hits = 0;
      for (const Hit& hit : groove.hits) {
        hits += hit.at.floorDiv(groove.meter.barLength()) == bar ? 1 : 0;
      }
      ASSERT_EQ(scene.sticks.size(), hits);
      for (const LeanStick& stick : scene.sticks) ASSERT_TRUE(std::isfinite(stick.head.x));
    }
  }
}

TEST(TimingTable, HasALineForEachStroke) {
  const Song song = leaning();
  const auto rows = timingRows(**Take::ofGroove(song, song.grooves[0]->id));
  const std::string csv = timingText(rows, *song.kit, {4, 4}, ',');
  EXPECT_EQ(std::count(csv.begin(), csv.end(), '\n'), 17);
  // The snare on 2: straight 500 ms, 14 ms late, 26.88 ticks of 960 (arithmetic).
  EXPECT_NE(csv.find("1,2,1,snare,500.000,500.000,514.000,14.000,26.880,12.000,0.000,2.000,0.000,"
                     "0.000,0.000\n"),
            std::string::npos)
      << csv;
  const std::string text = timingText(rows, *song.kit, {4, 4}, '\t');
  EXPECT_EQ(text.find(','), std::string::npos);
}

// What a recording has and the groove has not is marked once, however often it was played.
TEST(LeanScene, WhatOnlyTheTakeHasIsMarked) {
  const Song song = leaning();
  const auto alone = Take::ofGroove(song, song.grooves[0]->id);
  const std::vector<StrokeBehind> behind = {{Beat(1), piece::kSnare, Milliseconds(10), 100},
                                            {Beat(2), piece::kSnare, Milliseconds(5), 90},
                                            {Beat(2), piece::kSnare, Milliseconds(7), 95},
                                            {Beat(9), piece::kSnare, Milliseconds(7), 95}};
  LeanSources sources{**alone, nullptr, nullptr, nullptr};
  sources.behind = &behind;
  const LeanScene scene = leanScene(sources, {{1000, 500}, 0, 1.5});
  EXPECT_EQ(scene.behind.size(), 3U) << "the last one is not in this bar";
  ASSERT_EQ(scene.theirsAlone.size(), 1U);
  EXPECT_EQ(scene.theirsAlone[0].x, scene.axis.xFromQuarters(2));
}

}  // namespace
}  // namespace uneven
