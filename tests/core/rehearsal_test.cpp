// SPDX-License-Identifier: GPL-3.0-or-later
// How a rehearsal goes on, how it listens, and what days of practice say.
#include <gtest/gtest.h>

#include <cmath>

#include "core/rehearse/plan.h"
#include "core/rehearse/rehearsal.h"
#include "core/rehearse/simulated.h"
#include "tests/support/lanes.h"
#include "tests/support/random_song.h"

namespace uneven {
namespace {

Song rehearsed(double bpm = 96) {
  return testing::songOfLanes(
      {{"hat", "x.s.x.s.x.s.x.o."}, {"snare", "....X..g.g..X..g"}, {"kick", "X.....x.x.x....."}},
      Beat(1, 4), bpm);
}

SharedTake learntPart(const Song& song) {
  const Result<SharedTake> take = Take::ofGroove(song, song.grooves[0]->id);
  EXPECT_TRUE(take);
  return *take;
}

TEST(Ladders, HaveTheirRungs) {
  EXPECT_EQ((Ladder{80, 98, 5}.rungs()), (std::vector<double>{80, 85, 90, 95, 98}));
  EXPECT_EQ((Ladder{70, 110, 0}.rungs()), (std::vector<double>{70, 90, 110}));
  EXPECT_EQ((Ladder{98, 98, 0}.rungs()), (std::vector<double>{98}));
  const std::vector<double> percent = Ladder{100, 121, 10, true}.rungs();
  ASSERT_EQ(percent.size(), 3U);
  EXPECT_NEAR(percent[1], 110, 1e-9);
  EXPECT_EQ(ladderStart(100, 0), 60);
  EXPECT_EQ(ladderStart(100, 50), 40);
  EXPECT_EQ(ladderStart(25, 0), kBpmMin);
}

// c: clean, u: not yet. Two clean ones go on, two unclean ones back.
TEST(Rehearsals, GoUpWhenItIsCleanAndDownWhenItIsNot) {
  RehearsalRules rules;
  rules.ladder = {80, 90, 5, false, 2, 2};
  rules.steps = 2;
  struct Case {
    Climb climb;
    std::string played;
    std::size_t step, rung;
    bool reached;
  };
  const Climb whole = Climb::kWholeGroove, each = Climb::kEachStep;
  for (const Case& c : {Case{whole, "c", 0, 0, false}, Case{whole, "cc", 1, 0, false},
                        Case{whole, "cuc", 0, 0, false}, Case{whole, "cccc", 1, 1, false},
                        Case{whole, "ccccuu", 1, 0, false}, Case{whole, "ccuu", 0, 0, false},
                        Case{whole, "uu", 0, 0, false}, Case{whole, "cccccccc", 1, 2, true},
                        Case{whole, "cccccccccu", 1, 2, true}, Case{each, "cc", 0, 1, false},
                        Case{each, "cccccc", 1, 0, false}, Case{each, "ccccccuu", 0, 2, false},
                        Case{each, "cccccccccccc", 1, 2, true}}) {
    RehearsalPlace at;
    rules.climb = c.climb;
    for (const char one : c.played) at = placeAfter(rules, at, one == 'c');
    EXPECT_EQ(at.step, c.step) << c.played;
    EXPECT_EQ(at.rung, c.rung) << c.played;
    EXPECT_EQ(at.reached, c.reached) << c.played;
  }
  rules.ladder.down = 0;
  RehearsalPlace at;
  at.rung = 1;
  for (int i = 0; i < 5; ++i) at = placeAfter(rules, at, false);
  EXPECT_EQ(at.rung, 1U);
  EXPECT_EQ(stepBy(rules, at, -1), at);
  EXPECT_EQ(stepBy(rules, at, 1).step, 1U);
}

TEST(PracticeTemplates, GrooveThreeTimesThenAFill) {
  const Song song = rehearsed();
  const Groove& groove = *song.grooves[0];
  const PracticeTemplate own = withFillAfter(groove, std::nullopt, 3);
  EXPECT_EQ(own.groove.bars, 4);
  EXPECT_EQ(own.groove.hits.size(), 3 * groove.hits.size());
  ASSERT_EQ(own.free.size(), 1U);
  EXPECT_EQ(own.free[0], std::pair(Beat(12), Beat(16)));
  const PracticeTemplate filled = withFillAfter(groove, groove, 3);
  EXPECT_TRUE(filled.free.empty());
  EXPECT_EQ(filled.groove.hits.size(), 4 * groove.hits.size());
  EXPECT_EQ(filled.groove, [&] {
    Groove four = repeated(groove, 4);
    return four;
  }());
  const PracticeTemplate longest = withFillAfter(groove, std::nullopt, 1000);
  EXPECT_EQ(longest.groove.bars, kBarsMax);
  ASSERT_EQ(longest.free.size(), 1U) << "the fill has its bar all the same";
  EXPECT_EQ(longest.free[0].second, longest.groove.length());
  const PracticeTemplate full = withFillAfter(repeated(groove, kBarsMax), std::nullopt, 1);
  EXPECT_EQ(full.groove.bars, kBarsMax) << "no bar is left for one";
  EXPECT_TRUE(full.free.empty());
  EXPECT_EQ(repeated(groove, 0), groove);
  EXPECT_EQ(repeated(groove, 1000).bars, kBarsMax);
}

// Times through with known faults are each told their own; at any moment what is behind is right.
TEST(Ears, TellEachTimeThroughItsOwn) {
  const Song song = rehearsed();
  const SharedTake part = learntPart(song);
  for (int seed = 1; seed <= testing::rounds(40); ++seed) {
    Skill skill;
    skill.seed = static_cast<std::uint64_t>(seed);
    skill.spread = Milliseconds(6);
    skill.bias = Milliseconds(seed % 21 - 10);
    Ear ear(part, 2);
    constexpr int kTimes = 3;
    int missed = 0;
    std::vector<Onset> all;
    for (int time = 0; time < kTimes; ++time) {
      skill.misses = time == 1 ? 0.1 : 0;
      ++skill.seed;
      const SimulatedTake took = playedBy(*part, skill, 2, time * ear.length());
      missed += took.missed;
      all.insert(all.end(), took.onsets.begin(), took.onsets.end());
    }
    std::stable_sort(all.begin(), all.end(),
                     [](const Onset& a, const Onset& b) { return a.seconds < b.seconds; });
    std::vector<Alignment> told;
    for (const Onset& onset : all) {
      const Milliseconds now(onset.seconds * 1000);
      ear.hear(onset);
      for (Alignment& a : ear.over(now)) told.push_back(std::move(a));
      const Alignment so = ear.soFar(now);
      EXPECT_EQ(so.extra + so.wrong, 0) << seed;
      EXPECT_LE(so.missing, missed) << seed;
    }
    for (Alignment& a : ear.over(kTimes * ear.length() + kReachMost)) told.push_back(std::move(a));
    ASSERT_EQ(told.size(), 3U);
    EXPECT_EQ(ear.told(), 3);
    EXPECT_EQ(told[0].missing + told[2].missing, 0) << seed;
    EXPECT_EQ(told[1].missing, missed) << seed;
    for (const Alignment& a : told) {
      EXPECT_EQ(a.extra + a.wrong, 0) << seed;
      EXPECT_NEAR(a.all.mean.count(), skill.bias.count(), 4 * 6 / std::sqrt(a.all.n)) << seed;
      ASSERT_TRUE(a.widest && a.unison);
      EXPECT_GE(a.widest->apart, *a.unison);
    }
  }
}

TEST(Ears, SilenceIsAllMissingAndTheFreeBarIsNobodys) {
  const Song song = rehearsed();
  const SharedTake part = learntPart(song);
  Ear silent(part, 1);
  const auto hits = static_cast<int>(song.grooves[0]->hits.size());
  const std::vector<Alignment> told = silent.over(2 * silent.length() + kReachMost);
  ASSERT_EQ(told.size(), 2U);
  EXPECT_EQ(told[0].missing, hits);
  EXPECT_FALSE(isClean(told[0]));

  const PracticeTemplate free = withFillAfter(*song.grooves[0], std::nullopt, 1);
  Song practice = song;
  practice.grooves[0].edit([&](Groove& g) { g = free.groove; });
  const SharedTake twoBars = learntPart(practice);
  Ear ear(twoBars, 1, free.free);
  SimulatedTake took = playedBy(*twoBars, {}, 1);
  for (int i = 0; i < 8; ++i)
    took.onsets.push_back({ear.length().count() / 2000 + 0.1 + 0.2 * i, piece::kTomHigh, 90});
  for (const Onset& onset : took.onsets) ear.hear(onset);
  const std::vector<Alignment> clean = ear.over(ear.length() + kReachMost);
  ASSERT_EQ(clean.size(), 1U);
  EXPECT_TRUE(isClean(clean[0])) << clean[0].missing << " " << clean[0].extra;
}

TEST(Latency, IsTheSteadyPart) {
  std::vector<Milliseconds> late;
  for (int i = 0; i < 10; ++i) late.emplace_back(31 + (i % 3 - 1) * 8);
  late[4] = Milliseconds(180);  // one stroke beside it all
  const Result<Milliseconds> found = latencyOf(late);
  ASSERT_TRUE(found);
  EXPECT_NEAR(found->count(), 31, 5);
  late.pop_back();
  EXPECT_FALSE(latencyOf(late));
  for (int i = 0; i < 10; ++i) late.emplace_back(i * 60);
  EXPECT_FALSE(latencyOf(late));
}

std::chrono::sys_days dayOf(const char* text) {
  return *readDate(text);
}

TEST(History, BoxesComeBackLaterWhenItWasClean) {
  const auto first = dayOf("2026-11-01");
  std::vector<PractisedDay> past;
  const auto add = [&](int at, int times, int clean) {
    past.push_back({"g", first + std::chrono::days(at), times, clean, 80, false, 5, {}});
  };
  EXPECT_EQ(boxOf(past).box, 0);
  const int later[] = {1, 2, 4, 8, 16, 16};
  for (int i = 0; i < 6; ++i) {
    add(i, 4, 3);
    EXPECT_EQ(boxOf(past).due, first + std::chrono::days(i + later[i]));
  }
  add(6, 4, 1);
  EXPECT_EQ(boxOf(past).box, 1);
  EXPECT_EQ(boxOf(past).due, first + std::chrono::days(7));
}

TEST(History, ThePaceIsTheLineThroughTheDays) {
  const auto first = dayOf("2026-11-20");
  std::vector<PractisedDay> past;
  for (int i = 0; i < 10; ++i)
    past.push_back({"g", first + std::chrono::days(i), 4, 3, 80.0 + i, false, 5, {}});
  const auto pace = paceOf(past, 98);
  ASSERT_TRUE(pace && pace->reaches);
  EXPECT_NEAR(pace->bpmPerDay, 1, 1e-9);
  // 89 on 29 November: 9 days more.
  EXPECT_EQ(paceText(past, 98), "at this pace 98 by 8 December, from your last 10 days");
  EXPECT_EQ(paceText(past, 89), "89 was clean on 29 November");
  for (PractisedDay& day : past) day.cleanBpm = 80;
  EXPECT_EQ(paceText(past, 98), "at this pace 98 is more than a year away, from your last 10 days");
  past.resize(2);
  EXPECT_NE(paceText(past, 98).find("no pace"), std::string::npos);
  EXPECT_EQ(spokenDate(dayOf("2027-01-02"), dayOf("2026-12-30")), "2 January 2027");
}

// Over random histories a plan keeps its minutes, rests and tempos, and tells a jump.
TEST(Plans, GoByTheLog) {
  const Song song = rehearsed(98);
  const auto today = dayOf("2026-12-01");
  for (int seed = 1; seed <= testing::rounds(60); ++seed) {
    testing::Random random(static_cast<unsigned>(seed));
    const auto whole = [&](int least, int most) {
      return least + static_cast<int>(random() % static_cast<unsigned>(most - least + 1));
    };
    PlanAsked asked;
    asked.from = std::chrono::year_month_day(today);
    asked.minutes = whole(1, 40);
    asked.days = whole(1, 40);
    double before = 0;
    for (int i = 30; i > 0; --i) {
      if (whole(0, 1) == 0) continue;
      PractisedDay day{
          song.grooves[0]->id, today - std::chrono::days(i), whole(1, 9), 0, 0, false, 0, {}};
      day.clean = whole(0, day.times);
      if (day.clean > 0) day.cleanBpm = whole(50, 110);
      day.whole = day.clean > 0 && whole(0, 2) == 0;
      day.minutes = whole(1, 20);
      if (whole(0, 4) == 0) day.felt = "left hand at 4";
      if (i <= 7) before += day.minutes;
      asked.history.push_back(day);
    }
    EXPECT_EQ(minutesBefore(asked.history, today), before);
    const Result<PracticePlan> plan = planOf(song, asked, {});
    ASSERT_TRUE(plan);
    double week = 0;
    for (const PlanDay& day : plan->days) {
      double sum = 0;
      for (const PlanItem& item : day.items) {
        EXPECT_GT(item.minutes, 0);
        EXPECT_LE(item.bpmFrom, item.bpmTo);
        EXPECT_LE(item.bpmTo, 98);
        sum += item.minutes;
      }
      EXPECT_LE(sum, asked.minutes + 1e-9) << seed;
      EXPECT_EQ(day.items.empty(), day.day % 7 == 0);
      if (day.day <= 7) week += sum;
    }
    const bool jump = before > 0 && week > before * 4 / 3 + 0.05;
    EXPECT_EQ(!plan->notes.empty(), jump) << seed << ": " << week << " after " << before;
  }
}

TEST(Plans, BeginWhereItWasCleanAndLookAtWhatIsHard) {
  Song song = rehearsed(98);
  song.grooves[0].edit([](Groove& g) {
    g.walk.push_back({"3/4 for 1", WalkMark::kAwkward, {}, {}});
  });
  PlanAsked asked;
  asked.from = *readDate("2026-12-01");
  asked.minutes = 10;
  asked.history = {
      {song.grooves[0]->id, dayOf("2026-11-28"), 6, 5, 84, true, 10, "the ghost on 2 a"}};
  const Result<PracticePlan> plan = planOf(song, asked, {});
  ASSERT_TRUE(plan);
  const PlanItem& first = plan->days[0].items[0];
  EXPECT_EQ(first.bpmFrom, 84);
  EXPECT_EQ(first.step, "whole groove");
  std::set<std::string> steps;
  for (const PlanDay& day : plan->days) {
    for (const PlanItem& item : day.items) steps.insert(item.step);
  }
  EXPECT_TRUE(steps.contains("awkward: 3/4 for 1"));
  EXPECT_TRUE(steps.contains("feels bad: the ghost on 2 a"));
}

TEST(Plans, LookAtWhatCheckFinds) {
  Song song = rehearsed(98);
  song.grooves[0].edit([](Groove& g) {
    // A foot that takes half a second cannot shut the hats in time.
    for (Hit& hit : g.hits) {
      if (hit.piece != piece::kHat || hit.at != Beat(1, 2)) continue;
      hit.open = 1;
      hit.openFor = Beat(1, 4);
    }
    if (!g.pedal) g.pedal = Pedal{};
    g.pedal->travel = Milliseconds(480);
  });
  PlanAsked asked;
  asked.from = *readDate("2026-12-01");
  asked.minutes = 10;
  const Result<PracticePlan> plan = planOf(song, asked, {});
  ASSERT_TRUE(plan);
  bool looked = false;
  for (const PlanDay& day : plan->days) {
    for (const PlanItem& item : day.items)
      looked = looked || item.step.find("close around") != std::string::npos ||
               item.step.find("no-room around") != std::string::npos;
  }
  EXPECT_TRUE(looked) << planText(*plan, song);
}

}  // namespace
}  // namespace uneven
