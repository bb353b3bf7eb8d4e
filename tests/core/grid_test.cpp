// SPDX-License-Identifier: GPL-3.0-or-later
// The parts that a fit is made of, each by itself: the grid, the swing at first sight, the drift.
#include "core/match/grid.h"

#include <gtest/gtest.h>

#include <cmath>
#include <random>

#include "core/match/apart.h"
#include "core/match/drift_fit.h"
#include "core/match/numbers.h"
#include "core/match/swing_guess.h"
#include "core/match/weights.h"
#include "tests/support/random_song.h"

namespace uneven {
namespace {

using testing::Random;

double normal(Random& random, double sd) {
  return sd * std::normal_distribution<double>()(random);
}

// Eighths on the hats, kick on 1 and 3, snare on 2 and 4, from `start` on.
std::vector<Onset> rock(double start, double bpm, int bars, Random& random, double uneven = 0.002) {
  std::vector<Onset> out;
  const auto put = [&](double quarters, PieceId piece, double velocity) {
    Onset o;
    o.seconds = start + quarters * 60 / bpm + normal(random, uneven);
    o.piece = piece;
    o.velocity = velocity;
    out.push_back(o);
  };
  for (int bar = 0; bar < bars; ++bar) {
    for (int eighth = 0; eighth < 8; ++eighth) {
      const double at = 4 * bar + eighth / 2.0;
      put(at, piece::kHat, eighth % 2 == 0 ? 84 : 62);
      if (eighth == 0 || eighth == 4) put(at, piece::kKick, 104);
      if (eighth == 2 || eighth == 6) put(at, piece::kSnare, 110);
    }
  }
  std::sort(out.begin(), out.end(),
            [](const Onset& a, const Onset& b) { return a.seconds < b.seconds; });
  return out;
}

TEST(FindGrid, TheBeatBarOneAndTheMeterOfARockBeat) {
  Random random(1);
  for (const double bpm : {72.0, 97.0, 131.0, 168.0}) {
    const std::vector<Onset> onsets = rock(1.7, bpm, 12, random);
    const auto grid = findGrid(onsets, {});
    ASSERT_TRUE(grid) << bpm;
    EXPECT_EQ(grid->meter, (Meter{4, 4})) << bpm;
    EXPECT_NEAR(60 / grid->line.meanPeriod(), bpm, bpm * 0.003);
    EXPECT_NEAR(grid->line.secondsAt(0), 1.7, 0.012) << bpm;
    EXPECT_EQ(grid->swing.ratio, 1) << bpm;
    EXPECT_FALSE(grid->triplets);
    EXPECT_FALSE(grid->asPlayed);
    EXPECT_GT(grid->sure, 0.5) << bpm;
    ASSERT_FALSE(grid->readings.empty());
    for (std::size_t i = 1; i < grid->readings.size(); ++i)
      EXPECT_LE(grid->readings[i].likelihood, grid->readings[i - 1].likelihood);
  }
}

TEST(FindGrid, WhatIsWantedBinds) {
  Random random(2);
  const std::vector<Onset> onsets = rock(1, 100, 12, random);
  GridWanted wanted;
  wanted.start = Seconds(1 + 0.6 * 4);
  auto grid = findGrid(onsets, wanted);
  ASSERT_TRUE(grid);
  EXPECT_NEAR(grid->line.quartersAt(wanted.start->count()), 0, 1e-9);
  wanted = {};
  wanted.meter = Meter{11, 8};
  grid = findGrid(onsets, wanted);
  ASSERT_TRUE(grid);
  EXPECT_EQ(grid->meter, *wanted.meter) << "even one that nobody plays";
  wanted = {};
  wanted.bpm = Bpm{51};
  grid = findGrid(onsets, wanted);
  ASSERT_TRUE(grid);
  EXPECT_NEAR(60 / grid->line.meanPeriod(), 50, 0.3) << "the pulse near it";
  wanted = {};
  wanted.swing = SwingKind::kTriplets;
  grid = findGrid(onsets, wanted);
  ASSERT_TRUE(grid);
  EXPECT_TRUE(grid->triplets);
  // To a click: the line that was given, to the last bit.
  wanted = {};
  wanted.played = BeatLine({{0, 1}, {1, 1.6}});
  wanted.playedMeter = Meter{4, 4};
  grid = findGrid(onsets, wanted);
  ASSERT_TRUE(grid);
  EXPECT_TRUE(grid->asPlayed);
  EXPECT_EQ(grid->line.secondsAt(37), wanted.played->secondsAt(37));
}

TEST(FindGrid, WhatWasKeptIsWhatWouldBeFound) {
  Random random(3);
  std::vector<Onset> onsets = rock(1, 116, 20, random);
  KeptGrid kept;
  const auto first = findGrid(onsets, {}, &kept);
  ASSERT_TRUE(first);
  EXPECT_EQ(kept.used.size(), onsets.size());
  for (const double share : {0.0, 0.5, 1.5}) {
    GridWanted wanted;
    wanted.bpm = Bpm{share == 0     ? 116.0
                     : share == 0.5 ? 58
                                    : 93};  // the last is none of its readings
    const auto on = findGrid(onsets, wanted, &kept), anew = findGrid(onsets, wanted);
    ASSERT_EQ(on.has_value(), anew.has_value()) << share;
    if (!on) continue;
    EXPECT_NEAR(on->line.meanPeriod() / anew->line.meanPeriod(), 1, 0.002) << share;
  }
  const auto again = findGrid(onsets, {}, &kept);
  ASSERT_TRUE(again);
  EXPECT_EQ(again->line.secondsAt(11), first->line.secondsAt(11)) << "nothing was spoilt meanwhile";
  KeptGrid halves = kept;
  std::erase_if(halves.readings,
                [](const Reading& r) { return std::abs(r.bpm.value / 58 - 1) > 0.05; });
  const auto half = findGrid(onsets, {}, &halves);
  ASSERT_TRUE(half);
  EXPECT_NEAR(60 / half->line.meanPeriod(), 58, 0.5) << "it goes by what was kept, and by no more";
  // Of half the strokes little may be the same: they are heard anew.
  for (std::size_t i = 0; i < onsets.size() / 2; ++i) onsets[i].used = false;
  ASSERT_TRUE(findGrid(onsets, {}, &kept));
  EXPECT_EQ(kept.used.front(), false);
}

// What was kept is narrowed to what is asked for, not listened to again; asked about otherwise it
// is of no use.
TEST(FindGrid, WhatWasKeptIsGoneByWhereItIsOfTheSame) {
  Random random(6);
  const std::vector<Onset> onsets = rock(1, 116, 20, random);
  GridWanted wanted;
  wanted.played = BeatLine({{0, 1.3}, {1, 1.3 + 60 / 97.0}});
  wanted.playedMeter = Meter{4, 4};
  // Half the tempo is kept alone: 116 is heard anew.
  const auto tempo = [&](const GridWanted& first, const GridWanted& then) {
    KeptGrid kept;
    EXPECT_TRUE(findGrid(onsets, first, &kept));
    std::erase_if(kept.readings, [](const Reading& r) {
      return r.given || std::abs(r.bpm.value / 58 - 1) > 0.05;
    });
    EXPECT_FALSE(kept.readings.empty());
    const auto found = findGrid(onsets, then, &kept);
    return found ? 60 / found->line.meanPeriod() : 0;
  };
  GridWanted meter, steady;
  meter.meter = Meter{4, 4};
  steady.steady = true;
  EXPECT_NEAR(tempo({}, meter), 58, 0.5);
  EXPECT_NEAR(tempo({}, steady), 116, 0.5);
  EXPECT_NEAR(tempo(steady, {}), 116, 0.5);
  GridWanted both = wanted;
  both.meter = meter.meter;
  EXPECT_NEAR(tempo(wanted, both), 58, 0.5) << "the file's meter is the one that is asked for";
  both.meter = Meter{3, 4};
  EXPECT_GT(std::abs(tempo(wanted, both) - 58), 1) << "in another meter its beats count otherwise";
}

TEST(FindGrid, NothingWhereThereIsNothing) {
  Random random(4);
  std::vector<Onset> onsets = rock(1, 100, 1, random);
  onsets.resize(7);
  EXPECT_FALSE(findGrid(onsets, {}));
  KeptGrid kept;
  EXPECT_FALSE(findGrid(onsets, {}, &kept));
  EXPECT_FALSE(findGrid(std::vector<Onset>(40), {})) << "all at one moment";
  onsets = rock(1, 100, 4, random);
  for (Onset& o : onsets) o.used = false;
  EXPECT_FALSE(findGrid(onsets, {}, &kept));
}

// Positions that were bent by a known swing, and lie late by a known part of a beat.
TEST(BestPoint, FindsHowFarNotesAreBentAndShifted) {
  Random random(5);
  for (const SwingUnit unit : {SwingUnit::kEighth, SwingUnit::kSixteenth}) {
    const double pair = unit == SwingUnit::kEighth ? 1 : 0.5;
    for (const double ratio : {1.0, 1.3, 1.7, 2.0, 3.0}) {
      for (const double shift : {0.0, -0.06, 0.04}) {
        std::vector<double> quarters;
        for (int k = 0; k < 120; ++k) {
          const double off = k % 2 == 0 ? 0 : pointOfRatio(ratio) * pair;
          quarters.push_back(k / 2 * pair + off + shift + normal(random, 0.006));
        }
        const Grid grid{unit == SwingUnit::kEighth ? 8 : 16, 0};
        const SwingGuess best = bestPoint(quarters, grid, unit, Written::kStraight, 0.02);
        EXPECT_NEAR(pointOfRatio(best.swing.ratio), pointOfRatio(ratio), 0.0151)
            << ratio << " by " << shift;
        EXPECT_NEAR(best.shift, shift, 0.021) << ratio;
      }
    }
  }
}
// Written in triplets the swing is 2 : 1, whatever is played.
TEST(BestPoint, TripletsAreNotBent) {
  std::vector<double> quarters;
  for (int k = 0; k < 60; ++k) quarters.push_back(k / 3.0);
  const SwingGuess best =
      bestPoint(quarters, Grid{8, 3}, SwingUnit::kEighth, Written::kTriplet, 0.02);
  EXPECT_NEAR(best.swing.ratio, 2, 1e-9);
  EXPECT_NEAR(best.shift, 0, 1e-9);
  // Each at the peak of a normal distribution about one slot of three, and of the even part.
  const double peak = 1 / (0.02 * std::sqrt(2 * std::acos(-1)));
  EXPECT_NEAR(best.suits, std::log((1 - ear::kFalseStrokes) * peak / 3 + ear::kFalseStrokes), 1e-6);
}

// A body: a clock that two limbs share, and each limb's own part.
class Body {
 public:
  Body(std::uint64_t seed, double clock, double motor)
      : random_(seed), clock_(clock), motor_(motor) {}
  DriftAsked asked(int beats, double slowly, bool together) {
    DriftAsked out;
    out.length = beats;
    out.bpm = Bpm{110};
    double level = normal(random_, clock_);
    for (int k = 0; k < 2 * beats; ++k) {
      // From stroke to stroke it keeps this share of itself.
      level = slowly * level + std::sqrt(1 - slowly * slowly) * normal(random_, clock_);
      const auto put = [&](PieceId piece) {
        out.rests.push_back(
            {partsOf(Beat(k, 2)), Milliseconds(level + normal(random_, motor_)), piece});
      };
      put(piece::kHat);
      if (together && k % 2 == 0) put(k % 4 == 0 ? piece::kKick : piece::kSnare);
    }
    return out;
  }

 private:
  Random random_;
  double clock_, motor_;
};

TEST(DriftOf, ClockAndLimbsAreToldApartByWhatSoundsTogether) {
  for (const auto& [clock, motor] : {std::pair{6.0, 2.0}, {3.0, 3.0}, {0.0, 4.0}}) {
    std::vector<double> clocks, motors;
    for (std::uint64_t seed = 1; seed <= 12; ++seed) {
      const DriftTold told = driftOf(Body(seed, clock, motor).asked(400, 0.6, true));
      EXPECT_TRUE(told.drift.told);
      clocks.push_back(told.drift.clock.count());
      motors.push_back(told.drift.motor.count());
      EXPECT_GT(told.bpmSe.value, 0);
    }
    EXPECT_NEAR(medianOfReals(motors), motor, 0.1 * motor) << clock;
    EXPECT_NEAR(medianOfReals(clocks), clock, 0.15 * clock + 0.6) << motor;
  }
}

// One voice: by the lag of its intervals, which needs forty of them.
TEST(DriftOf, OneVoiceTellsItByItsIntervals) {
  std::vector<double> motors;
  for (std::uint64_t seed = 1; seed <= 12; ++seed)
    motors.push_back(driftOf(Body(seed, 4, 3).asked(500, 0.9, false)).drift.motor.count());
  EXPECT_NEAR(medianOfReals(motors), 3, 0.6);
  const DriftTold few = driftOf(Body(1, 4, 3).asked(12, 0.9, false));
  EXPECT_FALSE(few.drift.told);
  EXPECT_FALSE(few.doubts.empty());
}

// White noise has no colour, a clock that wanders has one; short takes tell none.
TEST(DriftOf, TheClocksColour) {
  std::vector<double> white, wandering;
  for (std::uint64_t seed = 1; seed <= 8; ++seed) {
    const DriftTold a = driftOf(Body(seed, 6, 1).asked(600, 0, true));
    const DriftTold b = driftOf(Body(seed, 6, 1).asked(600, 0.995, true));
    ASSERT_TRUE(a.drift.exponent && b.drift.exponent);
    white.push_back(*a.drift.exponent);
    wandering.push_back(*b.drift.exponent);
    EXPECT_GT(*a.drift.exponentSe, 0);
  }
  EXPECT_LT(medianOfReals(white), 0.25);
  EXPECT_GT(medianOfReals(wandering), 1.4);
  EXPECT_FALSE(driftOf(Body(1, 6, 1).asked(100, 0.9, true)).drift.exponent);
  // A take of hours is looked at in blocks: the same colour comes out.
  const DriftTold longer = driftOf(Body(3, 6, 1).asked(30'000, 0.995, true));
  EXPECT_GT(*longer.drift.exponent, 1.2);
}

}  // namespace
}  // namespace uneven
