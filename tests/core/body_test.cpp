// SPDX-License-Identifier: GPL-3.0-or-later
// Hands and feet: the solver against every assignment, limits by hand, ceilings at their edge.
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>

#include "core/body/hardness.h"
#include "core/body/ways.h"
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
  s.grid = ms;
  s.piece = piece;
  s.place = place;
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
    s.velocity = Velocity(pick(random, 1, 127));
    s.role = static_cast<Role>(pick(random, 0, 3));
    s.onBeat = pick(random, 0, 3) == 0;
    s.ostinato = s.piece == piece::kHat && pick(random, 0, 1) == 0;
    if (pick(random, 0, 9) == 0) s.bounce = pickReal(random, 30, 120);
    if (pick(random, 0, 7) == 0) s.limb = pick(random, 0, 1) == 0 ? kR : kL;
    if (pick(random, 0, 11) == 0) {
      s.grace = true;
      s.fixed = -pickReal(random, 10, 60);
    }
    out.push_back(s);
    if (pick(random, 0, 5) > 0) {
      ms += pickReal(random, 20, pick(random, 0, 3) == 0 ? 400 : 160);
      ++place;
    }
  }
  return out;
}

// Every assignment that keeps what is set, with its cost, cheapest first.
std::vector<std::pair<double, std::vector<Limb>>> everyWay(const Body& body,
                                                           const std::vector<BodyStroke>& hands) {
  std::vector<std::pair<double, std::vector<Limb>>> out;
  for (std::uint32_t way = 0; way < (1U << hands.size()); ++way) {
    std::vector<Limb> by;
    bool kept = true;
    for (std::size_t i = 0; i < hands.size(); ++i) {
      by.push_back((way >> i & 1U) == 0 ? kR : kL);
      kept = kept && (hands[i].limb == Limb::kAutomatic || hands[i].limb == by.back());
    }
    if (kept) out.emplace_back(costOf(body, hands, by), by);
  }
  std::sort(out.begin(), out.end());
  return out;
}

TEST(HandPlan, CostsTheLeastOfEveryAssignment) {
  Random random(1);
  for (int i = 0; i < rounds(3'000); ++i) {
    Profile profile;
    if (pick(random, 0, 2) == 0) {
      profile.weakHand = pickReal(random, 1, 2);
      profile.setup = uneven::Setup{Side::kRight, Side::kLeft, false, false};
    }
    const Body body = house(profile);
    const auto hands = randomHands(random, i < 2'900 ? 9 : 14);
    const auto all = everyWay(body, hands);
    const HandPlan found = solve(body, hands);
    ASSERT_NEAR(found.cost, all.front().first, 1e-6 * (1 + found.cost)) << i;
    ASSERT_NEAR(costOf(body, hands, found.hands), found.cost, 1e-6 * (1 + found.cost)) << i;
    for (std::size_t k = 0; k < hands.size(); ++k) {
      ASSERT_TRUE(hands[k].limb == Limb::kAutomatic || hands[k].limb == found.hands[k]);
    }
  }
}

TEST(HandPlan, AlternativesAreTheNextBest) {
  Random random(2);
  for (int i = 0; i < rounds(150); ++i) {
    const Body body = house();
    BodyPart part;
    part.hands = randomHands(random, 9);
    part.length = 100'000;  // its rounds know nothing of each other
    const auto all = everyWay(body, part.hands);
    const HandPlan best = solveLoop(body, part);
    ASSERT_NEAR(best.cost, all.front().first, 1e-6 * (1 + best.cost));
    const auto others = alternatives(body, part, best, 0, part.hands.size(), 5);
    ASSERT_EQ(others.size(), std::min<std::size_t>(5, all.size() - 1));
    for (std::size_t k = 0; k < others.size(); ++k) {
      ASSERT_NEAR(others[k].cost, all[k + 1].first, 1e-6 * (1 + others[k].cost)) << i << " " << k;
      ASSERT_NE(others[k].hands, best.hands);
    }
  }
}

TEST(HandPlan, AlternativesDifferWhereTheyAreAskedFor) {
  Random random(3);
  std::size_t found = 0;
  for (int i = 0; i < rounds(60); ++i) {
    const Body body = house();
    BodyPart part;
    part.hands = randomHands(random, 9);
    part.length = 100'000;
    const HandPlan best = solveLoop(body, part);
    const std::size_t size = part.hands.size();
    const std::size_t from = size / 3, to = 2 * size / 3;
    for (const HandPlan& other : alternatives(body, part, best, from, to, 6)) {
      ++found;
      bool differs = false;
      for (std::size_t k = 0; k < size; ++k) {
        if (k >= from && k < to) {
          differs = differs || other.hands[k] != best.hands[k];
        } else {
          ASSERT_EQ(other.hands[k], best.hands[k]) << "stroke " << k << " of " << size;
        }
      }
      EXPECT_TRUE(differs);
    }
  }
  EXPECT_GT(found, 10U);
}

TEST(HandPlan, SingleStrokesAlternateFromTheStrongHand) {
  for (const PieceId piece : {piece::kSnare, piece::kTomFloor, piece::kTomHigh}) {
    auto hands = row(16, 125, piece);
    for (std::size_t i = 0; i < hands.size(); i += 4) hands[i].onBeat = true;
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
    if (i % 8 == 4) both.push_back(strokeAt(hats[i].grid, piece::kSnare, i));
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
  part.length = 2'000;
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
  over[0].grid = 0;
  over[1].grid = 10;
  EXPECT_FALSE(strains(body, over, {kR, kL, kR})[2].comfortable()) << "over the left: 75 ms";
  over[2].grid = 150;
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
  part.length = 16 * 150;
  const Ceiling c = ceilingOf(house(), part, std::vector<Limb>(16, kR));
  EXPECT_NEAR(100 * c.playable, 120, 1e-6);
  EXPECT_NEAR(100 * c.comfortable, 15'000 / 165.0, 1e-6);
  EXPECT_EQ(c.at.reason, StrainReason::kSustained);
  ASSERT_TRUE(c.hand);
  part.hands.clear();
  const Ceiling none = ceilingOf(house(), part, {});
  EXPECT_EQ(none.playable, kPaceMost);
  EXPECT_FALSE(none.hand || none.foot);
}

TEST(Ceiling, HoldsAtItsEdgeAndFallsWithEveryLimit) {
  Random random(4);
  for (int i = 0; i < 200; ++i) {
    BodyPart part;
    part.hands = randomHands(random, 14);
    for (BodyStroke& s : part.hands) s.fixed = 0;
    part.feet = row(pick(random, 0, 6), pickReal(random, 90, 300), piece::kKick, Limb::kRightFoot);
    part.length = 3'000;
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
  const std::vector<OtherWay> ways = otherWays(r, {}, 0, r.part.hands.size(), 5);
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
  EXPECT_TRUE(otherWays(busy, {}, 0, busy.part.hands.size(), 5).empty());
}

TEST_F(ReportTest, OtherWaysNameWhatChangesAndCanBeHeard) {
  song.tempo = {{Beat(0), Bpm{100}, {}}};
  put(Beat(0), piece::kSnare).limb = kL;
  put(Beat(1, 4), piece::kTomHigh).limb = kR;
  put(Beat(1, 2), piece::kTomFloor);
  const HandReport r = report();
  const std::vector<OtherWay> ways = otherWays(r, {}, 0, r.part.hands.size(), 5);
  ASSERT_GE(ways.size(), 1U);
  const Limb now = r.plan.hands[2];
  const auto one = std::find_if(ways.begin(), ways.end(), [&](const OtherWay& way) {
    return way.plan.hands[2] != now && !way.foot;
  });
  ASSERT_NE(one, ways.end());
  EXPECT_EQ(one->groove.hits[2].limb, one->plan.hands[2]);
  const bool swept = one->plan.hands[2] == kR;
  EXPECT_EQ(one->text, swept ? "Floor tom on 1 & of bar 1 swept with the right, on from Rack tom"
                             : "left takes the floor tom on 1 & of bar 1");
  for (std::size_t i = 0; i < ways.size(); ++i) {
    EXPECT_GE(ways[i].ceiling.playable * r.bpm, kBpmMin) << "no way that no tempo lets be played";
    EXPECT_LE(ways[i].ceiling.playable, ways[i > 0 ? i - 1 : 0].ceiling.playable);
  }
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
  EXPECT_NEAR(part.length, 2'400, 1e-6);
  EXPECT_EQ(part.feet.size(), 1U);
  EXPECT_EQ(part.thirdHand.size(), 1U) << "hats, snare and crash at once";
  // 16 hats, the flam's two, the diddle's one.
  EXPECT_EQ(part.hands.size(), 19U);
  int graces = 0, bounced = 0, goingOn = 0;
  for (const BodyStroke& s : part.hands) {
    graces += s.grace ? 1 : 0;
    bounced += s.bounce > 0 ? 1 : 0;
    goingOn += s.ostinato ? 1 : 0;
    if (!s.grace) {
      EXPECT_EQ(s.fixed, 0);
    } else {
      EXPECT_NEAR(s.fixed, -30, 1e-6);
    }
  }
  EXPECT_EQ(graces, 1);
  EXPECT_EQ(bounced, 1);
  EXPECT_EQ(goingOn, 16) << "the hats go on, round and round";
  EXPECT_NEAR(part.hands[1].grid, 150, 1e-3) << "without the nudge";
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

// A second stroke of a hand that is 6 dB softer (40 log10: to 63 of 90) comes back by itself, at
// half the cost; one that is louder does not, nor the third of the hand.
TEST(Strain, AReboundIsTheSecondStrokeAndSofter) {
  const Body body = house();
  const auto last = [&](std::vector<int> velocities, double ms) {
    std::vector<BodyStroke> strokes =
        row(static_cast<int>(velocities.size()), ms, piece::kSnare, kR);
    for (std::size_t i = 0; i < strokes.size(); ++i) strokes[i].velocity = Velocity(velocities[i]);
    const std::vector<Limb> by(strokes.size(), kR);
    const double all = costOf(body, strokes, by);
    strokes.pop_back();
    return all - costOf(body, strokes, std::vector<Limb>(strokes.size(), kR));
  };
  for (const double ms : {110.0, 140.0}) {
    const double bounced = last({90, 63}, ms), struck = last({90, 64}, ms);
    EXPECT_GT(bounced, 0);
    EXPECT_GT(bounced / struck, 0.5) << "beside what both cost besides";
    EXPECT_LT(bounced / struck, 0.75);
    EXPECT_NEAR(last({90, 90, 63}, ms) / last({90, 90, 64}, ms), 1, 0.1) << ms;
  }
}

// Two bars: eight sixteenths on the snare from 4 of the first on.
TEST(Ways, AreToldByWhatTheyChange) {
  std::vector<Hit> hits;
  for (int i = 12; i < 20; ++i) hits.push_back(testing::hitAt(Beat(i, 4), piece::kSnare));
  const Song song = testing::songOf(std::move(hits), 2);
  const auto report = handReport(song, song.grooves.front()->id, Profile{});
  ASSERT_TRUE(report);
  ASSERT_EQ(report->plan.hands.size(), 8U);
  const auto side = [&](std::size_t i, bool other) {
    return (report->plan.hands[i] == Limb::kRightHand) != other ? "right" : "left";
  };
  const auto flipped = [&](const std::vector<std::size_t>& which) {
    HandPlan other = report->plan;
    for (const std::size_t i : which)
      other.hands[i] = other.hands[i] == Limb::kRightHand ? Limb::kLeftHand : Limb::kRightHand;
    return changeText(*report, other);
  };
  const std::string r = side(2, true), l = side(2, false);
  EXPECT_EQ(flipped({}), "as it is");
  EXPECT_EQ(flipped({2}), r + " takes the snare on 4 & of bar 1");
  EXPECT_EQ(flipped({7}), side(7, true) + std::string(" takes the snare on 1 a of bar 2"));
  // From the first change to the last; between them as it is.
  EXPECT_EQ(flipped({0, 2}), std::string(side(0, true)) + ", " + side(1, false) + ", " +
                                 side(2, true) + " in place of " + side(0, false) + ", " +
                                 side(1, false) + ", " + side(2, false) + ": bar 1, 4 to 4 &");
  EXPECT_EQ(flipped({3, 4}), std::string(side(3, true)) + ", " + side(4, true) + " in place of " +
                                 side(3, false) + ", " + side(4, false) +
                                 ": bar 1, 4 a to 1 of bar 2");
}

// The ways of a long part are told round its strokes: no dearer than by the whole loop and not
// better than the best; twice the bars cost about twice the time, which bench/ratios holds.
TEST(Ways, OfALongPartAreWhatTheWholeLoopWouldGive) {
  Song song = blankSong();
  song.tempo = {{Beat(0), Bpm{100}, {}}};
  song.grooves[0].edit([](Groove& g) {
    g.bars = 8;
    for (int i = 0; i < 128; ++i) {
      g.hits.push_back(testing::hitAt(Beat(i, 4), i % 8 == 4 ? piece::kSnare : piece::kHat));
      if (i % 3 == 1)
        g.hits.push_back(testing::hitAt(Beat(i, 4), i % 8 == 4 ? piece::kTomHigh : piece::kSnare,
                                        30, Role::kGhost));
    }
  });
  const auto report = handReport(song, song.grooves[0]->id, {});
  ASSERT_TRUE(report);
  const Body body(houseKit(), {});
  const std::vector<HandPlan> ways =
      alternatives(body, report->part, report->plan, 0, report->part.hands.size(), 5);
  ASSERT_EQ(ways.size(), 5U);
  for (const HandPlan& way : ways) {
    EXPECT_GE(way.cost, report->plan.cost - 1e-6);
    EXPECT_NE(way.hands, report->plan.hands);
    const LoopStrains whole = loopStrains(body, report->part, way.hands);
    EXPECT_NEAR(whole.cost, way.cost, 1e-6);
  }
}

}  // namespace
}  // namespace uneven
