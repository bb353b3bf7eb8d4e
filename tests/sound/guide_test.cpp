// SPDX-License-Identifier: GPL-3.0-or-later
// The recording beside the part: in time at every tempo, round a loop, and read from any file.
#include "sound/play/guide.h"

#include <gtest/gtest.h>
#include <sndfile.h>

#include <cmath>

#include "core/base/number.h"
#include "sound/file/guide_sound.h"
#include "sound/file/listen.h"
#include "sound/play/player.h"
#include "tests/sound/audio.h"
#include "tests/support/process.h"

namespace uneven {
namespace {

class NoInstrument final : public Instrument {
 public:
  Sounding strike(const StrikeSound&, int) override { return 0; }
  void shut(Sounding) override {}
  void render(float* left, float* right) override {
    std::fill_n(left, kBlock, 0.0F);
    std::fill_n(right, kBlock, 0.0F);
  }
  void silence() override {}
};

// A short knock every half second.
std::shared_ptr<const GuideSound> knocks(double seconds) {
  auto out = std::make_shared<GuideSound>();
  out->samples.resize(static_cast<std::size_t>(seconds * kSoundRate) * 2, 0);
  for (double at = 0.5; at < seconds; at += 0.5) {
    const auto first = static_cast<std::size_t>(at * kSoundRate);
    for (std::size_t i = 0; i < 240; ++i) {
      const double fade = std::exp(-static_cast<double>(i) / 60);
      const double s =
          20'000 * fade * std::cos(2 * 3.14159265358979 * 1'800 * double(i) / kSoundRate);
      for (std::size_t side = 0; side < 2; ++side) {
        if (2 * (first + i) + side < out->samples.size())
          out->samples[2 * (first + i) + side] = static_cast<std::int16_t>(s);
      }
    }
  }
  return out;
}

std::shared_ptr<const Programme> silence(double seconds, std::optional<Span> loop = {}) {
  auto out = std::make_shared<Programme>();
  out->end = toMoment(Milliseconds(seconds * 1'000));
  out->loop = loop;
  return out;
}

// Where it is loudest, of each that sounds after quiet, in seconds.
std::vector<double> knocksIn(const std::vector<float>& x) {
  std::vector<double> out;
  std::size_t last = 0;
  float most = 0;
  for (std::size_t i = 0; i < x.size(); ++i) {
    const float size = std::abs(x[i]);
    if (size < 0.06F) continue;
    if (out.empty() || i - last > kSoundRate / 10) {
      out.push_back(0);
      most = 0;
    }
    if (size > most) {
      most = size;
      out.back() = static_cast<double>(i) / kSoundRate;
    }
    last = i;
  }
  return out;
}

std::vector<float> pulled(Player& player, double seconds) {
  std::vector<float> left(static_cast<std::size_t>(seconds * kSoundRate)), right(left.size());
  for (std::size_t at = 0; at < left.size(); at += 480)
    player.pull(left.data() + at, right.data() + at,
                static_cast<int>(std::min<std::size_t>(480, left.size() - at)));
  return left;
}

Wish wishFor(std::shared_ptr<GuideVoice> voice, double rate) {
  Wish wish;
  wish.programme = silence(60);
  wish.start = 1;
  wish.rate = rate;
  wish.levelDb = 0;
  wish.guide = std::move(voice);
  wish.guideOffset = toMoment(Milliseconds(250));
  wish.guideDb = 0;
  return wish;
}

TEST(GuideVoice, IsInTimeAtEveryTempo) {
  for (const double rate : {0.5, 0.75, 0.9, 1.0, 1.25, 1.5}) {
    Player player(std::make_unique<NoInstrument>());
    auto voice = std::make_shared<GuideVoice>(knocks(12));
    ASSERT_TRUE(voice->status()) << voice->status().error().line();
    player.wish(wishFor(voice, rate));
    const std::vector<double> heard = knocksIn(pulled(player, 6));
    // The song's 0.25, 0.75, ... are the recording's 0.5, 1.0, ...
    ASSERT_GE(heard.size(), 5U) << rate;
    for (std::size_t i = 0; i < heard.size(); ++i) {
      const double truth =
          (0.25 + 0.5 * static_cast<double>(i)) / rate + static_cast<double>(kBlock) / kSoundRate;
      EXPECT_NEAR(heard[i], truth, rate == 1 ? 2.0 / kSoundRate : 0.002) << rate << " " << i;
    }
  }
}

TEST(GuideVoice, GoesRoundWithTheLoopAndFollowsAJump) {
  for (const double rate : {1.0, 0.8}) {
    Player player(std::make_unique<NoInstrument>());
    Wish wish = wishFor(std::make_shared<GuideVoice>(knocks(12)), rate);
    // From 2.0 to 2.6 of the song: one knock a round, 0.25 in.
    wish.programme =
        silence(60, Span{toMoment(Milliseconds(2'000)), toMoment(Milliseconds(2'600))});
    wish.from = toMoment(Milliseconds(2'000));
    player.wish(wish);
    const std::vector<double> heard = knocksIn(pulled(player, 3));
    ASSERT_GE(heard.size(), 3U);
    for (std::size_t i = 1; i < heard.size(); ++i)
      EXPECT_NEAR(heard[i] - heard[i - 1], 0.6 / rate, 0.006) << rate;
    EXPECT_NEAR(heard.front(), 0.25 / rate, 0.008);
    // Another tempo on the way.
    wish.rate = 1.3;
    player.wish(wish);
    (void)pulled(player, 1);
    const std::vector<double> faster = knocksIn(pulled(player, 3));
    ASSERT_GE(faster.size(), 4U);
    EXPECT_NEAR(faster[2] - faster[1], 0.6 / 1.3, 0.006);
  }
}

TEST(GuideVoice, IsAsLoudAsItIsToldAndSilentWhenStopped) {
  Player player(std::make_unique<NoInstrument>());
  auto voice = std::make_shared<GuideVoice>(knocks(12));
  Wish wish = wishFor(voice, 1);
  player.wish(wish);
  (void)pulled(player, 1);
  const float full = player.takePeak();
  wish.guideDb = -12;
  player.wish(wish);
  (void)pulled(player, 1);
  (void)player.takePeak();
  (void)pulled(player, 1);
  EXPECT_NEAR(player.takePeak() / full, std::pow(10, -12.0 / 20), 0.01);
  wish.programme = nullptr;
  player.wish(wish);
  (void)pulled(player, 0.2);
  (void)player.takePeak();
  (void)pulled(player, 2);
  EXPECT_EQ(player.takePeak(), 0.0F);
  // A count-in is counted alone.
  Wish again = wishFor(voice, 1);
  again.start = 2;
  SoundEvent click;
  click.time = Moment(-2'000'000'000);
  click.silent = true;
  again.lead = {click};
  player.wish(again);
  (void)pulled(player, 1.9);
  EXPECT_EQ(player.takePeak(), 0.0F);
  (void)pulled(player, 1);
  EXPECT_GT(player.takePeak(), 0.1F);
}

void writeTone(const std::string& file, int format, int rate, int channels, double seconds) {
  SF_INFO info{};
  info.samplerate = rate;
  info.channels = channels;
  info.format = format;
  SNDFILE* to = sf_open(file.c_str(), SFM_WRITE, &info);
  ASSERT_NE(to, nullptr) << sf_strerror(nullptr);
  std::vector<float> samples;
  for (int i = 0; i < rate * seconds; ++i) {
    for (int c = 0; c < channels; ++c)
      samples.push_back(c == 0 ? 0.5F * std::sin(2 * 3.14159265F * 440 * float(i) / float(rate))
                               : 0.25F);
  }
  sf_writef_float(to, samples.data(), std::ssize(samples) / channels);
  sf_close(to);
}

TEST(GuideSound, IsReadFromAnyFileAtOurRate) {
  testing::TemporaryFolder folder;
  PosixFileSystem files;
  struct Kind {
    const char* name;
    int format, rate, channels;
  };
  for (const Kind& kind : {Kind{"a.wav", SF_FORMAT_WAV | SF_FORMAT_PCM_16, 44'100, 2},
                           Kind{"b.flac", SF_FORMAT_FLAC | SF_FORMAT_PCM_24, 96'000, 1},
                           Kind{"c.ogg", SF_FORMAT_OGG | SF_FORMAT_VORBIS, 48'000, 2},
                           Kind{"d.mp3", SF_FORMAT_MPEG | SF_FORMAT_MPEG_LAYER_III, 44'100, 2}}) {
    const std::string file = folder.file(kind.name);
    writeTone(file, kind.format, kind.rate, kind.channels, 2);
    const auto sound = readGuide(file);
    ASSERT_TRUE(sound) << kind.name << ": " << sound.error().line();
    EXPECT_NEAR((*sound)->seconds(), 2, 0.06) << kind.name;
    double sum = 0;
    for (std::int64_t i = 24'000; i < 72'000; ++i)
      sum += std::pow((*sound)->samples[static_cast<std::size_t>(2 * i)] / 32'768.0, 2);
    EXPECT_NEAR(std::sqrt(sum / 48'000), 0.5 / std::sqrt(2), 0.02) << kind.name;
    const std::int16_t other = (*sound)->samples[2 * 48'000 + 1];
    if (kind.channels == 1) {
      EXPECT_EQ(other, (*sound)->samples[2 * 48'000]);
    } else {
      EXPECT_NEAR(other / 32'768.0, 0.25, 0.05) << kind.name;
    }
    // And it is listened to.
    EXPECT_TRUE(listen(files, file, houseKit())) << kind.name;
  }
  EXPECT_FALSE(readGuide(folder.file("none.wav")));
  const auto given = readGuide(folder.file("a.wav"), [](double) { return false; });
  ASSERT_FALSE(given);
  EXPECT_EQ(given.error().code, ErrorCode::kUsage);
}

}  // namespace
}  // namespace uneven
