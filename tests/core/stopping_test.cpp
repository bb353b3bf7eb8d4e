// SPDX-License-Identifier: GPL-3.0-or-later
// Long work that is told to stop, before it begins and at any moment of it: it ends with nothing,
// and what is kept for the next time is as good as new. How soon it ends is measured by the bench
// row `stopped`.
#include <gtest/gtest.h>

#include <thread>

#include "core/check/check.h"
#include "core/match/fit.h"
#include "core/midi/render.h"
#include "core/playing/ways.h"
#include "core/rehearse/plan.h"
#include "core/vary/walks.h"
#include "tests/support/made.h"
#include "tests/support/played_takes.h"
#include "tests/support/random_song.h"

namespace uneven {
namespace {

using testing::Random;
using testing::rounds;

std::stop_token stopped() {
  std::stop_source source;
  source.request_stop();
  return source.get_token();
}

// What the work gives when it is told to stop after so many microseconds.
template <typename Work>
auto stoppedAfter(int us, Work work) {
  std::stop_source source;
  std::jthread other([&] {
    std::this_thread::sleep_for(std::chrono::microseconds(us));
    source.request_stop();
  });
  return work(source.get_token());
}

void expectGivenUp(const Error& error) {
  EXPECT_EQ(error.message, "given up");
  EXPECT_EQ(error.code, ErrorCode::kUsage);
}

TEST(Stopping, WhatIsStoppedBeforeItBeginsGivesNothing) {
  Random random(41);
  std::size_t found = 0;
  for (int round = 0; round < rounds(10); ++round) {
    const Song song = testing::randomSong(random);
    const KitMap& map = builtInKitMaps().front();
    const Result<SharedTake> take = Take::ofSong(song);
    ASSERT_TRUE(take);
    const Result<SharedTake> none = Take::ofSong(song, stopped());
    ASSERT_FALSE(none);
    expectGivenUp(none.error());
    EXPECT_TRUE(perform((*take)->score(), nullptr, stopped()).strokes.empty());
    const Result<Rendering> rendering = render(**take, map, {}, stopped());
    ASSERT_FALSE(rendering);
    expectGivenUp(rendering.error());
    EXPECT_TRUE(check(**take, {}, map, stopped()).findings.empty());
    found += check(**take, {}, map).findings.size();
    const std::string& groove = song.grooves.front()->id;
    const Result<HandReport> report = handReport(song, groove, {}, {}, {}, stopped());
    ASSERT_FALSE(report);
    expectGivenUp(report.error());
    if (const Result<HandReport> whole = handReport(song, groove, {})) {
      EXPECT_TRUE(otherWays(*whole, {}, 4, stopped()).empty());
    }
  }
  EXPECT_GT(found, 0U) << "there was something to find";
  PlanAsked asked;
  asked.from = std::chrono::year(2026) / 11 / 30;
  const Song song = testing::songOf({testing::hitAt(Beat(0), piece::kSnare)});
  ASSERT_TRUE(planOf(song, asked, {}));
  const Result<PracticePlan> plan = planOf(song, asked, {}, stopped());
  ASSERT_FALSE(plan);
  expectGivenUp(plan.error());
}

TEST(Stopping, AFitThatIsStoppedAnywhereLeavesTheNextOneAsGood) {
  Random random(43);
  int ended = 0, whole = 0;
  for (int round = 0; round < rounds(12); ++round) {
    const std::vector<std::string>& kinds = testing::playedKinds();
    const std::string& kind = kinds[static_cast<std::size_t>(round) % kinds.size()];
    const std::vector<Onset> onsets =
        testing::playedTake(kind, 30'001 + static_cast<unsigned>(round)).onsets;
    EXPECT_FALSE(fit(onsets, {}, nullptr, stopped())) << kind;
    KeptFit fresh;
    const std::optional<Fit> all = fit(onsets, {}, &fresh);
    ASSERT_TRUE(all) << kind;
    KeptFit kept;
    for (int i = 0; i < 4; ++i) {
      const int us = std::uniform_int_distribution(0, 40'000)(random);
      const std::optional<Fit> some = stoppedAfter(
          us, [&](const std::stop_token& stop) { return fit(onsets, {}, &kept, stop); });
      ++(some ? whole : ended);
      if (some) {
        EXPECT_EQ(some->bpm, all->bpm) << kind << " stopped after " << us << " us";
        kept = {};
      }
    }
    const std::optional<Fit> again = fit(onsets, {}, &kept);
    ASSERT_TRUE(again) << kind;
    EXPECT_EQ(again->bpm, all->bpm) << kind;
    EXPECT_EQ(again->grid.meter, all->grid.meter) << kind;
    EXPECT_EQ(again->swing, all->swing) << kind;
    EXPECT_EQ(again->confidence, all->confidence) << kind;
  }
  EXPECT_GT(ended, 0) << "none was stopped";
}

TEST(Stopping, ASongIsPerformedWholeOrNotAtAll) {
  Random random(47);
  for (int round = 0; round < rounds(20); ++round) {
    Song song = testing::randomSong(random);
    const Result<SharedTake> all = Take::ofSong(song);
    ASSERT_TRUE(all);
    const int us = std::uniform_int_distribution(0, 3'000)(random);
    const Result<SharedTake> some =
        stoppedAfter(us, [&](const std::stop_token& stop) { return Take::ofSong(song, stop); });
    if (some) {
      EXPECT_EQ((*some)->strokes(), (*all)->strokes());
    } else {
      expectGivenUp(some.error());
    }
  }
}

}  // namespace
}  // namespace uneven
