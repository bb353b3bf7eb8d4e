// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/voice/kit_maps.h"

#include <gtest/gtest.h>

#include <cstdlib>
#include <filesystem>
#include <map>
#include <optional>
#include <set>

#include "core/perform/performance.h"
#include "core/song/edit.h"
#include "core/take/take.h"
#include "tests/support/process.h"

namespace uneven {
namespace {

int noteOf(const KitMap& map, const char* piece, StrokeKind stroke = StrokeKind::kNormal,
           double opening = 0) {
  const KitMapRow* row = map.find(piece, stroke, opening);
  return row == nullptr ? -1 : row->note;
}

TEST(KitMap, TheDefaultIsGeneralMidiPercussion) {
  // General MIDI Level 1 percussion key map.
  const std::map<int, std::string> standard = {
      {36, "Bass Drum 1"},    {37, "Side Stick"},    {38, "Acoustic Snare"}, {42, "Closed Hi-Hat"},
      {43, "High Floor Tom"}, {44, "Pedal Hi-Hat"},  {46, "Open Hi-Hat"},    {47, "Low-Mid Tom"},
      {49, "Crash Cymbal 1"}, {50, "High Tom"},      {51, "Ride Cymbal 1"},  {52, "Chinese Cymbal"},
      {53, "Ride Bell"},      {55, "Splash Cymbal"}, {56, "Cowbell"},        {57, "Crash Cymbal 2"},
      {59, "Ride Cymbal 2"},  {76, "Hi Wood Block"}};
  const KitMap& map = builtInKitMaps().front();
  EXPECT_EQ(map.id, "general-midi");
  EXPECT_EQ(map.channel, 10);
  std::set<int> used;
  for (const KitMapRow& row : map.rows) {
    ASSERT_TRUE(standard.contains(row.note)) << row.piece;
    EXPECT_EQ(row.name, standard.at(row.note)) << row.piece;
    used.insert(row.note);
  }
  EXPECT_EQ(used.size(), standard.size());
  EXPECT_EQ(noteOf(map, "kick"), 36);
  EXPECT_EQ(noteOf(map, "snare"), 38);
  EXPECT_EQ(noteOf(map, "snare", StrokeKind::kCrossStick), 37);
  EXPECT_EQ(noteOf(map, "ride", StrokeKind::kBell), 53);
  EXPECT_EQ(noteOf(map, "hat-foot"), 44);
}

TEST(KitMap, TheHatsTakeTheNoteOfTheirZone) {
  const KitMap& map = *builtInKitMap("general-midi");
  EXPECT_EQ(noteOf(map, "hat", StrokeKind::kNormal, 0), 42);
  EXPECT_EQ(noteOf(map, "hat", StrokeKind::kNormal, 0.1), 42) << "a hair sounds shut";
  EXPECT_EQ(noteOf(map, "hat", StrokeKind::kNormal, 0.11), 46);
  const KitMap& five = *builtInKitMap("house-keys");
  int before = 0;
  for (const double opening : {0.0, 0.3, 0.5, 0.8, 1.0}) {
    EXPECT_GT(noteOf(five, "hat", StrokeKind::kNormal, opening), before);
    before = noteOf(five, "hat", StrokeKind::kNormal, opening);
  }
  const KitMap& one = *builtInKitMap("one-hat");
  EXPECT_EQ(noteOf(one, "hat", StrokeKind::kNormal, 0), noteOf(one, "hat", StrokeKind::kNormal, 1));
  EXPECT_EQ(noteOf(map, "hat", StrokeKind::kEdge, 1), 46) << "edge falls back on normal";
}

TEST(KitMap, DegreesOfOpeningGoFromTightToWide) {
  for (const char* id : {"general-midi", "one-hat"}) {
    const KitMap& map = *builtInKitMap(id);
    const std::vector<HatDegree> degrees = hatDegrees(map);
    std::string names;
    double below = 0;
    for (const HatDegree& d : degrees) {
      names += d.name + ", ";
      EXPECT_EQ(d.above, below) << "one after the other";
      EXPECT_GT(d.to, d.above);
      EXPECT_LE(d.typical(), d.to);
      EXPECT_GE(d.typical(), d.above);
      below = d.to;
    }
    EXPECT_EQ(names, "tight, shut, quarter, half, three quarters, wide, ") << id;
    EXPECT_EQ(below, 1);
    EXPECT_EQ(degrees.front().typical(), 0) << "pressed shut";
  }
  EXPECT_EQ(hatDegrees(*builtInKitMap("house-keys")).size(), 5U);
  EXPECT_TRUE(hatDegrees(KitMap{}).empty());
  const KitMapLibrary library;
  EXPECT_EQ(&library.orDefault("house-keys"), builtInKitMap("house-keys"));
  EXPECT_EQ(library.orDefault("none such").id, "general-midi");
  EXPECT_EQ(library.words(), "general-midi, house-keys, one-hat are");
}

TEST(KitMap, EveryBuiltInMapServesEveryPieceOfTheHouseKit) {
  ASSERT_GE(builtInKitMaps().size(), 2U);
  for (const KitMap& map : builtInKitMaps()) {
    for (const Piece& piece : houseKit().pieces) {
      for (const double opening : {0.0, 0.5, 1.0}) {
        EXPECT_GE(noteOf(map, piece.id.c_str(), StrokeKind::kNormal, opening), 0)
            << map.id << " " << piece.id;
      }
    }
  }
  EXPECT_EQ(builtInKitMap("none such"), nullptr);
}

// What is written is read again as it was, with what a newer program may have put in.
TEST(KitMap, IsWrittenAsItWasRead) {
  for (const KitMap& map : builtInKitMaps()) {
    const Result<KitMap> again = readKitMap(writeKitMap(map), "again");
    ASSERT_TRUE(again) << again.error().line();
    EXPECT_EQ(*again, map);
    EXPECT_FALSE(map.extras.pairs().empty()) << "its source, which is for people";
  }
  const char* text =
      R"({"format": "uneven-stick-kit-map", "version": 1, "id": "a\"b", "room": [1, {"x": null}],
    "notes": [{"piece": "hat", "note": 42, "open_to": 0.123456, "lamp": "red"}, {"piece": "gong", "note": 0}],
    "hat_shut": {"by": "poly-pressure", "hard": true}, "hat_pedal": {"controller": -1, "down": 0, "curve": 2}})";
  const Result<KitMap> map = readKitMap(text, "m");
  ASSERT_TRUE(map);
  const std::string written = writeKitMap(*map);
  const Result<KitMap> again = readKitMap(written, "again");
  ASSERT_TRUE(again) << again.error().line();
  EXPECT_EQ(*again, *map);
  for (const char* key : {"room", "lamp", "hard", "curve"})
    EXPECT_NE(written.find(key), std::string::npos) << key;
  EXPECT_EQ(writeKitMap(*again), written);
}

// XDG Base Directory Specification: what is no full path is left out, then it is in the home.
TEST(KitMap, TheUsersFolderGoesByTheSurroundings) {
  std::map<const char*, std::optional<std::string>> before;
  for (const char* name : {"XDG_DATA_HOME", "HOME"}) {
    const char* value = std::getenv(name);
    before[name] = value == nullptr ? std::optional<std::string>() : std::string(value);
  }
  const auto set = [](const char* name, const std::optional<std::string>& value) {
    value ? setenv(name, value->c_str(), 1) : unsetenv(name);
  };
  const auto folder = [&](const std::optional<std::string>& data,
                          const std::optional<std::string>& home) {
    set("XDG_DATA_HOME", data);
    set("HOME", home);
    return usersKitMapFolder();
  };
  EXPECT_EQ(folder("/data", "/home/d"), "/data/uneven-stick/maps");
  EXPECT_EQ(folder("data", "/home/d"), "/home/d/.local/share/uneven-stick/maps");
  EXPECT_EQ(folder(std::nullopt, "/home/d"), "/home/d/.local/share/uneven-stick/maps");
  EXPECT_EQ(folder(std::nullopt, ""), "");
  EXPECT_EQ(folder(std::nullopt, std::nullopt), "");
  for (const auto& [name, value] : before) set(name, value);
}

TEST(KitMap, TheUsersFolderIsReadAndKeptIn) {
  const testing::TemporaryFolder folder;
  PosixFileSystem files;
  const std::string maps = folder.file("data/maps");
  KitMap mine = *builtInKitMap("one-hat");
  mine.id = "mine/../of mine";
  {
    KitMapLibrary library(files, maps);
    EXPECT_EQ(library.find(mine.id), nullptr);
    EXPECT_TRUE(library.keep(mine));
    KitMap other = mine;
    other.id = "mine-..-of mine";  // the same letters in a file's name
    EXPECT_TRUE(library.keep(other));
    mine.channel = 3;
    EXPECT_TRUE(library.keep(mine)) << "in its own place";
  }
  testing::writeText(maps + "/broken.json", "{\"format\": 3");
  testing::writeText(maps + "/notes.txt", "no map");
  KitMap general = *builtInKitMap("general-midi");
  general.name = "Mine instead";
  testing::writeText(maps + "/general.json", writeKitMap(general));
  KitMapLibrary library(files, maps);
  ASSERT_NE(library.find(mine.id), nullptr);
  EXPECT_EQ(*library.find(mine.id), mine);
  EXPECT_EQ(library.maps().size(), builtInKitMaps().size() + 2);
  EXPECT_EQ(library.orDefault("general-midi").name, "Mine instead");
  ASSERT_EQ(library.unread().size(), 1U);
  EXPECT_NE(library.unread()[0].find("broken.json:1"), std::string::npos) << library.unread()[0];
  EXPECT_EQ(library.named(maps + "/general.json")->name, "Mine instead");
  EXPECT_EQ(library.named(mine.id)->channel, 3);
  const std::string none = library.named("nobody").error().line();
  for (const char* word : {"one-hat", "broken.json:1"})
    EXPECT_NE(none.find(word), std::string::npos) << none;
  EXPECT_EQ(std::distance(std::filesystem::directory_iterator(folder.file("data")), {}), 1)
      << "nothing beside the folder";
  // A folder that cannot be: it is there until the end.
  testing::writeText(folder.file("plain"), "");
  KitMapLibrary nowhere(files, folder.file("plain") + "/maps");
  EXPECT_FALSE(nowhere.keep(mine));
  EXPECT_NE(nowhere.find(mine.id), nullptr);
}

TEST(KitMap, RefusesBadMapsWithTheirLine) {
  const auto error = [](const std::string& notes, const std::string& rest = "") {
    return readKitMap(
               "{\"format\": \"uneven-stick-kit-map\", \"version\": 1,\n\"id\": \"m\",\n"
               "\"notes\": [" +
                   notes + "]" + rest + "}",
               "m.json")
        .error();
  };
  EXPECT_EQ(error(R"({"piece": "kick", "note": 128})").code, ErrorCode::kLimit);
  EXPECT_EQ(error(R"({"piece": "kick", "note": 128})").where.line, 3);
  EXPECT_EQ(error(R"({"piece": "kick"})").message, "notes[0]: \"note\" is missing");
  EXPECT_EQ(error(R"({"piece": "kick", "stroke": "tap", "note": 1})").code, ErrorCode::kUnknown);
  EXPECT_EQ(error("", R"(, "hat_shut": {"by": "magic"})").code, ErrorCode::kUnknown);
  EXPECT_EQ(readKitMap("{\"format\": \"x\"}", "m").error().code, ErrorCode::kSyntax);
}

// An opening written on a zone's border belongs to the zone that ends there, also once it has gone
// through a performance.
TEST(KitMap, AnOpeningOnABorderTakesTheNarrowerZone) {
  for (const KitMap& map : builtInKitMaps()) {
    const std::vector<HatDegree> degrees = hatDegrees(map);
    std::vector<const KitMapRow*> rows;
    for (const KitMapRow& row : map.rows) {
      if (row.piece == "hat" && row.stroke == StrokeKind::kNormal) rows.push_back(&row);
    }
    for (std::size_t i = 0; i < degrees.size(); ++i) {
      Song song = blankSong();
      song.map = map.id;
      song.grooves[0].edit([&](Groove& g) {
        Hit hit;
        hit.piece = piece::kHat;
        hit.open = degrees[i].to;
        hit.openFor = Beat(1, 2);
        g.hits = {hit};
      });
      const Performance performance = (*Take::ofSong(song))->performance();
      const KitMapRow* row =
          rowFor(map, houseKit()[piece::kHat], StrokeKind::kNormal, performance.strokes[0].opening);
      EXPECT_EQ(row, rows[i]) << map.id << " " << degrees[i].to;
      EXPECT_EQ(map.find("hat", StrokeKind::kNormal, degrees[i].to), rows[i]);
      if (i + 1 < degrees.size()) {
        EXPECT_EQ(map.find("hat", StrokeKind::kNormal, degrees[i].to + 1e-6), rows[i + 1]);
      }
    }
  }
}

}  // namespace
}  // namespace uneven
