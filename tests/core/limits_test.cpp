// SPDX-License-Identifier: GPL-3.0-or-later
// Small files that ask for a great deal: what will be made is counted before it is made.
#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/io/song_json.h"
#include "core/midi/render.h"
#include "core/midi/smf.h"

namespace uneven {
namespace {

std::string songText(const std::string& feels, const std::string& grooves,
                     const std::string& arrangement) {
  return fmt::format(
      R"({{"format": "uneven-stick-song", "version": 1, "tempo": [{{"at": "0", "bpm": 120}}, )"
      R"({{"at": "100", "bpm": 90}}], "feels": [{}], "grooves": [{}], "arrangement": [{}]}})",
      feels, grooves, arrangement);
}

std::string refusal(const std::string& text) {
  const auto song = readSong(text, "small");
  EXPECT_FALSE(song);
  return song ? std::string() : song.error().line();
}

// Read, performed, rendered and written.
std::size_t answered(const std::string& text) {
  const auto song = readSong(text, "small");
  EXPECT_TRUE(song) << song.error().line();
  if (!song) return 0;
  const auto rendering = render(*song, builtInKitMaps().front(), {});
  EXPECT_TRUE(rendering);
  if (!rendering) return 0;
  const auto bytes = writeSmf(rendering->sequence);
  EXPECT_TRUE(bytes) << bytes.error().line();
  return bytes ? bytes->size() : 0;
}

TEST(Limits, PressesOfThePumpAreCounted) {
  const std::string groove =
      R"({"id": "g", "meter": "64/1", "bars": 64, "pedal": {"pump": {"unit": "1/32:7"}}})";
  EXPECT_EQ(refusal(songText("", groove, R"({"groove": "g", "repeat": 312})")),
            "small:1:1: section \"g\" takes the song to 71565312 movements of the hats' pedal; at "
            "most 2000000 are allowed");
  // Only those that are pressed count, also where a bar ends within the cell: 3584 slots are 716
  // cells and four signs, 1434 presses.
  const std::string ends =
      R"({"id": "g", "meter": "64/1", "bars": 64, "pedal": {"pump": {"unit": "1/32:7", )"
      R"("cell": "xx..."}}})";
  EXPECT_NE(refusal(songText("", ends, R"({"groove": "g", "repeat": 312})"))
                .find(fmt::format("to {} movements", 1434 * 64 * 312)),
            std::string::npos);
  const std::string few = R"({"id": "g", "meter": "64/1", "bars": 64, "pedal": {"pump": {"unit": )"
                          R"("1/32:7", "cell": "x......................................."}}})";
  EXPECT_GT(answered(songText("", few, R"({"groove": "g", "repeat": 2})")), 50U);
}

TEST(Limits, DrawnOpeningsAreCountedWithTheirRepetitions) {
  std::string moves;
  for (int i = 0; i < 1000; ++i) {
    moves += fmt::format("{}{{\"at\": \"{}/1000\", \"for\": \"1/4000\"}}", i == 0 ? "" : ", ", i);
  }
  const std::string groove = fmt::format(R"({{"id": "g", "pedal": {{"moves": [{}]}}}})", moves);
  EXPECT_NE(refusal(songText("", groove, R"({"groove": "g", "repeat": 20000})"))
                .find("movements of the hats' pedal"),
            std::string::npos);
}

TEST(Limits, DriftOfALongSparseSongIsCounted) {
  const std::string feel = R"({"id": "f", "drift": {"clock_ms": 5}})";
  const std::string groove = R"({"id": "g", "feel": "f", "meter": "64/1", "bars": 64})";
  EXPECT_NE(refusal(songText(feel, groove, R"({"groove": "g", "repeat": 312})"))
                .find("at most 1000000 quarter notes in all are allowed to drift"),
            std::string::npos);
  // Without drift, or with one of nothing, it may be as long as that.
  for (const char* still : {R"({"id": "f"})", R"({"id": "f", "drift": {"clock_ms": 0}})"}) {
    EXPECT_TRUE(readSong(songText(still, groove, R"({"groove": "g", "repeat": 312})"), ""))
        << still;
  }
}

TEST(Limits, OrnamentsOnBeatGridsOverManySections) {
  std::string grids;
  std::string hits;
  for (int i = 0; i < 64; ++i) {
    const char* comma = i == 0 ? "" : ", ";
    grids += fmt::format(R"({}{{"at": "{}", "grid": "1/32:7"}})", comma, i);
    hits += fmt::format(R"({}{{"at": "{}", "piece": "snare", "velocity": 50, "ornament": "roll"}})",
                        comma, i);
  }
  const std::string groove = fmt::format(
      R"({{"id": "g", "meter": "64/4", "beat_grids": [{}], "hits": [{}]}})", grids, hits);
  std::string sections;
  for (int i = 0; i < 2000; ++i) sections += fmt::format("{}{{\"groove\": \"g\"}}", i ? ", " : "");
  EXPECT_GT(answered(songText("", groove, sections)), 1'000'000U);
}

TEST(Limits, ManySlotsUnderManyTempos) {
  std::string slots;
  for (int i = 0; i < 1800; ++i) {
    slots += fmt::format(R"({}{{"at": "{}/1800", "ms": 3}})", i ? ", " : "", i);
  }
  const std::string feel =
      fmt::format(R"({{"id": "f", "share_of_bpm": 100, "slots": [{}]}})", slots);
  const std::string groove = R"({"id": "g", "feel": "f", "hits": [{"at": "0", "piece": "kick", )"
                             R"("velocity": 90}, {"at": "1/2", "piece": "kick", "velocity": 90}]})";
  EXPECT_GT(answered(songText(feel, groove, R"({"groove": "g", "repeat": 20000})")), 100'000U);
}

TEST(Limits, ManyOpenHitsNearOnePlaceAndManyGrooves) {
  std::string hits;
  for (int i = 0; i < 10'000; ++i) {
    hits += fmt::format(R"({}{{"at": "{}/10080", "piece": "hat", "velocity": 9, "open": 1, )"
                        R"("open_for": "1/10080"}})",
                        i ? ", " : "", i);
  }
  const std::string groove = fmt::format(R"({{"id": "g", "hits": [{}]}})", hits);
  EXPECT_GT(answered(songText("", groove, R"({"groove": "g", "repeat": 8})")), 50'000U);
  std::string grooves;
  std::string sections;
  for (int i = 0; i < 20'000; ++i) {
    grooves += fmt::format("{}{{\"id\": \"{}\"}}", i ? ", " : "", i);
    sections += fmt::format("{}{{\"groove\": \"{}\"}}", i ? ", " : "", 19'999 - i);
  }
  EXPECT_GT(answered(songText("", grooves, sections)), 100'000U);
  EXPECT_EQ(arrangeGroove(*readSong(songText("", grooves, sections), "small"), "0")->length,
            Beat(4));
}

}  // namespace
}  // namespace uneven
