// SPDX-License-Identifier: GPL-3.0-or-later
// What drift promises: its size, its colour, its independence of everything but seed and position.
#include "core/perform/drift.h"

#include <gtest/gtest.h>

#include <cmath>
#include <numbers>
#include <thread>

#include "core/io/song_json.h"
#include "core/perform/performance.h"
#include "core/song/edit.h"
#include "tests/support/made.h"
#include "tests/support/random_song.h"

namespace uneven {
namespace {

double rms(const std::vector<double>& x) {
  double sum = 0;
  for (const double v : x) sum += v * v;
  return std::sqrt(sum / static_cast<double>(x.size()));
}

// Power at one frequency (cycles a point), by the sum itself.
double powerAt(const std::vector<double>& x, double frequency) {
  double re = 0;
  double im = 0;
  for (std::size_t n = 0; n < x.size(); ++n) {
    const double phase = 2 * std::numbers::pi * frequency * static_cast<double>(n);
    re += x[n] * std::cos(phase);
    im += x[n] * std::sin(phase);
  }
  return re * re + im * im;
}

// Slope of log power over log frequency, by least squares over many frequencies and seeds.
double slopeOf(double exponent) {
  constexpr std::size_t kPoints = std::size_t{1} << 15;
  double sx = 0, sy = 0, sxx = 0, sxy = 0, n = 0;
  for (std::uint64_t seed = 1; seed <= 6; ++seed) {
    const std::vector<double> x = colouredNoise(seed, 1, exponent, kPoints);
    for (double u = std::log(16.0 / kPoints); u < std::log(0.08); u += 0.06) {
      // On a whole number of cycles, so that a slow trend does not leak everywhere.
      const double frequency = std::round(std::exp(u) * kPoints) / kPoints;
      const double lx = std::log(frequency);
      const double ly = std::log(powerAt(x, frequency));
      sx += lx;
      sy += ly;
      sxx += lx * lx;
      sxy += lx * ly;
      ++n;
    }
  }
  return (n * sxy - sx * sy) / (n * sxx - sx * sx);
}

TEST(Drift, TheClocksSpectrumFallsAsAskedFor) {
  // Kasdin 1995: fractional differencing gives 1/f^exponent.
  for (const double exponent : {0.0, 0.5, 1.0, 1.5}) {
    EXPECT_NEAR(slopeOf(exponent), -exponent, 0.1) << exponent;
  }
}

TEST(Drift, StandardDeviationsAreAsAskedFor) {
  for (const double exponent : {0.0, 0.6, 1.0, 1.4}) {
    double square = 0;
    for (std::uint64_t seed = 1; seed <= 40; ++seed) {
      const double r = rms(colouredNoise(seed, 1, exponent, 4096));
      square += r * r / 40;
    }
    EXPECT_NEAR(std::sqrt(square), 1, 0.12) << exponent;
  }
  // The motor part is white: 20 000 numbers, so within 2 %.
  Drift drift;
  drift.motor = Milliseconds(6);
  drift.limbs[Limb::kLeftHand] = 1.5;
  const DriftSeries series(drift, Beat(5000));
  std::vector<double> right;
  std::vector<double> left;
  for (int i = 0; i < 20'000; ++i) {
    right.push_back(series.motorAt(Beat(i, 4), Limb::kRightHand).count());
    left.push_back(series.motorAt(Beat(i, 4), Limb::kLeftHand).count());
  }
  EXPECT_NEAR(rms(right), 6, 0.12);
  EXPECT_NEAR(rms(left), 9, 0.18);
}

TEST(Drift, WithOnlyTheMotorNeighbouringIntervalsLeanAgainstEachOther) {
  // Wing & Kristofferson 1973: lag-1 autocorrelation of intervals between -0.5 and 0.
  Drift drift;
  drift.motor = Milliseconds(5);
  const DriftSeries series(drift, Beat(5000));
  std::vector<double> intervals;
  for (int i = 1; i < 20'000; ++i) {
    intervals.push_back((series.motorAt(Beat(i, 4), Limb::kRightHand) -
                         series.motorAt(Beat(i - 1, 4), Limb::kRightHand))
                            .count());
  }
  double lag = 0;
  double power = 0;
  for (std::size_t i = 0; i + 1 < intervals.size(); ++i) {
    lag += intervals[i] * intervals[i + 1];
    power += intervals[i] * intervals[i];
  }
  EXPECT_LT(lag / power, 0);
  EXPECT_GT(lag / power, -0.53);
  EXPECT_NEAR(lag / power, -0.5, 0.03) << "of a motor part alone it is -0.5";
}

Song driftingSong(testing::Random& random) {
  Song song = testing::asWritten(testing::randomSong(random));
  if (song.feels.empty()) song.feels.push_back(testing::randomFeel(random, "0"));
  Drift drift;
  drift.clock = Milliseconds(8);
  drift.motor = Milliseconds(3);
  drift.velocity = 6;
  drift.seed = random() >> 1;
  for (Feel& feel : song.feels) feel.drift = drift;
  for (auto& groove : song.grooves) {
    groove.edit([&](Groove& g) { g.feel = song.feels[0].id; });
  }
  return song;
}

TEST(Drift, EditingOneHitMovesNoOther) {
  testing::Random random(91);
  std::size_t compared = 0;
  for (int i = 0; i < 60; ++i) {
    const Song song = driftingSong(random);
    const Groove& groove = *song.grooves[0];
    if (groove.hits.size() < 2) continue;
    const auto gone = static_cast<std::size_t>(
        testing::pick(random, 0, static_cast<int>(groove.hits.size()) - 1));
    const Song edited = withGroove(song, withoutHits(groove, {refOf(groove, gone)}));
    const auto timesOf = [](const Song& s) {
      const Score score = *arrange(s);
      std::multimap<std::tuple<std::uint32_t, Beat, PieceId, std::int32_t>, Moment> out;
      for (const Stroke& stroke : perform(score).strokes) {
        if (stroke.part == 0) {
          out.emplace(std::make_tuple(stroke.block, stroke.at, stroke.piece, stroke.bar),
                      stroke.time);
        }
      }
      return out;
    };
    const auto before = timesOf(song);
    for (const auto& moment : timesOf(edited)) {
      const auto [first, last] = before.equal_range(moment.first);
      const bool same = std::find(first, last, moment) != last;
      ASSERT_TRUE(same);
      ++compared;
    }
  }
  EXPECT_GT(compared, 1000U);
}

TEST(Drift, TheSameSeedIsTheSameTakeAndUnisonsShareTheClock) {
  testing::Random random(92);
  for (int i = 0; i < 40; ++i) {
    Song song = driftingSong(random);
    const Score score = *arrange(song);
    const Performance once = perform(score);
    ASSERT_EQ(once, perform(*arrange(song)));
    for (Feel& feel : song.feels) feel.drift->motor = Milliseconds(0);
    std::map<std::pair<std::uint32_t, Beat>, Moment> clock;
    for (const Stroke& s : perform(*arrange(song)).strokes) {
      const auto [entry, fresh] =
          clock.try_emplace({s.block, Beat(s.bar) * Beat(1000) + s.at}, s.drift);
      ASSERT_EQ(entry->second, s.drift) << "limbs that strike together share the clock";
    }
  }
  EXPECT_NE(normalAt(1, 1, 5), normalAt(2, 1, 5));
  EXPECT_EQ(normalAt(1, 1, 5), normalAt(1, 1, 5));
}

// Sixteenths on two pieces, 16 bars, with every part of drift.
Song goldenSong() {
  Song song = blankSong();
  song.grooves[0].edit([](Groove& g) {
    for (int i = 0; i < 32; ++i) {
      Hit hit;
      hit.at = Beat(i, 4);
      hit.piece = i % 8 == 4 ? piece::kSnare : piece::kHat;
      g.hits.push_back(hit);
    }
  });
  song.arrangement[0].repeat = 8;
  song.feels[0].drift = withPreset(Drift{}, driftPresets().back());
  song.feels[0].drift->seed = 20'261;
  song.feels[0].drift->limbs[Limb::kLeftHand] = 1.5;
  return song;
}

std::int64_t digest(const Performance& p) {
  std::int64_t sum = 0;
  for (std::size_t i = 0; i < p.strokes.size(); ++i) {
    const auto place = static_cast<std::int64_t>(i + 1);
    sum += place * (p.strokes[i].drift.count() + p.strokes[i].velocity.value());
  }
  return sum;
}

TEST(Drift, IsTheSameInEveryBuildAndOnEveryThread) {
  const Song song = goldenSong();
  const Performance p = perform(*arrange(song));
  // Written down from the release build; the sanitizers' build runs the same check.
  EXPECT_EQ(digest(p), -144'333'354'547);
  EXPECT_EQ(p.strokes[0].drift.count(), -7'557'206);
  EXPECT_EQ(p.strokes[100].drift.count(), -9'329'502);
  std::vector<std::thread> threads;
  std::vector<Performance> made(4);
  for (Performance& each : made) {
    threads.emplace_back([&each, &song] { each = perform(*arrange(song)); });
  }
  for (std::thread& thread : threads) thread.join();
  for (const Performance& each : made) EXPECT_EQ(each, p);
}

// A take's own clock is replayed: straight between its units, nothing after its end.
TEST(Drift, AMeasuredClockIsReplayed) {
  Song song = blankSong();
  song.feels[0].drift = Drift{};
  song.feels[0].drift->clock = Milliseconds(30);  // not used beside it
  song.feels[0].drift->measured = MeasuredClock{{0, -1.2, 2.5, 4}, {4, 0}, {}};
  song.grooves[0].edit([](Groove& g) {
    g.feel = "straight";
    for (const Beat at : {Beat(0), Beat(1), Beat(3, 2), Beat(2), Beat(3), Beat(13, 4), Beat(5)})
      g.hits.push_back(testing::hitAt(at, piece::kSnare));
  });
  const auto read = readSong(writeSong(song), "s");
  ASSERT_TRUE(read);
  EXPECT_EQ(*read, song);
  std::vector<double> drifts;
  for (const Stroke& s : perform(*arrange(song)).strokes)
    drifts.push_back(toMilliseconds(s.drift).count());
  EXPECT_EQ(drifts, (std::vector<double>{0, -1.2, 0.65, 2.5, 4, 0, 0}));
}

TEST(Drift, GhostsStayGhosts) {
  testing::Random random(93);
  for (int i = 0; i < 60; ++i) {
    Song song = driftingSong(random);
    for (Feel& feel : song.feels) {
      feel.drift->velocity = 40;
      feel.slots.clear();
    }
    const Score score = *arrange(song);
    for (const Stroke& s : perform(score).strokes) {
      const Hit& hit = score.blocks[s.block].groove->hits[s.hit];
      if (s.part > 0) continue;
      if (hit.role == Role::kGhost) {
        ASSERT_LE(s.velocity.value(), std::max(kGhostCeiling, hit.velocity.value()));
      }
      if (hit.role == Role::kAccent) {
        ASSERT_GE(s.velocity.value(), std::min(kAccentFloor, hit.velocity.value()));
      }
    }
  }
}

TEST(Drift, AGrooveShownAloneDriftsAsInTheSong) {
  testing::Random random(94);
  for (int i = 0; i < 40; ++i) {
    const Song song = driftingSong(random);
    const std::string id = song.sections().front().groove;
    const Performance whole = perform(*arrange(song));
    const Performance alone = perform(*arrangeGroove(song, id));
    std::map<std::pair<std::uint32_t, std::uint8_t>, Moment> times;
    for (const Stroke& s : whole.strokes) {
      if (s.block == 0) times[{s.hit, s.part}] = s.drift;
    }
    for (const Stroke& s : alone.strokes) ASSERT_EQ(s.drift, (times[{s.hit, s.part}]));
  }
}

}  // namespace
}  // namespace uneven
