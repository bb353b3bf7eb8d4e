// SPDX-License-Identifier: GPL-3.0-or-later
// Strokes and feel found in sound: our own renders with a bass and noise under them, what is no
// music, and files that are no audio.
#include "sound/file/listen.h"

#include <gtest/gtest.h>

#include <cmath>
#include <limits>

#include "core/match/strokes.h"
#include "core/song/edit.h"
#include "tests/sound/audio.h"
#include "tests/support/invented.h"
#include "tests/support/process.h"

namespace uneven {
namespace {

using testing::Audio;
using testing::invent;
using testing::Invented;
using testing::pickReal;
using testing::Random;

std::vector<Onset> found(const std::vector<double>& samples, double rate) {
  StrokeFinder finder(rate);
  const std::vector<float> mono(samples.begin(), samples.end());
  // In pieces of any length.
  for (std::size_t at = 0; at < mono.size(); at += 777)
    finder.push(std::span(mono).subspan(at, std::min<std::size_t>(777, mono.size() - at)));
  return finder.finish();
}

// With a bass that holds its notes and a little noise.
std::vector<double> mixed(const Audio& audio, Random& random) {
  std::vector<double> out(audio.frames());
  double phase = 0, hz = 55;
  for (std::size_t i = 0; i < out.size(); ++i) {
    if (i % static_cast<std::size_t>(audio.rate) == 0) hz = 41 + 30 * (i / 48'000 % 3);
    phase += 2 * 3.14159265358979 * hz / audio.rate;
    out[i] = (audio.left[i] + audio.right[i]) / 2 + 0.05 * std::sin(phase) +
             0.0005 * pickReal(random, -1, 1);
  }
  return out;
}

// `slack`: how many times the house kit's bounds.
void findsRendersThrough(const std::string& bank, double slack) {
  Random random(21);
  AudioCall call;
  call.bank = bank;
  double right = 0, wrong = 0, missed = 0;
  for (int take = 0; take < 5; ++take) {
    const double ratio = take == 0 ? 1 : pickReal(random, 1.2, 2.2);
    const SwingUnit unit = take % 2 == 0 ? SwingUnit::kSixteenth : SwingUnit::kEighth;
    const Invented made = invent(random, 16, 3, unit, ratio);
    const Audio audio = testing::rendered(made.song, call);
    ASSERT_EQ(audio.rate, 48'000);
    const std::vector<Onset> onsets = found(mixed(audio, random), audio.rate);
    // Moments, not voices: several at once are one here.
    const std::vector<Onset> truth = testing::struck(made.song);
    const auto moments = [](const std::vector<Onset>& of) {
      std::vector<double> out;
      for (const Onset& o : of) {
        if (out.empty() || o.seconds - out.back() > 0.03) out.push_back(o.seconds);
      }
      return out;
    };
    const std::vector<double> there = moments(truth), told = moments(onsets);
    std::size_t at = 0;
    int hits = 0;
    for (const double t : told) {
      while (at < there.size() && there[at] < t - 0.02) ++at;
      if (at < there.size() && std::abs(there[at] - t) < 0.02) {
        ++hits;
        ++at;
      }
    }
    right += hits;
    wrong += static_cast<double>(told.size()) - hits;
    missed += static_cast<double>(there.size()) - hits;
    FitWanted wanted;
    wanted.foundWithin = Seconds(StrokeFinder::kFoundWithin);
    const auto feel = fit(onsets, wanted);
    ASSERT_TRUE(feel);
    EXPECT_NEAR(feel->bpm.value, made.bpm, 0.05 * slack) << take;
    EXPECT_NEAR(feel->swing.ratio, ratio, 0.05 * slack) << take;
    EXPECT_EQ(feel->grid.meter, (Meter{4, 4}));
    EXPECT_NEAR(feel->start.count(), 0, 0.02) << take;
    EXPECT_GT(feel->confidence, 0.6);
    // Those that a drum does not cover.
    EXPECT_GT(feel->pieces.at(piece::kHat).n, 40);
    EXPECT_GT(feel->pieces.at(piece::kKick).n, 25);
    EXPECT_GT(feel->pieces.at(piece::kSnare).n, 25);
  }
  const double f = 2 * right / (2 * right + wrong + missed);
  // Drums that ring in a room hide a soft stroke now and then.
  EXPECT_GE(f, 1 - 0.04 * slack) << right << " right, " << wrong << " wrong, " << missed
                                 << " missed";
}

TEST(Listening, FindsTheFeelOfItsOwnRenders) {
  findsRendersThrough({}, 1);
}

// Not our sounds: a General MIDI bank from Debian.
TEST(Listening, FindsTheFeelInAnotherKit) {
  findsRendersThrough("/usr/share/sounds/sf2/TimGM6mb.sf2", 1.5);
}

// Kick, snare and hats by turns, none together: each leans by itself.
TEST(Listening, VoicesThatSoundAloneAreKnownToTwoMilliseconds) {
  Groove groove;
  groove.id = groove.name = "g";
  groove.feel = "f";
  Song song = blankSong();
  const auto put = [&](Beat at, PieceId piece, int velocity) {
    Hit hit;
    hit.at = at;
    hit.piece = piece;
    hit.velocity = Velocity(velocity);
    groove = withHit(std::move(groove), hit);
  };
  for (int beat = 0; beat < 4; ++beat) {
    put(Beat(beat), beat % 2 == 0 ? piece::kKick : piece::kSnare, 100);
    put(Beat(beat) + Beat(1, 4), piece::kHat, 76);
    put(Beat(beat) + Beat(1, 2), piece::kHat, 84);
    put(Beat(beat) + Beat(3, 4), piece::kHat, 76);
  }
  Feel feel;
  feel.id = feel.name = "f";
  feel.displacement[piece::kSnare] = Milliseconds(11);
  feel.displacement[piece::kKick] = Milliseconds(-6);
  song.feels = {feel};
  song.tempo = {{Beat(0), Bpm{96}, {}}};
  song.grooves = {SharedValue<Groove>(groove)};
  song.arrangement.front().groove = "g";
  song.arrangement.front().repeat = 12;
  const Audio audio = testing::rendered(song);
  Random random(3);
  for (const bool plain : {true, false}) {
    const auto feelFound = fit(found(plain ? audio.left : mixed(audio, random), audio.rate), {});
    ASSERT_TRUE(feelFound);
    const double hats = feelFound->leanOf(piece::kHat).count();
    EXPECT_NEAR(feelFound->leanOf(piece::kSnare).count() - hats, 11, 2);
    EXPECT_NEAR(feelFound->leanOf(piece::kKick).count() - hats, -6, 2);
    EXPECT_NEAR(feelFound->bpm.value, 96, 0.05);
  }
}

// How long they ring tells how far they are open: coarsely.
TEST(Listening, OpenHatsAreToldFromShutOnes) {
  Groove groove;
  groove.id = groove.name = "g";
  Song song = blankSong();
  for (int eighth = 0; eighth < 8; ++eighth) {
    Hit hit;
    hit.at = Beat(eighth, 2);
    hit.piece = eighth == 0 ? piece::kKick : piece::kHat;
    hit.velocity = Velocity(84);
    if (eighth == 7) hit.open = 0.8;
    if (eighth == 3) hit.open = 0.4;
    groove = withHit(std::move(groove), hit);
  }
  song.tempo = {{Beat(0), Bpm{88}, {}}};
  song.grooves = {SharedValue<Groove>(groove)};
  song.arrangement.front().groove = "g";
  song.arrangement.front().repeat = 8;
  const Audio audio = testing::rendered(song);
  int open = 0, half = 0, shut = 0, hats = 0;
  for (const Onset& o : found(audio.left, audio.rate)) {
    const double bar = std::fmod(o.seconds, 4 * 60 / 88.0) / (60 / 88.0);
    if (o.piece != piece::kHat) continue;
    ++hats;
    if (std::abs(bar - 3.5) < 0.1) {
      open += o.opening >= 0.5 ? 1 : 0;
    } else if (std::abs(bar - 1.5) < 0.1) {
      half += o.opening >= 0.25 ? 1 : 0;
    } else {
      shut += o.opening == 0 ? 1 : 0;
    }
  }
  EXPECT_GE(hats, 56);
  EXPECT_LE(hats, 58) << "now and then one is heard in a kick";
  EXPECT_GE(open, 7);
  EXPECT_GE(half, 7);
  EXPECT_GE(shut, 36) << "of 40";
}

// Syllables: buzzing tones with formants, begun and ended softly at irregular times.
std::vector<double> speech(Random& random, double rate, double seconds) {
  std::vector<double> out(static_cast<std::size_t>(rate * seconds), 0);
  double at = 0.2;
  while (at < seconds - 0.6) {
    const double length = pickReal(random, 0.12, 0.45), pitch = pickReal(random, 90, 180);
    const double formants[] = {pickReal(random, 300, 800), pickReal(random, 900, 2'200), 2'600};
    for (double t = 0; t < length; t += 1 / rate) {
      double sum = 0;
      for (int k = 1; k < 25; ++k) {
        double weight = 0;
        for (const double f : formants) weight += std::exp(-std::abs(k * pitch - f) / 250);
        sum += weight * std::sin(2 * 3.14159265358979 * k * pitch * (1 + 0.02 * t) * t);
      }
      const double envelope = std::pow(std::sin(3.14159265358979 * t / length), 0.7);
      out[static_cast<std::size_t>((at + t) * rate)] += 0.05 * envelope * sum;
    }
    at += length + pickReal(random, 0.03, 0.5);
  }
  return out;
}

TEST(Listening, WhatIsNoDrummingHasNoFeel) {
  Random random(5);
  const double rate = 24'000;
  std::vector<double> noise(static_cast<std::size_t>(rate * 30)), tone(noise.size());
  for (std::size_t i = 0; i < noise.size(); ++i) {
    noise[i] = 0.2 * pickReal(random, -1, 1);
    tone[i] = 0.3 * std::sin(2 * 3.14159265358979 * 1'000 * static_cast<double>(i) / rate);
  }
  const std::vector<double> all[] = {std::vector<double>(noise.size(), 0), noise, tone,
                                     speech(random, rate, 30)};
  for (std::size_t k = 0; k < 4; ++k) {
    const std::vector<Onset> onsets = found(all[k], rate);
    const auto feel = fit(onsets, {});
    if (feel) {
      EXPECT_LT(feel->confidence, kWorthwhile) << k << ": " << onsets.size() << " strokes";
    }
    if (k == 0 || k == 2) {
      EXPECT_LT(onsets.size(), 4U) << k;
    }
  }
}

TEST(Listening, HostileSamplesAndRates) {
  for (const double rate : {8'000.0, 384'000.0}) {
    std::vector<double> bad(20'000, 1e30);
    bad[5] = std::nan("");
    bad[6] = -std::numeric_limits<double>::infinity();
    for (const Onset& o : found(bad, rate)) EXPECT_TRUE(std::isfinite(o.seconds));
  }
  EXPECT_TRUE(found({}, 48'000).empty());
  EXPECT_TRUE(found(std::vector<double>(10, 0.5), 48'000).empty());
}

class ListenTest : public ::testing::Test {
 protected:
  testing::TemporaryFolder folder;
  PosixFileSystem files;
};

TEST_F(ListenTest, FilesOfEveryKindAndOfNone) {
  Random random(8);
  const Invented made = invent(random, 8, 0, SwingUnit::kEighth, 1.4);
  const Result<SharedTake> take = Take::ofSong(made.song);
  ASSERT_TRUE(take);
  std::vector<std::size_t> counts;
  for (const auto& [name, rate] :
       {std::pair("a.wav", 44'100), std::pair("b.flac", 48'000), std::pair("c.wav", 96'000)}) {
    AudioCall call;
    call.out = folder.file(name);
    call.format.rate = rate;
    call.format.kind = call.out.ends_with("flac") ? AudioKind::kFlac : AudioKind::kWav;
    const auto rendered = renderAudio(files, **take, builtInKitMaps().front(), call);
    ASSERT_TRUE(rendered) << rendered.error().line();
    const Result<Recording> heard = listen(files, call.out, houseKit());
    ASSERT_TRUE(heard) << heard.error().line();
    counts.push_back(heard->onsets.size());
    const auto feel = fit(heard->onsets, {});
    ASSERT_TRUE(feel);
    EXPECT_NEAR(feel->bpm.value, made.bpm, 0.05) << name;
  }
  EXPECT_NEAR(static_cast<double>(counts[0]), static_cast<double>(counts[2]), 8);
  // Given up half way.
  int asked = 0;
  const Result<Recording> stopped =
      listen(files, folder.file("a.wav"), houseKit(), nullptr, [&](double) { return ++asked < 2; });
  ASSERT_FALSE(stopped);
  EXPECT_EQ(stopped.error().code, ErrorCode::kUsage);
  const std::string whole = testing::readText(folder.file("a.wav"));
  testing::writeText(folder.file("cut.wav"), whole.substr(0, whole.size() / 3));
  const Result<Recording> cut = listen(files, folder.file("cut.wav"), houseKit());
  if (cut) {
    EXPECT_LT(cut->seconds, 8 * 4 * 60 / made.bpm);
  }
  for (const std::string& junk :
       {std::string(), std::string("RIFF"), std::string(5'000, 'x'), whole.substr(0, 30)}) {
    testing::writeText(folder.file("junk.ogg"), junk);
    const Result<Recording> refused = listen(files, folder.file("junk.ogg"), houseKit());
    ASSERT_FALSE(refused);
    EXPECT_NE(refused.error().line().find("junk.ogg"), std::string::npos);
  }
  EXPECT_FALSE(listen(files, folder.file("none.wav"), houseKit()));
  EXPECT_FALSE(listen(files, folder.file("none.mid"), houseKit()));
}

}  // namespace
}  // namespace uneven
