// SPDX-License-Identifier: GPL-3.0-or-later
// What each walk makes of one bar, written out by hand: hats in eighths, kicks on 1 and 3,
// backbeats, a ghost a thirty-second after 4.
#include <gtest/gtest.h>

#include <algorithm>
#include <set>

#include "core/song/edit.h"
#include "tests/support/varied.h"

namespace uneven {
namespace {

using testing::namesOfWalk;
using testing::varied;
using testing::walkOf;

Song bar() {
  Groove groove = *testing::plainBeat().grooves.front();
  groove = withHit(std::move(groove), varied(Beat(25, 8), piece::kSnare, Role::kGhost));
  return withGroove(testing::plainBeat(), groove);
}

using Names = std::vector<std::string>;
Names firstOf(const Names& all, std::size_t n) {
  return {all.begin(), all.begin() + static_cast<std::ptrdiff_t>(std::min(n, all.size()))};
}

// Places of a piece's strokes.
std::set<Beat> struck(const Groove& groove, PieceId piece) {
  std::set<Beat> out;
  for (const Hit& h : groove.hits)
    if (h.piece == piece) out.insert(h.at);
  return out;
}

Variant named(const Walk& walk, const std::string& name) {
  for (std::uint64_t i = 0; i < walk.count; ++i) {
    Variant v = walk.at(i);
    if (v.name == name) return v;
  }
  ADD_FAILURE() << "no " << name;
  return {};
}

TEST(WalksByHand, StrokesComeGoAndMove) {
  // Free sixteenths: of the hats 8, the snare 14, the kick 14.
  const Names added = namesOfWalk(walkOf(bar(), "add"));
  EXPECT_EQ(added.size(), 36U);
  EXPECT_EQ(firstOf(added, 2), (Names{"hats on 4 a", "hats on 4 e"}));
  EXPECT_EQ(added[8], "snare on 4 a");
  EXPECT_EQ(added.back(), "kick on 1 e");
  EXPECT_EQ(
      namesOfWalk(walkOf(bar(), "take", {{"order", "first-last"}})),
      (Names{"no kick on 1", "no hats on 1", "no hats on 1 &", "no snare on 2", "no hats on 2",
             "no hats on 2 &", "no kick on 3", "no hats on 3", "no hats on 3 &", "no snare on 4",
             "no hats on 4", "no snare on 4 ta", "no hats on 4 &"}));
  // One slot to each side, and the first has none before it.
  EXPECT_EQ(namesOfWalk(walkOf(bar(), "move")),
            (Names{"kick from 3 to 3 e", "kick from 3 to 2 a", "kick from 1 to 1 e"}));
  // A place that is taken is none to go to.
  EXPECT_EQ(walkOf(bar(), "move", {{"piece", "hat"}, {"grid", "1/8"}}).count, 0U);
  EXPECT_EQ(walkOf(bar(), "move", {{"piece", "hat"}, {"to_where", "anywhere"}}).count, 8U * 8U);
}

TEST(WalksByHand, PlacesBehindTheFirstBarNameIt) {
  const Names all =
      namesOfWalk(walkOf(testing::plainBeat(3), "placement", {{"order", "first-last"}}));
  EXPECT_EQ(all.size(), 42U);
  EXPECT_EQ(firstOf(all, 1), (Names{"kick on 1 e"}));
  EXPECT_EQ(all[14], "kick on 1 e of bar 2");
  EXPECT_EQ(all.back(), "kick on 4 a of bar 3");
}

TEST(WalksByHand, TheBackbeatMoves) {
  const Walk walk = walkOf(bar(), "backbeat");
  EXPECT_EQ(walk.count, 12U);
  EXPECT_EQ(struck(named(walk, "backbeat of 4 on 4 &").groove, piece::kSnare),
            (std::set<Beat>{Beat(1), Beat(25, 8), Beat(7, 2)}));
  EXPECT_EQ(struck(named(walk, "backbeats a slot early").groove, piece::kSnare),
            (std::set<Beat>{Beat(3, 4), Beat(11, 4), Beat(25, 8)}));
  EXPECT_EQ(struck(named(walk, "backbeats half a count late").groove, piece::kSnare),
            (std::set<Beat>{Beat(3, 2), Beat(25, 8), Beat(7, 2)}));
}

TEST(WalksByHand, ASlotIsPartedWhereItIsFree) {
  const Walk walk = walkOf(bar(), "ornaments");
  // Five ornaments on three strokes; two in place of one not where the ghost stands, three on all.
  EXPECT_EQ(walk.count, 20U);
  const Names all = namesOfWalk(walk);
  EXPECT_EQ(std::count(all.begin(), all.end(), "two strokes on snare in the place of one on 4"), 0);
  const Groove two = named(walk, "two strokes on snare in the place of one on 2").groove;
  EXPECT_EQ(struck(two, piece::kSnare),
            (std::set<Beat>{Beat(1), Beat(9, 8), Beat(3), Beat(25, 8)}));
  const Hit& second = two.hits[*indexOf(two, {Beat(9, 8), piece::kSnare})];
  EXPECT_EQ(second.role, Role::kGhost);
  EXPECT_EQ(second.velocity.value(), 112 * 3 / 4);
  EXPECT_EQ(
      struck(named(walk, "three strokes on snare in the place of one on 4").groove, piece::kSnare),
      (std::set<Beat>{Beat(1), Beat(3), Beat(37, 12), Beat(25, 8), Beat(19, 6)}));
}

TEST(WalksByHand, TheFootComesByTheBackbeats) {
  const Walk walk = walkOf(bar(), "foot");
  EXPECT_EQ(walk.count, 18U);  // to three sixteenths on both sides, of both or one backbeat
  EXPECT_EQ(
      struck(named(walk, "foot chick one eighth before each backbeat").groove, piece::kHatFoot),
      (std::set<Beat>{Beat(1, 2), Beat(5, 2)}));
  EXPECT_EQ(
      struck(named(walk, "foot chick 3 sixteenths after each backbeat").groove, piece::kHatFoot),
      (std::set<Beat>{Beat(7, 4), Beat(15, 4)}));
  EXPECT_EQ(struck(named(walk, "foot chick on 4 a").groove, piece::kHatFoot),
            (std::set<Beat>{Beat(15, 4)}));
}

TEST(WalksByHand, SlotsHaveTheirUsualNames) {
  for (const auto& [grid, name] :
       {std::pair("1/8", "one eighth"), std::pair("1/16", "one sixteenth"),
        std::pair("1/32", "one thirty-second"), std::pair("1/8T", "one triplet"),
        std::pair("1/16T", "one sextuplet")})
    EXPECT_EQ(walkOf(bar(), "foot", {{"grid", grid}}).at(0).name,
              std::string("foot chick ") + name + " before each backbeat");
}

TEST(WalksByHand, AccentsFallWhereTheyAreSaid) {
  const Walk walk = walkOf(bar(), "accents");
  EXPECT_EQ(walk.count, 15U);
  const auto accents = [&](const char* name) {
    std::set<Beat> out;
    for (const Hit& h : named(walk, name).groove.hits)
      if (h.piece == piece::kHat && h.role == Role::kAccent) out.insert(h.at);
    return out;
  };
  EXPECT_EQ(accents("right hand: accents on the beats"),
            (std::set<Beat>{Beat(0), Beat(1), Beat(2), Beat(3)}));
  EXPECT_EQ(accents("right hand: accents on the &s"),
            (std::set<Beat>{Beat(1, 2), Beat(3, 2), Beat(5, 2), Beat(7, 2)}));
  EXPECT_EQ(accents("right hand: accents on every third from the second"),
            (std::set<Beat>{Beat(1, 2), Beat(2), Beat(7, 2)}));
  EXPECT_EQ(accents("right hand: accents on every fifth from the fifth"),
            (std::set<Beat>{Beat(2)}));
}

// An accent that stood elsewhere goes; a ghost stays one.
TEST(WalksByHand, AccentsTakeTheOldOnesAway) {
  Groove groove = *testing::plainBeat().grooves.front();
  for (Hit& h : groove.hits) {
    if (h.piece != piece::kHat) continue;
    if (h.at == Beat(1, 2)) h.role = Role::kAccent;
    if (h.at == Beat(3, 2)) h.role = Role::kGhost;
  }
  const Groove on = named(walkOf(withGroove(testing::plainBeat(), groove), "accents"),
                          "right hand: accents on the beats")
                        .groove;
  const auto roleAt = [&](Beat at) { return on.hits[*indexOf(on, {at, piece::kHat})].role; };
  EXPECT_EQ(roleAt(Beat(0)), Role::kAccent);
  EXPECT_EQ(roleAt(Beat(1, 2)), Role::kNormal);
  EXPECT_EQ(roleAt(Beat(3, 2)), Role::kGhost);
  EXPECT_EQ(roleAt(Beat(5, 2)), Role::kNormal);
}

// A span that ends within a count: what stands at its end is not in it.
TEST(WalksByHand, PartialsKeepToTheSpan) {
  const Walk walk =
      walkOf(bar(), "partials", {{"piece", "hat"}, {"grid", "1/16"}, {"from", "0"}, {"to", "3/2"}});
  EXPECT_EQ(struck(named(walk, "hats out").groove, piece::kHat),
            (std::set<Beat>{Beat(3, 2), Beat(2), Beat(5, 2), Beat(3), Beat(7, 2)}));
  EXPECT_EQ(struck(named(walk, "hats on every partial").groove, piece::kHat),
            (std::set<Beat>{Beat(0), Beat(1, 4), Beat(1, 2), Beat(3, 4), Beat(1), Beat(5, 4),
                            Beat(3, 2), Beat(2), Beat(5, 2), Beat(3), Beat(7, 2)}));
}

TEST(WalksByHand, HandsGoToOtherPieces) {
  const Walk walk = walkOf(bar(), "orchestrate");
  const Groove ride = named(walk, "right hand on the ride").groove;
  EXPECT_EQ(struck(ride, piece::kRide).size(), 8U);
  EXPECT_TRUE(struck(ride, piece::kHat).empty());
  const Groove bell = named(walk, "bell of the ride off the beats").groove;
  EXPECT_EQ(struck(bell, piece::kRide),
            (std::set<Beat>{Beat(1, 2), Beat(3, 2), Beat(5, 2), Beat(7, 2)}));
  EXPECT_EQ(struck(bell, piece::kHat), (std::set<Beat>{Beat(0), Beat(1), Beat(2), Beat(3)}));
  for (const Hit& h : bell.hits) EXPECT_EQ(h.stroke == StrokeKind::kBell, h.piece == piece::kRide);
  const Groove toms = named(walk, "left hand on the floor tom, the backbeat stays").groove;
  EXPECT_EQ(struck(toms, piece::kTomFloor), (std::set<Beat>{Beat(25, 8)}));
  EXPECT_EQ(struck(toms, piece::kSnare), (std::set<Beat>{Beat(1), Beat(3)}));
}

TEST(WalksByHand, AHandDoesNotGoWhereSomethingStands) {
  const Groove core = withHit(*bar().grooves.front(), varied(Beat(1, 2), piece::kRide));
  const Groove ride =
      named(walkOf(withGroove(bar(), core), "orchestrate"), "right hand on the ride").groove;
  EXPECT_EQ(struck(ride, piece::kRide).size(), 8U);
  EXPECT_EQ(struck(ride, piece::kHat), (std::set<Beat>{Beat(1, 2)}));
}

TEST(WalksByHand, TheSameHandsFromLaterOn) {
  const Names all = namesOfWalk(walkOf(bar(), "hands"));
  EXPECT_EQ(firstOf(all, 4), (Names{"hand to hand from the right", "hand to hand from the left",
                                    "the right hand alone", "the left hand alone"}));
  EXPECT_EQ(std::count(all.begin(), all.end(), "the same hands from their 2nd stroke on"), 1);
  EXPECT_EQ(std::count(all.begin(), all.end(), "the same hands from their 3rd stroke on"), 1);
  EXPECT_EQ(std::count(all.begin(), all.end(), "the same hands from their 4th stroke on"), 1);
}

TEST(WalksByHand, BurstsFallWhereThereIsRoom) {
  const Walk walk = walkOf(bar(), "bursts");
  const Groove four = named(walk, "kick 4 from 3 a; the same foot leads next").groove;
  EXPECT_EQ(struck(four, piece::kKick),
            (std::set<Beat>{Beat(0), Beat(2), Beat(11, 4), Beat(3), Beat(13, 4), Beat(7, 2)}));
}

// Kept strokes are as they were in every variant, of every walk that takes `keep`.
TEST(WalksByHand, WhatIsKeptStays) {
  Song song = bar();
  Groove groove = *song.grooves.front();
  for (Hit& hit : groove.hits) {
    if (hit.piece != piece::kHat) continue;
    hit.open = hit.at == Beat(1) ? 0.5 : 0;
    hit.openFor = hit.at == Beat(1) ? Beat(1, 2) : Beat(0);
  }
  song = withGroove(song, groove);
  std::uint64_t looked = 0;
  for (const char* kind : {"openings", "placement", "move", "accents", "take", "bursts"}) {
    const Walk walk = walkOf(song, kind, {{"keep", "hands"}});
    for (std::uint64_t i = 0; i < walk.count; ++i, ++looked) {
      const Groove variant = walk.at(i).groove;
      for (const Hit& hit : groove.hits) {
        if (hit.piece == piece::kKick) continue;
        const auto there = indexOf(variant, {hit.at, hit.piece});
        ASSERT_TRUE(there) << kind << " " << walk.at(i).name;
        EXPECT_EQ(variant.hits[*there], hit) << kind << " " << walk.at(i).name;
      }
    }
  }
  EXPECT_GT(looked, 10U);
}

}  // namespace
}  // namespace uneven
