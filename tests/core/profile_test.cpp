// SPDX-License-Identifier: GPL-3.0-or-later
// A player's file is read as it was written, and refused where no body is so.
#include <gtest/gtest.h>

#include "core/body/profile.h"
#include "core/io/profile_json.h"
#include "tests/support/random_song.h"

namespace uneven {
namespace {

using testing::pick;
using testing::Random;
using testing::rounds;

TEST(ProfileFile, ComesBackAsItWas) {
  Profile profile;
  profile.id = "me \"\\";
  profile.hand.sustained = {Milliseconds(150.5), Milliseconds(120)};
  profile.leadHand = profile.hand;
  profile.leadHand->run = {Milliseconds(110), Milliseconds(90)};
  profile.weakFoot = 1.3;
  profile.plan["own \"bell\""] = {0.25, -1};
  profile.setup = uneven::Setup{Side::kLeft, Side::kLeft, true, true};
  const Result<Profile> again = readProfile(writeProfile(profile), "p");
  ASSERT_TRUE(again) << again.error().line();
  EXPECT_TRUE(*again == profile);
  EXPECT_TRUE(*readProfile(writeProfile({}), "p") == Profile{});
  for (const Technique& technique : techniques()) {
    profile.leadHand = technique.limits;
    const std::string text = writeProfile(profile);
    EXPECT_NE(text.find("\"lead_hand\": \"" + std::string(technique.id)), std::string::npos);
    EXPECT_TRUE(*readProfile(text, "p") == profile) << technique.id;
  }
}

TEST(ProfileFile, RefusesWhatCannotBe) {
  const std::string head = R"({"format": "uneven-stick-player", "version": 1, "id": "me", )";
  const auto code = [&](const std::string& rest) {
    const Result<Profile> read = readProfile(head + rest + "}", "p");
    return read ? ErrorCode{} : read.error().code;
  };
  EXPECT_TRUE(readProfile(head + R"("weak_hand": 1.5})", "p"));
  EXPECT_EQ(code(R"("hand": {"second": [50, 75]})"), ErrorCode::kLimit) << "the wrong way round";
  EXPECT_EQ(code(R"("hand": {"run": [60, 40]})"), ErrorCode::kLimit)
      << "a run shorter than a double";
  EXPECT_EQ(code(R"("lead_hand": "elbow")"), ErrorCode::kUnknown);
  EXPECT_EQ(code(R"("lead_hand": {"run": [60, 40]})"), ErrorCode::kLimit);
  EXPECT_EQ(code(R"("pull_out": [1])"), ErrorCode::kSyntax);
  EXPECT_EQ(code(R"("pull_out": 3)"), ErrorCode::kSyntax);
  EXPECT_EQ(code(R"("weak_hand": 0.5)"), ErrorCode::kLimit);
  EXPECT_EQ(code(R"("plan": [1, 2])"), ErrorCode::kSyntax);
  EXPECT_EQ(code(R"("plan": {"snare": [0, 11]})"), ErrorCode::kLimit);
  EXPECT_EQ(code(R"("setup": {"handed": "both"})"), ErrorCode::kUnknown);
  EXPECT_FALSE(readProfile(R"({"format": "uneven-stick-kit-map", "version": 1, "id": "x"})", "p"));
  EXPECT_FALSE(readProfile(R"({"format": "uneven-stick-player", "version": 2, "id": "x"})", "p"));
  const std::string good = writeProfile({});
  Random random(6);
  for (int i = 0; i < rounds(2'000); ++i) {
    std::string bad = good;
    bad[static_cast<std::size_t>(pick(random, 0, static_cast<int>(bad.size()) - 1))] =
        static_cast<char>(pick(random, 32, 126));
    const Result<Profile> read = readProfile(
        bad.substr(0, static_cast<std::size_t>(pick(random, 1, static_cast<int>(bad.size())))),
        "p");
    if (read) {
      EXPECT_GE(read->hand.run.playable, read->hand.second.playable);
    }
  }
}

}  // namespace
}  // namespace uneven
