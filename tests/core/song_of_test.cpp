// SPDX-License-Identifier: GPL-3.0-or-later
// A song of a take: its grooves, as long as what comes back, with their levels.
#include "core/match/song_of.h"

#include <gtest/gtest.h>

#include <algorithm>

#include "core/song/edit.h"
#include "tests/support/invented.h"

namespace uneven {
namespace {

using testing::invent;
using testing::Invented;
using testing::pick;
using testing::Random;
using testing::struck;

// Strokes on what is no piece of the kit are of no groove, and make no two bars differ.
TEST(SongOfATake, WhatIsNoPieceIsLeftOut) {
  Random random(16);
  const Invented made = invent(random, 16, 0, SwingUnit::kEighth, 1.5);
  std::vector<Onset> onsets = struck(made.song);
  const auto song = [&] {
    FitWanted wanted;
    wanted.where.start = Seconds(0);
    wanted.where.bpm = Bpm{made.bpm};
    const auto found = fit(onsets, wanted);
    EXPECT_TRUE(found);
    return found ? songOf(*found, onsets, houseKit(), {"found", false}) : Song{};
  };
  const Song plain = song();
  for (const Onset& o : std::vector<Onset>(onsets)) {
    if (o.piece != piece::kHat || pick(random, 0, 5) > 0) continue;
    Onset other = o;
    other.piece = kNotInKit;
    onsets.push_back(other);
  }
  std::stable_sort(onsets.begin(), onsets.end(),
                   [](const Onset& a, const Onset& b) { return a.seconds < b.seconds; });
  const Song with = song();
  EXPECT_EQ(with.grooves.size(), plain.grooves.size());
  for (const auto& groove : with.grooves) {
    for (const Hit& hit : groove->hits) EXPECT_NE(hit.piece, kNotInKit);
  }
}

// Eight bars of one pattern and four of another, to a click at 120 BPM, ghosts and all.
TEST(SongOfATake, HasItsBarsWithTheirLevels) {
  struct Struck {
    Beat at;
    PieceId piece;
    int velocity;
  };
  std::vector<Struck> first, second;
  for (int i = 0; i < 8; ++i) first.push_back({Beat(i, 2), piece::kHat, i % 2 == 0 ? 84 : 70});
  first.push_back({Beat(1), piece::kSnare, 112});
  first.push_back({Beat(7, 4), piece::kSnare, 30});
  first.push_back({Beat(3), piece::kSnare, 112});
  second = first;
  first.push_back({Beat(0), piece::kKick, 100});
  second.push_back({Beat(3, 2), piece::kKick, 96});
  second.push_back({Beat(0), piece::kKick, 100});
  std::vector<Onset> onsets;
  for (int bar = 0; bar < 12; ++bar) {
    std::vector<Struck> now = bar < 8 ? first : second;
    std::sort(now.begin(), now.end(), [](const Struck& a, const Struck& b) { return a.at < b.at; });
    for (const Struck& s : now) {
      Onset o;
      o.seconds = 0.75 + 2.0 * bar + s.at.toDouble() / 2;
      o.piece = s.piece;
      o.velocity = s.velocity;
      onsets.push_back(o);
    }
  }
  const auto found = fit(onsets, {});
  ASSERT_TRUE(found);
  const Song song = songOf(*found, onsets, houseKit(), {"Found", false});
  ASSERT_EQ(song.grooves.size(), 2U);
  ASSERT_EQ(song.arrangement.size(), 2U);
  for (const std::size_t k : {0U, 1U}) {
    const Groove& groove = *song.grooves[k];
    EXPECT_EQ(song.arrangement[k].groove, groove.id);
    EXPECT_EQ(song.arrangement[k].repeat * groove.bars, k == 0 ? 8 : 4);
    for (const Struck& s : k == 0 ? first : second) {
      const auto at = indexOf(groove, {s.at, s.piece});
      ASSERT_TRUE(at) << s.at.toString();
      EXPECT_EQ(groove.hits[*at].velocity.value(), s.velocity);
      EXPECT_EQ(groove.hits[*at].role == Role::kGhost, s.velocity < 40);
    }
    EXPECT_EQ(groove.hits.size(),
              (k == 0 ? first : second).size() * static_cast<std::size_t>(groove.bars));
  }
  EXPECT_EQ(song.title, "Found");
}

// Bars by turns are a groove of two; where one in four is another, it is a groove by itself.
TEST(SongOfATake, ItsGroovesAreAsLongAsWhatComesBack) {
  const auto songOfBars = [](const std::string& bars) {
    std::vector<Onset> onsets;
    const auto strike = [&](double quarters, PieceId piece, double velocity) {
      Onset o;
      o.seconds = 0.5 + quarters / 2;
      o.piece = piece;
      o.velocity = velocity;
      onsets.push_back(o);
    };
    for (std::size_t bar = 0; bar < bars.size(); ++bar) {
      for (int i = 0; i < 8; ++i) {
        const double at = 4 * static_cast<double>(bar) + i / 2.0;
        if (i == 0 || (i == 5 && bars[bar] == 'B')) strike(at, piece::kKick, 100);
        if (i % 4 == 2) strike(at, piece::kSnare, 110);
        strike(at, piece::kHat, 80);
      }
    }
    const auto found = fit(onsets, {});
    return found ? songOf(*found, onsets, houseKit(), {"Found", false}) : Song{};
  };
  const Song turns = songOfBars("ABABABABABAB");
  ASSERT_EQ(turns.grooves.size(), 1U);
  EXPECT_EQ(turns.grooves.front()->bars, 2);
  const Song fourth = songOfBars("AAABAAABAAAB");
  ASSERT_EQ(fourth.grooves.size(), 2U);
  EXPECT_EQ(fourth.grooves.front()->bars, 1);
  ASSERT_EQ(fourth.arrangement.size(), 6U);
  for (std::size_t k = 0; k < 6; ++k) EXPECT_EQ(fourth.arrangement[k].repeat, k % 2 == 0 ? 3 : 1);
}

}  // namespace
}  // namespace uneven
