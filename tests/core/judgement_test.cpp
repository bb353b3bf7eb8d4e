// SPDX-License-Identifier: GPL-3.0-or-later
// What an experienced drummer would say: nothing of what drummers play every day, and the one thing
// of what has a fault (tests/data/clean.json and faulty.json; common practice, from memory).
#include <gtest/gtest.h>

#include <algorithm>
#include <nlohmann/json.hpp>

#include "core/check/check.h"
#include "tests/support/lanes.h"
#include "tests/support/process.h"

namespace uneven {
namespace {

using testing::songOfEntry;

nlohmann::json entries(const char* file) {
  return nlohmann::json::parse(
      testing::readText(std::string(SOURCE_DIR "/tests/data/") + file + ".json"));
}

std::vector<Finding> foundIn(const Song& song) {
  const Result<SharedTake> take = Take::ofSong(song);
  EXPECT_TRUE(take);
  return take ? check(**take, {}, builtInKitMaps().front()).findings : std::vector<Finding>();
}

TEST(Judgement, WhatIsPlayedEveryDayIsClean) {
  const nlohmann::json clean = entries("clean");
  ASSERT_GE(clean.size(), 100U);
  for (const auto& entry : clean) {
    for (const Finding& f : foundIn(songOfEntry(entry))) {
      if (f.severity == Severity::kNote) continue;
      ADD_FAILURE() << entry["name"] << ": " << findingWord(f.kind) << ": " << f.text;
    }
  }
}

// And it stays so where it goes round, at four fifths of its tempo, and where no roles are written.
TEST(Judgement, CleanStaysClean) {
  for (const auto& entry : entries("clean")) {
    Song round = songOfEntry(entry);
    round.arrangement = {Section{}};
    round.arrangement[0].groove = round.grooves[0]->id;
    round.arrangement[0].repeat = 4;
    Song slower = songOfEntry(entry);
    slower.tempo[0].bpm = Bpm{slower.tempo[0].bpm.value * 0.8};
    Song plain = songOfEntry(entry);
    plain.grooves[0].edit([](Groove& g) {
      for (Hit& hit : g.hits) hit.role = Role::kNormal;
    });
    for (const Song& song : {round, slower, plain}) {
      for (const Finding& f : foundIn(song))
        EXPECT_EQ(f.severity, Severity::kNote) << entry["name"] << ": " << f.text;
    }
  }
}

TEST(Judgement, AFaultIsFoundForWhatItIs) {
  const nlohmann::json faulty = entries("faulty");
  ASSERT_GE(faulty.size(), 100U);
  for (const auto& entry : faulty) {
    const std::string kind = entry["expect"][0], severity = entry["expect"][1];
    const std::vector<Finding> found = foundIn(songOfEntry(entry));
    const bool told = std::any_of(found.begin(), found.end(), [&](const Finding& f) {
      return findingWord(f.kind) == kind && severityWord(f.severity) == severity;
    });
    if (told) continue;
    ADD_FAILURE() << entry["name"] << ": no " << severity << " " << kind;
  }
}

// What is offered is so: the finding goes, no error comes, and the backbeat stays.
TEST(Judgement, WhatIsOfferedMends) {
  int offered = 0;
  for (const auto& entry : entries("faulty")) {
    const Song song = songOfEntry(entry);
    const std::vector<Finding> found = foundIn(song);
    for (const Finding& f : found) {
      if (f.mends.empty()) continue;
      ++offered;
      const Song mended = withMend(song, f.mends.front());
      const std::vector<Finding> after = foundIn(mended);
      const auto errors = [](const std::vector<Finding>& of) {
        return std::count_if(of.begin(), of.end(),
                             [](const Finding& g) { return g.severity == Severity::kError; });
      };
      EXPECT_LE(errors(after), errors(found)) << entry["name"] << ": " << f.fix();
      EXPECT_TRUE(std::none_of(after.begin(), after.end(),
                               [&](const Finding& g) {
                                 return g.kind == f.kind && g.inGroove == f.inGroove &&
                                        g.pieces == f.pieces;
                               }))
          << entry["name"] << ": " << f.text << " / " << f.fix();
      for (const Hit& hit : song.grooves[0]->hits) {
        if (hit.piece != piece::kSnare || hit.role != Role::kAccent ||
            f.kind == FindingKind::kNotLinear)
          continue;
        EXPECT_TRUE(indexOf(*mended.grooves[0], {hit.at, hit.piece}))
            << entry["name"] << ": " << f.fix() << " takes the backbeat";
      }
    }
  }
  EXPECT_GT(offered, 90);
}

}  // namespace
}  // namespace uneven
