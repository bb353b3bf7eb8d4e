// SPDX-License-Identifier: GPL-3.0-or-later
// What is understood of takes in sound that is not ours: ten drum programs of two sampled banks,
// dry and in a room, clipped, noisy, with a bass or a band over them. bench/ear --sound prints the
// table of many more. aubio's beat tracker, an outside reference, hears the same.
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <sstream>

#include "core/match/numbers.h"
#include "core/match/song_of.h"
#include "core/match/strokes.h"
#include "sound/file/audio_writer.h"
#include "tests/sound/sampled_kit.h"
#include "tests/support/invented.h"
#include "tests/support/process.h"

namespace uneven {
namespace {

using testing::Around;
using testing::PlayedTake;
using testing::playedTake;
using testing::rounds;
using testing::SampledKit;

constexpr unsigned kFirstSeed = 30'001;

std::vector<Onset> heard(const std::vector<float>& sound) {
  StrokeFinder finder(testing::kTakeRate);
  finder.push(sound);
  return finder.finish();
}

std::optional<Fit> understood(const std::vector<Onset>& onsets) {
  FitWanted wanted;
  wanted.foundWithin = Seconds(StrokeFinder::kFoundWithin);
  return fit(onsets, wanted);
}

TEST(EarInSound, SampledKitsAndBandsAreUnderstood) {
  const char* kKinds[] = {
      "rock eighths", "sixteenths",        "swung eighths",     "swung sixteenths", "5/4",
      "7/8",          "half-time shuffle", "linear sixteenths", "kick and snare",   "waves"};
  constexpr int kPrograms[] = {0, 8, 16, 24, 25};
  int n = 0, pulse = 0, swing = 0, near = 0, held = 0, leans = 0, sureAndWrong = 0;
  std::vector<double> rms;
  std::map<std::string, std::unique_ptr<SampledKit>> kits;
  for (const char* bank : {"tim", "fluid"}) kits[bank] = std::make_unique<SampledKit>(bank);
  for (unsigned i = 0; i < static_cast<unsigned>(rounds(40)); ++i) {
    SampledKit& kit = *kits[i % 2 == 0 ? "tim" : "fluid"];
    kit.choose(kPrograms[i / 2 % 5]);
    Around around;
    around.room = i % 5 == 1;
    around.clipped = i % 5 == 2;
    around.noise = i % 5 == 3 ? 20 : 0;
    around.bass = i % 5 == 4;
    around.band = i % 10 == 4;
    const PlayedTake take = playedTake(kKinds[i % 10], kFirstSeed + i);
    const std::vector<Onset> onsets = heard(testing::soundOf(take, kit, around, i));
    const auto found = understood(onsets);
    ASSERT_TRUE(found) << i;
    ++n;
    const bool right = rightPulse(take, found->bpm.value);
    pulse += right ? 1 : 0;
    const testing::PlayedAnswer told{found->bpm.value, found->grid.meter, found->swing.unit,
                                     found->swing.ratio};
    const bool swings = right && testing::rightSwing(take, told);
    swing += swings ? 1 : 0;
    constexpr double kRather = 0.6;
    const bool whole = swings && testing::rightMeter(take, told);
    sureAndWrong += !whole && found->confidence >= kRather ? 1 : 0;
    if (!right) continue;
    const auto reference = found->pieces.find(take.reference);
    for (const PieceId piece : {piece::kKick, piece::kSnare}) {
      const auto of = found->pieces.find(piece);
      if (of == found->pieces.end() || reference == found->pieces.end() || piece == take.reference)
        continue;
      const double truth = take.lean.at(piece) - take.lean.at(take.reference);
      const double error = (of->second.lean - reference->second.lean).count() - truth;
      ++leans;
      near += std::abs(error) <= 3 ? 1 : 0;
      held += std::abs(error) <= 1.96 * of->second.se.count() ? 1 : 0;
    }
    const Song song = songOf(*found, onsets, houseKit(), {"take", false, true});
    rms.push_back(testing::rmsBetween(testing::struck(song, found->start.count()), take.onsets));
  }
  // Of a few takes a share says little.
  constexpr int kMany = 30;
  const bool many = n >= kMany;
  EXPECT_GE(pulse * 100, n * (many ? 90 : 70));
  EXPECT_GE(swing * 100, n * (many ? 85 : 65));
  EXPECT_LE(sureAndWrong * 100, n * (many ? 6 : 20));
  EXPECT_GE(near * 100, leans * (many ? 80 : 65));
  EXPECT_GE(held * 100, leans * (many ? 85 : 70));
  EXPECT_LT(medianOfReals(rms), 4);
}

// As many of the beats as there are, beats that are none counted (F measure, 70 ms as in MIREX).
double beatsFound(const PlayedTake& take, const std::vector<double>& told) {
  constexpr double kNear = 0.07;
  std::vector<double> there;
  for (std::size_t b = 0; b + 1 < take.bars.size(); ++b) {
    for (int k = 0; k < take.meter.n; ++k)
      there.push_back(take.bars[b] + (take.bars[b + 1] - take.bars[b]) * k / take.meter.n);
  }
  double hits = 0, of = 0;
  for (const double t : told) {
    if (t < there.front() - kNear || t > there.back() + kNear) continue;
    of += 1;
    hits += std::any_of(there.begin(), there.end(),
                        [t](double beat) { return std::abs(beat - t) < kNear; })
                ? 1
                : 0;
  }
  return 2 * hits / std::max(1.0, of + static_cast<double>(there.size()));
}

// The same files through an outside reference (Debian: aubio-tools).
TEST(EarInSound, AnotherTrackerHearsNoMore) {
  const testing::TemporaryFolder folder;
  double ours = 0, theirs = 0;
  int n = 0;
  for (const char* bank : {"tim", "fluid"}) {
    SampledKit kit(bank);
    for (const char* kind : {"rock eighths", "sixteenths", "5/4"}) {
      const PlayedTake take = playedTake(kind, kFirstSeed);
      Around around;
      around.band = true;
      const std::vector<float> sound = testing::soundOf(take, kit, around, 1);
      const auto writer = AudioWriter::open({AudioKind::kWav, AudioBits::k16, testing::kTakeRate});
      ASSERT_TRUE(writer);
      std::vector<float> both;
      for (const float v : sound) both.insert(both.end(), {v, v});
      ASSERT_TRUE((*writer)->write(both));
      const Result<std::string> bytes = (*writer)->finish();
      ASSERT_TRUE(bytes);
      const std::string file = folder.file("take.wav");
      testing::writeText(file, *bytes);
      std::istringstream heardByThem(testing::runProcess({"/usr/bin/aubiotrack", "-i", file}).out);
      std::vector<double> beats;
      for (double at = 0; heardByThem >> at;) beats.push_back(at);
      EXPECT_GT(beats.size(), 10U);
      theirs += beatsFound(take, beats);
      const auto found = understood(heard(sound));
      ASSERT_TRUE(found);
      beats.clear();
      const BeatLine& line = found->grid.line;
      for (double q = 0; line.secondsAt(q) < take.bars.back(); q += 1)
        beats.push_back(line.secondsAt(q));
      ours += beatsFound(take, beats);
      ++n;
    }
  }
  EXPECT_GE(ours / n, 0.9);
  EXPECT_GE(ours, theirs) << theirs / n << " of theirs";
}

// A snare behind a hat that sounds with it is as far behind it as it is.
TEST(EarInSound, UnisonsComeApart) {
  for (const char* bank : {"tim", "fluid"}) {
    SampledKit kit(bank);
    for (const double behind : {0.0, 6.0, 10.0, 14.0, 16.0, 20.0, -8.0}) {
      PlayedTake take;
      take.bars = {1};
      for (int i = 0; i < 96; ++i) {
        const double at = 1 + i * 0.3;
        const auto strike = [&](PieceId piece, double velocity, double ms) {
          Onset o;
          o.seconds = at + ms / 1'000;
          o.piece = piece;
          o.velocity = velocity;
          take.onsets.push_back(o);
        };
        strike(piece::kHat, i % 2 == 0 ? 84 : 68, 0);
        if (i % 8 == 0 || i % 8 == 5) strike(piece::kKick, 104, 0);
        if (i % 4 == 2) strike(piece::kSnare, 112, behind);
      }
      const auto found = understood(heard(testing::soundOf(take, kit, {}, 1)));
      ASSERT_TRUE(found);
      const double snare = (found->leanOf(piece::kSnare) - found->leanOf(piece::kHat)).count();
      EXPECT_NEAR(snare, behind, 2) << bank;
      EXPECT_NEAR(snare, behind, 1.96 * found->pieces.at(piece::kSnare).se.count())
          << bank << behind;
    }
  }
}

}  // namespace
}  // namespace uneven
