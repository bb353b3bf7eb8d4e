// SPDX-License-Identifier: GPL-3.0-or-later
// What is understood of takes in sound that is not ours: ten drum programs of two sampled banks,
// dry and in a room, clipped, noisy, with a bass or a band over them. bench/ear --sound prints the
// table of many more. aubio's beat tracker, an outside reference, hears the same.
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <map>

#include "core/match/numbers.h"
#include "core/match/song_of.h"
#include "core/match/strokes.h"
#include "tests/sound/sampled_kit.h"
#include "tests/support/invented.h"
#include "tests/support/process.h"

namespace uneven {
namespace {

using testing::Around;
using testing::PlayedAnswer;
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
  wanted.foundWithin = StrokeFinder::kFoundWithin;
  return fit(onsets, wanted);
}

TEST(EarInSound, SampledKitsAndBandsAreUnderstood) {
  const char* kKinds[] = {
      "rock eighths", "sixteenths",        "swung eighths",     "swung sixteenths", "5/4",
      "7/8",          "half-time shuffle", "linear sixteenths", "kick and snare",   "waves"};
  constexpr int kPrograms[] = {0, 8, 16, 24, 25};
  int n = 0, pulse = 0, near = 0, held = 0, leans = 0, sureAndWrong = 0;
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
    const bool right = rightPulse(take, found->bpm);
    pulse += right ? 1 : 0;
    constexpr double kRather = 0.6;
    sureAndWrong += !right && found->confidence >= kRather ? 1 : 0;
    if (!right) continue;
    const auto reference = found->pieces.find(take.reference);
    for (const PieceId piece : {piece::kKick, piece::kSnare}) {
      const auto of = found->pieces.find(piece);
      if (of == found->pieces.end() || reference == found->pieces.end() || piece == take.reference)
        continue;
      const double truth = take.lean.at(piece) - take.lean.at(take.reference);
      const double error = of->second.ms - reference->second.ms - truth;
      ++leans;
      near += std::abs(error) <= 3 ? 1 : 0;
      held += std::abs(error) <= 1.96 * of->second.se ? 1 : 0;
    }
    const Song song = songOf(*found, onsets, houseKit(), {"take", false, true});
    rms.push_back(testing::rmsBetween(testing::struck(song, found->start), take.onsets));
  }
  EXPECT_GE(pulse * 100, n * 90);
  EXPECT_LE(sureAndWrong * 100, n * 6);
  EXPECT_GE(near * 100, leans * 80);
  EXPECT_GE(held * 100, leans * 85);
  EXPECT_LT(medianOfReals(rms), 6);
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
      const double snare = found->pieces.at(piece::kSnare).ms - found->pieces.at(piece::kHat).ms;
      EXPECT_NEAR(snare, behind, 2) << bank;
      EXPECT_NEAR(snare, behind, 1.96 * found->pieces.at(piece::kSnare).se) << bank << behind;
    }
  }
}

}  // namespace
}  // namespace uneven
