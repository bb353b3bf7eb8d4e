// SPDX-License-Identifier: GPL-3.0-or-later
// What the sequencer tells an instrument, and when: every stroke once, on its frame, whatever is
// edited, looped or slowed meanwhile.
#include "sound/play/sequencer.h"

#include <gtest/gtest.h>

#include <cmath>
#include <map>

#include "core/rehearse/click.h"
#include "core/song/edit.h"
#include "core/voice/notes.h"
#include "tests/sound/audio.h"
#include "tests/support/made.h"
#include "tests/support/random_song.h"

namespace uneven {
namespace {

using testing::hitAt;
using testing::pick;
using testing::Random;
using testing::songOf;

struct Struck {
  SoundEvent event;
  std::int64_t frame = 0;
};

class Ear final : public Sequencer::Witness {
 public:
  void struck(const SoundEvent& event, std::int64_t frame) override {
    all.push_back({event, frame});
  }
  void shut(std::int64_t frame) override { shuts.push_back(frame); }
  void pedal(int value, std::int64_t frame) override { pedals.emplace_back(value, frame); }
  std::vector<Struck> all;
  std::vector<std::int64_t> shuts;
  std::vector<std::pair<int, std::int64_t>> pedals;
};

SharedTake takeOf(const Song& song) {
  const Result<SharedTake> take = Take::ofSong(song);
  EXPECT_TRUE(take);
  return *take;
}

class Played : public ::testing::Test {
 protected:
  void run(std::int64_t blocks) {
    float left[kBlock], right[kBlock];
    for (std::int64_t i = 0; i < blocks; ++i) sequencer.render(left, right);
  }
  SilentInstrument instrument;
  Ear ear;
  Sequencer sequencer{instrument, &ear};
};

constexpr std::int64_t kBlocksOfASecond = kSoundRate / kBlock;

Programme programmeFor(const Take& take, std::optional<Span> loop = std::nullopt) {
  return programmeOf(take, houseSounds(), {}, {}, loop);
}

TEST_F(Played, EveryStrokeOnceOnItsFrameAtAnyTempo) {
  Random random(8);
  for (int i = 0; i < 40; ++i) {
    Song song = testing::randomSong(random);
    song.tempo = {{Beat(0), Bpm{testing::pickReal(random, 120, 400)}, {}}};
    const SharedTake take = takeOf(song);
    const Programme programme = programmeFor(*take);
    const double rate = pick(random, 25, 150) / 100.0;
    SilentInstrument silent;
    Ear heard;
    Sequencer player(silent, &heard);
    player.play(programme, Moment(0), rate);
    float left[kBlock], right[kBlock];
    while (!player.ended()) player.render(left, right);
    std::vector<SoundEvent> wanted;
    for (const SoundEvent& e : programme.events) {
      if (e.kind == SoundEvent::Kind::kStrike && e.time >= Moment(0)) wanted.push_back(e);
    }
    ASSERT_EQ(heard.all.size(), wanted.size());
    for (std::size_t k = 0; k < wanted.size(); ++k) {
      EXPECT_EQ(heard.all[k].event, wanted[k]);
      const double frame = Sequencer::kLatency +
                           static_cast<double>(wanted[k].time.count()) / 1e9 * kSoundRate / rate;
      EXPECT_NEAR(static_cast<double>(heard.all[k].frame), frame, 0.501);
    }
  }
}

TEST_F(Played, TenMinutesOfALoopDoNotDrift) {
  const SharedTake take =
      takeOf(songOf({hitAt(Beat(0), piece::kKick), hitAt(Beat(5, 3), piece::kSnare)}));
  // A loop of no whole number of frames.
  const Span loop{Moment(0), Moment(1'234'567'891)};
  const Programme programme = programmeFor(*take, loop);
  sequencer.play(programme, Moment(0), 1);
  run(600 * kBlocksOfASecond);
  const auto rounds = static_cast<std::size_t>(600e9 / 1'234'567'891.0);
  ASSERT_GE(ear.all.size(), 2 * rounds);
  for (std::size_t i = 0; i < ear.all.size(); ++i) {
    const double ns = 1'234'567'891.0 * static_cast<double>(i / 2) +
                      static_cast<double>(ear.all[i].event.time.count());
    EXPECT_NEAR(static_cast<double>(ear.all[i].frame), Sequencer::kLatency + ns * kSoundRate / 1e9,
                0.51);
  }
}

TEST_F(Played, AnEditIsHeardFromTheNextStrokeOnAndNothingElseChanges) {
  Random random(19);
  Song song = songOf({}, 2);
  std::vector<Programme> alive;
  alive.reserve(1'002);
  const Span loop{Moment(0), Moment(4'000'000'000)};
  Groove groove = *song.grooves.front();
  for (int i = 0; i < 32; ++i) groove = withHit(std::move(groove), hitAt(Beat(i, 4), piece::kHat));
  song = withGroove(song, groove);
  alive.push_back(programmeFor(*takeOf(song), loop));
  sequencer.play(alive.back(), Moment(0), 1);
  for (int edit = 0; edit < 1'000; ++edit) {
    run(pick(random, 1, 40));
    // The hats stay, all else comes and goes.
    const Beat at(pick(random, 0, 31), 4);
    const PieceId piece = pick(random, 0, 1) == 0 ? piece::kSnare : piece::kKick;
    groove = indexOf(groove, {at, piece}) ? withoutHits(groove, {{at, piece}})
                                          : withHit(groove, hitAt(at, piece));
    song = withGroove(song, groove);
    alive.push_back(programmeFor(*takeOf(song), loop));
    sequencer.replace(alive.back());
  }
  std::vector<std::int64_t> hats;
  for (const Struck& s : ear.all) {
    if (s.event.piece == piece::kHat) hats.push_back(s.frame);
  }
  ASSERT_GT(hats.size(), 200U);
  for (std::size_t i = 0; i < hats.size(); ++i) {
    EXPECT_EQ(hats[i], Sequencer::kLatency + static_cast<std::int64_t>(i) * 6'000)
        << "torn, doubled or dropped";
  }
}

TEST_F(Played, StrokesThatLeanOverALoopsEndsComeRound) {
  Hit pushed = hitAt(Beat(0), piece::kKick);
  pushed.nudge = Milliseconds(-10);
  Hit late = hitAt(Beat(15, 4), piece::kSnare);
  late.nudge = Milliseconds(130);  // a sixteenth is 125 ms: it falls into the next round
  const SharedTake take = takeOf(songOf({pushed, late}));
  const Programme programme = programmeFor(*take, Span{Moment(0), Moment(2'000'000'000)});
  sequencer.play(programme, Moment(0), 1);
  run(3 * 2 * kBlocksOfASecond + 4);
  std::vector<std::pair<int, std::int64_t>> told;
  for (const Struck& s : ear.all)
    told.emplace_back(s.event.piece == piece::kKick, s.frame - Sequencer::kLatency);
  const std::vector<std::pair<int, std::int64_t>> wanted{
      {1, 0}, {1, 95'520}, {0, 96'240}, {1, 191'520}, {0, 192'240}, {1, 287'520}, {0, 288'240}};
  ASSERT_GE(told.size(), 6U);
  for (std::size_t i = 0; i < std::min(told.size(), wanted.size()); ++i)
    EXPECT_EQ(told[i], wanted[i]) << i;
}

TEST_F(Played, ASlowerTempoGoesOnFromWhereItWas) {
  std::vector<Hit> hits;
  for (int i = 0; i < 16; ++i) hits.push_back(hitAt(Beat(i, 4), piece::kHat));
  const SharedTake take = takeOf(songOf(hits));
  const Programme programme = programmeFor(*take);
  sequencer.play(programme, Moment(0), 1);
  run(kBlocksOfASecond / 2);
  const Moment before = sequencer.position();
  sequencer.setRate(0.5);
  // What has been told of, a block, keeps its time: half of that is what the position gives way.
  const double told = 1e9 * kBlock / kSoundRate;
  EXPECT_NEAR(static_cast<double>((sequencer.position() - before).count()), told / 2, 1'000);
  run(4 * kBlocksOfASecond);
  ASSERT_EQ(ear.all.size(), 16U);
  for (std::size_t i = 6; i < 16; ++i)
    EXPECT_EQ(ear.all[i].frame - ear.all[i - 1].frame, 12'000) << i;
}

// What a port is told of the pedal is what the file has, knot by knot.
TEST(PortsPedal, FollowsTheFilesPath) {
  Random random(31);
  std::size_t knots = 0;
  for (int i = 0; i < 40; ++i) {
    Song song = testing::randomSong(random);
    song.tempo.front().bpm = Bpm{150};
    const Result<SharedTake> take = Take::ofGroove(song, song.grooves.front()->id);
    if (!take) continue;
    const KitMap& map = builtInKitMaps().front();
    const std::vector<PedalKnot> wanted = voice(**take, map).pedal;
    if (wanted.empty() ||
        toMoment((*take)->score().tempo.msAt((*take)->score().length)) > Moment(20'000'000'000))
      continue;
    const Programme programme = programmeOf(**take, houseSounds(), {}, {}, std::nullopt, &map);
    SilentInstrument instrument;
    Ear ear;
    Sequencer sequencer(instrument, &ear);
    const Moment from = std::min(Moment(0), programme.events.front().time);
    sequencer.play(programme, from, 1);
    float left[kBlock], right[kBlock];
    while (!sequencer.ended()) sequencer.render(left, right);
    ASSERT_EQ(ear.pedals.size(), wanted.size());
    for (std::size_t k = 0; k < wanted.size(); ++k) {
      ASSERT_EQ(ear.pedals[k].first, wanted[k].value);
      const double frame = static_cast<double>((wanted[k].time - from).count()) * kSoundRate / 1e9;
      ASSERT_NEAR(static_cast<double>(ear.pedals[k].second), frame + Sequencer::kLatency, 1);
    }
    knots += wanted.size();
  }
  EXPECT_GT(knots, 200U);
}

TEST_F(Played, TheCountInIsCountedInTheSongsOwnTempo) {
  Song song = songOf({hitAt(Beat(0), piece::kKick)});
  const SharedTake take = takeOf(song);
  const Programme programme = programmeFor(*take);
  const std::vector<SoundEvent> lead = countIn(take->score(), houseSounds(), Moment(0), 2, 0);
  ASSERT_EQ(lead.size(), 8U);
  sequencer.play(programme, Moment(0), 1, &lead);
  run(5 * kBlocksOfASecond);
  ASSERT_EQ(ear.all.size(), 9U);
  for (std::size_t i = 0; i < 9; ++i) {
    EXPECT_EQ(ear.all[i].frame, Sequencer::kLatency + static_cast<std::int64_t>(i) * 24'000);
  }
  EXPECT_EQ(ear.all[0].event.note, ear.all[4].event.note);
  EXPECT_NE(ear.all[0].event.note, ear.all[1].event.note);
  EXPECT_EQ(ear.all[8].event.piece, piece::kKick);
}

// --- What is listened to ---

std::map<PieceId, int> heardOf(const Take& take, const Listening& listening,
                               const ClickPlan& click = {}) {
  std::map<PieceId, int> out;
  for (const SoundEvent& e : programmeOf(take, houseSounds(), listening, click).events) {
    if (e.kind == SoundEvent::Kind::kStrike && !e.silent) ++out[e.piece];
  }
  return out;
}

TEST(Listening, SoloMuteAndOnlyTheGhosts) {
  Hit ghost = hitAt(Beat(1, 4), piece::kSnare, 25);
  ghost.role = Role::kGhost;
  const SharedTake take =
      takeOf(songOf({hitAt(Beat(0), piece::kKick), hitAt(Beat(1), piece::kSnare), ghost,
                     hitAt(Beat(0), piece::kHat), hitAt(Beat(1), piece::kHat)}));
  using Counts = std::map<PieceId, int>;
  EXPECT_EQ(heardOf(*take, {}), (Counts{{piece::kKick, 1}, {piece::kSnare, 2}, {piece::kHat, 2}}));
  Listening l;
  l.muted = {piece::kHat};
  EXPECT_EQ(heardOf(*take, l), (Counts{{piece::kKick, 1}, {piece::kSnare, 2}}));
  l.solo = {piece::kHat, piece::kKick};
  EXPECT_EQ(heardOf(*take, l), (Counts{{piece::kKick, 1}}));
  l = {};
  l.soloLimbs = {Limb::kLeftHand};
  EXPECT_EQ(heardOf(*take, l), (Counts{{piece::kSnare, 2}}));
  l = {};
  l.only = Role::kGhost;
  EXPECT_EQ(heardOf(*take, l), (Counts{{piece::kSnare, 1}}));
  l = {};
  l.asClick = {piece::kKick, piece::kHat};
  int clicks = 0;
  for (const SoundEvent& e : programmeOf(*take, houseSounds(), l, {}).events)
    clicks += e.note == 74 ? 1 : 0;
  EXPECT_EQ(clicks, 3);
}

TEST(Listening, TheClickSubdividesWhereItIsSlowAndLeavesGaps) {
  Song song = songOf({}, 4);
  ClickPlan click{ClickUnit::kQuarters, 0, 1, 0, true, -6};
  EXPECT_EQ(heardOf(*takeOf(song), {}, click)[piece::kClick], 16);
  click.subdivideBelowBpm = 121;
  EXPECT_EQ(heardOf(*takeOf(song), {}, click)[piece::kClick], 32);
  click.subdivideBelowBpm = 120;
  EXPECT_EQ(heardOf(*takeOf(song), {}, click)[piece::kClick], 16);
  click.barsOn = 2;
  click.barsOff = 1;
  EXPECT_EQ(heardOf(*takeOf(song), {}, click)[piece::kClick], 12);
  click = {ClickUnit::kTriplets, 0, 1, 0, true, -6};
  EXPECT_EQ(heardOf(*takeOf(song), {}, click)[piece::kClick], 48);
}

// A pattern's clicks stand where it says, bar by bar over the whole; softer ones are softer.
TEST(Listening, TheClickGoesByItsPattern) {
  Song song = songOf({hitAt(Beat(0), piece::kKick)});
  song.arrangement[0].repeat = 12;
  const SharedTake take = takeOf(song);
  for (const ClickPattern& pattern : clickPatterns()) {
    ClickPlan plan;
    plan.pattern = pattern;
    const Programme made = programmeOf(*take, houseSounds(), {}, plan);
    const double bpm = 60e6 / take->score().tempo.tempoAt(Beat(0)).usPerQuarter;
    const std::vector<ClickStroke> clicks =
        clicksOf(pattern, song.grooves[0]->meter, bpm, 0, take->score().bars);
    std::size_t at = 0;
    for (const SoundEvent& e : made.events) {
      if (e.piece != piece::kClick) continue;
      ASSERT_LT(at, clicks.size()) << pattern.id;
      EXPECT_EQ(e.time, toMoment(take->score().tempo.msAt(clicks[at].at))) << pattern.id;
      EXPECT_NEAR(e.levelDb, plan.levelDb + clicks[at].db, 1e-4) << pattern.id;
      ++at;
    }
    EXPECT_EQ(at, clicks.size()) << pattern.id;
  }
  // Cut or whole by the tempo that is asked for, whatever the take's.
  const ClickPattern slow = at(*findClick("divided"), 80), fast = at(*findClick("divided"), 120);
  EXPECT_EQ(clicksOf(slow, {4, 4}, 300, 0, 1).size(), 8U);
  EXPECT_EQ(clicksOf(fast, {4, 4}, 30, 0, 1).size(), 4U);
}

TEST(Listening, ASilentFootStillShutsTheHats) {
  Hit open = hitAt(Beat(0), piece::kHat);
  open.open = 0.8;
  const SharedTake take = takeOf(songOf({open, hitAt(Beat(1), piece::kHatFoot)}));
  Listening l;
  l.solo = {piece::kHat};
  const Programme programme = programmeOf(*take, houseSounds(), l, {});
  SilentInstrument instrument;
  Ear ear;
  Sequencer sequencer(instrument, &ear);
  sequencer.play(programme, Moment(0), 1);
  float left[kBlock], right[kBlock];
  for (int i = 0; i < kBlocksOfASecond; ++i) sequencer.render(left, right);
  EXPECT_EQ(ear.all.size(), 1U);
  ASSERT_EQ(ear.shuts.size(), 1U);
  EXPECT_NEAR(static_cast<double>(ear.shuts[0]), 24'000, 2 * kBlock);
}

}  // namespace
}  // namespace uneven
