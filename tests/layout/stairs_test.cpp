// SPDX-License-Identifier: GPL-3.0-or-later
// Stairs, their dots, and sticks that lean.
#include "layout/stairs.h"

#include <gtest/gtest.h>

#include "core/rehearse/simulated.h"
#include "tests/support/lanes.h"
#include "tests/support/random_song.h"

namespace uneven {
namespace {

const Rect kArea{10, 40, 810, 340};

TEST(Stairs, AreAsHighAsTheirTempo) {
  const std::vector<double> rungs = {60, 70, 80, 100};
  const std::vector<Stair> stairs = stairsOf(rungs, {}, kArea, 30);
  ASSERT_EQ(stairs.size(), 4U);
  EXPECT_NEAR(stairs[3].rect.top, kArea.top, 1e-9);
  const auto height = [&](int i) { return stairs[static_cast<std::size_t>(i)].rect.height(); };
  // Even tempos, even steps.
  EXPECT_NEAR(height(1) - height(0), height(2) - height(1), 1e-9);
  EXPECT_NEAR(height(3) - height(2), 2 * (height(1) - height(0)), 1e-9);
  for (std::size_t i = 0; i < stairs.size(); ++i) {
    const Rect& r = stairs[i].rect;
    EXPECT_TRUE(stairs[i].labelled);
    EXPECT_EQ(stairAt(stairs, {(r.left + r.right) / 2, r.bottom - 1}), i);
    EXPECT_EQ(stairAt(stairs, {(r.left + r.right) / 2, 0}), i) << "above it";
  }
  EXPECT_FALSE(stairAt(stairs, {5, 300}));
  EXPECT_TRUE(stairsOf({}, {}, kArea, 30).empty());
  EXPECT_NEAR(stairsOf({90}, {2}, kArea, 30)[0].rect.height(), kArea.height(), 1e-9);
}

// Over random ladders: no dot outside of its step, none upon another, none lost.
TEST(Stairs, EveryTimeThroughHasADotOrIsCounted) {
  for (int seed = 0; seed < testing::rounds(200); ++seed) {
    testing::Random random(static_cast<unsigned>(seed));
    std::vector<double> rungs;
    double bpm = 40;
    for (std::size_t i = 0; i < 1 + random() % 120; ++i)
      rungs.push_back(bpm += 0.5 + static_cast<double>(random() % 5));
    std::vector<int> times;
    for (std::size_t i = 0; i < rungs.size(); ++i) times.push_back(static_cast<int>(random() % 60));
    const std::vector<Stair> stairs = stairsOf(rungs, times, kArea, 30);
    double last = -100;
    for (std::size_t i = 0; i < stairs.size(); ++i) {
      const Stair& s = stairs[i];
      EXPECT_EQ(static_cast<int>(s.dots.size()) + s.more, times[i]);
      EXPECT_GE(s.rect.left, kArea.left - 1e-9);
      EXPECT_LE(s.rect.right, kArea.right + 1e-9);
      std::set<std::pair<double, double>> places;
      for (const Point& dot : s.dots) {
        EXPECT_LE(dot.y, s.rect.bottom);
        EXPECT_GE(dot.y, s.rect.top);
        EXPECT_TRUE(places.insert({dot.x, dot.y}).second);
      }
      if (!s.labelled) continue;
      // Numbers do not stand upon each other.
      EXPECT_GE(s.rect.left - last, 29.9);
      last = s.rect.left;
    }
    EXPECT_TRUE(stairs.back().labelled);
  }
}

TEST(PlayedScene, LeansByWhatWasPlayed) {
  const Song song = testing::songOfLanes(
      {{"hat", "x.x.x.x."}, {"snare", "..X...X."}, {"kick", "X...X..."}}, Beat(1, 2), 96);
  const Groove& groove = *song.grooves[0];
  const SharedTake part = *Take::ofGroove(song, groove.id);
  SimulatedTake played = playedBy(*part, {}, 2);
  for (Onset& onset : played.onsets) {
    if (onset.piece == piece::kSnare) onset.seconds += 0.012;
    if (onset.piece == piece::kKick) onset.seconds -= 0.009;
  }
  played.onsets.pop_back();
  const Alignment a =
      align(*part, played.onsets, {.searchOffset = false, .rounds = 2, .until = {}, .free = {}});
  ASSERT_EQ(a.missing, 1);
  const PlayedScene scene = playedScene(groove, *song.kit, 2, &a, 0, kArea);
  EXPECT_EQ(scene.bars, 2 * groove.bars);
  EXPECT_EQ(scene.sticks.size(), a.strokes.size());
  ASSERT_EQ(scene.lanes.size(), 3U);
  for (const PlayedStick& s : scene.sticks) {
    const AlignedStroke& of = a.strokes[s.stroke];
    const double lean = s.state == PlayedState::kMissing ? 0
                        : of.piece == piece::kSnare      ? 12
                        : of.piece == piece::kKick       ? -9
                                                         : 0;
    EXPECT_NEAR(s.head.x - s.foot.x, lean, 0.01);
    EXPECT_LT(s.head.y, s.foot.y);
    EXPECT_GE(s.foot.x, kArea.left);
    EXPECT_LE(s.foot.x, kArea.right);
  }
  // Accents stand higher, all on their own lanes; the second round is right of the first.
  const auto first =
      std::find_if(scene.sticks.begin(), scene.sticks.end(),
                   [&](const PlayedStick& s) { return a.strokes[s.stroke].round == 1; });
  ASSERT_NE(first, scene.sticks.end());
  EXPECT_GT(first->foot.x, (kArea.left + kArea.right) / 2 - 20);
  // Nothing played: the lanes alone; more bars than fit: a page of them.
  EXPECT_TRUE(playedScene(groove, *song.kit, 1, nullptr, 0, kArea).sticks.empty());
  const PlayedScene page = playedScene(groove, *song.kit, 40, &a, 90, kArea);
  EXPECT_EQ(page.bars, kPlayedBars);
  EXPECT_EQ(page.firstBar, 40 * groove.bars - kPlayedBars);
  EXPECT_TRUE(page.sticks.empty());
}

}  // namespace
}  // namespace uneven
