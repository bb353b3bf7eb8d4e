// SPDX-License-Identifier: GPL-3.0-or-later
// Which hand plays what: figures of common practice (tests/data/hands.json), how fast they go
// beside each other, and what holds of any part.
#include "core/body/hands.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <map>
#include <nlohmann/json.hpp>
#include <set>

#include "core/playing/ways.h"
#include "core/song/edit.h"
#include "core/song/names.h"
#include "tests/support/lanes.h"
#include "tests/support/made.h"
#include "tests/support/process.h"
#include "tests/support/random_song.h"

namespace uneven {
namespace {

using testing::pick;
using testing::Random;
using testing::rounds;
using testing::songOfLanes;

constexpr Limb kRightOne = Limb::kRightHand, kLeftOne = Limb::kLeftHand;

HandReport reportOf(const Song& song, std::optional<double> bpm = std::nullopt,
                    const Profile& profile = {}) {
  auto report = handReport(song, song.grooves[0]->id, profile, bpm);
  EXPECT_TRUE(report);
  return *std::move(report);
}

Setup setupOf(const nlohmann::json& kit) {
  Setup setup;
  if (kit.value("handed", "right") == "left") setup.kit = Side::kLeft;
  if (kit.value("lead", "right") == "left") setup.lead = Side::kLeft;
  setup.openHanded = kit.value("open_handed", false);
  return setup;
}

std::map<std::string, std::string> handsByPiece(const HandReport& report) {
  std::map<std::string, std::string> out;
  for (std::size_t i = 0; i < report.part.hands.size(); ++i) {
    const BodyStroke& b = report.part.hands[i];
    if (!b.grace) out[houseKit()[b.piece].id] += report.plan.hands[i] == kRightOne ? 'R' : 'L';
  }
  return out;
}

TEST(Hands, AreThoseOfCommonPractice) {
  const auto figures =
      nlohmann::json::parse(testing::readText(SOURCE_DIR "/tests/data/hands.json"));
  ASSERT_GE(figures.size(), 50U);
  for (const auto& figure : figures) {
    const std::string grid = figure["grid"], meter = figure.value("meter", "4/4");
    const Beat step = testing::stepOf(grid);
    const Song song = songOfLanes(figure["lanes"], step, figure["bpm"],
                                  {std::stoi(meter), std::stoi(meter.substr(meter.find('/') + 1))},
                                  setupOf(figure["kit"]));
    auto is = handsByPiece(reportOf(song));
    for (const auto& entry : figure["hands"].items()) {
      const std::string& piece = entry.key();
      const nlohmann::json& wanted = entry.value();
      const bool one =
          std::any_of(wanted.begin(), wanted.end(), [&](const auto& w) { return w == is[piece]; });
      EXPECT_TRUE(one) << figure["name"] << ": " << piece << " " << is[piece] << " in place of "
                       << wanted;
    }
  }
}

TEST(Hands, TheProfileChoosesTheSchool) {
  const Song hats = songOfLanes({{"hat", std::string(16, 'x')}}, Beat(1, 4), 100);
  Profile early;
  early.oneHandUpTo = 0;
  EXPECT_EQ(handsByPiece(reportOf(hats, {}, early))["hat"].substr(0, 4), "RLRL");
  const Song gaps = songOfLanes({{"snare", "x.xxx.xxx.xxx.xx"}}, Beat(1, 4), 110);
  Profile turns;
  turns.bySlot = false;
  EXPECT_EQ(handsByPiece(reportOf(gaps, {}, turns))["snare"], "RLRLRLRLRLRL");
  const Song stab =
      songOfLanes({{"crash", "x..............."}, {"snare", "x..............."}}, Beat(1, 4), 110);
  Profile side;
  side.leadTakesCymbal = false;
  EXPECT_EQ(handsByPiece(reportOf(stab, {}, side))["crash"], "L") << "it stands to the left";
}

Ceiling ceilingOfLane(const std::string& lane, Beat step = Beat(1, 4)) {
  const HandReport r = reportOf(songOfLanes({{"snare", lane}}, step, 100));
  return r.ceiling;
}

// Doubles are for runs: of four strokes on, where the third in one hand would come too soon and the
// second does not.
TEST(Hands, DoublesBeginWithFourStrokes) {
  Profile bounces;
  bounces.weakHand = 1;
  bounces.hand = {{Milliseconds(60), Milliseconds(40)},
                  {Milliseconds(150), Milliseconds(120)},
                  {Milliseconds(165), Milliseconds(125)}};
  const auto handsAt = [&](const std::string& lane, double bpm) {
    const HandReport report =
        reportOf(songOfLanes({{"snare", lane}}, Beat(1, 4), bpm), std::nullopt, bounces);
    return handsByPiece(report)["snare"];
  };
  EXPECT_EQ(handsAt("xxx.............", 290), "RLR");
  EXPECT_EQ(handsAt("xxxx............", 290), "RRLL");
  EXPECT_EQ(handsAt("xxxxx...........", 290), "RRLLR");
  EXPECT_EQ(handsAt("xxxxx...........", 100), "RLRLR");
}

// How fast figures go beside each other (common practice): what is set is kept.
TEST(Ceilings, StandAsTheyDoForPlayers) {
  const auto times = [](std::string lane, int n) {
    std::string out;
    while (n-- > 0) out += lane;
    return out;
  };
  const Ceiling singles = ceilingOfLane(times("RL", 8)), doubles = ceilingOfLane(times("RRLL", 4));
  const Ceiling one = ceilingOfLane(times("R", 16));
  const Ceiling triples = ceilingOfLane(times("RRRLLL", 4), Beat(1, 6));
  const double inSixteenths = 1.5;  // of what was set in sextuplets
  for (const auto which : {&Ceiling::comfortable, &Ceiling::playable}) {
    EXPECT_GE(doubles.*which, singles.*which);
    for (const char* paradiddle : {"RLRRLRLL", "RRLRLLRL", "RLLRLRRL", "RLRLLRLR"}) {
      const Ceiling c = ceilingOfLane(times(paradiddle, 2));
      EXPECT_LE(c.*which, singles.*which) << paradiddle;
      EXPECT_GE(c.*which, 0.8 * singles.*which) << paradiddle;
      EXPECT_GE(c.*which, triples.*which * inSixteenths) << paradiddle;
    }
    const Ceiling six = ceilingOfLane(times("RLLRRL", 4), Beat(1, 6));
    const Ceiling inSextuplets = ceilingOfLane(times("RL", 12), Beat(1, 6));
    EXPECT_GE(six.*which, 0.94 * inSextuplets.*which);
    EXPECT_GE(ceilingOfLane(times("RLRRLL", 4), Beat(1, 6)).*which, 0.85 * six.*which);
    EXPECT_LT(triples.*which * inSixteenths, doubles.*which);
    EXPECT_GT(triples.*which * inSixteenths, one.*which);
    EXPECT_LE(ceilingOfLane(times("RRRRLLLL", 2)).*which, triples.*which * inSixteenths * 1.0001);
    // Thirty-seconds at half the tempo; a diddle is a double.
    EXPECT_NEAR(ceilingOfLane(times("RRLL", 8), Beat(1, 8)).*which, doubles.*which / 2, 1e-6);
  }
  // Sixteenths in one hand: 125 ms sustained is 120 BPM, 165 ms is 90.9.
  EXPECT_NEAR(100 * one.playable, 120, 1e-6);
  EXPECT_NEAR(100 * one.comfortable, 15'000 / 165.0, 1e-6);
  Song diddles = songOfLanes({{"snare", times("RL", 8)}}, Beat(1, 4), 100);
  diddles.grooves[0].edit([](Groove& g) {
    for (Hit& h : g.hits) h.ornament = Ornament::kDiddle;
  });
  EXPECT_NEAR(reportOf(diddles).ceiling.playable, doubles.playable / 2, 1e-6);
}

// What is told of a part hangs neither on the tempo that is asked at nor on what the search meets.
TEST(Ceilings, AreTheSameFromEveryTempo) {
  Random random(31);
  for (int i = 0; i < rounds(60); ++i) {
    const Song song = testing::randomSong(random);
    const std::string id = song.grooves.front()->id;
    std::set<double> comfortable, playable;
    for (const double bpm : {40.0, 97.3, 180.0}) {
      const auto r = handReport(song, id, {}, bpm);
      if (!r) continue;
      playable.insert(ceilingBpm(*r, r->ceiling.playable));
      comfortable.insert(comfortableBpm(*r, r->ceiling.comfortable));
      EXPECT_LE(comfortableBpm(*r, r->ceiling.comfortable),
                0.97 * ceilingBpm(*r, r->ceiling.playable) + 0.01);
    }
    EXPECT_LE(playable.size(), 1U) << i;
    EXPECT_LE(comfortable.size(), 1U) << i;
  }
}

TEST(Ceilings, AStrokeMoreNeverRaisesThem) {
  Random random(32);
  for (int i = 0; i < rounds(150); ++i) {
    std::string lane;
    for (int k = 0; k < 16; ++k) lane += "RL.."[pick(random, 0, 3)];
    std::size_t left = 0;
    for (const char c : lane) left += c != '.' ? 1 : 0;
    if (left < 2) continue;
    const Ceiling many = ceilingOfLane(lane);
    std::size_t which = 0;
    do {
      which = static_cast<std::size_t>(pick(random, 0, 15));
    } while (lane[which] == '.');
    std::string fewer = lane;
    fewer[which] = '.';
    const Ceiling few = ceilingOfLane(fewer);
    EXPECT_GE(few.playable, many.playable * (1 - 1e-9)) << lane << " " << fewer;
    EXPECT_GE(few.comfortable, many.comfortable * (1 - 1e-9)) << lane << " " << fewer;
  }
}

// Of any song: what is set is kept, one hand strikes one piece, graces are in the other hand.
TEST(Hands, HoldOfAnySong) {
  Random random(33);
  for (int i = 0; i < rounds(150); ++i) {
    const Song song = testing::randomSong(random);
    const auto r = handReport(song, song.grooves.front()->id, {});
    if (!r) continue;
    const std::vector<BodyStroke>& hands = r->part.hands;
    ASSERT_EQ(r->plan.hands.size(), hands.size());
    for (std::size_t k = 0; k < hands.size(); ++k) {
      ASSERT_TRUE(isHand(r->plan.hands[k]));
      if (isHand(hands[k].limb)) {
        EXPECT_EQ(r->plan.hands[k], hands[k].limb);
      }
      for (std::size_t o = 0; o < k; ++o) {
        if (hands[o].place != hands[k].place || hands[o].hit == hands[k].hit) continue;
        if (isHand(hands[o].limb) && isHand(hands[k].limb)) continue;
        EXPECT_NE(r->plan.hands[o], r->plan.hands[k]) << "two pieces at once";
      }
    }
    for (const Strain& strain : r->strains.hands) EXPECT_GE(strain.strain, 0);
  }
}

// A mirrored kit under a left lead: all hands change sides.
TEST(Hands, AreMirroredWithTheKit) {
  Random random(34);
  for (int i = 0; i < rounds(80); ++i) {
    Song song = testing::randomSong(random);
    song.kit.edit([](Kit& kit) { kit.setup = {}; });
    // A feel may swing or lean one hand alone.
    for (Feel& feel : song.feels) {
      Feel plain;
      plain.id = feel.id;
      feel = plain;
    }
    song.grooves.front().edit([](Groove& g) {
      for (Hit& h : g.hits) h.limb = Limb::kAutomatic;
    });
    const auto right = handReport(song, song.grooves.front()->id, {});
    song.kit.edit([](Kit& kit) { kit.setup = {Side::kLeft, Side::kLeft, false, false}; });
    const auto left = handReport(song, song.grooves.front()->id, {});
    if (!right || !left) continue;
    ASSERT_EQ(right->plan.hands.size(), left->plan.hands.size());
    int unlike = 0;
    for (std::size_t k = 0; k < left->plan.hands.size(); ++k)
      unlike += left->plan.hands[k] == mirrored(right->plan.hands[k]) ? 0 : 1;
    EXPECT_EQ(unlike, 0) << i;
  }
}

// A flam, a drag, a ruff, a roll and a buzz are hard by themselves at no tempo.
TEST(Hands, OrnamentsAreOneMotion) {
  for (const Ornament ornament :
       {Ornament::kFlam, Ornament::kDrag, Ornament::kRuff, Ornament::kRoll, Ornament::kBuzz}) {
    Song song = songOfLanes({{"snare", "....x.......x..."}}, Beat(1, 4), 20);
    song.grooves[0].edit([&](Groove& g) {
      for (Hit& h : g.hits) h.ornament = ornament;
    });
    for (const double bpm : {20.0, 100.0, 220.0}) {
      const HandReport r = reportOf(song, bpm);
      EXPECT_TRUE(r.part.thirdHand.empty());
      for (const Strain& s : r.strains.hands) EXPECT_TRUE(s.comfortable()) << textOf(ornament);
    }
    const HandReport r = reportOf(song);
    const bool oneHand = ornament == Ornament::kBuzz;
    EXPECT_EQ(r.plan.hands[0] != r.plan.hands[1], !oneHand) << textOf(ornament);
    // With the hats under it a third hand would be needed, at any tempo; it is the hats that go.
    Song under = song;
    under.grooves[0].edit(
        [&](Groove& g) { g = withHit(std::move(g), testing::hitAt(Beat(1), piece::kHat)); });
    const HandReport u = reportOf(under);
    EXPECT_EQ(u.part.thirdHand.size(), oneHand ? 0U : 1U) << textOf(ornament);
    if (!oneHand) {
      EXPECT_EQ(u.take->strokes()[u.part.thirdHand.at(0)].piece, piece::kHat);
    }
  }
}

// The foot that shuts the hats at each opening is a stroke of the foot.
TEST(Feet, ShutTheHatsAsOftenAsTheyOpen) {
  Song song =
      songOfLanes({{"hat", "x.x.x.x.x.x.x.x."}, {"kick", "x.......x......."}}, Beat(1, 4), 120);
  EXPECT_EQ(reportOf(song).part.feet.size(), 2U);
  song.grooves[0].edit([](Groove& g) {
    for (std::size_t i = 0; i < g.hits.size(); ++i) {
      if (g.hits[i].piece != piece::kHat || (g.hits[i].at * Beat(2)).num() % 2 == 0) continue;
      g.hits[i].open = 0.5;
      g.hits[i].openFor = Beat(1, 2);
    }
  });
  const HandReport slow = reportOf(song), fast = reportOf(song, 340);
  EXPECT_EQ(slow.part.feet.size(), 6U) << "four openings are shut";
  for (const Strain& s : slow.strains.feet) EXPECT_TRUE(s.comfortable());
  EXPECT_TRUE(std::any_of(fast.strains.feet.begin(), fast.strains.feet.end(), [](const Strain& s) {
    return !s.comfortable();
  })) << "176 ms";
}

// Automatic limbs are those that are shown, where a feel asks a hand and where they are told.
TEST(Hands, FeelsByLimbGoByTheSolvedHands) {
  Song song =
      songOfLanes({{"hat", "xxxx.xxxxxxx.xxx"}, {"snare", "....X.......X..."}}, Beat(1, 4), 120);
  const auto played = [&] {
    const Result<SharedTake> take = Take::ofSong(song);
    EXPECT_TRUE(take);
    return *take;
  };
  const auto late = [&](const Take& take) {
    std::string out;
    for (const Stroke& s : take.strokes()) {
      if (s.piece == piece::kHat) out += s.time > s.grid ? 'L' : 'R';
    }
    return out;
  };
  song.feels = {Feel{}};
  song.feels[0].id = "f";
  song.grooves[0].edit([](Groove& g) { g.feel = "f"; });
  EXPECT_EQ(late(*played()), "RRRRRRRRRRRRRR");
  std::string told;
  const SharedTake plain = played();
  for (std::size_t i = 0; i < plain->strokes().size(); ++i) {
    if (plain->strokes()[i].piece == piece::kHat) told += plain->limbs()[i] == kLeftOne ? 'L' : 'R';
  }
  EXPECT_EQ(told, "RLRLLRLRLRLLRL") << "as hands.json has it";
  song.feels[0].limbDisplacement = {{kLeftOne, Milliseconds(9)}};
  EXPECT_EQ(late(*played()), told);
  EXPECT_EQ(played()->strokes()[1].limb, played()->limbs()[1]);
  // What is set is kept.
  song.grooves[0].edit([](Groove& g) {
    for (Hit& hit : g.hits) hit.limb = hit.piece == piece::kHat ? kRightOne : kLeftOne;
  });
  EXPECT_EQ(late(*played()), "RRRRRRRRRRRRRR");
}

}  // namespace
}  // namespace uneven
