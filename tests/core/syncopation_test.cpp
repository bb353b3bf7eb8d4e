// SPDX-License-Identifier: GPL-3.0-or-later
// Syncopation worked by hand, density, tempo arithmetic.
#include "core/measure/syncopation.h"

#include <gtest/gtest.h>

#include <algorithm>

#include "core/measure/tempo_card.h"
#include "core/song/edit.h"
#include "tests/support/random_song.h"

namespace uneven {
namespace {

Groove grooveOf(Meter meter, Grid grid, const std::vector<std::pair<Beat, PieceId>>& hits) {
  Groove groove;
  groove.meter = meter;
  groove.grid = grid;
  for (const auto& [at, piece] : hits) {
    Hit hit;
    hit.at = at;
    hit.piece = piece;
    groove = withHit(std::move(groove), hit);
  }
  return groove;
}

std::vector<int> weights(Meter meter, Beat step) {
  std::vector<int> out;
  for (Beat at; at < meter.barLength(); at += step) out.push_back(metricalWeight(at, meter));
  return out;
}

// Longuet-Higgins & Lee 1984 give these weights for a bar of sixteenths in 4/4 (from memory).
TEST(Syncopation, WeightsOfTheMeter) {
  EXPECT_EQ(weights({4, 4}, Beat(1, 4)),
            (std::vector<int>{0, -4, -3, -4, -2, -4, -3, -4, -1, -4, -3, -4, -2, -4, -3, -4}));
  EXPECT_EQ(weights({4, 4}, Beat(1, 3)),
            (std::vector<int>{0, -3, -3, -2, -3, -3, -1, -3, -3, -2, -3, -3}));
  EXPECT_EQ(weights({3, 4}, Beat(1, 2)), (std::vector<int>{0, -2, -1, -2, -1, -2}));
  EXPECT_EQ(weights({6, 8}, Beat(1, 2)), (std::vector<int>{0, -2, -2, -1, -2, -2}));
  // In sixteenths each between two eighths is a sixteenth, the 4th and 10th as well.
  EXPECT_EQ(weights({6, 8}, Beat(1, 4)),
            (std::vector<int>{0, -3, -2, -3, -2, -3, -1, -3, -2, -3, -2, -3}));
}

TEST(Syncopation, ByHand) {
  const std::set<PieceId> kick{piece::kKick};
  const auto of = [&](const std::vector<Beat>& at) {
    std::vector<std::pair<Beat, PieceId>> hits;
    for (const Beat b : at) hits.emplace_back(b, piece::kKick);
    return syncopation(grooveOf({4, 4}, {16, 0}, hits), kick);
  };
  EXPECT_EQ(of({}), 0);
  EXPECT_EQ(of({Beat(0), Beat(1), Beat(2), Beat(3)}), 0);
  EXPECT_EQ(of({Beat(0), Beat(2)}), 0);
  // The "a" of 2 (-4) leaves the 3 (-1) silent: 3.
  EXPECT_EQ(of({Beat(0), Beat(7, 4)}), 3);
  // The & of 2 (-3) likewise: 2. With a kick on 3 it leaves nothing silent.
  EXPECT_EQ(of({Beat(0), Beat(3, 2)}), 2);
  EXPECT_EQ(of({Beat(0), Beat(3, 2), Beat(2)}), 0);
  // Round the end: the & of 4 (-3) with nothing on 1 (0): 3; and the 2 (-2) leaves the 3 silent: 1.
  EXPECT_EQ(of({Beat(1), Beat(7, 2)}), 4);
  // 3 against 4 in eighths: 1, & of 2, 4: the & of 2 leaves 3 silent (2), 4 leaves nothing.
  EXPECT_EQ(of({Beat(0), Beat(3, 2), Beat(3)}), 2);
}

TEST(Syncopation, ByBarAndForTheKit) {
  Groove two = grooveOf({4, 4}, {16, 0}, {{Beat(0), piece::kKick}, {Beat(7, 4), piece::kKick}});
  two.bars = 2;
  Hit snare;
  snare.piece = piece::kSnare;
  for (const Beat at : {Beat(3), Beat(4), Beat(11, 2)}) {
    snare.at = at;
    two = withHit(std::move(two), snare);
  }
  // Bar 1: the kick on the "a" of 2 leaves 3 silent: 3 + 2. Bar 2: the snare on the & of 2: 2 + 1.
  EXPECT_EQ(kitSyncopationByBar(two), (std::vector<int>{5, 3}));
  EXPECT_EQ(kitSyncopation(two), 8);
  // By itself the snare leaves the next bar line silent as well.
  EXPECT_EQ(syncopationByBar(two, {piece::kSnare}), (std::vector<int>{0, 3}));
  EXPECT_EQ(densityByBar(two), (std::vector<double>{0.75, 0.5}));
  EXPECT_EQ(density(two), 0.625);
  EXPECT_EQ(kitSyncopation(Groove{}), 0);
}

TEST(Syncopation, IsNeverLessThanNothingAndZeroWhereEverySlotIsStruck) {
  testing::Random random(5);
  for (int i = 0; i < 200; ++i) {
    const Song song = testing::randomSong(random);
    for (const auto& groove : song.grooves) {
      for (const int bar : kitSyncopationByBar(*groove)) EXPECT_GE(bar, 0);
    }
  }
  std::vector<std::pair<Beat, PieceId>> all;
  for (int k = 0; k < 16; ++k) all.emplace_back(Beat(k, 4), piece::kHat);
  EXPECT_EQ(syncopation(grooveOf({4, 4}, {16, 0}, all), {piece::kHat}), 0);
}

TEST(TempoCard, LengthsAndTheSameNotes) {
  EXPECT_NEAR(noteLength(Bpm{98}, Beat(1, 4)).count(), 153.06, 0.005);
  EXPECT_NEAR(noteLength(Bpm{148}, Beat(1, 4)).count(), 101.35, 0.005);
  std::vector<std::string> texts;
  for (const SameNotes& same : sameNotes(Bpm{74})) {
    texts.push_back(same.text);
    EXPECT_NEAR(noteLength(Bpm{74}, same.here.length).count(),
                noteLength(same.bpm, same.there.length).count(), 1e-9);
  }
  const auto has = [&](const char* text) {
    return std::find(texts.begin(), texts.end(), text) != texts.end();
  };
  EXPECT_TRUE(has("thirty-seconds at 74 are sixteenths at 148"));
  EXPECT_TRUE(has("eighth triplets at 74 are sixteenths at 55.5"));
  EXPECT_FALSE(has("sixteenths at 74 are sixteenths at 74"));
  for (const double bpm : {kBpmMin, kBpmMax}) {
    for (const SameNotes& same : sameNotes(Bpm{bpm})) {
      EXPECT_GE(same.bpm.value, kBpmMin);
      EXPECT_LE(same.bpm.value, kBpmMax);
    }
  }
}

}  // namespace
}  // namespace uneven
