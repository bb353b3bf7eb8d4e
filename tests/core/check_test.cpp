// SPDX-License-Identifier: GPL-3.0-or-later
// Findings: each kind at its bound, its mending, and what is left alone.
#include "core/check/check.h"

#include <gtest/gtest.h>

#include <numeric>

#include <set>
#include <tuple>

#include "core/body/part.h"
#include "core/io/song_json.h"
#include "core/song/edit.h"
#include "tests/support/made.h"
#include "tests/support/random_song.h"

namespace uneven {
namespace {

using testing::Random;
using testing::randomSong;
using testing::rounds;

class CheckTest : public ::testing::Test {
 protected:
  CheckTest() {
    song.tempo = {{Beat(0), Bpm{90}, {}}};
    song.feels.clear();
    song.arrangement.clear();
    groove.id = groove.name = "g";
  }
  Hit& put(Beat at, PieceId piece, int velocity = 90, Role role = Role::kNormal) {
    Hit hit;
    hit.at = at;
    hit.piece = piece;
    hit.velocity = Velocity(velocity);
    hit.role = role;
    groove = withHit(std::move(groove), hit);
    return groove.hits[*indexOf(groove, {at, piece})];
  }
  Checked checked(const Profile& profile = {}) {
    song.grooves = {SharedValue<Groove>(groove)};
    const Result<SharedTake> take = Take::ofSong(song);
    EXPECT_TRUE(take);
    return check(**take, profile, builtInKitMaps().front());
  }
  // The only finding of a kind; fails the test where there is none or another.
  Finding only(FindingKind kind) {
    std::vector<Finding> of;
    for (const Finding& f : checked().findings) {
      if (f.kind == kind) of.push_back(f);
    }
    EXPECT_EQ(of.size(), 1U) << findingWord(kind);
    return of.empty() ? Finding{} : of.front();
  }
  int count(FindingKind kind) {
    int out = 0;
    for (const Finding& f : checked().findings) out += f.kind == kind ? 1 : 0;
    return out;
  }
  void mend(const Finding& f) {
    ASSERT_FALSE(f.mends.empty()) << f.text;
    groove = mendedGroove(withGroove(song, groove), f.mends.front());
    EXPECT_EQ(count(f.kind), 0) << f.fix();
  }
  Song song = blankSong();
  Groove groove;
};

// What is a tenth of a second apart is meant so, and what suits one feel does not suit another.
TEST_F(CheckTest, OnlyWhatIsPulledForAllIsPulledTogether) {
  put(Beat(1), piece::kHat);
  const auto pulled = [&](double nudge) {
    put(Beat(1), piece::kSnare, 100).nudge = Milliseconds(nudge);
    const Finding f = only(FindingKind::kUnisonSpread);
    return std::count_if(f.mends.begin(), f.mends.end(),
                         [](const Mend& mend) { return mend.kind == MendKind::kTogether; });
  };
  EXPECT_EQ(pulled(99), 1);
  EXPECT_EQ(pulled(101), 0);
  Feel feel;
  for (const char* id : {"a", "b"}) {
    Section& section = song.arrangement.emplace_back();
    section.groove = groove.id;
    section.feel = feel.id = id;
    song.feels.push_back(feel);
  }
  EXPECT_EQ(pulled(30), 0) << "under two feels";
  song.arrangement.pop_back();
  EXPECT_EQ(pulled(30), 1);
}

TEST_F(CheckTest, UnisonsFromTenMillisecondsAndErrorsFromTwentyFive) {
  put(Beat(1), piece::kHat);
  put(Beat(1), piece::kSnare, 100).nudge = Milliseconds(10);
  EXPECT_EQ(count(FindingKind::kUnisonSpread), 0);
  put(Beat(1), piece::kSnare, 100).nudge = Milliseconds(12.5);
  const Finding f = only(FindingKind::kUnisonSpread);
  EXPECT_EQ(f.severity, Severity::kFinding);
  EXPECT_EQ(f.value, 12.5);
  EXPECT_EQ(f.unit, "ms");
  EXPECT_EQ(f.pieces, (std::vector<PieceId>{piece::kHat, piece::kSnare}));
  EXPECT_EQ(f.inGroove, Beat(1));
  put(Beat(1), piece::kSnare, 100).nudge = Milliseconds(26);
  EXPECT_EQ(only(FindingKind::kUnisonSpread).severity, Severity::kError);
  mend(f);
}

TEST_F(CheckTest, AThirdHandIsNamed) {
  put(Beat(0), piece::kHat);
  put(Beat(0), piece::kSnare);
  put(Beat(0), piece::kKick);
  EXPECT_EQ(count(FindingKind::kThirdHand), 0);
  put(Beat(0), piece::kCrash);
  const Finding f = only(FindingKind::kThirdHand);
  EXPECT_EQ(f.severity, Severity::kError);
  mend(f);
}

// Single-pedal pairs and runs, by the table: 3 in a row are hard below 150 ms, impossible below
// 115.
TEST_F(CheckTest, RunsOfTheFootAreHardAndThenNotPlayable) {
  for (int i = 0; i < 3; ++i) put(Beat(i, 4), piece::kKick);
  song.tempo.front().bpm = Bpm{100};  // 150 ms
  EXPECT_EQ(count(FindingKind::kHard), 0);
  song.tempo.front().bpm = Bpm{101};
  const Finding hard = only(FindingKind::kHard);
  EXPECT_EQ(hard.severity, Severity::kFinding);
  EXPECT_NEAR(hard.value, 148.5, 0.05);
  EXPECT_NE(hard.text.find("comfortable up to 100 BPM"), std::string::npos) << hard.text;
  EXPECT_EQ(hard.at, Beat(1, 2));
  song.tempo.front().bpm = Bpm{131};
  EXPECT_EQ(only(FindingKind::kNotPlayable).severity, Severity::kError);
  Profile quick;
  quick.foot.run = quick.foot.second;
  quick.foot.sustained = quick.foot.second;
  EXPECT_TRUE(checked(quick).findings.empty()) << "another player";
}

TEST_F(CheckTest, APullOutLosesItsGhost) {
  put(Beat(3, 4), piece::kSnare, 30, Role::kGhost).limb = Limb::kLeftHand;
  put(Beat(1), piece::kSnare, 110, Role::kAccent).limb = Limb::kLeftHand;
  song.tempo.front().bpm = Bpm{120};
  const Finding f = only(FindingKind::kHard);
  EXPECT_NE(f.text.find("a ghost straight into an accent"), std::string::npos);
  mend(f);
}

TEST_F(CheckTest, GhostsAreHeldAgainstTheAim) {
  put(Beat(1), piece::kSnare, 110, Role::kAccent);
  put(Beat(3, 4), piece::kSnare, 35, Role::kGhost);
  EXPECT_EQ(count(FindingKind::kSeparation), 0) << "19.9 dB";
  put(Beat(3, 4), piece::kSnare, 45, Role::kGhost);
  Finding f = only(FindingKind::kSeparation);
  EXPECT_NEAR(f.value, 15.5, 0.05);  // 40 log10(110 / 45)
  mend(f);
  put(Beat(3, 4), piece::kSnare, 5, Role::kGhost);
  f = only(FindingKind::kSeparation);
  EXPECT_EQ(f.unit, "dB");
  mend(f);
}

TEST_F(CheckTest, AGhostStandsOut) {
  for (int i = 0; i < 3; ++i) put(Beat(i), piece::kSnare, 30, Role::kGhost);
  put(Beat(3), piece::kSnare, 37, Role::kGhost);  // 3.6 dB
  EXPECT_EQ(count(FindingKind::kGhostStandsOut), 0);
  put(Beat(3), piece::kSnare, 38, Role::kGhost);  // 4.1 dB
  Finding f = only(FindingKind::kGhostStandsOut);
  EXPECT_EQ(f.fix(), "lower it to 30");
  mend(f);
  put(Beat(7, 2), piece::kSnare, 28);
  f = only(FindingKind::kGhostStandsOut);
  EXPECT_NE(f.text.find("normal hit"), std::string::npos);
  mend(f);
}

TEST_F(CheckTest, HatsUnderTheBackbeat) {
  put(Beat(1), piece::kSnare, 110, Role::kAccent);
  for (int i = 0; i < 8; ++i) put(Beat(i, 2), piece::kHat, 77, Role::kAccent);  // 6.2 dB
  EXPECT_EQ(count(FindingKind::kHatsHeavy), 0);
  for (int i = 0; i < 8; ++i) put(Beat(i, 2), piece::kHat, 80, Role::kAccent);  // 5.5 dB
  Finding f = only(FindingKind::kHatsHeavy);
  EXPECT_NEAR(f.value, 5.5, 0.05);
  mend(f);
  // Sixteenths at 150 BPM ask for 4 dB more.
  for (int i = 0; i < 16; ++i) put(Beat(i, 4), piece::kHat, 70, Role::kAccent);  // 7.9 dB
  song.tempo.front().bpm = Bpm{110};
  EXPECT_EQ(count(FindingKind::kHatsHeavy), 0);
  song.tempo.front().bpm = Bpm{150};
  f = only(FindingKind::kHatsHeavy);
  EXPECT_NE(f.text.find("10.0 or more"), std::string::npos) << f.text;
  mend(f);
}

TEST_F(CheckTest, BackbeatsAreEvenAndInEveryBar) {
  groove.bars = 3;
  for (const int at : {1, 3, 5, 7, 9, 11}) put(Beat(at), piece::kSnare, 110, Role::kAccent);
  EXPECT_TRUE(checked().findings.empty());
  put(Beat(7), piece::kSnare, 90, Role::kAccent);  // 3.5 dB
  Finding f = only(FindingKind::kBackbeatUneven);
  EXPECT_EQ(f.bar, 1);
  EXPECT_EQ(f.at, Beat(3));
  mend(f);
  groove = withoutHits(groove, {{Beat(5), piece::kSnare}, {Beat(7), piece::kSnare}});
  f = only(FindingKind::kBackbeatMissing);
  EXPECT_EQ(f.bar, 1);
  mend(f);
  EXPECT_TRUE(indexOf(groove, {Beat(7), piece::kSnare}));
}

// A fill has accents of its own, from where it begins.
TEST_F(CheckTest, BackbeatsAreThoseBeforeTheFill) {
  groove.bars = 2;
  for (const int at : {1, 3, 5}) put(Beat(at), piece::kSnare, 110, Role::kAccent);
  put(Beat(7), piece::kSnare, 90, Role::kAccent);
  Section section;
  section.name = section.groove = "g";
  for (const auto& [beats, uneven] : {std::pair(Beat(1), 0), std::pair(Beat(1, 2), 1)}) {
    section.fill = SectionFill{"g", beats, 1, {}};
    song.arrangement = {section};
    EXPECT_EQ(count(FindingKind::kBackbeatUneven), uneven) << beats.toString();
  }
}

TEST_F(CheckTest, SoftUnisonsStaySoft) {
  put(Beat(1), piece::kSnare, 110, Role::kAccent);
  put(Beat(2, 3), piece::kSnare, 69);
  put(Beat(2, 3), piece::kRide, 60);
  EXPECT_EQ(count(FindingKind::kSoftUnison), 0) << "8.1 dB under";
  put(Beat(2, 3), piece::kRide, 75);
  const Finding f = only(FindingKind::kSoftUnison);
  EXPECT_EQ(f.pieces.size(), 2U);
  mend(f);
}

TEST_F(CheckTest, NotesThatAreAskedEven) {
  for (int i = 0; i < 4; ++i) put(Beat(i, 3), piece::kRide);
  EXPECT_EQ(count(FindingKind::kUnevenNotes), 0);
  // At 90 BPM a triplet lasts 222 ms: 8 ms make 230 and 214, 7.5 %; 9 make 8.5 %.
  put(Beat(1, 3), piece::kRide).nudge = Milliseconds(8);
  EXPECT_EQ(count(FindingKind::kUnevenNotes), 0);
  put(Beat(1, 3), piece::kRide).nudge = Milliseconds(9);
  const Finding f = only(FindingKind::kUnevenNotes);
  EXPECT_NEAR(f.value, 100 * (231.22 / 213.22 - 1), 0.1);
  EXPECT_EQ(f.unit, "%");
  mend(f);
}

TEST_F(CheckTest, OddGroupsOnTwoPedals) {
  Kit kit = houseKit();
  kit.setup.doublePedal = true;
  song.kit = SharedValue<Kit>(kit);
  for (int i = 0; i < 4; ++i) put(Beat(i, 4), piece::kKick);
  EXPECT_EQ(count(FindingKind::kLeadFoot), 0);
  put(Beat(1), piece::kKick);
  EXPECT_EQ(only(FindingKind::kLeadFoot).value, 5);
}

TEST_F(CheckTest, StrokesTooClose) {
  put(Beat(1), piece::kTomHigh);
  put(Beat(33, 32), piece::kTomHigh);  // 20.8 ms at 90 BPM
  EXPECT_NEAR(only(FindingKind::kTooClose).value, 20.8, 0.05);
  mend(only(FindingKind::kTooClose));
}

TEST_F(CheckTest, StartsSoundsAndOrder) {
  put(Beat(0), piece::kKick).nudge = Milliseconds(-5);
  EXPECT_EQ(only(FindingKind::kBeforeStart).value, 5);
  Kit kit = houseKit();
  Piece own;
  own.id = own.name = "anvil";
  own.usual = Limb::kRightHand;
  own.strokes = {StrokeKind::kNormal};
  kit.order.push_back({static_cast<std::uint8_t>(kit.pieces.size())});
  kit.pieces.push_back(own);
  song.kit = SharedValue<Kit>(kit);
  put(Beat(2), kit.order.back());
  const Finding silent = only(FindingKind::kNoSound);
  EXPECT_EQ(silent.severity, Severity::kError);
  EXPECT_EQ(silent.pieces, std::vector<PieceId>{kit.order.back()});
  put(Beat(1), piece::kSnare).nudge = Milliseconds(60);
  put(Beat(17, 16), piece::kSnare).nudge = Milliseconds(-60);
  mend(only(FindingKind::kHeld));
  put(Beat(1), piece::kTomHigh);
  put(Beat(65, 64), piece::kTomHigh).ornament = Ornament::kRuff;
  const Finding squeezed = only(FindingKind::kSqueezed);
  EXPECT_LT(squeezed.value, 30);
  mend(squeezed);
}

TEST_F(CheckTest, ALinearGrooveHasOneAtOnce) {
  put(Beat(0), piece::kKick, 100);
  put(Beat(0), piece::kHat, 80);
  EXPECT_EQ(count(FindingKind::kNotLinear), 0);
  groove.linear = true;
  const Finding f = only(FindingKind::kNotLinear);
  mend(f);
  EXPECT_EQ(groove.hits.size(), 1U);
  EXPECT_EQ(groove.hits.front().piece, piece::kKick);
  song.grooves = {SharedValue<Groove>(groove)};
  EXPECT_TRUE(readSong(writeSong(song), "s")->grooves.front()->linear);
  // Once a place, however many meet there.
  put(Beat(1), piece::kHat);
  put(Beat(1), piece::kSnare);
  put(Beat(1), piece::kKick);
  put(Beat(2), piece::kHat);
  put(Beat(3), piece::kKick);
  put(Beat(3), piece::kSnare);
  std::vector<std::pair<Beat, double>> found;
  for (const Finding& each : checked().findings)
    if (each.kind == FindingKind::kNotLinear) found.emplace_back(each.inGroove, each.value);
  std::sort(found.begin(), found.end());
  EXPECT_EQ(found, (std::vector<std::pair<Beat, double>>{{Beat(1), 3}, {Beat(3), 2}}));
}

TEST_F(CheckTest, RepetitionsAreCountedOnce) {
  put(Beat(1), piece::kHat);
  put(Beat(1), piece::kSnare, 100).nudge = Milliseconds(15);
  Section section;
  section.name = section.groove = "g";
  section.repeat = 6;
  song.arrangement = {section};
  EXPECT_EQ(only(FindingKind::kUnisonSpread).times, 6);
}

TEST_F(CheckTest, WhatIsLeftAloneStaysSo) {
  put(Beat(1), piece::kHat);
  put(Beat(1), piece::kSnare, 100).nudge = Milliseconds(15);
  const Finding f = only(FindingKind::kUnisonSpread);
  song = withLeftAlone(song, f, "meant");
  EXPECT_TRUE(withLeftAlone(song, f, "again") == song);
  Checked now = checked();
  EXPECT_TRUE(now.findings.empty());
  EXPECT_EQ(now.left.size(), 1U);
  const Result<Song> again = readSong(writeSong(song), "s");
  ASSERT_TRUE(again);
  EXPECT_TRUE(again->check == song.check);
  EXPECT_EQ(again->check.ignored.front().why, "meant");
  // Another place is found.
  put(Beat(2), piece::kHat);
  put(Beat(2), piece::kSnare, 100).nudge = Milliseconds(15);
  EXPECT_EQ(count(FindingKind::kUnisonSpread), 1);
}

// Levels are judged as levels: hats of any role as loud as the backbeat, a bar all alike.
TEST_F(CheckTest, HatsOverTheBackbeatWhateverTheirRole) {
  for (int i = 0; i < 8; ++i) put(Beat(i, 2), piece::kHat, i % 2 == 0 ? 112 : 106);
  put(Beat(1), piece::kSnare, 104).role = Role::kAccent;
  put(Beat(3), piece::kSnare, 104).role = Role::kAccent;
  const Finding f = only(FindingKind::kHatsHeavy);
  mend(f);
  EXPECT_EQ(count(FindingKind::kHatsHeavy), 0);
}

TEST_F(CheckTest, ABarAllAlikeIsLikeAMachine) {
  for (int i = 0; i < 8; ++i) put(Beat(i, 2), piece::kHat, 80);
  const Finding f = only(FindingKind::kFlatDynamics);
  EXPECT_EQ(f.value, 8);
  EXPECT_EQ(f.pieces, std::vector<PieceId>{piece::kHat}) << "two backbeats alike are none";
  mend(f);
  EXPECT_EQ(count(FindingKind::kFlatDynamics), 0);
  put(Beat(1), piece::kSnare, 100);
  put(Beat(3), piece::kSnare, 100);
  EXPECT_EQ(count(FindingKind::kFlatDynamics), 0);
}

TEST_F(CheckTest, ABuzzThatIsNoBuzz) {
  Hit& buzz = put(Beat(0), piece::kSnare);
  buzz.ornament = Ornament::kBuzz;
  buzz.ornamentFor = Beat(1, 8);  // 62 ms at 120
  song.tempo.front().bpm = Bpm{120};
  EXPECT_LT(only(FindingKind::kShortBuzz).value, 80);
  mend(only(FindingKind::kShortBuzz));
  EXPECT_EQ(count(FindingKind::kShortBuzz), 0);
}

TEST_F(CheckTest, AFillNeedsNoBackbeat) {
  groove.bars = 3;
  for (int bar = 0; bar < 3; ++bar) {
    for (int i = 0; i < (bar < 2 ? 8 : 2); ++i)
      put(Beat(4 * bar) + Beat(i, 2), piece::kHat, 60 + 10 * (i % 2));
    if (bar == 2) continue;
    put(Beat(4 * bar + 1), piece::kSnare, 110).role = Role::kAccent;
    put(Beat(4 * bar + 3), piece::kSnare, 110).role = Role::kAccent;
  }
  EXPECT_EQ(count(FindingKind::kBackbeatMissing), 0) << "the hats leave their eighths";
  for (int i = 2; i < 8; ++i) put(Beat(8) + Beat(i, 2), piece::kHat, 60 + 10 * (i % 2));
  EXPECT_EQ(count(FindingKind::kBackbeatMissing), 1);
}

TEST_F(CheckTest, AHandThatWasSetSharesItsRoll) {
  song.tempo.front().bpm = Bpm{150};
  for (int i = 0; i < 4; ++i) put(Beat(i, 4), piece::kSnare).limb = Limb::kRightHand;
  const Finding f = only(FindingKind::kHard);
  EXPECT_EQ(f.fix(), "spread it over both hands");
  EXPECT_EQ(f.mends.back().text, "slow down to 125 BPM");  // 120 ms to the third stroke
  const Song slower = withMend(song, f.mends.back());
  EXPECT_EQ(slower.tempo.front().bpm.value, 125);
  mend(f);
  EXPECT_EQ(groove.hits[1].limb, Limb::kAutomatic);
  groove.hits.clear();
  for (int i = 0; i < 4; ++i) put(Beat(i, 4), piece::kSnare).limb = Limb::kRightHand;
  song = slower;
  EXPECT_EQ(count(FindingKind::kHard), 0);
}

TEST_F(CheckTest, AWayAcrossTheKitStaysOnThePieceBefore) {
  song.tempo.front().bpm = Bpm{140};  // 107 ms: 75 are comfortable, 125 with the way
  put(Beat(1), piece::kTomHigh).limb = Limb::kRightHand;
  Hit& far = put(Beat(5, 4), piece::kTomFloor);
  far.limb = Limb::kRightHand;
  put(Beat(1, 2), piece::kSnare).limb = Limb::kLeftHand;
  const Finding f = only(FindingKind::kHard);
  EXPECT_NE(f.text.find("the way from piece to piece"), std::string::npos) << f.text;
  EXPECT_EQ(f.fix(), "let the other hand take one");
  ASSERT_EQ(f.mends.size(), 3U);
  EXPECT_EQ(f.mends[1].text, "play it on Rack tom");
  song = withMend(song, f.mends[1]);
  groove = *song.findGroove("g");
  EXPECT_TRUE(indexOf(groove, {Beat(5, 4), piece::kTomHigh}));
  EXPECT_EQ(count(FindingKind::kHard), 0);
}

TEST_F(CheckTest, TheFootThatLeadsComesBackWithTheNextOddGroup) {
  Kit kit = houseKit();
  kit.setup.doublePedal = true;
  song.kit = SharedValue<Kit>(kit);
  for (int i = 0; i < 3; ++i) {
    put(Beat(i, 4), piece::kKick);
    put(Beat(2) + Beat(i, 4), piece::kKick);
  }
  std::vector<std::string> texts;
  for (const Finding& f : checked().findings) {
    if (f.kind == FindingKind::kLeadFoot) texts.push_back(f.text);
  }
  ASSERT_EQ(texts.size(), 2U);
  EXPECT_NE(texts[0].find("the other foot leads next, until after 3"), std::string::npos)
      << texts[0];
  EXPECT_NE(texts[1].find("the first foot leads again"), std::string::npos) << texts[1];
  groove = withoutHits(groove, {{Beat(2), piece::kKick}});
  EXPECT_NE(only(FindingKind::kLeadFoot).text.find("the next time round"), std::string::npos);
}

// At 90 BPM a sixteenth is 167 ms; the foot of the hats needs 130.
TEST_F(CheckTest, TheSecondPedalAndTheHatsWantTheSameFoot) {
  Kit kit = houseKit();
  kit.setup.doublePedal = true;
  song.kit = SharedValue<Kit>(kit);
  Hit& open = put(Beat(0), piece::kHat);
  open.open = 0.6;
  open.openFor = Beat(1, 2);
  put(Beat(1, 4), piece::kKick);
  put(Beat(1, 2), piece::kKick);  // the left foot's
  Finding f = only(FindingKind::kTwoPlaces);
  EXPECT_EQ(f.severity, Severity::kError);
  EXPECT_EQ(f.inGroove, Beat(1, 2));
  EXPECT_EQ(f.value, 0);
  kit.setup.doublePedal = false;
  song.kit = SharedValue<Kit>(kit);
  EXPECT_EQ(count(FindingKind::kTwoPlaces), 0);
}

// At 100 BPM 130 ms are 13/60 of a quarter note: that is time enough, before and after.
TEST_F(CheckTest, AFootMayGoFromPedalToPedalInTheTimeItNeeds) {
  Kit kit = houseKit();
  kit.setup.doublePedal = true;
  song.kit = SharedValue<Kit>(kit);
  song.tempo = {{Beat(0), Bpm{100}, {}}};
  Hit& open = put(Beat(0), piece::kHat);
  open.open = 0.6;
  open.openFor = Beat(1);
  const Groove hats = groove;
  for (const int by : {-14, -13, -12, -1, 1, 12, 13, 14}) {
    groove = hats;
    put(Beat(1) + Beat(by, 60), piece::kKick).limb = Limb::kLeftFoot;
    EXPECT_EQ(count(FindingKind::kTwoPlaces), std::abs(by) < 13 ? 1 : 0) << by;
  }
}

// Nearer than 12 ms two strokes are one sound, whatever is asked for.
TEST_F(CheckTest, AGraceNoteNeedsTwelveMilliseconds) {
  for (const int gap : {9, 11, 12, 13, 30}) {
    Hit& flam = put(Beat(1), piece::kSnare);
    flam.ornament = Ornament::kFlam;
    flam.ornamentGap = Milliseconds(gap);
    EXPECT_EQ(count(FindingKind::kSqueezed), gap < 12 ? 1 : 0) << gap;
  }
}

TEST_F(CheckTest, SlotsThatPressVelocitiesFlat) {
  Feel feel;
  feel.id = feel.name = groove.feel = "f";
  Slot slot;
  slot.at = Beat(1);
  slot.velocity = 20;
  feel.slots.push_back(slot);
  slot.at = Beat(3);
  feel.slots.push_back(slot);
  song.feels = {feel};
  put(Beat(1), piece::kSnare, 108);
  put(Beat(3), piece::kSnare, 106);
  EXPECT_EQ(count(FindingKind::kFlatVelocity), 0);
  put(Beat(3), piece::kSnare, 110);
  const Finding f = only(FindingKind::kFlatVelocity);
  EXPECT_EQ(f.value, 2);
  EXPECT_NE(f.text.find("written 108 to 110"), std::string::npos) << f.text;
}

TEST_F(CheckTest, ABarThatIsThereTwice) {
  groove.bars = 6;
  const auto bar = [&](int index, bool second) {
    put(Beat(4 * index), piece::kKick);
    put(Beat(4 * index + (second ? 3 : 2)), piece::kKick);
  };
  for (int i = 0; i < 6; ++i) bar(i, i % 2 == 1);
  EXPECT_EQ(count(FindingKind::kBarLate), 0);
  groove.hits.clear();
  for (const int i : {0, 1, 2, 3, 4, 5}) bar(i, i < 4 ? i % 2 == 1 : i % 2 == 0);  // A B A B B A
  const Finding f = only(FindingKind::kBarLate);
  EXPECT_EQ(f.severity, Severity::kNote);
  EXPECT_EQ(f.bar, 4);
  EXPECT_EQ(f.value, 2);
  mend(f);
  EXPECT_TRUE(indexOf(groove, {Beat(18), piece::kKick}));
  EXPECT_TRUE(indexOf(groove, {Beat(23), piece::kKick}));
}

// A A B C, and an A too many: the last of the three is the one that is late.
TEST_F(CheckTest, ABarTooManyAmongEqualOnesIsTheLastOfThem) {
  const std::string bars = "AABCAAABCA";
  groove.bars = static_cast<int>(bars.size());
  for (std::size_t i = 0; i < bars.size(); ++i) {
    const Beat start(4 * static_cast<int>(i));
    put(start, piece::kKick);
    if (bars[i] != 'A') put(start + Beat(bars[i] - 'A'), piece::kKick);
  }
  const Finding f = only(FindingKind::kBarLate);
  EXPECT_EQ(f.bar, 6);
  EXPECT_EQ(f.value, 4);
}

TEST_F(CheckTest, AVersionThatLostStrokesOfItsCore) {
  Groove core = groove;
  put(Beat(0), piece::kKick);
  put(Beat(1), piece::kSnare);
  core.hits = groove.hits;
  core.id = core.name = "core";
  groove.core = "core";
  const auto checkBoth = [&] {
    song.grooves = {SharedValue<Groove>(core), SharedValue<Groove>(groove)};
    return check(**Take::ofSong(song), {}, builtInKitMaps().front()).findings;
  };
  EXPECT_TRUE(checkBoth().empty());
  groove = withoutHits(groove, {{Beat(1), piece::kSnare}});
  const std::vector<Finding> found = checkBoth();
  ASSERT_EQ(found.size(), 1U);
  EXPECT_EQ(found.front().kind, FindingKind::kCoreLost);
  EXPECT_EQ(found.front().severity, Severity::kNote);
  groove = mendedGroove(withGroove(song, groove), found.front().mends.front());
  EXPECT_TRUE(checkBoth().empty());
}

// Every mending removes what it is offered for.
TEST(Check, MendingsMend) {
  Random random(8);
  std::map<FindingKind, int> mended;
  int tried = 0, heavier = 0;
  for (int i = 0; i < rounds(12); ++i) {
    Song song = randomSong(random);
    for (auto& feel : song.feels) feel.drift.reset();
    const Result<SharedTake> take = Take::ofSong(song);
    if (!take) continue;
    const KitMap& map = builtInKitMaps().front();
    const auto all = check(**take, {}, map).findings;
    for (const Finding& f : all) {
      // The hats' are mended in rounds (HatPedal tests).
      if (f.mends.empty() || f.kind >= FindingKind::kCutOpening) continue;
      if (++mended[f.kind] > 2) continue;
      const Result<SharedTake> after = Take::ofSong(withMend(song, f.mends.front()));
      ASSERT_TRUE(after) << f.text;
      const std::vector<Finding> then = check(**after, {}, map).findings;
      const auto places = [&](const std::vector<Finding>& of) {
        std::set<std::tuple<FindingKind, std::string, Beat>> out;
        for (const Finding& g : of) {
          if (g.severity > f.severity) out.emplace(g.kind, g.groove, g.inGroove);
        }
        return out.size();
      };
      heavier += places(then) > places(all) ? 1 : 0;
      const bool still = [&] {
        for (const Finding& g : then) {
          if (g.kind == f.kind && g.groove == f.groove && g.inGroove == f.inGroove &&
              g.pieces == f.pieces && g.text == f.text) {
            return true;
          }
        }
        return false;
      }();
      EXPECT_FALSE(still) << i << ": " << findingWord(f.kind) << " " << f.text << " / " << f.fix();
      ++tried;
    }
  }
  EXPECT_GT(mended.size(), 7U);
  EXPECT_GE(tried, rounds(12));
  EXPECT_EQ(heavier, 0);
}

// Repetitions that are equal are looked at once and counted all the same: twice as many repetitions
// give the same findings, with as many more times.
TEST(Check, RepetitionsAreCountedWithoutBeingLookedAt) {
  const auto found = [](int times) {
    Song song = testing::songOf({}, 1);
    song.tempo = {{Beat(0), Bpm{200}, {}}};
    song.grooves[0].edit([](Groove& g) {
      for (int i = 0; i < 16; ++i) g.hits.push_back(testing::hitAt(Beat(i, 4), piece::kHat));
      g.hits.push_back(testing::hitAt(Beat(1, 2), piece::kTomFloor));
      std::stable_sort(g.hits.begin(), g.hits.end(), writtenBefore);
    });
    song.arrangement[0].repeat = times;
    return check(**Take::ofSong(song), {}, builtInKitMaps().front()).findings;
  };
  const std::vector<Finding> some = found(5), many = found(205), more = found(405);
  ASSERT_FALSE(some.empty());
  ASSERT_EQ(many.size(), more.size());
  std::size_t grown = 0;
  for (std::size_t i = 0; i < many.size(); ++i) {
    EXPECT_EQ(many[i].kind, more[i].kind);
    EXPECT_EQ(many[i].value, more[i].value);
    EXPECT_EQ(many[i].text, more[i].text);
    // A bar's worth for each of 200 bars, or half of it where the hands go over two.
    EXPECT_EQ((more[i].times - many[i].times) % 100, 0) << many[i].text;
    grown += more[i].times > many[i].times ? 1 : 0;
  }
  EXPECT_GT(grown, 0U) << "some are at the song's ends alone";
  Song song = testing::songOf({testing::hitAt(Beat(0), piece::kSnare)}, 1);
  song.arrangement[0].repeat = 20'000;
  const auto take = Take::ofSong(song);
  const FoldedBlocks folded = foldedBlocks((*take)->score());
  EXPECT_EQ(std::accumulate(folded.times.begin(), folded.times.end(), 0), 20'000);
  EXPECT_EQ(bodyPart(**take, std::nullopt, &folded).hands.size(), 6U);
}

// A whole groove in triplets under a feel written straight is told, with its mending; a beat alone
// in triplets needs none.
TEST(Check, TripletsThatAreSwungAreANote) {
  Song song = testing::songOf({}, 1);
  Feel feel;
  feel.id = "f";
  feel.swing.ratio = 1.8;
  song.feels = {feel};
  song.grooves[0].edit([](Groove& g) {
    g.feel = "f";
    g.grid = {8, 3};
    for (int i = 0; i < 12; ++i) g.hits.push_back(testing::hitAt(Beat(i, 3), piece::kHat));
  });
  const auto notes = [](const Song& of) {
    std::vector<Finding> out;
    for (Finding& f : check(**Take::ofSong(of), {}, builtInKitMaps().front()).findings)
      if (f.kind == FindingKind::kUnevenNotes) out.push_back(std::move(f));
    return out;
  };
  const std::vector<Finding> told = notes(song);
  ASSERT_EQ(told.size(), 1U);
  EXPECT_EQ(told[0].severity, Severity::kNote);
  ASSERT_EQ(told[0].mends.size(), 1U);
  EXPECT_TRUE(notes(withMend(song, told[0].mends[0])).empty());
  song.grooves[0].edit([](Groove& g) {
    g.grid = {16, 0};
    for (int i = 0; i < 4; ++i) g.beatGrids[Beat(i)] = {8, 3};
  });
  EXPECT_TRUE(notes(song).empty());
}

}  // namespace
}  // namespace uneven
