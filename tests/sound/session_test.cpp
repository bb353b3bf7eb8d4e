// SPDX-License-Identifier: GPL-3.0-or-later
// What plays, without a device, a thread or a window: moments are ours.
#include "sound/play/session.h"

#include <gtest/gtest.h>

#include "tests/support/random_song.h"

namespace uneven::testing {
namespace {

using Time = Player::Time;

Time second(double seconds) {
  return Time(std::chrono::duration_cast<Time::duration>(std::chrono::duration<double>(seconds)));
}

class SessionTest : public ::testing::Test {
 protected:
  SessionTest() {
    // Two grooves of 4/4, a bar and two, at 120: a quarter lasts 500 ms.
    Groove one;
    one.id = "one";
    Groove two = one;
    two.id = "two";
    two.bars = 2;
    song.grooves = {SharedValue<Groove>(one), SharedValue<Groove>(two)};
    TempoMark mark;
    mark.bpm = Bpm{120};
    song.tempo = {mark};
    Section verse;
    verse.name = "verse";
    verse.groove = "one";
    verse.repeat = 2;
    Section chorus = verse;
    chorus.name = "chorus";
    chorus.groove = "two";
    chorus.repeat = 1;
    song.arrangement = {verse, chorus};
    whole = *Take::ofSong(song);
    here = *Take::ofGroove(song, "two");
    at("two", Beat(0));
  }
  void at(const std::string& groove, Beat cursor) {
    place.groove = song.findGroove(groove);
    place.cursor = cursor;
  }
  void play(const SharedTake& take) {
    session.play(take, place, PlaySounds{houseSounds(), {}, nullptr});
  }
  double ms(const std::optional<Milliseconds>& time) { return time ? time->count() : -1e9; }
  // The wish, and what a player says once it has begun it, at a second of the song's time.
  Player::State stateAt(double seconds) {
    Wish wish;
    session.fill(wish);
    return {
        .playing = true, .start = wish.start, .position = toMoment(Milliseconds(seconds * 1e3))};
  }

  Song song = Song();
  SharedTake whole, here;
  PlayPlace place;
  PlaySession session;
};

double msOf(Moment moment) {
  return toMilliseconds(moment).count();
}

TEST_F(SessionTest, EachRangeIsPlayedFromTheHandOrItsOwnStart) {
  struct Case {
    PlayRange range;
    SharedTake take;
    double from, to, begins;  // ms
  };
  at("two", Beat(5));  // the second bar, on 2; the groove begins with the song's bar 3, at 4 s
  place.selected = std::pair(Beat(2), Beat(6));
  for (const Case& c : {Case{PlayRange::kGroove, here, 4'000, 8'000, 6'500},
                        Case{PlayRange::kBar, here, 6'000, 8'000, 6'500},
                        Case{PlayRange::kSelection, here, 5'000, 7'125, 5'000},
                        Case{PlayRange::kSection, whole, 4'000, 8'000, 6'500},
                        Case{PlayRange::kSong, whole, 0, 8'000, 6'500}}) {
    session.plan.range = c.range;
    const std::optional<Span> span = playedSpan(*c.take, session.plan, place);
    ASSERT_TRUE(span);
    EXPECT_NEAR(msOf(span->from), c.from, 1e-3) << static_cast<int>(c.range);
    EXPECT_NEAR(msOf(span->to), c.to, 1e-3) << static_cast<int>(c.range);
    EXPECT_NEAR(msOf(playedFrom(*c.take, session.plan, place)), c.begins, 1e-3);
    PlayPlan first = session.plan;
    first.fromStart = true;
    EXPECT_EQ(playedFrom(*c.take, first, place), span->from);
  }
  // A section is all of its passes.
  at("one", Beat(0));
  session.plan.range = PlayRange::kSection;
  EXPECT_NEAR(msOf(playedSpan(*whole, session.plan, place)->to), 4'000, 1e-3);
  place.at = GroovePlace{0, 1};
  EXPECT_NEAR(msOf(playedFrom(*whole, session.plan, place)), 2'000, 1e-3) << "its second pass";
}

TEST_F(SessionTest, ThePlayheadSaysWhichGrooveAndSlot) {
  at("one", Beat(0));
  session.plan.range = PlayRange::kSong;
  EXPECT_FALSE(session.playhead({.playing = true}));
  play(whole);
  EXPECT_FALSE(session.playhead({.playing = true, .start = 99})) << "the player is elsewhere";
  const auto head = session.playhead(stateAt(4.8));
  ASSERT_TRUE(head);
  EXPECT_EQ(head->groove, "two");
  EXPECT_NEAR(head->at.value(), 1.6, 1e-9);
  EXPECT_EQ(head->slot, Beat(3, 2));
  EXPECT_NEAR(head->song.value(), 9.6, 1e-9);
  // Before the song's first bar, in its count-in.
  EXPECT_NEAR(session.playhead(stateAt(-0.5))->at.value(), -1, 1e-9);
}

TEST_F(SessionTest, AStrokeIsHeardOfLateAndKeepsItsRound) {
  play(here);  // from 4 s to 8 s, round and round
  // The clock has gone on to the second round: 4.05 s of the song at second 10.
  const Player::FrameClock late{0, second(10), toMoment(Milliseconds(4'050)), 1, 1};
  EXPECT_NEAR(ms(session.inGroove("two", late, second(9.7))), 3'750, 1e-3)
      << "it was played before the loop began again";
  EXPECT_NEAR(ms(session.inGroove("two", late, second(10.2))), 250, 1e-3);
  // It has not gone on yet, and the stroke belongs to the round that comes.
  const Player::FrameClock early{0, second(10), toMoment(Milliseconds(7'990)), 1, 0};
  EXPECT_NEAR(ms(session.inGroove("two", early, second(10.05))), 40, 1e-3);
  // In the first round there is none before.
  const Player::FrameClock first{0, second(10), toMoment(Milliseconds(4'000)), 1, 0};
  EXPECT_NEAR(ms(session.inGroove("two", first, second(9.95))), -50, 1e-3);
  EXPECT_FALSE(session.inGroove("two", first, second(9.8)));
  EXPECT_FALSE(session.inGroove("one", first, second(10)));
  // Whatever the round, what has gone by since the beginning only grows.
  EXPECT_NEAR(session.sinceStart(late, second(9.7)).count(), 3'750, 1e-3);
  EXPECT_NEAR(session.sinceStart(early, second(10.05)).count(), 4'040, 1e-3);
}

// A bar of the groove played round: who is a little early on its 1 is not late at its end.
TEST_F(SessionTest, WhatIsEarlyOnTheFirstPositionBelongsToIt) {
  session.plan.range = PlayRange::kBar;
  at("two", Beat(1));
  play(here);  // from 4 s to 6 s; the last slot, a sixteenth, begins at 5.875 s
  const Player::FrameClock clock{0, second(10), toMoment(Milliseconds(5'500)), 1, 3};
  EXPECT_NEAR(ms(session.inGroove("two", clock, second(10.48))), -20, 1e-3);
  EXPECT_NEAR(ms(session.inGroove("two", clock, second(10.42))), 1'920, 1e-3);
  EXPECT_NEAR(ms(session.inGroove("two", clock, second(10.52))), 20, 1e-3);
  // Of its second bar it is a moment of the first, nearest to the second one's 1.
  at("two", Beat(5));
  play(here);  // from 6 s to 8 s
  const Player::FrameClock later{0, second(10), toMoment(Milliseconds(7'500)), 1, 3};
  EXPECT_NEAR(ms(session.inGroove("two", later, second(10.48))), 1'980, 1e-3);
  // All of a groove has its own way round.
  session.plan.range = PlayRange::kGroove;
  play(here);
  EXPECT_NEAR(ms(session.inGroove("two", later, second(10.48))), 3'980, 1e-3);
}

TEST_F(SessionTest, AnyMomentIsSomewhereInTheLoop) {
  Random random(7);
  for (int i = 0; i < 2'000; ++i) {
    session.plan.percent = pick(random, 25, 150);
    play(here);
    const std::int64_t rounds = pick(random, 0, 50);
    const double rate = session.plan.percent / 100;
    const double position = 4'000 + 4'000 * pickReal(random, 0, 1);
    const double off = (pickReal(random, 0, 1) - 0.5) * 10;
    const Player::FrameClock clock{0, second(100), toMoment(Milliseconds(position)), rate, rounds};
    const double since = session.sinceStart(clock, second(100 + off)).count();
    EXPECT_NEAR(
        since, position - 4'000 + 4'000.0 * static_cast<double>(rounds) + off * 1'000 * rate, 1e-2);
    if (since < 0) continue;  // before it began
    EXPECT_NEAR(msOf(session.heardAt(clock, second(100 + off))), 4'000 + std::fmod(since, 4'000),
                1e-2);
  }
}

TEST_F(SessionTest, WhatIsLentIsGivenBack) {
  session.plan.percent = 80;
  PlayPlan other;
  other.percent = 50;
  session.lend(other);
  other.percent = 60;
  session.lend(other);
  EXPECT_EQ(session.plan.percent, 60);
  EXPECT_EQ(session.own().percent, 80) << "what is remembered";
  EXPECT_TRUE(session.giveBack());
  EXPECT_FALSE(session.giveBack());
  EXPECT_EQ(session.plan.percent, 80);
}

TEST_F(SessionTest, ACountInAndAnEndAreInTheWish) {
  session.plan.countIn = 1;
  session.plan.loop = false;
  play(here);
  Wish wish;
  session.fill(wish);
  ASSERT_EQ(wish.lead.size(), 4U);
  EXPECT_NEAR(msOf(wish.lead.front().time), 2'000, 1e-3);
  EXPECT_NEAR(msOf(wish.from), 4'000, 1e-3);
  EXPECT_NEAR(msOf(wish.programme->end), 8'000, 1e-3);
  EXPECT_FALSE(wish.programme->loop);
  // Nothing that was played before the count-in's end is of the groove.
  const Player::FrameClock counting{0, second(1), toMoment(Milliseconds(2'500)), 1, 0};
  EXPECT_FALSE(session.inGroove("two", counting, second(1)));
  const std::uint64_t first = wish.start;
  session.remake(nullptr, place, PlaySounds{houseSounds(), {}, nullptr});
  session.fill(wish);
  EXPECT_EQ(wish.start, first) << "it goes on";
  session.stop();
  session.fill(wish);
  EXPECT_EQ(wish.programme, nullptr);
}

TEST(PullClock, BurstsAndLatePullsComeOutEven) {
  // A device of 48,000.5 frames a second asks for 64 frames, sixteen times at once, each burst up
  // to 3 ms late: frames are heard evenly all the same.
  Random random(3);
  PullClock clock(kSoundRate);
  double worst = 0, first = 0;
  for (int i = 0; i < 16 * 3'000; ++i) {
    const double burst = std::floor(i / 16.0) * 16 * 64 / 48'000.5;
    const double asked = 10 + burst + 0.003 * pickReal(random, 0, 1);
    const Time after = clock.after(second(asked), 64);
    const double even =
        std::chrono::duration<double>(after - second(10 + (i + 1) * 64 / 48'000.5)).count();
    if (i == 16 * 1'500) first = even;
    if (i > 16 * 1'500) worst = std::max(worst, std::abs(even - first));
  }
  EXPECT_LT(worst, 0.001);
}

TEST(PullClock, ADeviceThatStalledIsBelievedAnew) {
  PullClock clock(kSoundRate);
  for (int i = 0; i < 100; ++i) (void)clock.after(second(5 + i * 0.01), 480);
  const Time after = clock.after(second(9), 480);
  EXPECT_NEAR(std::chrono::duration<double>(after - second(9.01)).count(), 0, 1e-6);
}

}  // namespace
}  // namespace uneven::testing
