// SPDX-License-Identifier: GPL-3.0-or-later
// The house kit: every sound is there, and is what a drummer expects of it.
#include <gtest/gtest.h>

#include <cmath>
#include <filesystem>
#include <map>
#include <set>

#include "core/song/kit.h"
#include "sound/bank/house_kit.h"
#include "sound/bank/lead.h"
#include "sound/play/programme.h"
#include "sound/synth/fluid_instrument.h"
#include "tests/support/process.h"
#include "tests/support/random_song.h"

namespace uneven::bank {
namespace {

using testing::Random;

const SoundFont& kit() {
  static const SoundFont font = houseKit();
  return font;
}

// By note, from the softest layer to the loudest.
std::map<int, std::vector<const Zone*>> layers() {
  std::map<int, std::vector<const Zone*>> out;
  for (const Zone& zone : kit().zones) out[zone.note].push_back(&zone);
  return out;
}

const Zone& loudest(int note) {
  return *layers().at(note).back();
}

double peakOf(const Zone& z) {
  double peak = 0;
  for (const int s : z.samples) peak = std::max(peak, std::abs(s / 32'767.0));
  return peak;
}

double powerOf(const Zone& z, double from, double to) {
  double sum = 0;
  for (auto i = static_cast<std::size_t>(from * 48'000); i < static_cast<std::size_t>(to * 48'000);
       ++i) {
    const double s = i < z.samples.size() ? z.samples[i] / 32'767.0 : 0;
    sum += s * s;
  }
  return sum;
}

// The root mean square of its frequencies, in Hz (a sound's slope over the sound itself).
double brightness(const Zone& z) {
  double slope = 0, sound = 0;
  const std::size_t most = std::min<std::size_t>(z.samples.size(), 4'800);
  for (std::size_t i = 1; i < most; ++i) {
    slope += std::pow(z.samples[i] - z.samples[i - 1], 2);
    sound += std::pow(z.samples[i], 2);
  }
  return 48'000 / (2 * 3.14159265358979) * std::sqrt(slope / sound);
}

// Seconds until what is left has fallen by 40 dB.
double decay40(const Zone& z) {
  const double all = powerOf(z, 0, 4);
  double left = all;
  for (std::size_t i = 0; i < z.samples.size(); ++i) {
    left -= std::pow(z.samples[i] / 32'767.0, 2);
    if (left < 1e-4 * all) return static_cast<double>(i) / 48'000;
  }
  return 4;
}

TEST(HouseKit, HasEveryNoteOfItsMapAndIsAFewMegabytes) {
  std::set<int> notes;
  for (const Zone& zone : kit().zones) notes.insert(zone.note);
  for (const KitMapRow& row : houseSounds().rows) EXPECT_TRUE(notes.contains(row.note)) << row.name;
  for (const Piece& piece : uneven::houseKit().pieces) {
    EXPECT_NE(rowFor(houseSounds(), piece, StrokeKind::kNormal, 0), nullptr) << piece.id;
  }
  const Result<std::string> bytes = writeSoundFont(kit());
  ASSERT_TRUE(bytes);
  EXPECT_LT(bytes->size(), 8'000'000U);
  // The bank that was written when the program was built is this one, to the byte.
  EXPECT_EQ(*bytes, testing::readText(houseBankFile()));
}

TEST(HouseKit, LayersCoverEveryVelocityOnceAndMeetWithoutAStep) {
  for (const auto& [note, zones] : layers()) {
    int next = 1;
    for (std::size_t i = 0; i < zones.size(); ++i) {
      EXPECT_EQ(zones[i]->velocityFrom, next) << zones[i]->name;
      next = zones[i]->velocityTo + 1;
      if (i == 0) continue;
      const double power =
          10 * std::log10(powerOf(*zones[i], 0, 0.05) / powerOf(*zones[i - 1], 0, 0.05));
      const double peak = 20 * std::log10(peakOf(*zones[i]) / peakOf(*zones[i - 1]));
      EXPECT_LE(std::abs(power), 0.75) << zones[i]->name;
      EXPECT_LE(std::abs(peak), 0.75) << zones[i]->name;
    }
    EXPECT_EQ(next, 128) << note;
  }
}

TEST(HouseKit, ALouderStrokeIsBrighter) {
  for (const auto& [note, zones] : layers()) {
    if (zones.size() < 2) continue;
    EXPECT_GT(brightness(*zones.back()), 1.05 * brightness(*zones.front())) << zones.front()->name;
  }
}

TEST(HouseKit, TheWiderTheHatsTheLongerTheyRing) {
  for (int note = 45; note <= 49; ++note)
    EXPECT_GT(decay40(loudest(note)), 1.3 * decay40(loudest(note - 1)));
  EXPECT_LT(decay40(loudest(44)), 0.06);
  EXPECT_GT(decay40(loudest(49)), 0.8);
  EXPECT_GT(decay40(loudest(57)), 5 * decay40(loudest(56)));  // a splash of the foot, a chick
}

TEST(HouseKit, WhatIsStruckWithAStickPeaksAtOnce) {
  for (const Zone& zone : kit().zones) {
    const bool foot = zone.note == 57, click = zone.note >= 74;
    if (foot || click) continue;
    const double peak = peakOf(zone);
    double first = 0;
    for (std::size_t i = 0; i < 144; ++i)
      first = std::max(first, std::abs(zone.samples[i] / 32'767.0));
    EXPECT_GT(first, 0.9 * peak) << zone.name;
    EXPECT_LT(peak, 0.95) << zone.name;
  }
}

// --- Silence in front, and files that are not banks ---

TEST(Lead, RefusesWhatIsCutOffAtEveryByte) {
  SoundFont small;
  small.name = "Small";
  small.zones = {{"A", 60, 1, 127, {1, 2, 3, 4}}, {"B", 61, 1, 127, {5, 6, 7}}};
  const std::string bytes = *writeSoundFont(small);
  ASSERT_TRUE(withLead(bytes, "f"));
  for (std::size_t n = 0; n < bytes.size(); ++n) {
    const Result<LedBank> led = withLead(std::string_view(bytes).substr(0, n), "f");
    ASSERT_FALSE(led) << n;
    EXPECT_EQ(led.error().where.file, "f");
    EXPECT_TRUE(led.error().where.byte);
  }
}

TEST(Lead, SurvivesAnyDamageAndAnySize) {
  const std::string bytes = *writeSoundFont(kit());
  Random random(5);
  int refused = 0, passed = 0;
  for (int i = 0; i < 100; ++i) {
    std::string bad = bytes;
    const auto tail = static_cast<int>(bad.size()) - 9'000;
    for (int k = 0; k < 4; ++k) {
      // Most of it is samples: the heads are at the end.
      bad[static_cast<std::size_t>(testing::pick(random, tail, static_cast<int>(bad.size()) - 1))] =
          static_cast<char>(testing::pick(random, 0, 255));
    }
    const Result<LedBank> led = withLead(bad, "f");
    if (!led) {
      ++refused;
      EXPECT_FALSE(led.error().message.empty());
      continue;
    }
    EXPECT_LT(led->bytes.size(), 2 * bytes.size());
    // What passes can be led again: its heads were understood.
    const Result<LedBank> again = withLead(led->bytes, "f");
    ASSERT_TRUE(again) << again.error().line();
    EXPECT_GT(again->bytes.size(), led->bytes.size());
    ++passed;
  }
  EXPECT_GT(refused, 3);
  EXPECT_GT(passed, 10);
}

// Two gigabytes, which take no room on the disk.
TEST(Lead, ABankBeyondAllBoundsIsRefusedUnread) {
  PosixFileSystem files;
  testing::TemporaryFolder folder;
  const std::string file = folder.file("huge.sf2");
  testing::writeText(file, testing::readText(houseBankFile()));
  std::filesystem::resize_file(file, std::uintmax_t{2} << 30);
  const auto loaded = FluidInstrument::load(files, file);
  ASSERT_FALSE(loaded);
  EXPECT_EQ(loaded.error().code, ErrorCode::kLimit) << loaded.error().line();
  EXPECT_EQ(loaded.error().where.file, file);
}

TEST(Lead, BanksThatAreNoneAreRefusedInWords) {
  PosixFileSystem files;
  testing::TemporaryFolder folder;
  const std::string good = testing::readText(houseBankFile());
  const std::pair<const char*, std::string> bad[] = {{"text.sf2", "Dear diary\n"},
                                                     {"empty.sf2", ""},
                                                     {"half.sf2", good.substr(0, good.size() / 2)},
                                                     {"zeros.sf2", std::string(5'000, '\0')}};
  for (const auto& [name, bytes] : bad) {
    testing::writeText(folder.file(name), bytes);
    const auto loaded = FluidInstrument::load(files, folder.file(name));
    ASSERT_FALSE(loaded) << name;
    EXPECT_EQ(loaded.error().code, ErrorCode::kSyntax) << name;
    EXPECT_EQ(loaded.error().where.file, folder.file(name));
  }
  const auto missing = FluidInstrument::load(files, folder.file("none.sf2"));
  ASSERT_FALSE(missing);
  EXPECT_EQ(missing.error().code, ErrorCode::kNotFound);
}

}  // namespace
}  // namespace uneven::bank
