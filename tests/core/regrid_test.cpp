// SPDX-License-Identifier: GPL-3.0-or-later
// Figures on other grids and against the bar, by arithmetic.
#include "core/vary/regrid.h"

#include <gtest/gtest.h>

#include <algorithm>

#include "tests/support/random_song.h"
#include "tests/support/varied.h"

namespace uneven {
namespace {

using testing::plainBeat;
using testing::Random;
using testing::varied;
using testing::variedSong;
using testing::walkOf;

// Common practice, arithmetic.
TEST(Regrid, TwentyFourTripletsAsSixteenths) {
  std::vector<Hit> hits;
  for (int i = 0; i < 24; ++i)
    hits.push_back(varied(Beat(i, 3), i % 3 == 0 ? piece::kKick : piece::kSnare));
  Song song = variedSong(std::move(hits), 2);
  const Walk all = walkOf(song, "regrid", {{"from_grid", "1/8T"}, {"to_grid", "1/16"}});
  ASSERT_EQ(all.count, 1U);
  ASSERT_TRUE(all.relaid);
  EXPECT_EQ(all.relaid->quarters, Beat(6));
  EXPECT_EQ(all.relaid->times, Beat(4, 3));
  EXPECT_EQ(all.relaid->meetsAfterBars, 3);
  EXPECT_EQ(all.relaid->cycle, "4 over 3");
  const Groove& whole = all.at(0).groove;
  EXPECT_EQ(whole.bars, 3);
  EXPECT_EQ(whole.hits.size(), 48U);
  for (std::size_t i = 0; i < 48; ++i)
    EXPECT_EQ(whole.hits[i].at, Beat(static_cast<std::int64_t>(i), 4));
  // And back: sixteenths as triplets, times 3/4.
  EXPECT_EQ(walkOf(song, "regrid", {{"from_grid", "1/16"}, {"to_grid", "1/8T"}}).relaid->times,
            Beat(3, 4));
}

// A linear figure in sixteenths becomes triplets: cut, filled, or the bar another one.
TEST(Regrid, TheBarIsCutFilledOrStretched) {
  std::vector<Hit> hits;
  for (int i = 0; i < 12; ++i) hits.push_back(varied(Beat(i, 3), piece::kSnare));
  const Song song = variedSong(std::move(hits));
  const auto lay = [&](const char* how) {
    return walkOf(song, "regrid", {{"from_grid", "1/8T"}, {"to_grid", "1/16"}, {"lay", how}});
  };
  const Groove stretched = lay("stretch").at(0).groove;
  EXPECT_EQ(stretched.meter, (Meter{3, 4})) << "twelve sixteenths";
  EXPECT_EQ(stretched.hits.size(), 12U);
  EXPECT_EQ(lay("bars").at(0).groove.hits.size(), 16U) << "filled up";
  EXPECT_EQ(lay("all").count, 3U) << "bars and fills are the same here";
  // Sixteenths as triplets: four thirds of a bar, of which the end is cut.
  std::vector<Hit> sixteenths;
  for (int i = 0; i < 16; ++i) sixteenths.push_back(varied(Beat(i, 4), piece::kSnare));
  const Song other = variedSong(std::move(sixteenths));
  const Walk cut =
      walkOf(other, "regrid", {{"from_grid", "1/16"}, {"to_grid", "1/8T"}, {"lay", "bars"}});
  EXPECT_EQ(cut.at(0).groove.hits.size(), 12U);
  const auto refused =
      makeWalk("regrid", other, "g",
               {{"from_grid", "1/16"}, {"to_grid", "1/8T"}, {"lay", "stretch"}}, Profile{});
  ASSERT_FALSE(refused);
  EXPECT_NE(refused.error().message.find("16/3"), std::string::npos);
}

TEST(Regrid, ThereAndBackIsTheSame) {
  Random random(73);
  for (int i = 0; i < 40; ++i) {
    const Song song = testing::randomSong(random);
    Groove core = *song.grooves.front();
    const Figure there = replayed(core, Beat(1, 3), Beat(1, 4));
    Groove between = core;
    between.hits = there.hits;
    const Figure back = replayed(between, Beat(1, 4), Beat(1, 3));
    EXPECT_TRUE(back.hits == core.hits);
    EXPECT_EQ(there.length * Beat(4, 3), core.length());
  }
}

// Denominators up to kDenominatorMax can be written, and nothing finer.
TEST(Regrid, WhatCannotBeWrittenIsRefused) {
  const auto regrid = [](Beat at) {
    const Song song = variedSong({varied(0, piece::kKick), varied(at, piece::kSnare)});
    return makeWalk("regrid", song, "g", {{"from_grid", "1/8T"}, {"to_grid", "1/16"}}, Profile{});
  };
  EXPECT_TRUE(regrid(Beat(1, 7'560))) << "lands on 1/10080";
  const auto refused = regrid(Beat(1, 10'080));
  ASSERT_FALSE(refused);
  EXPECT_EQ(refused.error().code, ErrorCode::kLimit);
  EXPECT_NE(refused.error().message.find("1/13440"), std::string::npos) << refused.error().message;
}

TEST(Regrid, AFillLandsOnTheNextOne) {
  std::vector<Hit> hits;
  for (int i = 0; i < 12; ++i)
    hits.push_back(
        varied(Beat(i, 3), piece::kSnare, i == 3 || i == 9 ? Role::kAccent : Role::kNormal));
  const Song song = variedSong(std::move(hits), 1);
  const Walk fills =
      walkOf(song, "regrid",
             {{"from_grid", "1/8T"}, {"to_grid", "1/16"}, {"lay", "fill"}, {"beats", "2"}});
  ASSERT_EQ(fills.count, 2U);
  const Groove lands = fills.at(0).groove;
  EXPECT_EQ(lands.length(), song.grooves.front()->length());
  EXPECT_EQ(lands.hits.back().at, Beat(15, 4)) << "the last stroke a sixteenth before the next 1";
  std::vector<Beat> filled;
  for (const Hit& h : lands.hits)
    if (h.at >= Beat(2)) filled.push_back(h.at);
  ASSERT_EQ(filled.size(), 8U);
  // Of the figure its last eight: the accent of its tenth stroke is two before the last.
  const auto accent = std::find_if(lands.hits.rbegin(), lands.hits.rend(),
                                   [](const Hit& h) { return h.role == Role::kAccent; });
  EXPECT_EQ(accent->at, Beat(13, 4));
  // The other one: a backbeat falls where the core has its last.
  const Groove backbeat = fills.at(1).groove;
  const auto there = std::find_if(backbeat.hits.begin(), backbeat.hits.end(),
                                  [](const Hit& h) { return h.at == Beat(3); });
  ASSERT_NE(there, backbeat.hits.end());
  EXPECT_EQ(there->role, Role::kAccent);
}

TEST(Against, ThreeEighthsOverFiveFourMeetAfterThreeBars) {
  const Song song =
      variedSong({varied(0, piece::kKick), varied(2, piece::kSnare, Role::kAccent)}, 1, {5, 4});
  const Walk all = walkOf(song, "against", {{"cell", "3/8"}, {"piece", "hat"}, {"grid", "1/8"}});
  ASSERT_TRUE(all.relaid);
  EXPECT_EQ(all.relaid->meetsAfterBars, 3);
  EXPECT_EQ(all.relaid->rounds, 10);
  EXPECT_EQ(all.relaid->cycle, "2 over 3");
  const Groove whole = all.at(0).groove;
  EXPECT_EQ(whole.length(), Beat(15));
  int accents = 0;
  for (const Hit& h : whole.hits) {
    if (h.piece != piece::kHat) continue;
    const bool start = (h.at / Beat(3, 2)).den() == 1;
    EXPECT_EQ(h.role == Role::kAccent, start) << h.at.toString();
    accents += start ? 1 : 0;
  }
  EXPECT_EQ(accents, 10);
  // Nine sixteenths: four of them over nine quarters.
  const Walk nine = walkOf(plainBeat(), "against", {{"cell", "9/16"}});
  EXPECT_EQ(nine.relaid->cycle, "4 over 9");
  EXPECT_EQ(nine.relaid->meetsAfterBars, 9);
  // Typed groupings, each group's start marked.
  const Walk groups = walkOf(plainBeat(), "against", {{"cell", "3 3 2"}, {"grid", "1/8"}});
  EXPECT_EQ(groups.relaid->meetsAfterBars, 1);
  std::vector<Beat> starts;
  for (const Hit& h : groups.at(0).groove.hits)
    if (h.piece == piece::kHat && h.role == Role::kAccent) starts.push_back(h.at);
  EXPECT_EQ(starts, (std::vector<Beat>{Beat(0), Beat(3, 2), Beat(3)}));
}

// The start of each cell is marked as is said, and nothing else of a stroke changes.
TEST(Against, ACellIsMarkedByAnAccentOrAnOpening) {
  Song song = plainBeat();
  Groove core = *song.grooves.front();
  for (Hit& h : core.hits)
    if (h.piece == piece::kHat) h.open = 0.25;
  song = withGroove(std::move(song), core);
  const auto against = [&](const char* mark) {
    return walkOf(song, "against",
                  {{"cell", "3/8"}, {"piece", "hat"}, {"grid", "1/8"}, {"mark", mark}})
        .at(0)
        .groove;
  };
  const Groove opened = against("open"), accented = against("accent");
  double most = 0;
  std::size_t hats = 0;
  for (const Hit& h : opened.hits) {
    most = std::max(most, h.open);
    hats += h.piece == piece::kHat ? 1U : 0U;
  }
  EXPECT_EQ(hats, 24U) << "eighths over three bars, each of them once";
  EXPECT_GT(most, 0.25);
  for (const Hit& h : opened.hits) {
    if (h.piece != piece::kHat) continue;
    const bool start = (h.at / Beat(3, 2)).den() == 1;
    EXPECT_EQ(h.open, start ? most : 0) << h.at.toString();
    EXPECT_NE(h.role, Role::kAccent);
  }
  for (const Hit& h : accented.hits) {
    if (h.piece != piece::kHat) continue;
    EXPECT_EQ(h.role == Role::kAccent, (h.at / Beat(3, 2)).den() == 1);
    EXPECT_EQ(h.open, 0.25) << h.at.toString();
  }
}

TEST(Cells, AreReadWithCare) {
  EXPECT_EQ(readCell("5/16", Beat(1, 4))->length, Beat(5, 4));
  EXPECT_EQ(readCell("5 5 6", Beat(1, 4))->length, Beat(4));
  EXPECT_EQ(commonMultiple(Beat(9, 4), Beat(4)), Beat(36));
  EXPECT_EQ(commonMultiple(Beat(3, 2), Beat(5)), Beat(15));
}

}  // namespace
}  // namespace uneven
