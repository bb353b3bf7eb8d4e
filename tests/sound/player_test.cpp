// SPDX-License-Identifier: GPL-3.0-or-later
// The player between two threads, and what it does with the newest wish.
#include "sound/play/player.h"

#include <gtest/gtest.h>

#include <atomic>
#include <cmath>
#include <thread>

#include "sound/play/audio_output.h"
#include "sound/synth/load_instrument.h"
#include "tests/sound/audio.h"
#include "tests/support/made.h"
#include "tests/support/random_song.h"

namespace uneven {
namespace {

using testing::hitAt;
using testing::pick;
using testing::Random;
using testing::songOf;

std::shared_ptr<const Programme> programmeWith(int strokes) {
  std::vector<Hit> hits;
  for (int i = 0; i < strokes; ++i) hits.push_back(hitAt(Beat(i, 8), piece::kHat, 1 + i));
  const Result<SharedTake> take = Take::ofSong(songOf(hits));
  return std::make_shared<const Programme>(
      programmeOf(**take, houseSounds(), {}, {}, Span{Moment(0), Moment(2'000'000'000)}));
}

// Rings at full level from its first stroke on, whatever it is told.
class LoudInstrument final : public Instrument {
 public:
  Sounding strike(const StrikeSound& sound, int delay) override {
    EXPECT_GE(delay, kBlock);
    EXPECT_LT(delay, 2 * kBlock);
    EXPECT_GE(sound.velocity, 1);
    EXPECT_LE(sound.velocity, 127);
    ++strokes;
    level = 1;
    return 0;
  }
  void shut(Sounding) override {}
  void render(float* left, float* right) override {
    for (int i = 0; i < kBlock; ++i) left[i] = right[i] = level;
  }
  void silence() override { level = 0; }
  int strokes = 0;
  float level = 0;
};

TEST(Player, AThousandWishesFromAnotherThreadTearNothing) {
  auto instrument = std::make_unique<LoudInstrument>();
  LoudInstrument& told = *instrument;
  Player player(std::move(instrument));
  std::atomic<bool> over{false};
  std::atomic<int> pulls{0};
  std::thread sound([&] {
    std::vector<float> left(480), right(480);
    for (; !over; ++pulls) player.pull(left.data(), right.data(), 480);
  });
  Random random(3);
  std::vector<std::shared_ptr<const Programme>> all;
  for (int i = 1; i < 16; ++i) all.push_back(programmeWith(i));
  std::weak_ptr<const Programme> first;
  Wish wish;
  for (int i = 0; i < 1'000; ++i) {
    wish.programme =
        pick(random, 0, 9) == 0 ? nullptr : all[static_cast<std::size_t>(pick(random, 0, 14))];
    wish.start += static_cast<std::uint64_t>(pick(random, 0, 5) == 0);
    wish.rate = pick(random, 25, 150) / 100.0;
    wish.from = Moment(pick(random, 0, 2'000'000'000));
    wish.tries += static_cast<std::uint64_t>(pick(random, 0, 1));
    wish.tried = {45, pick(random, 1, 127), 0, 0};
    wish.lead.assign(static_cast<std::size_t>(pick(random, 0, 2)), SoundEvent{});
    for (SoundEvent& e : wish.lead) {
      e.velocity = 90;
      e.time = wish.from - Moment(300'000'000);
    }
    player.wish(wish);
    if (i % 10 == 0) std::this_thread::yield();
  }
  // On a busy machine the other thread may not have begun.
  wish.programme = all.front();
  wish.from = Moment(0);
  ++wish.start;
  player.wish(wish);
  for (const int until = pulls + 400; pulls < until;) std::this_thread::yield();
  over = true;
  sound.join();
  EXPECT_GT(told.strokes, 0);
  // What is not wished any more is let go.
  first = all.front();
  all.clear();
  wish = {};
  player.wish(wish);
  float left[kBlock], right[kBlock];
  player.pull(left, right, kBlock);
  player.tidy();
  EXPECT_TRUE(first.expired());
}

// The clock tells whose it is: a start that the state knows of may have no moment yet.
TEST(Player, TheClockIsOfOneStart) {
  Player player(std::make_unique<SilentInstrument>());
  float left[2 * kBlock], right[2 * kBlock];
  Wish wish;
  Programme programme;
  programme.end = toMoment(Milliseconds(60'000));
  wish.programme = std::make_shared<const Programme>(programme);
  for (const std::uint64_t start : {1U, 2U, 3U}) {
    wish.start = start;
    wish.from = toMoment(Milliseconds(10'000.0 * static_cast<double>(start)));
    player.wish(wish);
    EXPECT_EQ(player.frameClock().start, start - 1) << "not pulled yet";
    player.pull(left, right, 2 * kBlock, std::chrono::steady_clock::now());
    const Player::FrameClock clock = player.frameClock();
    EXPECT_EQ(clock.start, start);
    EXPECT_NEAR(toMilliseconds(clock.position - wish.from).count(), 0, 10);
  }
}

TEST(Player, NothingClipsAndStoppingFades) {
  Player player(std::make_unique<LoudInstrument>());
  Wish wish;
  wish.programme = programmeWith(1);
  wish.start = 1;
  wish.levelDb = 12;  // four times full scale
  player.wish(wish);
  std::vector<float> left(4'800), right(4'800);
  player.pull(left.data(), right.data(), 4'800);
  for (const float s : left) EXPECT_LE(std::abs(s), 1.0F);
  EXPECT_GT(player.takePeak(), 3.5F) << "the meter tells what it would have been";
  EXPECT_EQ(player.takePeak(), 0.0F);
  EXPECT_TRUE(player.state().playing);
  wish.programme = nullptr;
  player.wish(wish);
  player.pull(left.data(), right.data(), 4'800);
  EXPECT_FALSE(player.state().playing);
  EXPECT_EQ(left.back(), 0.0F);
  float step = 0;
  for (std::size_t i = 1; i < left.size(); ++i)
    step = std::max(step, std::abs(left[i] - left[i - 1]));
  EXPECT_LT(step, 0.05F) << "without a crack";
}

TEST(Player, TheSilentOutputKeepsTime) {
  Player player(std::make_unique<SilentInstrument>());
  const SilentOutput output(player);
  EXPECT_TRUE(output.silent());
  const auto begun = std::chrono::steady_clock::now();
  const std::int64_t before = player.framesPulled();
  std::this_thread::sleep_for(std::chrono::milliseconds(300));
  const double seconds =
      std::chrono::duration<double>(std::chrono::steady_clock::now() - begun).count();
  EXPECT_NEAR(static_cast<double>(player.framesPulled() - before) / kSoundRate, seconds, 0.05);
}

// A pad is heard within the period that is pulled next and two blocks of the synthesiser (2.7 ms),
// whether anything plays or not.
TEST(Player, APadSoundsAtOnce) {
  PosixFileSystem files;
  for (const int period : {64, 128, 256, 512}) {
    Player player(*loadInstrument(files, {}));
    Wish wish;
    wish.levelDb = 0;
    player.wish(std::move(wish));
    std::vector<float> left(static_cast<std::size_t>(period)), right(left.size());
    for (int i = 0; i < 5; ++i) player.pull(left.data(), right.data(), period);
    for (const float s : left) ASSERT_EQ(s, 0);
    QueuedStrike strike;
    strike.note = 32;
    strike.velocity = 110;
    ASSERT_TRUE(player.pads().put(strike));
    int silent = 0;
    for (bool heard = false; !heard && silent < 10'000;) {
      player.pull(left.data(), right.data(), period);
      for (int i = 0; i < period && !heard; ++i) {
        heard = std::abs(left[static_cast<std::size_t>(i)]) > 1e-3F;
        silent += heard ? 0 : 1;
      }
    }
    // What is pulled is heard a period later at most.
    EXPECT_LE(silent, 144) << period;
  }
}

TEST(AudioCards, AreThoseThatPlay) {
  const std::string cards =
      " 0 [HDMI           ]: HDA-Intel - HDA Intel HDMI\n"
      "                      HDA Intel HDMI at 0xf7a14000 irq 33\n"
      " 1 [Box            ]: USB-Audio - A box: with words\n"
      "nonsense\n" +
      std::string(100'000, ' ') + "[x]: y - z\n";
  const std::string pcm =
      "00-03: HDMI 0 : HDMI 0 : playback 1\n"
      "01-00: USB Audio : USB Audio : playback 1 : capture 1\n"
      "01-01: USB Mic : USB Mic : capture 1\n"
      "07-00: Gone : Gone : playback 1\n";
  EXPECT_EQ(
      alsaCards(cards, pcm),
      (std::vector<AudioCard>{{"alsa:plughw:CARD=HDMI,DEV=3", "HDA Intel HDMI, HDMI 0"},
                              {"alsa:plughw:CARD=Box,DEV=0", "A box: with words, USB Audio"}}));
  EXPECT_TRUE(alsaCards("", pcm).empty());
}

TEST(Player, NoDeviceIsAnErrorInWords) {
  Player player(std::make_unique<SilentInstrument>());
  const auto opened = openDevice(player, "no-such-driver");
  ASSERT_FALSE(opened);
  EXPECT_EQ(opened.error().code, ErrorCode::kNotFound);
  EXPECT_NE(opened.error().message.find("no-such-driver"), std::string::npos);
}

}  // namespace
}  // namespace uneven
