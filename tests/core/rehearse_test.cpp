// SPDX-License-Identifier: GPL-3.0-or-later
// Takes beside the part, the simulated player, clicks, steps, ladders and plans.
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <random>

#include "core/rehearse/alignment.h"
#include "core/rehearse/click.h"
#include "core/rehearse/plan.h"
#include "core/rehearse/simulated.h"
#include "core/rehearse/steps.h"
#include "tests/support/lanes.h"
#include "tests/support/random_song.h"

namespace uneven {
namespace {

Song part(double bpm = 96) {
  Song song = testing::songOfLanes(
      {{"hat", "x.s.x.s.x.s.x.o."}, {"snare", "....X..g.g..X..g"}, {"kick", "X.....x.x.x....."}},
      Beat(1, 4), bpm);
  Feel feel;
  feel.id = feel.name = "laid back";
  feel.swing.unit = SwingUnit::kSixteenth;
  feel.swing.ratio = 1.4;
  feel.displacement[piece::kSnare] = Milliseconds(12);
  song.feels.push_back(feel);
  song.grooves[0].edit([](Groove& g) { g.feel = "laid back"; });
  return song;
}

SharedTake alone(const Song& song) {
  const Result<SharedTake> take = Take::ofGroove(song, song.grooves[0]->id);
  EXPECT_TRUE(take);
  return *take;
}

int count(const Alignment& a, PlayedState state) {
  return static_cast<int>(std::count_if(a.strokes.begin(), a.strokes.end(),
                                        [&](const AlignedStroke& s) { return s.state == state; }));
}

TEST(Alignment, OfThePartItselfIsClean) {
  const SharedTake take = alone(part());
  const SimulatedTake played = playedBy(*take, {}, 4);
  const Alignment a = align(*take, played.onsets);
  EXPECT_EQ(a.strokes.size(), played.onsets.size());
  EXPECT_EQ(a.rounds, 4);
  EXPECT_EQ(a.missing + a.extra + a.wrong, 0);
  EXPECT_NEAR(a.all.mean.count(), 0, 1e-6);
  EXPECT_TRUE(isClean(a));
  EXPECT_EQ(align(*take, {}).strokes.size(), 0U);
  EXPECT_FALSE(isClean(align(*take, {})));
}

// Known faults in random takes: all of them are found, and sizes lie within the sampling error.
TEST(Alignment, EveryKnownFaultIsFound) {
  const SharedTake take = alone(part());
  for (int seed = 1; seed <= testing::rounds(100); ++seed) {
    std::mt19937 random(static_cast<unsigned>(seed));
    Skill skill;
    skill.seed = static_cast<std::uint64_t>(seed);
    skill.bias = Milliseconds(static_cast<int>(random() % 31) - 15);
    skill.spread = Milliseconds(1 + random() % 8);
    skill.velocitySpread = 4;
    skill.misses = 0.06;
    skill.extras = 0.05;
    skill.wrong = 0.03;
    const SimulatedTake played = playedBy(*take, skill, 8);
    const Alignment a = align(*take, played.onsets);
    // A stroke that is missed where another is added beside it is one on another piece: nobody
    // could say which.
    EXPECT_EQ(a.missing + a.wrong, played.missed + played.wrong) << seed;
    EXPECT_EQ(a.extra + a.wrong, played.added + played.wrong) << seed;
    skill.extras = 0;
    const SimulatedTake less = playedBy(*take, skill, 8);
    const Alignment b = align(*take, less.onsets);
    EXPECT_EQ(b.missing, less.missed) << seed;
    EXPECT_EQ(b.wrong, less.wrong) << seed;
    EXPECT_EQ(b.extra, 0) << seed;
    const double error = 4 * skill.spread.count() / std::sqrt(a.all.n);
    EXPECT_NEAR(a.all.mean.count(), skill.bias.count(), error) << seed;
    EXPECT_NEAR(a.all.sd.count(), skill.spread.count(), 0.2 * skill.spread.count() + 0.3) << seed;
  }
}

TEST(Alignment, ALimbThatLagsIsTold) {
  const SharedTake take = alone(part());
  Skill skill;
  skill.spread = Milliseconds(2);
  skill.of[Limb::kRightFoot] = Milliseconds(18);
  const Alignment a = align(*take, playedBy(*take, skill, 8).onsets);
  EXPECT_NEAR(a.limbs.at(Limb::kRightFoot).mean.count(), 18, 1.5);
  EXPECT_NEAR(a.limbs.at(Limb::kLeftHand).mean.count(), 0, 1.5);
  ASSERT_TRUE(a.unison);
  EXPECT_GT(a.unison->count(), 5);
  ASSERT_TRUE(a.ghosts && a.ghostsWritten);
  EXPECT_NEAR(*a.ghosts, *a.ghostsWritten, 1);
  EXPECT_LT(*a.uneven, 0.05);
}

TEST(Alignment, ATakeMayBeginLateOrInTheMiddle) {
  const SharedTake take = alone(part());
  const Score& score = take->score();
  const double bar = score.tempo.msAt(Beat(4)).count();
  // After a count of two bars; and in the second half of the file's first bar.
  const SimulatedTake late = playedBy(*take, {}, 2, Milliseconds(2 * bar));
  EXPECT_EQ(align(*take, late.onsets).missing, 0);
  EXPECT_EQ(align(*take, late.onsets).offset.count(), 0);
  SimulatedTake broken = playedBy(*take, {}, 3);
  std::erase_if(broken.onsets, [&](const Onset& o) { return o.seconds * 1000 < 0.4 * bar; });
  EXPECT_LE(align(*take, broken.onsets).missing, 8);
  // Recorded with a start that is nobody's: found.
  const SimulatedTake aside = playedBy(*take, {}, 6, Milliseconds(1'237));
  const Alignment a = align(*take, aside.onsets);
  EXPECT_EQ(a.missing + a.extra, 0);
  EXPECT_NEAR(std::remainder(a.offset.count() - 1'237, bar), 0, 12);
}

TEST(Alignment, AnotherTempoIsTheFilesOwn) {
  const Song song = part(96);
  Song slow = song;
  slow.tempo[0].bpm = Bpm{72};
  const SimulatedTake played = playedBy(*alone(slow), {}, 4);
  const Result<Alignment> a = alignTake(song, song.grooves[0]->id, played.onsets, 72.0);
  ASSERT_TRUE(a);
  EXPECT_NEAR(a->bpm, 72, 1e-3);
  EXPECT_EQ(a->missing + a->extra, 0);
  // A file that says nothing of value stands at 120; the song's tempo holds.
  const SimulatedTake own = playedBy(*alone(song), {}, 4);
  EXPECT_NEAR(alignTake(song, song.grooves[0]->id, own.onsets, 120.0)->bpm, 96, 1e-3);
  EXPECT_FALSE(alignTake(song, "nobody", own.onsets, std::nullopt));
}

TEST(Alignment, AnyGrooveByItsOwnTake) {
  int perfect = 0, all = 0;
  for (int seed = 0; seed < testing::rounds(150); ++seed) {
    testing::Random random(static_cast<unsigned>(seed));
    Song song = testing::randomSong(random);
    const SharedTake take = alone(song);
    const Alignment a = align(*take, playedBy(*take, {}, 2).onsets, {.searchOffset = false});
    ++all;
    perfect += a.missing == 0 && a.wrong == 0 ? 1 : 0;
    EXPECT_EQ(count(a, PlayedState::kMissing), a.missing);
    EXPECT_EQ(count(a, PlayedState::kExtra), a.extra);
  }
  // Strokes that lean over the take's ends may be another bar's.
  EXPECT_GE(perfect, all * 6 / 10);
}

TEST(Clicks, LeaveThePlayerAlone) {
  const auto bars = [](const char* id, int n) {
    std::string out(static_cast<std::size_t>(n), '.');
    for (const ClickStroke& c : clicksOf(*findClick(id), {4, 4}, 100, 0, n))
      out[static_cast<std::size_t>(c.at.floorDiv(Beat(4)))] = 'x';
    return out;
  };
  EXPECT_EQ(bars("plain", 4), "xxxx");
  EXPECT_EQ(bars("two-and-two", 8), "xx..xx..");
  EXPECT_EQ(bars("longer-gaps", 12), "xx.xx..xx...");
  const std::string chance = bars("by-chance", 300);
  EXPECT_EQ(chance, bars("by-chance", 300));
  EXPECT_NEAR(static_cast<double>(std::count(chance.begin(), chance.end(), '.')), 100, 30);
  EXPECT_EQ(clicksOf(*findClick("divided"), {4, 4}, 80, 0, 1).size(), 8U);
  EXPECT_EQ(clicksOf(*findClick("divided"), {4, 4}, 120, 0, 1).size(), 4U);
  EXPECT_EQ(clicksOf(*findClick("offbeat"), {4, 4}, 120, 0, 1)[0].at, Beat(1, 2));
  EXPECT_EQ(clicksOf(*findClick("plain"), {6, 8}, 120, 0, 1).size(), 2U);
  // From the middle on it is what it is there.
  EXPECT_TRUE(clicksOf(*findClick("two-and-two"), {4, 4}, 100, 2, 2).empty());
  EXPECT_LT(clicksOf(*findClick("leaving"), {4, 4}, 100, 4, 1)[0].db, -5);
  EXPECT_EQ(findClick("nothing"), nullptr);
}

TEST(Steps, BuildAGrooveUp) {
  const Song song = part();
  const Groove& groove = *song.grooves[0];
  for (const StepsBy by : {StepsBy::kVoice, StepsBy::kLimb, StepsBy::kBeat}) {
    const std::vector<RehearsalStep> steps = stepsOf(groove, *song.kit, by);
    ASSERT_GE(steps.size(), 3U);
    EXPECT_EQ(steps.back().groove.hits, groove.hits);
    for (const RehearsalStep& step : steps) {
      EXPECT_FALSE(step.groove.hits.empty()) << step.title;
      EXPECT_EQ(step.groove.length(), groove.length());
      for (const HitRef& ref : step.added) EXPECT_TRUE(indexOf(step.groove, ref)) << step.title;
    }
  }
  const std::vector<RehearsalStep> voices = stepsOf(groove, *song.kit, StepsBy::kVoice);
  EXPECT_EQ(voices[0].title, "hands alone");
  EXPECT_EQ(voices[1].title, "kick on 1");
  EXPECT_EQ(voices[2].title, "kick on 2 &");
  EXPECT_EQ(voices.back().title, "openings");
  const std::vector<RehearsalStep> drum = stepsOf(groove, *song.kit, StepsBy::kSurface);
  ASSERT_EQ(drum.size(), 1U);
  for (const Hit& hit : drum[0].groove.hits) EXPECT_EQ(hit.piece, piece::kSnare);
  const RehearsalStep spot = hardSpot(groove, Beat(7, 4));
  for (const Hit& hit : spot.groove.hits) EXPECT_TRUE(hit.at < Beat(3)) << spot.title;
  // A groove of many bars has no more than so many.
  Groove longest = groove;
  longest.bars = kBarsMax;
  EXPECT_LE(stepsOf(longest, *song.kit, StepsBy::kBeat).size(), kStepsMost);
}

TEST(Plans, KeepMinutesRestsAndTheGoal) {
  const Song song = part(98);
  PlanAsked asked;
  asked.from = *readDate("2026-12-28");
  for (const double minutes : {1.0, 5.0, 12.0, 45.0}) {
    for (const int days : {1, 6, 30, 100}) {
      asked.minutes = minutes;
      asked.days = days;
      const Result<PracticePlan> plan = planOf(song, asked, {});
      ASSERT_TRUE(plan);
      ASSERT_EQ(plan->days.size(), static_cast<std::size_t>(days));
      double before = 0;
      for (const PlanDay& day : plan->days) {
        double sum = 0;
        for (const PlanItem& item : day.items) {
          sum += item.minutes;
          EXPECT_LE(item.bpmFrom, item.bpmTo);
          EXPECT_LE(item.bpmTo, 98);
          EXPECT_EQ(item.groove.empty(), findClick(item.click) == nullptr) << item.click;
        }
        EXPECT_LE(sum, minutes + 1e-9);
        EXPECT_EQ(day.items.empty(), day.day % 7 == 0);
        if (day.items.empty()) continue;
        EXPECT_GE(day.items.front().bpmTo, before);  // never slower than the day before
        before = day.items.front().bpmTo;
      }
      EXPECT_EQ(before, 98);
    }
  }
  asked.days = 30;
  const Result<PracticePlan> plan = planOf(song, asked, {});
  EXPECT_EQ(dateText(plan->days[4].date), "2027-01-01");
  EXPECT_EQ(plan->days[0].items[0].step, "hands alone");
  EXPECT_EQ(plan->days[28].items[0].step, "whole groove");
  EXPECT_NE(planText(*plan, song).find("stop at pain"), std::string::npos);
  // More than a body can is told, and not planned.
  asked.goal = 400;
  const Result<PracticePlan> high = planOf(song, asked, {});
  ASSERT_EQ(high->notes.size(), 1U);
  EXPECT_LT(high->days.back().items.front().bpmTo, 400);
  asked.goal = 500;
  EXPECT_FALSE(planOf(song, asked, {}));
  asked.goal.reset();
  asked.groove = "nobody";
  EXPECT_FALSE(planOf(song, asked, {}));
  for (const char* bad : {"2026-02-29", "2026-13-01", "26-01-01", "2026/01/01", ""})
    EXPECT_FALSE(readDate(bad)) << bad;
}

TEST(Plans, DaysAreReadAsTheyAreWritten) {
  const auto day = readDate("2028-02-29");
  ASSERT_TRUE(day);
  EXPECT_EQ(dateText(*day), "2028-02-29");
  for (const char* bad : {"2027-02-29", "2028-02/29", "2028/02-29", "2028-2-29", "2028-02-290",
                          "2028-00-10", "2028-10-00", "0000-10-10", "20x8-10-10", ""})
    EXPECT_FALSE(readDate(bad)) << bad;
}

TEST(Plans, TheCalendarIsFoldedAndEscaped) {
  Song song = part(98);
  song.grooves[0].edit(
      [](Groove& g) { g.name = "Löw; water, slöw — as the name of a groove can be"; });
  PlanAsked asked;
  asked.from = *readDate("2026-12-30");
  asked.days = 9;
  const std::string text = planCalendar(*planOf(song, asked, {}), song);
  std::size_t begin = 0;
  while (begin < text.size()) {
    const std::size_t end = text.find("\r\n", begin);
    ASSERT_NE(end, std::string::npos);
    EXPECT_LE(end - begin, 75U);
    begin = end + 2;
  }
  EXPECT_NE(text.find("Löw\\; water\\, "), std::string::npos);
  EXPECT_NE(text.find("DTSTART;VALUE=DATE:20261231"), std::string::npos);
  EXPECT_NE(text.find("DTEND;VALUE=DATE:20270101"), std::string::npos);
}

}  // namespace
}  // namespace uneven
