// SPDX-License-Identifier: GPL-3.0-or-later
// What is played onto the grid is what was played.
#include "core/rehearse/play_in.h"

#include <gtest/gtest.h>

#include <cmath>

#include "core/take/take.h"
#include "core/voice/kit_map.h"
#include "tests/support/random_song.h"

namespace uneven {
namespace {

using testing::pick;
using testing::Random;

TEST(PlayIn, AGrooveThatIsPlayedBackIsThereAgain) {
  Random random(51);
  int strokes = 0;
  for (int i = 0; i < 60; ++i) {
    Song song = testing::randomSong(random);
    for (Feel& feel : song.feels) {
      feel.drift.reset();
      feel.limits.clear();
    }
    const std::string id = song.grooves.front()->id;
    // Few hits, far apart, somewhere near their slots.
    Groove groove = *song.grooves.front();
    groove.hits.clear();
    groove.pedal.reset();
    groove.beatGrids.clear();
    const int beats = static_cast<int>(groove.length().toDouble());
    for (int beat = 0; beat < beats; ++beat) {
      const PieceId piece{static_cast<std::uint8_t>(pick(random, 0, 12))};
      Hit hit = playedHit({.piece = piece, .velocity = Velocity(pick(random, 1, 127))}, Beat(beat));
      hit.nudge = Milliseconds(testing::pickReal(random, -9, 9));
      groove = withHit(std::move(groove), hit);
    }
    song = withGroove(song, groove);
    const Result<SharedTake> take = Take::ofGroove(song, id);
    ASSERT_TRUE(take);
    const Score& score = (*take)->score();
    const Milliseconds start = score.tempo.msAt(score.blocks.front().start);
    std::vector<PlayedStroke> played;
    for (const Stroke& s : (*take)->strokes()) {
      if (s.part == 0 && s.piece != piece::kHatFoot) {
        played.push_back({s.piece, s.stroke, s.velocity, 0, toMilliseconds(s.time) - start});
      }
    }
    Groove empty = groove;
    empty.hits.clear();
    const Result<PlayedIn> back = playIn(withGroove(song, empty), id, played);
    ASSERT_TRUE(back) << back.error().line();
    const Result<SharedTake> again = Take::ofGroove(withGroove(song, back->groove), id);
    ASSERT_TRUE(again);
    // Slots' additions to velocities are in what was played, and come again: times are compared.
    std::vector<double> times;
    for (const Stroke& s : (*again)->strokes())
      times.push_back((toMilliseconds(s.time) - start).count());
    const double round =
        (score.tempo.msAt(score.blocks.front().start + groove.length()) - start).count();
    for (const PlayedStroke& p : played) {
      double nearest = 1e9;
      for (const double t : times) {
        for (const int turn : {-1, 0, 1})
          nearest = std::min(nearest, std::abs(t + turn * round - p.at.count()));
      }
      EXPECT_LT(nearest, 0.01) << i;
      ++strokes;
    }
  }
  EXPECT_GT(strokes, 300);
}

TEST(PlayIn, GoesToTheSwungSlotAndKeepsTheRest) {
  Song song = blankSong();
  song.tempo = {{Beat(0), Bpm{60}, {}}};
  song.feels.front().swing.ratio = 2;
  song.feels.front().swing.unit = SwingUnit::kEighth;
  song.feels.front().displacement[piece::kSnare] = Milliseconds(10);
  const std::string id = song.grooves.front()->id;
  // A second to the beat: the swung eighth falls at 666.7 ms, the snare's 10 ms later.
  const auto put = [&](double ms, int velocity) {
    const Result<PlayedIn> in = playIn(
        song, id, {{piece::kSnare, StrokeKind::kRimShot, Velocity(velocity), 0, Milliseconds(ms)}});
    EXPECT_TRUE(in);
    EXPECT_EQ(in->groove.hits.size(), 1U);
    return in->groove.hits.front();
  };
  const Hit hit = put(680, 110);
  EXPECT_EQ(hit.at, Beat(1, 2));
  EXPECT_NEAR(hit.nudge.count(), 3.33, 0.006);
  EXPECT_EQ(hit.role, Role::kAccent);
  EXPECT_EQ(hit.stroke, StrokeKind::kRimShot);
  EXPECT_EQ(put(680, 30).role, Role::kGhost);
  EXPECT_EQ(put(680, 80).role, Role::kNormal);
  // Just before the end of the bar it is the next one's first beat.
  const double bar = 4'000.0 * song.grooves.front()->bars;
  const Hit early = put(bar - 20, 80);
  EXPECT_EQ(early.at, Beat(0));
  EXPECT_NEAR(early.nudge.count(), -30, 0.006);
}

TEST(PlayIn, NotesAreStruckByTheirPiece) {
  for (const KitMap& map : builtInKitMaps()) {
    for (const KitMapRow& row : map.rows) {
      const auto struck = struckBy(map, houseKit(), row.note);
      ASSERT_TRUE(struck) << map.id << " " << row.name;
      // And the other way round it is that note again.
      const KitMapRow* back =
          rowFor(map, houseKit()[struck->piece], struck->stroke, struck->opening);
      ASSERT_NE(back, nullptr);
      EXPECT_EQ(back->note, row.note) << map.id << " " << row.name;
    }
    EXPECT_FALSE(struckBy(map, houseKit(), 127));
  }
}

}  // namespace
}  // namespace uneven
