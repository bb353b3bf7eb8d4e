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
#include "sound/synth/house_instrument.h"
#include "tests/sound/audio.h"
#include "tests/sound/soundfont.h"
#include "tests/support/process.h"
#include "tests/support/random_song.h"

namespace uneven::bank {
namespace {

using testing::Random;

const HouseBank& kit() {
  static const HouseBank bank = houseKit();
  return bank;
}

const HouseSound& soundOn(int note) {
  for (const HouseSound& sound : kit().sounds) {
    if (sound.note == note) return sound;
  }
  ADD_FAILURE() << "no sound on " << note;
  return kit().sounds.front();
}

// The mean power over a part of it, in seconds; of both channels.
double powerOf(const SoundLayer& layer, int take, double from, double to) {
  const SoundTake& t = layer.takes[static_cast<std::size_t>(take)];
  double sum = 0;
  const auto first = static_cast<std::size_t>(from * 48'000);
  const auto last = std::min(t.left.size(), static_cast<std::size_t>(to * 48'000));
  for (std::size_t i = first; i < last; ++i) {
    const double l = layer.gain * t.left[i] / 32'767;
    const double r = t.right.empty() ? l : layer.gain * t.right[i] / 32'767;
    sum += (l * l + r * r) / 2;
  }
  return sum / ((to - from) * 48'000);
}

double peakOf(const SoundTake& t, std::size_t most = ~std::size_t{0}) {
  int peak = 0;
  for (const auto* channel : {&t.left, &t.right}) {
    for (std::size_t i = 0; i < std::min(most, channel->size()); ++i)
      peak = std::max(peak, std::abs((*channel)[i]));
  }
  return peak / 32'767.0;
}

TEST(HouseKit, HasEveryNoteOfItsMapAndIsWhatWasBuilt) {
  for (const KitMapRow& row : houseSounds().rows) EXPECT_EQ(soundOn(row.note).note, row.note);
  for (const Piece& piece : uneven::houseKit().pieces) {
    EXPECT_NE(rowFor(houseSounds(), piece, StrokeKind::kNormal, 0), nullptr) << piece.id;
  }
  const std::string bytes = writeHouseBank(kit());
  EXPECT_LT(bytes.size(), 60'000'000U);
  EXPECT_EQ(bytes, testing::readText(houseBankFile()));
}

TEST(HouseKit, TakesAndLayersAreAsLoudAndNoTwoTakesAreAlike) {
  for (const HouseSound& sound : kit().sounds) {
    const double known = powerOf(sound.layers.back(), 0, 0, 0.05);
    for (const SoundLayer& layer : sound.layers) {
      for (int take = 0; take < kTakes; ++take) {
        const double db = 10 * std::log10(powerOf(layer, take, 0, 0.05) / known);
        EXPECT_LE(std::abs(db), 0.1) << sound.name << " " << layer.force << " " << take;
        const auto& samples = layer.takes[static_cast<std::size_t>(take)].left;
        const bool own = take == 0 || sound.note >= 74 || samples != layer.takes[0].left;
        EXPECT_TRUE(own) << sound.name;
        EXPECT_LE(peakOf(layer.takes[static_cast<std::size_t>(take)]), 1.0001);
      }
    }
  }
}

TEST(HouseKit, WhatIsStruckWithAStickPeaksAtOnce) {
  for (const HouseSound& sound : kit().sounds) {
    const bool foot = sound.note == 57, click = sound.note >= 74, kick = sound.note == 30;
    const bool head = kick || (sound.note >= 38 && sound.note <= 40);
    if (foot || click) continue;
    for (const SoundLayer& layer : sound.layers) {
      // A low head swings for a while before it is at its furthest.
      const SoundTake& take = layer.takes[0];
      EXPECT_GT(peakOf(take, head ? 480 : 144), 0.9 * peakOf(take)) << sound.name << layer.force;
    }
  }
}

// --- Its file ---

TEST(HouseBankFile, ReadsBackAndRefusesWhatIsDamaged) {
  HouseBank small;
  for (int note = 40; note < 43; ++note) {
    HouseSound sound;
    sound.note = note;
    sound.name = "Sound";
    sound.layers.resize(2);
    for (SoundLayer& layer : sound.layers) {
      for (SoundTake& take : layer.takes) take = {{1, 2, 3}, {4, 5, 6}};
    }
    small.sounds.push_back(sound);
  }
  const std::string bytes = writeHouseBank(small);
  const Result<HouseBank> read = readHouseBank(bytes, "f");
  ASSERT_TRUE(read);
  EXPECT_EQ(writeHouseBank(*read), bytes);
  for (std::size_t n = 0; n < bytes.size(); ++n) {
    const Result<HouseBank> cut = readHouseBank(std::string_view(bytes).substr(0, n), "f");
    ASSERT_FALSE(cut) << n;
    EXPECT_EQ(cut.error().where.file, "f");
  }
  Random random(3);
  for (int i = 0; i < testing::rounds(2'000); ++i) {
    std::string bad = bytes;
    for (int k = 0; k < 3; ++k)
      bad[static_cast<std::size_t>(testing::pick(random, 0, static_cast<int>(bad.size()) - 1))] =
          static_cast<char>(testing::pick(random, 0, 255));
    const Result<HouseBank> damaged = readHouseBank(bad, "f");
    EXPECT_FALSE(damaged && damaged->sounds.empty());
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
  const std::string bytes = testing::clickBank(48'000);
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
    EXPECT_LT(led->bytes.size(), 5 * bytes.size());  // its samples are short
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
  testing::writeText(file, testing::clickBank(48'000));
  std::filesystem::resize_file(file, std::uintmax_t{2} << 30);
  const auto loaded = FluidInstrument::load(files, file);
  ASSERT_FALSE(loaded);
  EXPECT_EQ(loaded.error().code, ErrorCode::kLimit) << loaded.error().line();
  EXPECT_EQ(loaded.error().where.file, file);
}

TEST(Lead, BanksThatAreNoneAreRefusedInWords) {
  PosixFileSystem files;
  testing::TemporaryFolder folder;
  const std::string good = testing::clickBank(48'000);
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
