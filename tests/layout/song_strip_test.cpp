// SPDX-License-Identifier: GPL-3.0-or-later
// The song as a strip: where sections, fills, tempos and limbs stand, and what lies under a point.
#include "layout/song_strip.h"

#include <gtest/gtest.h>

#include <cmath>

#include "core/arrange/sections.h"
#include "tests/support/lanes.h"
#include "tests/support/random_song.h"

namespace uneven {
namespace {

Song threeSections() {
  Song song = testing::songOfLanes(
      {{"hat", "x.x.x.x.x.x.x.x."}, {"snare", "....X.......X..."}, {"kick", "x.......x......."}},
      Beat(1, 4), 100);
  song.arrangement[0].name = "A";
  song.arrangement[0].repeat = 4;
  song.arrangement.push_back(song.arrangement[0]);
  song.arrangement[1].name = "B";
  song.arrangement[1].levelDb = -8;
  song.arrangement[1].toLevelDb = 0;
  song.arrangement[1].fill = SectionFill{song.grooves[0]->id, Beat(2), 2, {}};
  song.arrangement.push_back(song.arrangement[0]);
  song.arrangement[2].swap = {{"hat", "ride"}};
  song.arrangement[2].mute = {"kick"};
  return withTempoMark(song, Beat(16), Bpm{140}, false);
}

SongStrip stripOf(const Song& song, const StripViewport& viewport) {
  const Result<Score> score = arrange(song);
  EXPECT_TRUE(score);
  GrooveLooks looks;
  return songStrip(*score, song, {}, viewport, looks);
}

TEST(SongStrip, SectionsStandWhereTheySound) {
  const Song song = threeSections();
  const SongStrip strip = stripOf(song, {{800, 500}, 0, 0});
  ASSERT_EQ(strip.sections.size(), 3U);
  const double bar = 4 * strip.axis.pxPerQuarter();
  EXPECT_NEAR(strip.sections[0].right - strip.sections[0].left, 4 * bar, 1e-6);
  EXPECT_NEAR(strip.sections[1].left, strip.sections[0].right, 1e-6);
  EXPECT_EQ(strip.sections[1].bars, 4);
  // Louder is higher; the line goes from one to the other.
  EXPECT_GT(strip.sections[1].leftTop, strip.sections[1].rightTop);
  EXPECT_NEAR(strip.sections[1].rightTop, strip.sections[0].rightTop, 1e-6);
  ASSERT_EQ(strip.sections[1].fills.size(), 2U);
  EXPECT_NEAR(strip.sections[1].fills[0].first, strip.sections[1].left + 1.5 * bar, 1e-6);
  ASSERT_EQ(strip.tempos.size(), 2U);
  EXPECT_NEAR(strip.tempos[1].point.x, strip.sections[1].left, 1e-6);
  EXPECT_NEAR(strip.bpmAt(strip.tempos[1].point.y), 140, 1e-6);
  // The right hand goes over to the ride; the foot rests in the last section.
  const StripLane& hand = strip.lanes[0];
  ASSERT_EQ(hand.runs.size(), 2U);
  EXPECT_EQ(hand.runs[0].piece, "Hats");
  EXPECT_EQ(hand.runs[1].piece, "Ride");
  EXPECT_EQ(strip.lanes[2].runs.back().thickness, 0);
  EXPECT_GT(strip.lanes[0].runs[0].thickness, strip.lanes[2].runs[0].thickness);
}

TEST(SongStrip, WhatLiesUnderAPoint) {
  const SongStrip strip = stripOf(threeSections(), {{800, 500}, 0, 0});
  using Kind = StripHit::Kind;
  const StripSection& a = strip.sections[0];
  const StripSection& b = strip.sections[1];
  EXPECT_EQ(stripAt(strip, {(b.left + b.right) / 2, strip.shapes.bottom - 5}).index, 1U);
  EXPECT_EQ(stripAt(strip, {a.right + 1, strip.shapes.bottom - 5}).kind, Kind::kEdge);
  EXPECT_EQ(stripAt(strip, {b.left + 6, b.leftTop + 1}).kind, Kind::kLevel);
  EXPECT_EQ(stripAt(strip, {b.right - 20, b.rightTop + 4}).kind, Kind::kLevelEnd);
  const StripHit mark = stripAt(strip, strip.tempos[1].point);
  EXPECT_EQ(mark.kind, Kind::kTempoPoint);
  EXPECT_EQ(mark.index, 1U);
  EXPECT_EQ(stripAt(strip, {(a.left + a.right) / 2, strip.tempos[0].point.y}).kind,
            Kind::kTempoLine);
  EXPECT_EQ(stripAt(strip, {400, 2}).kind, Kind::kNothing);
  EXPECT_EQ(stripBeat(strip, b.left + 3), Beat(16));
}

TEST(SongStrip, LoudnessIsOfAllStrokes) {
  const Song song = threeSections();
  const Groove& groove = *song.grooves[0];
  Groove twice = groove;
  // Twice as many strokes of the same level: 3 dB.
  for (const Hit& hit : groove.hits) twice.hits.push_back(hit);
  EXPECT_NEAR(loudnessOf(twice) - loudnessOf(groove), 10 * std::log10(2), 1e-9);
  EXPECT_EQ(loudnessOf(groove.withoutHits()), -60);
}

TEST(SongStrip, AnySongStandsWithinItsRoom) {
  for (int seed = 0; seed < testing::rounds(100); ++seed) {
    testing::Random random(static_cast<unsigned>(seed));
    const Song song = testing::randomSong(random);
    const Result<Score> score = arrange(song);
    if (!score) continue;
    const double whole = score->length.toDouble();
    const StripViewport views[] = {{{900, 520}, 0, 0}, {{400, 360}, whole / 3, whole / 2}};
    GrooveLooks looks;
    for (const StripViewport& view : views) {
      const SongStrip strip = songStrip(*score, song, {}, view, looks);
      EXPECT_LE(strip.sticks.size(), 2 * static_cast<std::size_t>(strip.shapes.width()));
      for (const StripStick& stick : strip.sticks) {
        EXPECT_GE(stick.x, strip.shapes.left);
        EXPECT_LE(stick.x, strip.shapes.right);
        EXPECT_LE(stick.height, strip.shapes.height());
      }
      for (const StripSection& s : strip.sections) {
        EXPECT_GE(s.leftTop, strip.shapes.top);
        EXPECT_LT(s.leftTop, strip.shapes.bottom);
      }
      for (const StripLane& lane : strip.lanes) {
        for (std::size_t i = 1; i < lane.runs.size(); ++i)
          EXPECT_GE(lane.runs[i].left, lane.runs[i - 1].right - 1e-6);
      }
      EXPECT_LE(strip.lanesArea.bottom, view.size.height + 1);
      looks.tidy();
    }
  }
}

}  // namespace
}  // namespace uneven
