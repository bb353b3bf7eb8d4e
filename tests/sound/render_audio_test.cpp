// SPDX-License-Identifier: GPL-3.0-or-later
// Audio files read back: when strokes begin, how loud they are, what shuts, what adds up.
#include "sound/file/render_audio.h"

#include <gtest/gtest.h>

#include <cmath>
#include <map>

#include "core/measure/level.h"
#include "sound/play/programme.h"
#include "tests/sound/audio.h"
#include "tests/sound/soundfont.h"
#include "tests/support/forwarding_files.h"
#include "tests/support/made.h"
#include "tests/support/process.h"
#include "tests/support/random_song.h"

namespace uneven {
namespace {

using testing::Audio;
using testing::hitAt;
using testing::Random;
using testing::rendered;
using testing::songOf;

// The mix fits, its part does not.
class FullDisk final : public testing::ForwardingFiles {
 public:
  Status writeNew(const std::string& path, std::string_view bytes,
                  std::optional<unsigned> mode) override {
    if (++count_ == 1) return ForwardingFiles::writeNew(path, bytes, mode);
    return Error{ErrorCode::kNoSpace, "no space left on device", {path, 0, 0, std::nullopt}};
  }

 private:
  int count_ = 0;
};

class Rendered : public ::testing::Test {
 protected:
  std::string clicks(int rate = 48'000) {
    const std::string file = folder_.file("clicks-" + std::to_string(rate) + ".sf2");
    testing::writeText(file, testing::clickBank(rate));
    return file;
  }
  AudioCall to(const std::string& name) {
    AudioCall call;
    call.out = folder_.file(name);
    call.format.bits = AudioBits::kFloat;
    return call;
  }
  testing::TemporaryFolder folder_;
  PosixFileSystem files_;
};

// A bank of clicks: the first sample that is not silent after silence is a stroke.
TEST_F(Rendered, EveryStrokeBeginsOnItsFrame) {
  Random random(12);
  int strokes = 0;
  for (int i = 0; i < testing::rounds(30); ++i) {
    Song song = testing::randomSong(random);
    song.map = "house-keys";
    song.tempo = {{Beat(0), Bpm{testing::pickReal(random, 90, 200)}, {}}};
    song.arrangement.clear();
    const Result<SharedTake> take = Take::ofSong(song);
    ASSERT_TRUE(take);
    AudioCall call = to("clicks.wav");
    call.bank = clicks();
    call.leadInBars = 1;
    const Result<AudioReport> report =
        renderAudio(files_, **take, *builtInKitMap("house-keys"), call);
    ASSERT_TRUE(report) << report.error().line();
    const Audio audio = testing::readAudio(call.out);
    const Groove& first = *(*take)->score().blocks.front().groove;
    const double lead = first.meter.barLength().toDouble() *
                        (*take)->score().tempo.tempoAt(Beat(0)).quarter().count();
    for (const Stroke& s : (*take)->strokes()) {
      if (rowFor(*builtInKitMap("house-keys"), (*song.kit)[s.piece], s.stroke, s.opening) ==
          nullptr)
        continue;
      const double frame = (toMilliseconds(s.time).count() + lead) * 48;
      if (frame < 0) continue;
      const auto at = static_cast<std::size_t>(std::lround(frame));
      ASSERT_LT(at + 1, audio.frames());
      EXPECT_TRUE(audio.left[at] != 0 || audio.left[at + 1] != 0) << frame;
      ++strokes;
      // Alone: nothing before it within a hundredth of a second.
      bool alone = true;
      for (std::size_t k = at - 1; k + 480 > at && k > 1; --k) alone = alone && audio.left[k] == 0;
      if (!alone) continue;
      std::size_t begin = at - std::min<std::size_t>(at, 5);
      while (begin < audio.frames() && audio.left[begin] == 0) ++begin;
      EXPECT_NEAR(static_cast<double>(begin), frame, 1.01);
    }
  }
  EXPECT_GT(strokes, testing::rounds(800));
}

TEST_F(Rendered, ABankAtAnotherRateIsAsPunctual) {
  for (const int bankRate : {22'050, 44'100, 96'000}) {
    for (int ms = 0; ms < testing::rounds(40); ++ms) {
      Hit hit = hitAt(Beat(1), piece::kSnare);
      hit.nudge = Milliseconds(ms * 0.27);
      AudioCall call = to("one.wav");
      call.bank = clicks(bankRate);
      const Audio audio = rendered(songOf({hit}), call);
      std::size_t begin = 0;
      while (begin < audio.frames() && std::abs(audio.left[begin]) < 0.02) ++begin;
      EXPECT_NEAR(static_cast<double>(begin) / 48, 500 + hit.nudge.count(), 0.1) << bankRate;
    }
  }
}

// Other people's banks: a drum is as late as its own samples are slow to a tenth of their peak, the
// same wherever it falls and whatever the rate of its samples.
TEST_F(Rendered, ASampledKitsDrumsAreAlwaysAsLate) {
  AudioCall call = to("other.wav");
  call.bank = "/usr/share/sounds/sf2/TimGM6mb.sf2";
  ASSERT_TRUE(std::filesystem::exists(call.bank)) << "Debian's packages for tests";
  for (const PieceId piece : {piece::kKick, piece::kSnare, piece::kHat, piece::kRide, piece::kCrash,
                              piece::kTomHigh, piece::kTomFloor, piece::kCowbell}) {
    double known = 0;
    for (int i = 0; i < 12; ++i) {
      Hit hit = hitAt(Beat(1), piece, i % 2 == 0 ? 110 : 50);
      hit.nudge = Milliseconds(i * 7 / 48.0);
      const Audio audio = rendered(songOf({hit}), call);
      double peak = 0;
      for (const double s : audio.left) peak = std::max(peak, std::abs(s));
      std::size_t onset = 0;
      while (onset < audio.frames() && std::abs(audio.left[onset]) < 0.1 * peak) ++onset;
      const double late = static_cast<double>(onset) / 48 - 500 - hit.nudge.count();
      if (i == 0) known = late;
      EXPECT_NEAR(late, known, 0.1) << int(piece.value) << " " << i;
      EXPECT_GE(late, -0.1) << int(piece.value);
      EXPECT_LE(late, 3.6) << int(piece.value);
    }
  }
}

// The same stroke anywhere in the synthesiser's block is the same samples.
TEST_F(Rendered, AStrokeOfTheHouseKitIsTheSameWhereverItFalls) {
  std::vector<double> known;
  for (int i = 0; i < testing::rounds(70); ++i) {
    Hit hit = hitAt(Beat(1), piece::kSnare, 112);
    hit.nudge = Milliseconds(i / 48.0);
    const Audio audio = rendered(songOf({hit}));
    const auto begin = static_cast<std::size_t>(24'000 + i);
    ASSERT_GT(audio.frames(), begin + 4'000);
    for (std::size_t k = 0; k < begin; ++k) ASSERT_EQ(audio.left[k], 0) << i;
    const std::vector<double> now(audio.left.begin() + static_cast<std::ptrdiff_t>(begin),
                                  audio.left.begin() + static_cast<std::ptrdiff_t>(begin + 4'000));
    if (known.empty()) known = now;
    for (std::size_t k = 0; k < 4'000; ++k) ASSERT_NEAR(now[k], known[k], 1e-6) << i << " " << k;
  }
}

TEST_F(Rendered, LevelsFollowTheCurve) {
  // 40 log10(v / 127): General MIDI 2 and DLS Level 1.
  for (const PieceId piece :
       {piece::kKick, piece::kSnare, piece::kHat, piece::kRide, piece::kTomFloor}) {
    std::map<int, double> level;
    double before = -200;
    for (int v = 7; v <= 127; v += 8) {
      const Audio audio = rendered(songOf({hitAt(Beat(1), piece, v)}));
      level[v] = testing::decibels(testing::rms(audio.left, 24'000, 26'400));
      EXPECT_GT(level[v], before) << v;
      before = level[v];
    }
    for (const auto& [v, db] : level) {
      EXPECT_NEAR(db - level[127], levelOf(Velocity(v)).value, 1.0)
          << int(piece.value) << " at " << v;
    }
  }
}

TEST_F(Rendered, OpenHatsRingUntilTheyAreShut) {
  Hit open = hitAt(Beat(1), piece::kHat);
  open.open = 0.9;
  const Hit shut = hitAt(Beat(2), piece::kHat, 60);
  const Audio audio = rendered(songOf({open, shut}));
  AudioCall call = to("alone.wav");
  const Audio ringing = rendered(songOf({open}), call);
  // 24 000 frames a quarter: it is shut at 48 000.
  const double before = testing::rms(audio.left, 42'000, 44'500);
  EXPECT_GT(before, 0.001);
  EXPECT_NEAR(testing::rms(ringing.left, 42'000, 44'500), before, 0.1 * before);
  // 30 ms after the close nothing of the open sound is left: as the shut stroke alone.
  const Audio alone = rendered(songOf({shut}));
  const auto rest = [&](const Audio& a) {
    return testing::rms(a.left, 48'000 + 1'440, 48'000 + 4'000);
  };
  EXPECT_LT(std::abs(rest(audio) - rest(alone)), 0.1 * before);
  EXPECT_GT(rest(ringing), 0.5 * before);
}

// A stroke's channel is another's after many: what shuts the hats then must not end that one.
TEST_F(Rendered, HatsThatStayOpenShutNobodyElse) {
  Hit open = hitAt(Beat(0), piece::kHat);
  open.open = 0.9;
  std::vector<Hit> hits{open, hitAt(Beat(31), piece::kHat, 1)};
  // 240 strokes later the crash has the hats' channel.
  for (int i = 0; i < 239; ++i) hits.push_back(hitAt(Beat(i + 1, 8), piece::kKick, 1));
  const Hit crash = hitAt(Beat(30), piece::kCrash, 120);
  hits.push_back(crash);
  const Audio alone = rendered(songOf({crash}, 8));
  const Audio audio = rendered(songOf(hits, 8));
  // Half a second on: the shut hats struck at the softest are all that is besides.
  const auto at = static_cast<std::size_t>(31.5 * 24'000);
  const double rings = testing::rms(alone.left, at, at + 12'000);
  EXPECT_GT(rings, 1e-4);
  EXPECT_NEAR(testing::rms(audio.left, at, at + 12'000), rings, 0.05 * rings);
}

TEST_F(Rendered, TheWiderTheLonger) {
  double before = 0;
  for (const double amount : {0.0, 0.2, 0.5, 0.7, 1.0}) {
    Hit hit = hitAt(Beat(1), piece::kHat);
    hit.open = amount;
    const Audio audio = rendered(songOf({hit}));
    std::size_t last = 0;
    for (std::size_t i = 0; i < audio.frames(); ++i)
      last = std::abs(audio.left[i]) > 0.002 ? i : last;
    EXPECT_GT(static_cast<double>(last) - 24'000, 1.2 * before) << amount;
    before = static_cast<double>(last) - 24'000;
  }
}

TEST_F(Rendered, PartsAddUpToTheMix) {
  Random random(77);
  for (const Stems stems : {Stems::kPieces, Stems::kLimbs}) {
    Song song = testing::randomSong(random);
    song.tempo = {{Beat(0), Bpm{140}, {}}};
    song.arrangement.clear();
    AudioCall call = to("song.wav");
    call.stems = stems;
    call.click = true;
    AudioReport report;
    Audio left = rendered(song, call, &report);
    ASSERT_GT(report.files.size(), 3U);
    EXPECT_EQ(report.files.back(), folder_.file("song-click.wav"));
    EXPECT_GT(testing::rms(testing::readAudio(report.files.back()).left, 0, 4'000), 0.001);
    left = testing::readAudio(report.files.front());
    const double loud = testing::rms(left.left, 0, left.frames());
    for (std::size_t i = 1; i + 1 < report.files.size(); ++i) {
      const Audio part = testing::readAudio(report.files[i]);
      ASSERT_EQ(part.frames(), left.frames()) << report.files[i];
      for (std::size_t k = 0; k < part.frames(); ++k) {
        left.left[k] -= part.left[k];
        left.right[k] -= part.right[k];
      }
    }
    EXPECT_GT(loud, 0.005);
    EXPECT_LT(testing::rms(left.left, 0, left.frames()), 1e-5);
    EXPECT_LT(testing::rms(left.right, 0, left.frames()), 1e-5);
  }
}

TEST_F(Rendered, LoudPartsAreTurnedDownAndSaySo) {
  std::vector<Hit> all;
  for (const PieceId piece :
       {piece::kKick, piece::kSnare, piece::kCrash, piece::kCrash2, piece::kChina, piece::kTomFloor,
        piece::kTomMid, piece::kTomHigh, piece::kRide}) {
    all.push_back(hitAt(Beat(1), piece, 127));
  }
  AudioReport report;
  const AudioCall call = to("loud.wav");
  (void)rendered(songOf(all), call, &report);
  const Audio audio = testing::readAudio(call.out);
  double peak = 0;
  for (std::size_t i = 0; i < audio.frames(); ++i)
    peak = std::max({peak, std::abs(audio.left[i]), std::abs(audio.right[i])});
  EXPECT_LT(report.gainDb, -0.5);
  EXPECT_NEAR(testing::decibels(peak), kPeakDb, 0.01);
  EXPECT_NE(audioText(report).find("turned down by"), std::string::npos);
}

// As loud as asked, or as full scale lets it: whichever comes first, and the message says both.
TEST_F(Rendered, TheMixIsAsLoudAsItMayBe) {
  std::vector<Hit> ringing, struck;
  for (int i = 0; i < 64; ++i) {
    Hit open = hitAt(Beat(i, 4), piece::kHat, 100);
    open.open = 1;
    ringing.push_back(open);
    if (i % 32 == 0) struck.push_back(hitAt(Beat(i, 4), piece::kHat, 40));
  }
  AudioReport report;
  (void)rendered(songOf(ringing, 4), {}, &report);
  EXPECT_NEAR(report.lufs, kLufs, 0.05);
  EXPECT_LT(report.peakDb, kPeakDb);
  EXPECT_NE(audioText(report).find("-16.0 LUFS, peak "), std::string::npos) << audioText(report);
  (void)rendered(songOf(struck, 4), {}, &report);
  EXPECT_NEAR(report.peakDb, kPeakDb, 0.01);
  EXPECT_LT(report.lufs, kLufs);
  EXPECT_NE(audioText(report).find("turned up by"), std::string::npos);
}

TEST_F(Rendered, TheSameSongIsTheSameBytes) {
  Random random(4);
  const Song song = testing::randomSong(random);
  for (const char* name : {"a.wav", "a.flac"}) {
    AudioCall call = to(name);
    call.format = {call.out.ends_with(".flac") ? AudioKind::kFlac : AudioKind::kWav, AudioBits::k16,
                   44'100};
    (void)rendered(song, call);
    const std::string once = testing::readText(call.out);
    (void)rendered(song, call);
    EXPECT_EQ(once, testing::readText(call.out));
  }
}

TEST_F(Rendered, EveryFormatHasTheSameStrokes) {
  const Song song = songOf({hitAt(Beat(1), piece::kSnare, 110), hitAt(Beat(3), piece::kKick, 110)});
  const Audio known = rendered(song);
  for (const int rate : kAudioRates) {
    for (const AudioBits bits : {AudioBits::k16, AudioBits::k24, AudioBits::kFloat}) {
      for (const AudioKind kind : {AudioKind::kWav, AudioKind::kFlac}) {
        if (kind == AudioKind::kFlac && bits == AudioBits::kFloat) continue;
        AudioCall call = to(kind == AudioKind::kFlac ? "x.flac" : "x.wav");
        call.format = {kind, bits, rate};
        const Audio audio = rendered(song, call);
        EXPECT_EQ(audio.rate, rate);
        const double seconds = static_cast<double>(audio.frames()) / rate;
        EXPECT_NEAR(seconds, static_cast<double>(known.frames()) / 48'000, 0.001);
        // Where the snare's energy begins.
        std::size_t begin = 0;
        while (std::abs(audio.left[begin]) < 0.05) ++begin;
        EXPECT_NEAR(1000.0 * static_cast<double>(begin) / rate, 500, 0.2);
        EXPECT_NEAR(testing::decibels(testing::rms(audio.left, static_cast<std::size_t>(rate / 2),
                                                   static_cast<std::size_t>(rate * 0.55))),
                    testing::decibels(testing::rms(known.left, 24'000, 26'400)), 0.1);
      }
    }
  }
}

TEST_F(Rendered, WhatCannotBeIsRefusedBeforeAnythingIsWritten) {
  const Result<SharedTake> take = Take::ofSong(songOf({hitAt(Beat(1), piece::kSnare)}));
  AudioCall call = to("x.wav");
  call.format.rate = 12'345;
  EXPECT_EQ(renderAudio(files_, **take, houseSounds(), call).error().code, ErrorCode::kLimit);
  call.format = {AudioKind::kFlac, AudioBits::kFloat, 48'000};
  EXPECT_EQ(renderAudio(files_, **take, houseSounds(), call).error().code, ErrorCode::kUsage);
  call.format = {};
  Song endless = songOf({hitAt(Beat(1), piece::kSnare)});
  endless.arrangement.front().repeat = 9'000;
  const Result<SharedTake> hours = Take::ofSong(endless);
  ASSERT_TRUE(hours);
  const auto refused = renderAudio(files_, **hours, houseSounds(), call);
  ASSERT_FALSE(refused);
  EXPECT_EQ(refused.error().code, ErrorCode::kLimit);
  EXPECT_NE(refused.error().message.find("minutes"), std::string::npos);
  EXPECT_FALSE(std::filesystem::exists(call.out));
}

TEST_F(Rendered, GivingUpAndAFullDiskLeaveNothing) {
  const Result<SharedTake> take = Take::ofSong(songOf({hitAt(Beat(1), piece::kSnare)}));
  AudioCall call = to("x.wav");
  call.stems = Stems::kPieces;
  testing::writeText(call.out, "as it was");
  double last = 0;
  const auto givenUp = renderAudio(files_, **take, houseSounds(), call, [&](double share) {
    EXPECT_GE(share, last);
    last = share;
    return share < 0.7;
  });
  ASSERT_FALSE(givenUp);
  EXPECT_EQ(testing::readText(call.out), "as it was");
  EXPECT_FALSE(std::filesystem::exists(folder_.file("x-snare.wav")));

  FullDisk full;
  const auto failed = renderAudio(full, **take, houseSounds(), call);
  ASSERT_FALSE(failed);
  EXPECT_EQ(failed.error().code, ErrorCode::kNoSpace);
  EXPECT_EQ(testing::readText(call.out), "as it was");
  EXPECT_EQ(folder_.fileCount(), 1U);
}

}  // namespace
}  // namespace uneven
