// SPDX-License-Identifier: GPL-3.0-or-later
// Feels: what they add, how they follow each other, their file and their tools.
#include <gtest/gtest.h>

#include <cmath>

#include "core/io/song_json.h"
#include "core/measure/pivot.h"
#include "core/measure/pull_together.h"
#include "core/measure/seam.h"
#include "core/measure/unison.h"
#include "core/perform/displacement.h"
#include "core/perform/performance.h"
#include "core/song/edit.h"
#include "core/take/take.h"
#include "core/tools/tool.h"
#include "tests/support/made.h"
#include "tests/support/random_song.h"

namespace uneven {
namespace {

using testing::hitAt;
using testing::played;
using testing::Random;

// Two bars at 120 bpm, each a section with a feel of its own: the first straight.
Song twoFeels(std::vector<Hit> hits, const Feel& second) {
  Song song = blankSong();
  song.grooves[0].edit([&](Groove& g) {
    g.bars = 1;
    g.hits = std::move(hits);
  });
  Feel after = second;
  after.id = "after";
  song.feels.push_back(after);
  song.arrangement.push_back(song.arrangement[0]);
  song.arrangement[0].feel = "straight";
  song.arrangement[1].feel = "after";
  return song;
}

std::vector<Hit> eighths() {
  std::vector<Hit> hits;
  for (int i = 0; i < 8; ++i) hits.push_back(hitAt(Beat(i, 2), piece::kHat));
  return hits;
}

std::string id(const Song& song) {
  return song.grooves[0]->id;
}

TEST(Seam, AtOnceTheLongNoteJumpsByAThird) {
  // Pairs of 500 ms: long 250 -> 333.3 ms (arithmetic).
  Feel swung;
  swung.swing.ratio = 2;
  const auto found = seams(*arrange(twoFeels(eighths(), swung)));
  ASSERT_EQ(found.size(), 1U);
  EXPECT_EQ(found[0].section, 1U);
  EXPECT_NEAR(found[0].jump.count(), 83.333, 0.001);
  EXPECT_NEAR(found[0].share, 1.0 / 3, 1e-6);
}

TEST(Seam, OverFourBeatsItIsAsWorkedByHand) {
  // Middles of the pairs at x = 1/8, 3/8, 5/8, 7/8: w = x x (3 - 2x) = 11/256, 81/256, 175/256,
  // 245/256. The target point goes from 1/2 by w/6; its steps are 11, 70, 94, 70, 11 of 256/6, the
  // greatest 94/1536 of 500 ms = 30.599 ms.
  Feel swung;
  swung.swing.ratio = 2;
  Song song = twoFeels(eighths(), swung);
  song.arrangement[1].morph = Beat(4);
  const auto found = seams(*arrange(song));
  ASSERT_EQ(found.size(), 1U);
  EXPECT_NEAR(found[0].jump.count(), 94.0 / 1536 * 500, 0.001);
  // The offbeats fall where the steps add up to.
  const Performance p = played(song);
  const double expected[] = {11.0 / 1536, 81.0 / 1536, 175.0 / 1536, 245.0 / 1536};
  for (std::size_t k = 0; k < 4; ++k) {
    const Stroke& off = p.strokes[8 + 2 * k + 1];
    EXPECT_NEAR(toMilliseconds(off.time).count(),
                2000 + 500 * (static_cast<double>(k) + 0.5 + expected[k]), 0.001);
  }
}

TEST(Seam, ALongerMorphJumpsLessAndNothingOnTheBeatMoves) {
  Random random(51);
  int compared = 0;
  for (int i = 0; i < 60; ++i) {
    Feel after = testing::randomFeel(random, "x");
    after.drift.reset();
    after.swing.linked = false;
    Song song = twoFeels(eighths(), after);
    song.arrangement[1].repeat = 8;
    song.feels[0].swing.unit = after.swing.unit;
    double before = 1e9;
    for (const int beats : {0, 8, 32}) {
      song.arrangement[1].morph = Beat(beats);
      const double jump = seams(*arrange(song))[0].jump.count();
      EXPECT_LE(jump, before + 1e-9);
      before = jump;
      for (const Stroke& s : played(song).strokes) {
        if (s.at.den() != 1) continue;
        EXPECT_EQ(s.grid, toMoment(Milliseconds(500 * (4.0 * s.bar + s.at.toDouble()))));
        ++compared;
      }
    }
  }
  EXPECT_GT(compared, 1000);
}

TEST(Displacement, AddsPieceLimbSlotAndNudge) {
  Hit h = hitAt(Beat(1), piece::kSnare);
  h.nudge = Milliseconds(-2.5);
  Feel feel;
  feel.displacement[piece::kSnare] = Milliseconds(12);
  feel.limbDisplacement[Limb::kLeftHand] = Milliseconds(3);
  setSlot(feel, Beat(1), std::nullopt, Milliseconds(4));
  setSlot(feel, Beat(1), piece::kSnare, Milliseconds(1));
  setSlot(feel, Beat(1), piece::kHat, Milliseconds(50));
  Song song = twoFeels({h}, feel);
  EXPECT_EQ(played(song).strokes[1].time - played(song).strokes[1].grid,
            toMoment(Milliseconds(17.5)));
  const ShiftParts parts = shiftOf(feel, h, Limb::kLeftHand, Beat(1), 1);
  EXPECT_EQ(parts.piece, Milliseconds(12));
  EXPECT_EQ(parts.limb, Milliseconds(3));
  EXPECT_EQ(parts.slot, Milliseconds(5));
  EXPECT_EQ(parts.nudge, Milliseconds(-2.5));
  song.feels[1].limits[Role::kNormal] = Milliseconds(10);
  const Performance limited = played(song);
  EXPECT_EQ(limited.strokes[1].time - limited.strokes[1].grid, toMoment(Milliseconds(10)));
  EXPECT_EQ(limited.limited, 1);
}

TEST(Displacement, KeepsItsShareOfTheBeatWhereAsked) {
  Feel feel;
  feel.displacement[piece::kSnare] = Milliseconds(12);
  feel.shareOf = Bpm{120};
  Song song = twoFeels({hitAt(Beat(1), piece::kSnare)}, feel);
  song.tempo.push_back({Beat(4), Bpm{60}, {}});
  // Twice as long a beat, twice as far.
  EXPECT_EQ(played(song).strokes[1].time - played(song).strokes[1].grid,
            toMoment(Milliseconds(24)));
  song.feels[1].shareOf.reset();
  EXPECT_EQ(played(song).strokes[1].time - played(song).strokes[1].grid,
            toMoment(Milliseconds(12)));
}

TEST(Displacement, OnlyTheLeftHandSwings) {
  std::vector<Hit> hits = eighths();
  for (Hit& h : hits) h.limb = h.at.den() == 1 ? Limb::kRightHand : Limb::kLeftHand;
  Hit right = hitAt(Beat(1, 2), piece::kRide);
  right.limb = Limb::kRightHand;
  hits.push_back(right);
  Feel feel;
  feel.swing.ratio = 3;
  feel.swing.limbDepth[Limb::kRightHand] = 0;
  for (const Stroke& s : played(twoFeels(hits, feel)).strokes) {
    if (s.bar == 0) continue;
    const double straight = 500 * (4 + s.at.toDouble());
    const bool moves = s.limb == Limb::kLeftHand;
    EXPECT_NEAR(toMilliseconds(s.time).count(), straight + (moves ? 125 : 0), 1e-6);
  }
}

TEST(Displacement, AStrokeThatWouldPassItsNeighbourIsHeldAndCounted) {
  // Sixteenths at 120 bpm are 125 ms apart: a nudge of 180 ms would pass the next.
  Hit late = hitAt(Beat(1, 4), piece::kSnare);
  late.nudge = Milliseconds(180);
  Song song =
      twoFeels({late, hitAt(Beat(1, 2), piece::kSnare), hitAt(Beat(1, 4), piece::kKick)}, {});
  song.arrangement.pop_back();
  const Performance p = played(song);
  EXPECT_EQ(p.held, 1);
  ASSERT_EQ(p.strokes.size(), 3U);
  EXPECT_EQ(p.strokes[1].hit, 0U);  // the snare, 1 ms before the one it would pass
  EXPECT_EQ(p.strokes[1].time, toMoment(Milliseconds(249)));
  EXPECT_EQ(p.strokes[2].time, toMoment(Milliseconds(250)));
}

TEST(Unison, MeasuresTheSpreadAndPullsTogetherKeepingTheMean) {
  Feel feel;
  feel.displacement = {{piece::kSnare, Milliseconds(14)},
                       {piece::kHat, Milliseconds(-4)},
                       {piece::kKick, Milliseconds(2)}};
  Song song = twoFeels({hitAt(1, piece::kHat), hitAt(1, piece::kSnare), hitAt(1, piece::kKick),
                        hitAt(2, piece::kHat)},
                       feel);
  song.arrangement.erase(song.arrangement.begin());
  const Performance p = played(song);
  const auto found = unisons(p);
  ASSERT_EQ(found.size(), 1U);
  EXPECT_EQ(widest(found), &found[0]);
  EXPECT_EQ(found[0].at, Beat(1));
  EXPECT_NEAR(found[0].spread.count(), 18, 1e-6);
  // Snare and hat alone: their mean is 5 ms late.
  const auto pulled = pullTogether(song, id(song), {}, {piece::kSnare, piece::kHat}, {});
  ASSERT_TRUE(pulled);
  EXPECT_EQ(pulled->positions, 1);
  EXPECT_EQ(pulled->hits, 2);
  for (const Stroke& s : played(withGroove(song, pulled->groove)).strokes) {
    if (s.at != Beat(1)) continue;
    EXPECT_EQ(toMilliseconds(s.time).count(), s.piece == piece::kKick ? 502 : 505);
  }
  EXPECT_EQ(pullTogether(song, id(song), {}, {}, Milliseconds(20))->hits, 0) << "below the bound";
}

TEST(Unison, AnyGrooveIsTogetherOncePulled) {
  Random random(52);
  int checked = 0;
  for (int i = 0; i < 150; ++i) {
    Song song = testing::randomSong(random);
    for (Feel& feel : song.feels) feel.limits.clear();
    const std::string groove = id(song);
    if ((*Take::ofGroove(song, groove))->performance().held > 0) continue;
    const auto pulled = pullTogether(song, groove, {}, {}, {});
    ASSERT_TRUE(pulled);
    const Performance after =
        (*Take::ofGroove(withGroove(song, pulled->groove), groove))->performance();
    if (after.held > 0) continue;
    for (const Unison& u : unisons(after)) {
      bool atLimit = false;
      for (const std::size_t s : u.strokes) {
        const Milliseconds nudge = pulled->groove.hits[after.strokes[s].hit].nudge;
        atLimit = atLimit || std::abs(nudge.count()) >= kShiftMax.count();
      }
      if (atLimit) continue;
      EXPECT_LE(u.plain.count(), 0.002);
      ++checked;
    }
  }
  EXPECT_GT(checked, 100);
}

TEST(Pivot, IsGuessedFromWhereTheHitsStand) {
  Groove straight;
  straight.hits = eighths();
  EXPECT_EQ(guessWritten(straight, SwingUnit::kEighth).written, Written::kStraight);
  EXPECT_EQ(guessWritten(straight, SwingUnit::kEighth).straight, 4);
  Groove triplets;
  for (int i = 0; i < 12; ++i) triplets.hits.push_back(hitAt(Beat(i, 3), piece::kHat));
  EXPECT_EQ(guessWritten(triplets, SwingUnit::kEighth).written, Written::kTriplet);
  EXPECT_EQ(guessWritten(triplets, SwingUnit::kEighth).triplet, 8);
}

TEST(FeelFile, RoundTripIsIdentity) {
  Random random(53);
  for (int i = 0; i < 200; ++i) {
    const Feel feel = testing::randomFeel(random, "a feel");
    const auto again = readFeel(writeFeel(feel, houseKit()), "x.json", houseKit());
    ASSERT_TRUE(again) << again.error().line();
    EXPECT_EQ(*again, feel);
  }
}

TEST(FeelFile, SaysWhereAndWhat) {
  const auto read = [](const std::string& text) {
    const auto feel = readFeel(text, "loose.json", houseKit());
    return feel ? std::string("read") : feel.error().line();
  };
  EXPECT_NE(read("{\"format\": \"uneven-stick-song\", \"version\": 1}").find("not a feel"),
            std::string::npos);
  EXPECT_NE(read("{\"format\": \"uneven-stick-feel\", \"version\": 9, \"feel\": {}}").find("newer"),
            std::string::npos);
  const std::string odd = read(
      "{\"format\": \"uneven-stick-feel\", \"version\": 1, \"feel\": {\"id\": \"a\",\n"
      " \"displacement\": {\"gong\": 3}}}");
  EXPECT_NE(odd.find("loose.json:2:"), std::string::npos) << odd;
  EXPECT_NE(odd.find("no piece \"gong\""), std::string::npos) << odd;
  for (const char* bad : {"\"limb_depth\": {\"automatic\": 1}", "\"tempo_linked\": 1"}) {
    const std::string text = std::string(
                                 "{\"format\": \"uneven-stick-feel\", \"version\": 1, "
                                 "\"feel\": {\"id\": \"a\", \"swing\": {") +
                             bad + "}}}";
    EXPECT_NE(read(text).find("loose.json:1:"), std::string::npos) << read(text);
  }
  const std::string whole =
      writeFeel(testing::randomFeel(*std::make_unique<Random>(5), "f"), houseKit());
  for (std::size_t cut = 0; cut + 3 < whole.size(); ++cut) {
    EXPECT_FALSE(readFeel(whole.substr(0, cut), "x.json", houseKit()));
  }
}

// What the tool makes of the feel in force.
Feel after(const Song& song, const char* tool, const Arguments& arguments) {
  const auto outcome = runTool(tool, song, id(song), arguments);
  EXPECT_TRUE(outcome) << (outcome ? "" : outcome.error().message);
  return outcome ? *outcome->song.findFeel(feelInForce(outcome->song, id(song))) : Feel{};
}

std::string refusal(const Song& song, const char* tool, const Arguments& arguments) {
  const auto outcome = runTool(tool, song, id(song), arguments);
  return outcome ? "done" : outcome.error().message;
}

TEST(FeelTools, SetSwingInEveryUnit) {
  const Song song = blankSong();  // 120 bpm: a pair of eighths lasts 500 ms
  EXPECT_EQ(after(song, "swing", {{"unit", "1/8"}, {"ratio", "1.5"}}).swing.ratio, 1.5);
  EXPECT_NEAR(after(song, "swing", {{"unit", "1/8"}, {"percent", "60"}}).swing.ratio, 1.5, 1e-12);
  EXPECT_NEAR(after(song, "swing", {{"unit", "1/8"}, {"short_ms", "200"}}).swing.ratio, 1.5, 1e-12);
  EXPECT_TRUE(after(song, "swing", {{"by_tempo", "yes"}}).swing.linked);
  EXPECT_NE(refusal(song, "swing", {{"ratio", "2"}, {"percent", "60"}}).find("one of"),
            std::string::npos);
  EXPECT_NE(refusal(song, "swing", {{"unit", "1/8"}, {"short_ms", "260"}}).find("50.0..250.0 ms"),
            std::string::npos);
  EXPECT_NE(refusal(song, "swing", {{"percent", "95"}}).find("50..90"), std::string::npos);
}

TEST(FeelTools, SetDepthDisplacementLimitsAndDrift) {
  const Song song = blankSong();
  EXPECT_EQ(after(song, "swing-depth", {{"limb", "left-hand"}, {"depth", "0.5"}})
                .swing.limbDepth.at(Limb::kLeftHand),
            0.5);
  EXPECT_NE(refusal(song, "swing-depth", {{"depth", "0.5"}}).find("either"), std::string::npos);
  EXPECT_EQ(
      after(song, "displace", {{"piece", "snare"}, {"ms", "12"}}).displacement.at(piece::kSnare),
      Milliseconds(12));
  const Feel slots = after(song, "displace", {{"slot", "3/4"}, {"ms", "-6"}});
  ASSERT_EQ(slots.slots.size(), 1U);
  EXPECT_EQ(slots.slots[0].at, Beat(3, 4));
  EXPECT_EQ(after(song, "limit", {{"role", "ghost"}, {"ms", "9"}}).limits.at(Role::kGhost),
            Milliseconds(9));
  EXPECT_EQ(after(song, "keep", {{"what", "share"}}).shareOf, Bpm{120});
  const Feel drifting =
      after(song, "drift", {{"preset", "settled"}, {"motor_ms", "6"}, {"take", "12"}});
  ASSERT_TRUE(drifting.drift);
  EXPECT_EQ(drifting.drift->clock, Milliseconds(4));
  EXPECT_EQ(drifting.drift->motor, Milliseconds(6));
  EXPECT_EQ(drifting.drift->seed, 12U);
}

TEST(FeelTools, TakeBackWhatTheySet) {
  Song song = blankSong();
  const auto run = [&](const char* tool, const Arguments& arguments) {
    const auto outcome = runTool(tool, song, id(song), arguments);
    ASSERT_TRUE(outcome) << outcome.error().message;
    song = outcome->song;
  };
  const auto feel = [&] { return *song.findFeel(feelInForce(song, id(song))); };
  run("limit", {{"role", "accent"}, {"ms", "8"}});
  run("limit", {{"role", "accent"}});
  EXPECT_TRUE(feel().limits.empty()) << "without ms the limit is gone";
  run("keep", {{"what", "share"}});
  run("keep", {{"what", "ms"}});
  EXPECT_FALSE(feel().shareOf);
  run("drift", {{"clock_ms", "3"}, {"exponent", "0.8"}, {"velocity", "2"}});
  run("drift", {{"limb", "left-foot"}, {"factor", "1.5"}});
  ASSERT_TRUE(feel().drift);
  EXPECT_EQ(feel().drift->clock, Milliseconds(3)) << "a limb's factor leaves the rest";
  EXPECT_EQ(feel().drift->exponent, 0.8);
  EXPECT_EQ(feel().drift->velocity, 2);
  EXPECT_EQ(feel().drift->limbs.at(Limb::kLeftFoot), 1.5);
  run("drift", {{"preset", "machine"}});
  EXPECT_EQ(feel().drift->clock, Milliseconds(0));
  run("displace", {{"limb", "left-hand"}, {"ms", "7"}});
  EXPECT_EQ(feel().limbDisplacement.at(Limb::kLeftHand), Milliseconds(7));
}

TEST(FeelTools, RefuseWhatMeansNothing) {
  const Song song = blankSong();
  const auto refused = [&](const char* tool, const Arguments& arguments, const char* word) {
    const std::string why = refusal(song, tool, arguments);
    EXPECT_NE(why.find(word), std::string::npos) << tool << ": " << why;
  };
  refused("displace", {{"ms", "5"}}, "either");
  refused("displace", {{"piece", "snare"}, {"limb", "left-hand"}, {"ms", "5"}}, "either");
  refused("displace", {{"slot", "3/4"}, {"limb", "left-hand"}, {"ms", "5"}}, "a slot is");
  refused("displace", {{"piece", "gong"}, {"ms", "5"}}, "gong");
  refused("limit", {{"role", "loud"}}, "loud");
  refused("drift", {{"preset", "wild"}}, "wild");
  refused("drift", {{"motor_ms", "-1"}}, "motor_ms");
  refused("pull-together", {{"pieces", "kick,gong"}}, "gong");
  refused("morph", {{"section", "9"}}, "section");
  refused("swing", {{"ratio", "12"}}, "ratio");
  // Nothing to pull is no error.
  EXPECT_EQ(refusal(song, "pull-together", {{"pieces", "kick,snare"}}), "done");
}

TEST(FeelTools, MorphTellsTheSeam) {
  Feel swung;
  swung.swing.ratio = 2;
  const Song song = twoFeels(eighths(), swung);
  const auto outcome = runTool("morph", song, id(song), {{"section", "2"}, {"beats", "4"}});
  ASSERT_TRUE(outcome);
  EXPECT_EQ(outcome->song.arrangement[1].morph, Beat(4));
  ASSERT_EQ(outcome->notes.size(), 1U);
  EXPECT_NE(outcome->notes[0].find("30.6 ms"), std::string::npos) << outcome->notes[0];
  EXPECT_NE(refusal(song, "morph", {{"section", "3"}}).find("2 sections"), std::string::npos);
}

TEST(Feels, AreAddedAndTakenAway) {
  Song song = blankSong();
  std::string first, second;
  Feel feel;
  feel.name = "Pocket";
  song = withNewFeel(song, feel, "pocket", first);
  song = withNewFeel(song, feel, "pocket", second);
  EXPECT_EQ(first, "pocket");
  EXPECT_EQ(second, "pocket-2");
  EXPECT_EQ(song.findFeel(second)->name, "Pocket 2");
  song = withFeelInForce(song, id(song), second);
  song = withoutFeel(song, second);
  EXPECT_EQ(song.findFeel(second), nullptr);
  EXPECT_EQ(feelInForce(song, id(song)), "");
  EXPECT_TRUE(arrange(song));
}

// What is said to be written the other way stays where it is written.
TEST(Written, TheOtherWayMovesNoStroke) {
  for (const auto& [step, unit] :
       {std::pair{Beat(1, 3), SwingUnit::kEighth}, {Beat(1, 6), SwingUnit::kSixteenth}}) {
    Song song = blankSong();
    song.feels[0].swing = {};
    song.grooves[0].edit([&, step = step](Groove& g) {
      g.feel = song.feels[0].id;
      for (int i = 0; i < 4; ++i) {
        for (const int partial : {0, 2}) {
          Hit hit;
          hit.at = Beat(i) + Beat(partial) * step;
          hit.piece = piece::kSnare;
          g.hits.push_back(hit);
        }
      }
    });
    const auto times = [](const Song& s) {
      std::vector<Moment> out;
      for (const Stroke& stroke : perform(*arrange(s)).strokes) out.push_back(stroke.time);
      return out;
    };
    Song after = song;
    after.feels[0].swing = writtenAs(*song.grooves[0], song.feels[0].swing, Written::kTriplet);
    EXPECT_EQ(after.feels[0].swing.unit, unit);
    EXPECT_EQ(after.feels[0].swing.ratio, 2);
    EXPECT_EQ(times(after), times(song));
    after.feels[0].swing = writtenAs(*song.grooves[0], after.feels[0].swing, Written::kStraight);
    EXPECT_EQ(times(after), times(song));
  }
}

}  // namespace
}  // namespace uneven
