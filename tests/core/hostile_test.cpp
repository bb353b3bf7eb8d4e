// SPDX-License-Identifier: GPL-3.0-or-later
// Files that lie. A reader may refuse or accept, but never crash, hang or go beyond the file; what
// it refuses it explains on one line, and what it accepts can be performed and written again.
#include <gtest/gtest.h>

#include "core/io/song_json.h"
#include "core/midi/render.h"
#include "core/midi/smf.h"
#include "core/perform/performance.h"
#include "tests/support/process.h"
#include "tests/support/random_song.h"

namespace uneven {
namespace {

using testing::pick;
using testing::Random;

std::string demoText() {
  return testing::readText(std::string(SOURCE_DIR) + "/data/demo/lock-gate-nine.ustick");
}

void readHostileSong(const std::string& text) {
  const Result<Song> song = readSong(text, "bad.ustick");
  if (!song) {
    EXPECT_EQ(song.error().line().find('\n'), std::string::npos);
    EXPECT_FALSE(song.error().message.empty());
    EXPECT_GE(song.error().where.line, 1);
    return;
  }
  const Result<Rendering> rendering = render(*song, builtInKitMaps().front(), {});
  if (rendering) {
    EXPECT_TRUE(writeSmf(rendering->sequence));
  }
  EXPECT_TRUE(readSong(writeSong(*song), "again"));
}

void readHostileMidi(const std::string& bytes) {
  const Result<MidiSequence> sequence = readSmf(bytes, "bad.mid");
  if (!sequence) {
    EXPECT_EQ(sequence.error().line().find('\n'), std::string::npos);
    ASSERT_TRUE(sequence.error().where.byte);
    EXPECT_LE(*sequence.error().where.byte, bytes.size());
  }
}

std::string smallSong() {
  testing::Random random(31);
  Song song = testing::randomSong(random);
  while (writeSong(song).size() > 4000) song = testing::randomSong(random);
  return writeSong(song);
}

std::string smallMidi() {
  testing::Random random(32);
  const auto rendering = render(testing::randomSong(random), builtInKitMaps().front(), {});
  return *writeSmf(rendering->sequence);
}

TEST(HostileSong, TruncatedAtEveryByte) {
  const std::string text = smallSong();
  for (std::size_t n = 0; n + 2 < text.size(); ++n) {
    EXPECT_FALSE(readSong(text.substr(0, n), "bad")) << n;
    readHostileSong(text.substr(0, n));
  }
}

TEST(HostileSong, BitFlips) {
  const std::string text = demoText();
  Random random(33);
  for (int i = 0; i < 3000; ++i) {
    std::string bad = text;
    for (int k = pick(random, 1, 3); k > 0; --k) {
      bad[static_cast<std::size_t>(pick(random, 0, static_cast<int>(bad.size()) - 1))] ^=
          static_cast<char>(1 << pick(random, 0, 7));
    }
    readHostileSong(bad);
  }
}

TEST(HostileSong, TokensSwappedForOthers) {
  const char* tokens[] = {"1e999",   "-1",          "\"\"", "null",
                          "[]",      "{}",          "true", "99999999999999999999",
                          "\"1/0\"", "\"\\ud800\"", "0.1",  "\"9223372036854775807/3\""};
  const std::string text = smallSong();
  Random random(34);
  for (int i = 0; i < 3000; ++i) {
    const std::size_t colon =
        text.find(": ", static_cast<std::size_t>(pick(random, 0, static_cast<int>(text.size()))));
    if (colon == std::string::npos) continue;
    const std::size_t end = text.find_first_of(",}]\n", colon);
    std::string bad = text;
    bad.replace(colon + 2, end - colon - 2, tokens[pick(random, 0, 11)]);
    readHostileSong(bad);
  }
}

TEST(HostileSong, DeepNestingAndHugeCounts) {
  for (const char* open : {"[", "{\"a\":"}) {
    std::string deep;
    for (int i = 0; i < 200'000; ++i) deep += open;
    const auto song = readSong(deep, "deep");
    ASSERT_FALSE(song);
    EXPECT_NE(song.error().message.find("nested deeper"), std::string::npos);
  }
  std::string keys = "{";
  for (int i = 0; i < 200'000; ++i) keys += "\"k" + std::to_string(i) + "\": 1,";
  keys += "\"k0\": 2}";
  EXPECT_NE(readSong(keys, "keys").error().message.find("stands twice"), std::string::npos);

  // Few bytes that ask for 20 000 bars of 64 hits each, one section too many for the limit.
  std::string text = demoText();
  const std::size_t at = text.find("\"repeat\": 3");
  text.replace(at, 11, "\"repeat\": 9999");
  const auto song = readSong(text, "long");
  ASSERT_FALSE(song);
  EXPECT_EQ(song.error().code, ErrorCode::kLimit);
}

TEST(HostileMidi, TruncatedAtEveryByte) {
  const std::string bytes = smallMidi();
  ASSERT_TRUE(readSmf(bytes, "good"));
  for (std::size_t n = 0; n < bytes.size(); ++n) {
    EXPECT_FALSE(readSmf(bytes.substr(0, n), "bad")) << n;
    readHostileMidi(bytes.substr(0, n));
  }
}

TEST(HostileMidi, BitFlipsAndNoise) {
  const std::string bytes = smallMidi();
  Random random(35);
  for (int i = 0; i < 20'000; ++i) {
    std::string bad = bytes;
    for (int k = pick(random, 1, 4); k > 0; --k) {
      bad[static_cast<std::size_t>(pick(random, 0, static_cast<int>(bad.size()) - 1))] =
          static_cast<char>(pick(random, 0, 255));
    }
    readHostileMidi(bad);
  }
}

}  // namespace
}  // namespace uneven
