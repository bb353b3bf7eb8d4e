// SPDX-License-Identifier: GPL-3.0-or-later
// What is understood of takes that are not ours: every class of them, whether or not the tempo
// moves, with the chance that is told beside it. bench/ear prints the table of many more.
#include <gtest/gtest.h>

#include <cmath>
#include <map>

#include "core/match/fit.h"
#include "core/match/numbers.h"
#include "core/match/pulses.h"
#include "core/match/song_of.h"
#include "tests/support/invented.h"
#include "tests/support/played_takes.h"

namespace uneven {
namespace {

using testing::PlayedAnswer;
using testing::PlayedTake;
using testing::playedTake;
using testing::Random;
using testing::rounds;

struct Counted {
  int n = 0, pulse = 0, meter = 0, swing = 0;
};

// Seeds that no weight was learnt from.
constexpr unsigned kFirstSeed = 20'001;

TEST(Ear, ClassesOfTakesAreUnderstood) {
  const int takes = rounds(8);
  std::map<std::string, Counted> byKind;
  Counted all;
  int sure = 0, sureAndRight = 0, sureAndWrongPulse = 0;
  for (const std::string& kind : testing::playedKinds()) {
    Counted& c = byKind[kind];
    for (int i = 0; i < takes; ++i) {
      const PlayedTake take = playedTake(kind, kFirstSeed + static_cast<unsigned>(i));
      const auto found = fit(take.onsets, {});
      ASSERT_TRUE(found) << kind << i;
      const PlayedAnswer told{found->bpm.value, found->grid.meter, found->swing.unit,
                              found->swing.ratio};
      const bool pulse = rightPulse(take, told.bpm), meter = rightMeter(take, told);
      const bool swing = rightSwing(take, told);
      ++c.n;
      c.pulse += pulse ? 1 : 0;
      c.meter += pulse && meter ? 1 : 0;
      c.swing += pulse && swing ? 1 : 0;
      constexpr double kSure = 0.9, kRather = 0.6;
      if (found->confidence >= kSure) {
        ++sure;
        sureAndRight += pulse && meter && swing ? 1 : 0;
      }
      if (found->confidence >= kRather && !pulse) ++sureAndWrongPulse;
      // What was taken is among what is told, and no more than all is certain.
      double sum = 0;
      for (const ReadingTold& r : found->grid.readings) sum += r.likelihood;
      EXPECT_LE(sum, 1 + 1e-9);
      EXPECT_LE(found->confidence, 1);
    }
    all.n += c.n;
    all.pulse += c.pulse;
    all.meter += c.meter;
    all.swing += c.swing;
    // Of no class more than every third is taken for something else.
    EXPECT_GE(c.pulse * 3, c.n * 2) << kind;
    EXPECT_GE(c.meter * 3, c.n * 2) << kind;
  }
  EXPECT_GE(all.pulse * 100, all.n * 95);
  EXPECT_GE(all.meter * 100, all.n * 93);
  EXPECT_GE(all.swing * 100, all.n * 93);
  EXPECT_GE(sureAndRight * 10, sure * 9);
  EXPECT_GT(sure * 4, all.n);
  EXPECT_LE(sureAndWrongPulse * 100, all.n * 3);
}

// Tempos that move: bar lines are where they were played.
TEST(Ear, BarLinesGoWithATempoThatMoves) {
  for (const char* kind : {"waves", "small waves", "step", "ritardando"}) {
    int near = 0, of = 0;
    for (unsigned i = 0; i < static_cast<unsigned>(rounds(6)); ++i) {
      const PlayedTake take = playedTake(kind, kFirstSeed + i);
      const auto found = fit(take.onsets, {});
      ASSERT_TRUE(found);
      // Half a percent stays within what a body does, now and then.
      EXPECT_TRUE(!found->grid.steady || std::string(kind) == "small waves") << kind << i;
      const double lean = take.lean.at(take.reference) / 1'000;
      for (const double bar : take.bars) {
        const double at = found->grid.line.quartersAt(bar + lean);
        ++of;
        near += std::abs(found->grid.line.secondsAt(std::round(at)) - bar - lean) < 0.02 ? 1 : 0;
      }
    }
    EXPECT_GE(near * 10, of * 9) << kind;
  }
}

// A clock that drifts is no tempo that moves.
TEST(Ear, ABodysDriftIsOneTempo) {
  for (unsigned i = 0; i < static_cast<unsigned>(rounds(16)); ++i) {
    const PlayedTake take = playedTake("drift", kFirstSeed + i);
    const auto found = fit(take.onsets, {});
    ASSERT_TRUE(found);
    EXPECT_TRUE(found->grid.steady) << i;
    EXPECT_EQ(found->marks.size(), 1U);
  }
}

// What is fitted on from what was kept is what is fitted from the beginning.
TEST(Ear, ACorrectionComesToTheSame) {
  for (const char* kind : {"rock eighths", "swung eighths", "waves", "7/8", "drift", "pickup"}) {
    for (unsigned i = 0; i < static_cast<unsigned>(rounds(2)); ++i) {
      PlayedTake take = playedTake(kind, kFirstSeed + 40 + i);
      FitWanted wanted;
      KeptFit kept;
      const auto same = [&](const std::string& step) {
        const auto anew = fit(take.onsets, wanted), on = fit(take.onsets, wanted, &kept);
        ASSERT_EQ(anew.has_value(), on.has_value()) << kind << i << step;
        if (!anew) return;
        EXPECT_NEAR(on->bpm.value, anew->bpm.value, 0.005) << kind << i << step;
        EXPECT_EQ(on->grid.meter, anew->grid.meter) << kind << i << step;
        EXPECT_NEAR(on->swing.ratio, anew->swing.ratio, 0.01) << kind << i << step;
        EXPECT_NEAR(on->start.count(), anew->start.count(), 0.002) << kind << i << step;
        EXPECT_NEAR(on->confidence, anew->confidence, 0.1) << kind << i << step;
        for (const auto& [piece, f] : anew->pieces)
          EXPECT_NEAR(on->leanOf(piece).count(), f.lean.count(), 0.3 + f.se.count())
              << kind << i << step;
      };
      same(" at first");
      take.onsets[take.onsets.size() / 2].used = false;
      same(" one left out");
      wanted.against = LeanAgainst::kAverage;
      same(" another reference");
      wanted.where.meter = Meter{5, 4};
      same(" another meter");
      wanted.where.meter.reset();
      wanted.where.start = Seconds(take.bars.at(1));
      same(" bar 1 a bar later");
      wanted.where.start = Seconds(take.bars.at(1) + 0.11);
      same(" bar 1 between");
      wanted.where.start.reset();
      for (std::size_t k = 0; k < take.onsets.size() / 3; ++k) take.onsets[k].used = false;
      same(" a third left out");
    }
  }
}

// A reading that is chosen is the one that is told.
TEST(Ear, ARivalCanBeTaken) {
  int taken = 0;
  for (unsigned i = 0; i < 8; ++i) {
    const PlayedTake take = playedTake("half-time shuffle", kFirstSeed + i);
    const auto found = fit(take.onsets, {});
    ASSERT_TRUE(found);
    for (const ReadingTold& r : found->grid.readings) {
      if (r.likelihood < 0.03) continue;
      FitWanted wanted;
      wanted.where.bpm = r.bpm;
      wanted.where.meter = r.meter;
      wanted.where.swing = r.kind;
      const auto other = fit(take.onsets, wanted);
      ASSERT_TRUE(other);
      EXPECT_NEAR(other->bpm / r.bpm, 1, 0.02);
      EXPECT_EQ(other->grid.meter, r.meter);
      ++taken;
    }
  }
  EXPECT_GT(taken, 12);
}

// A free take in a file that was left at 120: the file's tempo is one reading, and its meter is no
// more than its own.
TEST(Ear, AFileLeftAtItsTempoIsNotBelieved) {
  int free = 0, right = 0, kept = 0, of = 0;
  for (const char* kind : {"rock eighths", "swung sixteenths", "7/8", "jazz ride", "3/4"}) {
    for (unsigned i = 0; i < static_cast<unsigned>(rounds(8)); ++i) {
      const PlayedTake take = playedTake(kind, kFirstSeed + i);
      FitWanted wanted;
      wanted.where.playedMeter = Meter{4, 4};
      wanted.where.played = BeatLine({{0, 0}, {1, 0.5}});
      auto found = fit(take.onsets, wanted);
      ASSERT_TRUE(found);
      if (std::abs(take.bpm / 120 - 1) < 0.03 || std::abs(take.bpm / 240 - 1) < 0.03) continue;
      ++of;
      free += found->grid.asPlayed ? 0 : 1;
      right += rightPulse(take, found->bpm.value) ? 1 : 0;
      // The same to a click.
      wanted.where.playedMeter = take.meter;
      wanted.where.played = BeatLine({{0, take.bars[0]}, {1, take.bars[0] + 60 / take.bpm}});
      found = fit(take.onsets, wanted);
      ASSERT_TRUE(found);
      kept += found->grid.asPlayed ? 1 : 0;
    }
  }
  EXPECT_EQ(free, of);
  EXPECT_GE(right * 10, of * 9);
  EXPECT_GE(kept * 20, of * 19);
}

// A take as a song: few grooves, its fills by name, and every stroke where it was.
TEST(Ear, ASongOfATakeLiesOnIt) {
  int many = 0, of = 0, fills = 0, withFills = 0;
  std::vector<double> all;
  for (const char* kind : {"rock eighths", "swung sixteenths", "6/8", "waves", "drift"}) {
    for (unsigned i = 0; i < static_cast<unsigned>(rounds(6)); ++i) {
      const PlayedTake take = playedTake(kind, kFirstSeed + i);
      const auto found = fit(take.onsets, {});
      ASSERT_TRUE(found);
      if (!rightPulse(take, found->bpm.value)) continue;
      const Song song = songOf(*found, take.onsets, houseKit(), {"take", false, true});
      const std::vector<Onset> laid = testing::struck(song, found->start.count());
      const double rms = testing::rmsBetween(laid, take.onsets);
      EXPECT_LT(rms, 4) << kind << i;
      all.push_back(rms);
      ++of;
      many += song.grooves.size() > 8 ? 1 : 0;
      const bool toms = std::any_of(take.onsets.begin(), take.onsets.end(),
                                    [](const Onset& o) { return o.piece == piece::kTomHigh; });
      const bool named = std::any_of(song.grooves.begin(), song.grooves.end(),
                                     [](const auto& g) { return g->name.starts_with("Fill"); });
      withFills += toms ? 1 : 0;
      fills += toms && named ? 1 : 0;
      EXPECT_TRUE(song.feels.front().drift && song.feels.front().drift->measured);
    }
  }
  EXPECT_LT(medianOfReals(all), 2.6);
  EXPECT_LE(many * 5, of);
  EXPECT_GE(fills * 10, withFills * 7);
}

TEST(Ear, LinesThroughNothingWander) {
  Random random(3);
  for (int i = 0; i < rounds(20); ++i) {
    std::vector<Onset> noise(static_cast<std::size_t>(testing::pick(random, 30, 300)));
    for (Onset& o : noise) o.seconds = testing::pickReal(random, 0, 40);
    const std::vector<Pulse> pulses = pulsesOf(noise);
    EXPECT_GT(wandering(sharpestBeats(pulses, basesOf(pulses), kTempoFreedom).front().line), 0.026);
    const PlayedTake take = playedTake("rock eighths", kFirstSeed + static_cast<unsigned>(i));
    const std::vector<Pulse> played = pulsesOf(take.onsets);
    EXPECT_LT(wandering(sharpestBeats(played, basesOf(played), kTempoFreedom).front().line), 0.015);
  }
}

}  // namespace
}  // namespace uneven
