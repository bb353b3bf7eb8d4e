// SPDX-License-Identifier: GPL-3.0-or-later
// What hands and feet are asked for: limits by hand, ceilings at their edge; parts read from takes.
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <set>

#include "core/playing/hardness.h"
#include "core/playing/ways.h"
#include "core/song/edit.h"
#include "tests/support/made.h"
#include "tests/support/random_song.h"

namespace uneven {
namespace {

using testing::pick;
using testing::pickReal;
using testing::Random;
using testing::rounds;

constexpr Limb kR = Limb::kRightHand, kL = Limb::kLeftHand;

Body house(const Profile& profile = {}) {
  return {houseKit(), profile};
}

BodyStroke strokeAt(double ms, PieceId piece, std::uint32_t place) {
  BodyStroke s;
  s.grid = Milliseconds(ms);
  s.piece = piece;
  s.place = s.hit = place;
  s.written = ms / 500;
  s.usual = houseKit().usualLimb(piece);
  s.velocity = Velocity(90);
  return s;
}

// `count` strokes on one piece, `ms` apart.
std::vector<BodyStroke> row(int count, double ms, PieceId piece, Limb limb = Limb::kAutomatic) {
  std::vector<BodyStroke> out;
  for (int i = 0; i < count; ++i) {
    out.push_back(strokeAt(i * ms, piece, static_cast<std::uint32_t>(i)));
    out.back().limb = limb;
  }
  return out;
}

std::vector<BodyStroke> randomHands(Random& random, int most) {
  static constexpr PieceId kPieces[] = {piece::kHat,      piece::kHat,   piece::kSnare,
                                        piece::kSnare,    piece::kRide,  piece::kTomHigh,
                                        piece::kTomFloor, piece::kCrash, piece::kChina};
  std::vector<BodyStroke> out;
  double ms = 0;
  std::uint32_t place = 0;
  const int count = pick(random, 1, most);
  for (int i = 0; i < count; ++i) {
    BodyStroke s = strokeAt(ms, kPieces[pick(random, 0, 8)], place);
    s.hit = static_cast<std::uint32_t>(i);
    s.velocity = Velocity(pick(random, 1, 127));
    s.role = static_cast<Role>(pick(random, 0, 3));
    s.ostinato = s.piece == piece::kHat && pick(random, 0, 1) == 0;
    if (pick(random, 0, 9) == 0) s.bounce = Milliseconds(pickReal(random, 30, 120));
    if (pick(random, 0, 7) == 0) s.limb = pick(random, 0, 1) == 0 ? kR : kL;
    if (pick(random, 0, 11) == 0) {
      s.grace = true;
      s.fixed = -Milliseconds(pickReal(random, 10, 60));
    }
    out.push_back(s);
    if (pick(random, 0, 5) > 0) {
      ms += pickReal(random, 20, pick(random, 0, 3) == 0 ? 400 : 160);
      ++place;
    }
  }
  return out;
}

TEST(HandPlan, SingleStrokesAlternateFromTheStrongHand) {
  for (const PieceId piece : {piece::kSnare, piece::kTomFloor, piece::kTomHigh}) {
    auto hands = row(16, 125, piece);
    const HandPlan found = solve(house(), hands);
    for (std::size_t i = 0; i < 16; ++i) EXPECT_EQ(found.hands[i], i % 2 == 0 ? kR : kL) << i;
  }
}

TEST(HandPlan, AnOstinatoStaysInItsHand) {
  auto hats = row(16, 200, piece::kHat);
  for (BodyStroke& s : hats) s.ostinato = true;
  std::vector<BodyStroke> both;
  for (std::uint32_t i = 0; i < 16; ++i) {
    both.push_back(hats[i]);
    if (i % 8 != 4) continue;
    both.push_back(strokeAt(hats[i].grid.count(), piece::kSnare, i));
    both.back().hit = 100 + i;
    both.back().across = true;
  }
  const HandPlan found = solve(house(), both);
  for (std::size_t i = 0; i < both.size(); ++i) {
    EXPECT_EQ(found.hands[i], both[i].piece == piece::kHat ? kR : kL) << i;
  }
  Profile left;
  left.setup = uneven::Setup{Side::kLeft, Side::kLeft, false, false};
  Kit kit = houseKit();
  kit.setup = *left.setup;
  for (BodyStroke& s : both) s.usual = kit.usualLimb(s.piece);
  const HandPlan mirrored = solve(Body(kit, left), both);
  for (std::size_t i = 0; i < both.size(); ++i) {
    EXPECT_NE(mirrored.hands[i], found.hands[i]) << "a mirrored kit, mirrored hands";
  }
}

// Sixteenths of 148 BPM: 101 ms. Three in one hand are hard, two are fine (common practice).
TEST(Strain, ThreeInOneHandAtAHundredMilliseconds) {
  const Body body = house();
  const auto three = row(3, 101.35, piece::kSnare, kR);
  const auto all = strains(body, three, {kR, kR, kR});
  EXPECT_EQ(stateWord(all[1]), "comfortable");
  EXPECT_EQ(stateWord(all[2]), "hard");
  EXPECT_EQ(all[2].reason, StrainReason::kRun);
  EXPECT_EQ(all[2].limb, kR);
  EXPECT_NEAR(all[2].strain, 95 / 101.35, 1e-9);
  BodyPart part;
  part.hands = three;
  for (BodyStroke& s : part.hands) s.limb = Limb::kAutomatic;
  part.length = Milliseconds(2'000);
  part.quarters = 4;
  const HandPlan best = solveLoop(body, part);
  EXPECT_NE(best.hands[1], best.hands[2]) << "alternation is proposed";
}

TEST(Strain, TheTablesRowsHold) {
  const Body body = house();
  struct Row {
    int stroke;
    double comfortable, playable;
  };
  const auto check = [&](PieceId piece, Limb limb, double weak, std::vector<Row> rows) {
    for (const Row& r : rows) {
      const auto at = [&](double ms) {
        const std::vector<Limb> by(static_cast<std::size_t>(r.stroke), limb);
        return strains(body, row(r.stroke, ms, piece, limb), by).back();
      };
      EXPECT_TRUE(at(r.comfortable * weak).comfortable()) << r.stroke;
      EXPECT_FALSE(at(r.comfortable * weak - 0.01).comfortable()) << r.stroke;
      EXPECT_TRUE(at(r.playable * weak).playable()) << r.stroke;
      EXPECT_FALSE(at(r.playable * weak - 0.01).playable()) << r.stroke;
    }
  };
  const std::vector<Row> hand{{2, 75, 50}, {3, 120, 95}, {7, 120, 95}, {8, 165, 125}};
  check(piece::kSnare, kR, 1, hand);
  check(piece::kSnare, kL, 1.10, hand);
  const std::vector<Row> foot{{2, 110, 80}, {3, 150, 115}, {8, 200, 145}};
  check(piece::kKick, Limb::kRightFoot, 1, foot);
  check(piece::kKick, Limb::kLeftFoot, 1.15, foot);
  check(piece::kHatFoot, Limb::kLeftFoot, 1, {{2, 180, 130}, {3, 220, 160}, {8, 250, 190}});
}

TEST(Strain, WaysAndPullOutsAskForMore) {
  const Body body = house();
  const auto second = [&](PieceId from, PieceId to, double ms, Role before, Role after) {
    std::vector<BodyStroke> two{strokeAt(0, from, 0), strokeAt(ms, to, 1)};
    two[0].role = before;
    two[1].role = after;
    return strains(body, two, {kR, kR})[1];
  };
  const auto plain = [&](PieceId from, PieceId to, double ms) {
    return second(from, to, ms, Role::kNormal, Role::kNormal);
  };
  EXPECT_TRUE(plain(piece::kSnare, piece::kSnare, 75).comfortable());
  EXPECT_FALSE(plain(piece::kSnare, piece::kTomHigh, 99).comfortable());
  EXPECT_TRUE(plain(piece::kSnare, piece::kTomHigh, 100).comfortable()) << "a neighbour: 25 ms";
  EXPECT_EQ(plain(piece::kSnare, piece::kTomHigh, 99).reason, StrainReason::kTravel);
  // The limit itself is the hand's; what is missing from there on is the way's.
  const double limit = house().profile().hand.second.playable.count();
  EXPECT_EQ(plain(piece::kSnare, piece::kTomHigh, limit).reason, StrainReason::kTravel);
  EXPECT_EQ(plain(piece::kSnare, piece::kTomHigh, limit - 1).reason, StrainReason::kDouble);
  EXPECT_FALSE(plain(piece::kHat, piece::kTomFloor, 124).comfortable());
  EXPECT_TRUE(plain(piece::kHat, piece::kTomFloor, 125).comfortable()) << "across: 50 ms";
  std::vector<BodyStroke> over{strokeAt(-20, piece::kTomFloor, 0), strokeAt(0, piece::kSnare, 1),
                               strokeAt(149, piece::kHat, 2)};
  over[0].grid = Milliseconds(0);
  over[1].grid = Milliseconds(10);
  EXPECT_FALSE(strains(body, over, {kR, kL, kR})[2].comfortable()) << "over the left: 75 ms";
  over[2].grid = Milliseconds(150);
  EXPECT_TRUE(strains(body, over, {kR, kL, kR})[2].comfortable());
  const auto pull = [&](double ms) {
    return second(piece::kSnare, piece::kSnare, ms, Role::kGhost, Role::kAccent);
  };
  EXPECT_EQ(stateWord(pull(140)), "comfortable");
  EXPECT_EQ(stateWord(pull(139)), "hard");
  EXPECT_EQ(pull(139).reason, StrainReason::kPullOut);
  EXPECT_EQ(stateWord(pull(89)), "not-playable");
}

// Sixteenths in one hand: 125 ms sustained is 120 BPM, 165 ms is 90.9.
TEST(Ceiling, IsWhatArithmeticGives) {
  BodyPart part;
  part.hands = row(16, 150, piece::kHat, kR);  // sixteenths of 100 BPM
  part.length = Milliseconds(16 * 150);
  const Ceiling c = ceilingOf(house(), part, std::vector<Limb>(16, kR));
  EXPECT_NEAR(100 * c.playable, 120, 1e-6);
  EXPECT_NEAR(100 * c.comfortable, 15'000 / 165.0, 1e-6);
  EXPECT_EQ(c.at.reason, StrainReason::kSustained);
  ASSERT_TRUE(c.hand);
  part.hands.clear();
  const Ceiling none = ceilingOf(house(), part, std::vector<Limb>{});
  EXPECT_EQ(none.playable, kPaceMost);
  EXPECT_FALSE(none.hand || none.foot);
  // One stroke in 14 s is hard at a hundred times the tempo, and holds no tempo back.
  part.hands = row(1, 0, piece::kHat, kR);
  part.length = Milliseconds(14'000);
  const Ceiling one = ceilingOf(house(), part, {kR});
  EXPECT_EQ(one.playable, kPaceMost);
  EXPECT_FALSE(one.hand || one.foot);
}

TEST(Ceiling, HoldsAtItsEdgeAndFallsWithEveryLimit) {
  Random random(4);
  for (int i = 0; i < 200; ++i) {
    BodyPart part;
    part.hands = randomHands(random, 14);
    for (BodyStroke& s : part.hands) s.fixed = Milliseconds(0);
    part.feet = row(pick(random, 0, 6), pickReal(random, 90, 300), piece::kKick, Limb::kRightFoot);
    part.length = Milliseconds(3'000);
    Profile profile;
    const Body body = house(profile);
    const HandPlan by = solveLoop(body, part);
    const Ceiling c = ceilingOf(body, part, by.hands);
    const auto good = [&](double pace) {
      const LoopStrains all = loopStrains(body, part, by.hands, pace);
      const auto playable = [](const Strain& s) { return s.playable(); };
      return std::all_of(all.hands.begin(), all.hands.end(), playable) &&
             std::all_of(all.feet.begin(), all.feet.end(), playable);
    };
    if (c.playable > 0) {
      EXPECT_TRUE(good(c.playable));
    }
    if (c.playable < kPaceMost) {
      EXPECT_FALSE(good(std::max(c.playable, 1 / kPaceMost) * 1.0001));
    }
    EXPECT_LE(c.comfortable, c.playable);
    TimeLimit* limits[] = {&profile.hand.second, &profile.hand.run, &profile.hand.sustained,
                           &profile.foot.second, &profile.foot.run, &profile.foot.sustained,
                           &profile.pullOut};
    TimeLimit& longer = *limits[pick(random, 0, 6)];
    longer.playable *= 1.2;
    longer.comfortable *= 1.2;
    const Ceiling lower = ceilingOf(house(profile), part, by.hands);
    EXPECT_LE(lower.playable, c.playable * (1 + 1e-9));
    EXPECT_LE(lower.comfortable, c.comfortable * (1 + 1e-9));
  }
}

TEST(Techniques, HoldForTheLeadingHandAlone) {
  for (const Technique& technique : techniques()) {
    Profile profile;
    profile.leadHand = technique.limits;
    const Body body = house(profile);
    for (const Limb limb : {kR, kL}) {
      const auto strokes = row(3, 118, piece::kHat, limb);
      const std::vector<Strain> all = strains(body, strokes, std::vector<Limb>(3, limb));
      const double run = limb == kR ? technique.limits.run.comfortable.count() : 120 * 1.1;
      EXPECT_NEAR(all[2].effort, run / 118, 1e-9) << technique.id;
    }
    EXPECT_EQ(techniqueOf(technique.limits), &technique);
  }
  EXPECT_EQ(techniqueOf(Profile{}.hand), nullptr);
}

class ReportTest : public ::testing::Test {
 protected:
  ReportTest() { groove.id = groove.name = "g"; }
  Hit& put(Beat at, PieceId piece, int velocity = 90) {
    Hit hit;
    hit.at = at;
    hit.piece = piece;
    hit.velocity = Velocity(velocity);
    groove = withHit(std::move(groove), hit);
    return groove.hits[*indexOf(groove, {at, piece})];
  }
  HandReport report(double bpm = 100) {
    song.arrangement.clear();
    song.grooves = {SharedValue<Groove>(groove)};
    Result<HandReport> made = handReport(song, "g", {}, bpm);
    EXPECT_TRUE(made);
    return *std::move(made);
  }
  Hardness hard(double bpm = 100) {
    const HandReport r = report(bpm);
    return hardness(r, r.strains).groove;
  }
  Song song = blankSong();
  Groove groove;
};

// Three of the right hand on the snare, the first two beside nothing: a foot may take one.
TEST_F(ReportTest, AFootTakesAStrokeWhereThatIsFaster) {
  for (int i = 0; i < 3; ++i) put(Beat(i, 4), piece::kSnare).limb = kR;
  const HandReport r = report(140);
  const std::vector<OtherWay> ways = otherWays(r, {}, 5);
  ASSERT_EQ(ways.size(), 1U) << "no hand is free";
  EXPECT_TRUE(ways.front().foot);
  EXPECT_NE(ways.front().text.find("the foot takes Snare on 1"), std::string::npos);
  EXPECT_GT(ways.front().ceiling.playable, r.ceiling.playable);
  const Groove& with = ways.front().groove;
  EXPECT_EQ(with.hits.size(), 3U);
  EXPECT_EQ(std::count_if(with.hits.begin(), with.hits.end(),
                          [](const Hit& h) { return h.piece == piece::kKick; }),
            1);
  // Nothing that a foot plays already.
  for (int i = 0; i < 3; ++i) put(Beat(i, 4), piece::kKick);
  const HandReport busy = report(140);
  EXPECT_TRUE(otherWays(busy, {}, 5).empty());
}

TEST_F(ReportTest, OtherWaysAreOnesThatADrummerNames) {
  for (int i = 0; i < 16; ++i) put(Beat(i, 4), piece::kHat);
  groove = withoutHits(std::move(groove), {{Beat(1), piece::kHat}});
  put(Beat(1), piece::kSnare);
  const HandReport slow = report(90), fast = report(120);
  const auto words = [](const std::vector<OtherWay>& ways) {
    std::set<std::string_view> out;
    for (const OtherWay& way : ways) out.insert(way.word);
    return out;
  };
  const std::vector<OtherWay> ways = otherWays(slow, {}, 5);
  EXPECT_EQ(words(ways), (std::set<std::string_view>{"hand-to-hand", "doubles", "other-lead"}));
  EXPECT_TRUE(words(otherWays(fast, {}, 5)).contains("one-hand"));
  for (std::size_t i = 0; i < ways.size(); ++i) {
    EXPECT_GE(ways[i].ceiling.playable * slow.bpm, kBpmMin)
        << "no way that no tempo lets be played";
    EXPECT_LE(ways[i].ceiling.playable, ways[i > 0 ? i - 1 : 0].ceiling.playable);
    EXPECT_LE(ways[i].ceiling.playable, slow.ceiling.playable * (1 + 1e-9)) << "the part's own";
    for (std::size_t h = 0; h < ways[i].groove.hits.size(); ++h)
      EXPECT_EQ(ways[i].groove.hits[h].limb, ways[i].plan.hands[h]) << "so that it can be heard";
  }
  const std::vector<WayBand> bands = bandsOf(slow, {});
  ASSERT_EQ(bands.size(), 2U);
  EXPECT_EQ(bands[0].word, "one-hand");
  EXPECT_EQ(bands[0].bpm, 120) << "125 ms";
  EXPECT_GT(bands[1].bpm, bands[0].bpm);
}

TEST_F(ReportTest, HardnessGrowsInEachPart) {
  for (int i = 0; i < 8; ++i) put(Beat(i, 2), piece::kHat, 80);
  const Hardness plain = hard();
  EXPECT_EQ(plain.coordination, 0);
  EXPECT_EQ(plain.dynamics, 0);
  EXPECT_EQ(plain.openings, 0);
  EXPECT_EQ(plain.subdivisions, 0);
  EXPECT_GT(hard(140).speed, plain.speed);
  put(Beat(0), piece::kKick);
  const Hardness kick = hard();
  EXPECT_EQ(kick.coordination, 5) << "the hand alone, and with the foot";
  // One hat 12 dB softer: down and up again.
  put(Beat(1), piece::kHat, 40);
  EXPECT_NEAR(hard().dynamics, 2 * 40 * std::log10(2) / 6, 1e-9);
  put(Beat(1), piece::kHat, 80).open = 0.5;
  EXPECT_EQ(hard().openings, 4);
  put(Beat(1), piece::kHat, 80);
  EXPECT_EQ(hard().total(), kick.total());
  // A move that the foot makes by itself is one where it opens.
  groove.pedal.emplace();
  groove.pedal->moves = {{Beat(1), 0.5, Beat(1, 2), {}}, {Beat(2), 0, Beat(0), {}}};
  EXPECT_EQ(hard().openings, 4);
  groove.pedal.reset();
  put(Beat(7, 3), piece::kHat, 80);
  EXPECT_EQ(hard().subdivisions, 6) << "into that beat and out of it";
}

// More of anything is never easier.
TEST(Hardness, NeverFallsWithTempo) {
  Random random(12);
  for (int i = 0; i < 40; ++i) {
    const Song song = testing::randomSong(random);
    const std::string id = song.grooves.front()->id;
    const Result<HandReport> slow = handReport(song, id, {}, 80);
    const Result<HandReport> fast = handReport(song, id, {}, 110);
    if (!slow || !fast) continue;
    const LoopStrains faster =
        loopStrains({*slow->take->score().kit, {}}, slow->part, slow->plan.hands, 110 / 80.0);
    EXPECT_GE(hardness(*slow, faster).groove.total(),
              hardness(*slow, slow->strains).groove.total());
  }
}

TEST(BodyPart, IsReadFromATake) {
  Song song = blankSong();
  song.tempo.front().bpm = Bpm{100};
  Groove groove;
  groove.id = groove.name = "g";
  const auto add = [&](Beat at, PieceId piece, Limb limb = Limb::kAutomatic,
                       Ornament ornament = Ornament::kNone) {
    Hit hit;
    hit.at = at;
    hit.piece = piece;
    hit.velocity = Velocity(90);
    hit.limb = limb;
    hit.ornament = ornament;
    hit.nudge = Milliseconds(20);
    groove = withHit(std::move(groove), hit);
  };
  for (int i = 0; i < 16; ++i) add(Beat(i, 4), piece::kHat);
  add(Beat(1), piece::kSnare, kL, Ornament::kFlam);
  add(Beat(1), piece::kCrash);
  add(Beat(2), piece::kSnare, Limb::kAutomatic, Ornament::kDiddle);
  add(Beat(0), piece::kKick);
  song.grooves = {SharedValue<Groove>(groove)};
  song.arrangement.clear();
  const Result<SharedTake> take = Take::ofGroove(song, "g");
  ASSERT_TRUE(take);
  const BodyPart part = bodyPart(**take);
  EXPECT_NEAR(part.length.count(), 2'400, 1e-6);
  EXPECT_EQ(part.feet.size(), 1U);
  EXPECT_EQ(part.thirdHand.size(), 2U) << "a flam takes both hands: not the hats, nor the crash";
  EXPECT_EQ(part.underOrnament.size(), 1U) << "where one stroke less would do";
  // 15 hats, the flam's two, the diddle's one.
  EXPECT_EQ(part.hands.size(), 18U);
  int graces = 0, bounced = 0, goingOn = 0;
  for (const BodyStroke& s : part.hands) {
    graces += s.grace ? 1 : 0;
    bounced += s.bounce > Milliseconds(0) ? 1 : 0;
    goingOn += s.ostinato ? 1 : 0;
    if (!s.grace) {
      EXPECT_EQ(s.fixed.count(), 0);
    } else {
      EXPECT_NEAR(s.fixed.count(), -30, 1e-6);
    }
  }
  EXPECT_EQ(graces, 1);
  EXPECT_EQ(bounced, 1);
  EXPECT_EQ(goingOn, 15) << "the hats go on, round and round";
  EXPECT_NEAR(part.hands[1].grid.count(), 150, 1e-3) << "without the nudge";
}

// Hats and cymbals that go on keep time; drums that go on do not.
TEST(BodyPart, WhatKeepsTimeIsNoDrum) {
  for (const auto& [piece, keeps] :
       {std::pair(piece::kHat, true), std::pair(piece::kRide, true), std::pair(piece::kCrash, true),
        std::pair(piece::kSnare, false), std::pair(piece::kTomHigh, false),
        std::pair(piece::kTomFloor, false)}) {
    std::vector<Hit> hits;
    for (int i = 0; i < 8; ++i) hits.push_back(testing::hitAt(Beat(i, 2), piece));
    const auto take = Take::ofSong(testing::songOf(std::move(hits)));
    ASSERT_TRUE(take);
    const BodyPart part = bodyPart(**take);
    ASSERT_EQ(part.hands.size(), 8U);
    for (const BodyStroke& s : part.hands) EXPECT_EQ(s.ostinato, keeps) << int{piece.value};
  }
}

// A floor tom in eighths is ridden where another drum is struck on it, wherever that is.
TEST(BodyPart, ATomThatOthersAreStruckOnKeepsTime) {
  for (int with = 0; with < 8; ++with) {
    std::vector<Hit> hits;
    for (int i = 0; i < 8; ++i) hits.push_back(testing::hitAt(Beat(i, 2), piece::kTomFloor));
    hits.push_back(testing::hitAt(Beat(with, 2), piece::kSnare));
    const auto take = Take::ofSong(testing::songOf(std::move(hits)));
    ASSERT_TRUE(take);
    for (const BodyStroke& s : bodyPart(**take).hands)
      EXPECT_EQ(s.ostinato, s.piece == piece::kTomFloor) << with;
  }
}

}  // namespace
}  // namespace uneven
