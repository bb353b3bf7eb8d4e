// SPDX-License-Identifier: GPL-3.0-or-later
// How the house kit sounds, by measure: bodies, decays, timbre by velocity, hats by degrees, the
// balance and the room. A sampled General MIDI kit (Debian's timgm6mb-soundfont, through
// FluidSynth) stands beside it.
#include <gtest/gtest.h>

#include <cmath>
#include <complex>
#include <map>
#include <numbers>
#include <set>

#include "sound/play/programme.h"
#include "sound/synth/house_instrument.h"
#include "tests/sound/audio.h"
#include "tests/support/made.h"
#include "tests/support/process.h"
#include "tests/support/random_song.h"

namespace uneven {
namespace {

using testing::Audio;
using testing::decibels;
using testing::hitAt;
using testing::rendered;
using testing::songOf;

constexpr std::size_t kSecond = 48'000;

std::vector<double> mono(const Audio& audio, double from, double seconds) {
  std::vector<double> out;
  const auto first = static_cast<std::size_t>(from * kSecond);
  for (std::size_t i = first; i < first + static_cast<std::size_t>(seconds * kSecond); ++i)
    out.push_back(i < audio.frames() ? (audio.left[i] + audio.right[i]) / 2 : 0);
  return out;
}

// The song's tempo is 120: a quarter is half a second.
std::vector<double> struck(Hit hit, double seconds, bool room, const std::string& bank = {}) {
  hit.at = Beat(1);
  AudioCall call;
  call.room = room;
  call.bank = bank;
  const Audio audio = [&] {
    if (bank.empty()) {
      const testing::TemporaryFolder folder;
      call.out = folder.file("a.wav");
      call.format.bits = AudioBits::kFloat;
      return rendered(songOf({hit}), call);
    }
    return rendered(songOf({hit}),
                    {.out = {}, .bank = bank, .format = {}, .stems = {}, .reads = {}});
  }();
  return mono(audio, 0.5, seconds);
}

double crest(const std::vector<double>& x) {
  double peak = 0;
  for (const double s : x) peak = std::max(peak, std::abs(s));
  return decibels(peak / testing::rms(x, 0, x.size()));
}

// Seconds until what is left has fallen by so many dB.
double decay(const std::vector<double>& x, double db) {
  double all = 0;
  for (const double s : x) all += s * s;
  double left = all;
  for (std::size_t i = 0; i < x.size(); ++i) {
    left -= x[i] * x[i];
    if (left < all * std::pow(10, -db / 10)) return static_cast<double>(i) / kSecond;
  }
  return static_cast<double>(x.size()) / kSecond;
}

// Of its power, in Hz, over the first 85 ms (a plain transform of 4096 points).
double centroid(const std::vector<double>& x) {
  constexpr std::size_t kSize = 4'096;
  std::vector<std::complex<double>> a(kSize);
  for (std::size_t i = 0; i < kSize && i < x.size(); ++i)
    a[i] = x[i] * (0.5 + 0.5 * std::cos(std::numbers::pi * static_cast<double>(i) / kSize));
  // Cooley and Tukey 1965, in place.
  for (std::size_t i = 1, j = 0; i < kSize; ++i) {
    std::size_t bit = kSize >> 1;
    for (; (j & bit) != 0; bit >>= 1) j ^= bit;
    j ^= bit;
    if (i < j) std::swap(a[i], a[j]);
  }
  for (std::size_t length = 2; length <= kSize; length <<= 1) {
    const auto turn = std::polar(1.0, -2 * std::numbers::pi / static_cast<double>(length));
    for (std::size_t i = 0; i < kSize; i += length) {
      std::complex<double> w = 1;
      for (std::size_t k = 0; k < length / 2; ++k, w *= turn) {
        const auto u = a[i + k], v = w * a[i + k + length / 2];
        a[i + k] = u + v;
        a[i + k + length / 2] = u - v;
      }
    }
  }
  double sum = 0, all = 0;
  for (std::size_t k = 1; k < kSize / 2; ++k) {
    sum += std::norm(a[k]) * static_cast<double>(k) * kSecond / kSize;
    all += std::norm(a[k]);
  }
  return sum / all;
}

Hit ghost(int velocity) {
  Hit hit = hitAt(Beat(1), piece::kSnare, velocity);
  hit.role = Role::kGhost;
  return hit;
}

TEST(HouseSound, DrumsHaveBodies) {
  for (const bool room : {false, true}) {
    for (const int v : {60, 100, 124}) {
      EXPECT_LE(crest(struck(hitAt(Beat(1), piece::kKick, v), 0.3, room)), 16) << v;
      const std::vector<double> snare = struck(hitAt(Beat(1), piece::kSnare, v), 0.3, room);
      EXPECT_LE(crest(snare), 18) << v;
      const double first = testing::rms(snare, 0, 96), rings = testing::rms(snare, 1'440, 3'840);
      EXPECT_LE(decibels(first / rings), 14) << v;
    }
    for (const int v : {20, 30, 40}) EXPECT_LE(crest(struck(ghost(v), 0.3, room)), 18) << v;
  }
  // Beside a sampled kit.
  const std::string other = "/usr/share/sounds/sf2/TimGM6mb.sf2";
  const double kick = crest(struck(hitAt(Beat(1), piece::kKick, 110), 0.3, true));
  const double sampled = crest(struck(hitAt(Beat(1), piece::kKick, 110), 0.3, true, other));
  EXPECT_LT(std::abs(kick - sampled), 4) << kick << " beside " << sampled;
}

TEST(HouseSound, ATightHatIsShortAndAFootIsHeard) {
  const double tight = decay(struck(hitAt(Beat(1), piece::kHat, 90), 1, false), 20);
  EXPECT_GE(tight, 0.040);
  EXPECT_LE(tight, 0.060);
  const auto loud = [](PieceId piece, StrokeKind stroke) {
    Hit hit = hitAt(Beat(1), piece, 90);
    hit.stroke = stroke;
    return decibels(testing::rms(struck(hit, 0.05, false), 0, 2'400));
  };
  const double chick = loud(piece::kHatFoot, StrokeKind::kNormal);
  EXPECT_GT(loud(piece::kHatFoot, StrokeKind::kSplash), chick);
  EXPECT_NEAR(chick, loud(piece::kHat, StrokeKind::kNormal), 6);
}

TEST(HouseSound, TomsFallInPitchAndCrashesBloom) {
  // Crossings of zero in its first and in a later part.
  const std::vector<double> tom = struck(hitAt(Beat(1), piece::kTomFloor, 110), 0.6, false);
  const auto crossings = [&](double from, double to) {
    int count = 0;
    for (auto i = static_cast<std::size_t>(from * kSecond) + 1;
         i < static_cast<std::size_t>(to * kSecond); ++i)
      count += (tom[i] > 0) != (tom[i - 1] > 0) ? 1 : 0;
    return count / (to - from);
  };
  EXPECT_GT(crossings(0, 0.1), 1.05 * crossings(0.3, 0.5));
  const std::vector<double> crash = struck(hitAt(Beat(1), piece::kCrash, 120), 2, false);
  EXPECT_GT(decay(crash, 20), 0.4);
  EXPECT_GT(testing::rms(crash, 2'400, 7'200), 0.5 * testing::rms(crash, 0, 960));
}

// From velocity to velocity timbre goes on without a step; the level is the curve's.
TEST(HouseSound, VelocityIsTimbre) {
  for (const PieceId piece :
       {piece::kKick, piece::kSnare, piece::kHat, piece::kTomMid, piece::kRide, piece::kCrash}) {
    double before = 0, first = 0, known = 0;
    for (int v = 124; v >= 24; v -= 10) {
      const std::vector<double> x = struck(hitAt(Beat(1), piece, v), 0.4, false);
      const double now = centroid(x);
      const double level = decibels(testing::rms(x, 0, 2'400)) - 40 * std::log10(v / 127.0);
      if (v == 124) {
        first = now;
        known = level;
      } else {
        EXPECT_LE(std::abs(now / before - 1), 0.12) << int(piece.value) << " at " << v;
        EXPECT_NEAR(level, known, 0.5) << int(piece.value) << " at " << v;
      }
      before = now;
    }
    EXPECT_LT(before, 0.95 * first) << "softer is darker: " << int(piece.value);
  }
}

TEST(HouseSound, StrokesAreDifferentSounds) {
  std::set<int> heard;  // by a tenth of their centroid and their length
  for (const StrokeKind stroke :
       {StrokeKind::kNormal, StrokeKind::kRimShot, StrokeKind::kCrossStick, StrokeKind::kBuzz}) {
    Hit hit = hitAt(Beat(1), piece::kSnare, 100);
    hit.stroke = stroke;
    const std::vector<double> x = struck(hit, 0.4, false);
    heard.insert(static_cast<int>(10 * std::log(centroid(x))) * 100 +
                 static_cast<int>(10 * std::log(1000 * decay(x, 20))));
  }
  EXPECT_GE(heard.size(), 4U);
}

// Each tenth of opening rings longer, as loud; a quarter open the choke is heard.
TEST(HouseSound, HatsByDegreesWithoutSteps) {
  double before = 0, known = 0;
  for (int tenth = 0; tenth <= 10; ++tenth) {
    Hit hit = hitAt(Beat(1), piece::kHat, 90);
    hit.open = tenth / 10.0;
    const std::vector<double> x = struck(hit, 3, false);
    const double rings = decay(x, 30);
    EXPECT_GT(rings, 1.05 * before) << tenth;
    EXPECT_LT(rings, tenth == 0 ? 1 : 2.2 * before) << tenth;
    before = rings;
    const double level = decibels(testing::rms(x, 0, 2'400));
    if (tenth == 0) known = level;
    EXPECT_NEAR(level, known, 0.75) << tenth;
  }
  // The instrument alone: what shuts the hats sounds, too.
  PosixFileSystem files;
  const auto house = HouseInstrument::load(files, houseBankFile());
  ASSERT_TRUE(house);
  (*house)->setRoom(false);
  for (const double open : {0.25, 0.5, 1.0}) {
    double left[2] = {};
    for (const bool shut : {false, true}) {
      (*house)->silence();
      const auto sounding =
          (*house)->strike({.note = 49, .velocity = 100, .opening = open}, kBlock);
      float l[kBlock], r[kBlock];
      for (int block = 0; block < 120; ++block) {
        if (shut && block == 75) (*house)->shut(sounding);  // after 100 ms
        (*house)->render(l, r);
        for (int i = 0; i < kBlock && block >= 100; ++i) left[shut] += l[i] * l[i];
      }
    }
    EXPECT_LT(std::sqrt(left[1]), 0.3 * std::sqrt(left[0])) << open;
  }
}

// What the foot does after the stroke: a gap that narrows slowly takes the ring away slowly.
TEST(HouseSound, ThePedalIsHeardAfterTheStroke) {
  Hit open = hitAt(Beat(0), piece::kHat, 100);
  open.open = 1;
  open.openFor = Beat(2);
  std::map<int, double> left;
  for (const int ms : {40, 300, 700}) {
    Song song = songOf({open});
    song.grooves[0].edit([&](Groove& g) {
      g.pedal = Pedal{};
      g.pedal->travel = Milliseconds(ms);
    });
    const Audio audio = rendered(song);
    // Just before it is shut, at one second.
    left[ms] = testing::rms(audio.left, 45'000, 47'000);
  }
  EXPECT_LT(left[300], 0.9 * left[40]);
  EXPECT_LT(left[700], 0.9 * left[300]);
}

Song rock(PieceId time) {
  std::vector<Hit> hits;
  for (int i = 0; i < 32; ++i) {
    hits.push_back(hitAt(Beat(i, 2), time, i % 2 == 0 ? 86 : 66));
    if (i % 4 == 0) hits.push_back(hitAt(Beat(i, 2), piece::kKick, 104));
    if (i % 4 == 2) hits.push_back(hitAt(Beat(i, 2), piece::kSnare, 112));
  }
  return songOf(hits, 4);
}

TEST(HouseSound, TheKitIsInBalanceAndWide) {
  const testing::TemporaryFolder folder;
  std::map<std::string, double> level;
  for (const PieceId time : {piece::kHat, piece::kRide}) {
    AudioCall call;
    call.out = folder.file("rock.wav");
    call.format.bits = AudioBits::kFloat;
    call.stems = Stems::kPieces;
    AudioReport report;
    (void)rendered(rock(time), call, &report);
    for (const std::string& file : report.files) {
      const Audio part = testing::readAudio(file);
      const std::vector<double> all = mono(part, 0, 8);
      const std::string name = file.substr(file.rfind('/') + 1);
      level[name] = decibels(testing::rms(all, 0, all.size())) - report.gainDb;
      if (name != "rock-hat.wav" && name != "rock-ride.wav") continue;
      double lr = 0, ll = 0, rr = 0;
      for (std::size_t i = 0; i < part.frames(); ++i) {
        lr += part.left[i] * part.right[i];
        ll += part.left[i] * part.left[i];
        rr += part.right[i] * part.right[i];
      }
      EXPECT_GE(lr / std::sqrt(ll * rr), 0.2) << name;
      EXPECT_LE(lr / std::sqrt(ll * rr), 0.9) << name;
    }
  }
  const double snare = level["rock-snare.wav"];
  EXPECT_GE(snare - level["rock-hat.wav"], 3);
  EXPECT_LE(snare - level["rock-hat.wav"], 11);
  EXPECT_NEAR(level["rock-ride.wav"], level["rock-hat.wav"], 5);
  EXPECT_NEAR(level["rock-kick.wav"], snare, 5);
}

// The room's own answer, by what an impulse leaves (Schroeder 1965).
TEST(HouseSound, TheRoomIsShort) {
  Room room;
  std::vector<float> left(kSecond), right(kSecond), in(kSecond), silent(kSecond);
  in[0] = 1;
  room.process(in.data(), silent.data(), left.data(), right.data(), static_cast<int>(kSecond));
  const std::vector<double> x(left.begin(), left.end());
  // From -5 to -25 dB, times three.
  const double seconds = 3 * (decay(x, 25) - decay(x, 5));
  EXPECT_GE(seconds, 0.25);
  EXPECT_LE(seconds, 0.40);
  room.silence();
  std::fill(left.begin(), left.end(), 0.0F);
  room.process(silent.data(), silent.data(), left.data(), right.data(), 4'800);
  for (int i = 0; i < 4'800; ++i) ASSERT_EQ(left[static_cast<std::size_t>(i)], 0);
  // It can be switched off, and a piece left out of it.
  Song song = songOf({hitAt(Beat(1), piece::kSnare, 110)});
  AudioCall dry;
  const testing::TemporaryFolder folder;
  dry.out = folder.file("dry.wav");
  dry.format.bits = AudioBits::kFloat;
  dry.room = false;
  const std::vector<double> without = mono(rendered(song, dry), 0.5, 0.6);
  const std::vector<double> with = mono(rendered(song), 0.5, 0.6);
  MixSetting mix = song.mixOf(piece::kSnare);
  mix.roomDb = kMixDbMin;
  song.mixer[piece::kSnare] = mix;
  const std::vector<double> apart = mono(rendered(song), 0.5, 0.6);
  double differs = 0, same = 0;
  for (std::size_t i = 0; i < without.size(); ++i) {
    differs = std::max(differs, std::abs(with[i] - without[i]));
    same = std::max(same, std::abs(apart[i] - without[i]));
  }
  EXPECT_GT(differs, 1e-3);
  EXPECT_LT(same, 0.01 * differs);
}

// Never the same take twice running; by seed and place, whatever else is played.
TEST(HouseSound, TakesGoByPlace) {
  std::vector<Hit> hits;
  for (int i = 0; i < 64; ++i) hits.push_back(hitAt(Beat(i, 4), piece::kHat, 80));
  const auto takes = [](const Song& song) {
    const Result<SharedTake> take = Take::ofSong(song);
    std::vector<int> out;
    for (const SoundEvent& e : programmeOf(**take, houseSounds(), {}, {}).events) {
      if (e.kind == SoundEvent::Kind::kStrike && e.piece == piece::kHat) out.push_back(e.take);
    }
    return out;
  };
  Song song = songOf(hits, 4);
  const std::vector<int> once = takes(song);
  ASSERT_EQ(once.size(), 64U);
  for (std::size_t i = 1; i < once.size(); ++i) EXPECT_NE(once[i], once[i - 1]);
  EXPECT_EQ(std::set<int>(once.begin(), once.end()).size(), 4U);
  EXPECT_EQ(takes(song), once);
  // Another piece beside it, another tempo: the same takes.
  song.grooves[0].edit([](Groove& g) {
    g.hits.push_back(hitAt(Beat(15), piece::kCrash, 100));
    std::stable_sort(g.hits.begin(), g.hits.end(), writtenBefore);
  });
  song.tempo[0].bpm = Bpm{93};
  EXPECT_EQ(takes(song), once);
}

}  // namespace
}  // namespace uneven
