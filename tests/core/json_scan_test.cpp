// SPDX-License-Identifier: GPL-3.0-or-later
// The quick way through JSON never says more than the library: what it takes the library takes, and
// every error keeps its words and its place.
#include "core/io/json_scan.h"

#include <gtest/gtest.h>

#include <nlohmann/json.hpp>

#include "core/base/utf8.h"
#include "core/io/song_json.h"
#include "tests/support/random_song.h"

namespace uneven {
namespace {

using testing::pick;
using testing::Random;

// The value at a node, by its own bytes and its children's.
nlohmann::json valueOf(std::string_view text, const std::vector<JsonNode>& nodes,
                       std::uint32_t id) {
  const JsonNode& node = nodes[id];
  if (node.kind != JsonKind::kObject && node.kind != JsonKind::kArray) {
    return nlohmann::json::parse(text.substr(node.begin, node.end - node.begin));
  }
  nlohmann::json out =
      node.kind == JsonKind::kObject ? nlohmann::json::object() : nlohmann::json::array();
  for (std::uint32_t child = node.firstChild; child != 0; child = nodes[child].nextSibling) {
    EXPECT_EQ(nodes[child].parent, id);
    if (node.kind == JsonKind::kArray) {
      out.push_back(valueOf(text, nodes, child));
      continue;
    }
    const auto key =
        text.substr(nodes[child].keyBegin, nodes[child].keyEnd - nodes[child].keyBegin);
    out[nlohmann::json::parse(key).get<std::string>()] = valueOf(text, nodes, child);
  }
  return out;
}

// Whether it was taken; then it must be what the library reads.
bool takes(std::string_view text) {
  std::vector<JsonNode> nodes;
  if (!scanJson(text, nodes)) return false;
  const auto library = nlohmann::json::parse(text, nullptr, false);
  EXPECT_FALSE(library.is_discarded()) << text;
  if (library.is_discarded()) return true;
  EXPECT_EQ(valueOf(text, nodes, JsonTree::kRoot), library) << text;
  return true;
}

TEST(JsonScan, TakesEverySongThatIsWritten) {
  Random random(301);
  int taken = 0;
  for (int i = 0; i < 60; ++i) {
    Song song = testing::randomSong(random);
    song.title = "Ænder\xF0\x9F\xA5\x81 / tab";
    taken += takes(writeSong(song)) ? 1 : 0;
    // Keys of other programs may be written in any way, and a seed may have nineteen digits.
    song.extras = {};
    song.feels.clear();
    for (auto& groove : song.grooves) {
      groove.edit([](Groove& g) {
        g.extras = {};
        for (Hit& hit : g.hits) hit.extras = {};
      });
    }
    for (TempoMark& mark : song.tempo) mark.extras = {};
    for (auto& [piece, mix] : song.mixer) mix.extras = {};
    for (Section& section : song.arrangement) {
      section.extras = {};
      if (section.fill) section.fill->extras = {};
      if (section.crash) section.crash->extras = {};
    }
    EXPECT_TRUE(takes(writeSong(song))) << writeSong(song);
  }
  EXPECT_GT(taken, 0);
}

TEST(JsonScan, TakesWhatIsPlainAndLeavesTheRestToTheLibrary) {
  for (const char* text : {"{}", "[]", " [1, -2.5, 0, \"a\\n\\\"\", true, false, null] ", "7",
                           "\"x\"", "{\"a\": {\"b\": [[], {}]}}", "-0", "0.25"}) {
    EXPECT_TRUE(takes(text)) << text;
  }
  for (const char* text : {"",
                           " ",
                           "{",
                           "[1,]",
                           "{\"a\" 1}",
                           "{\"a\": 1,}",
                           "01",
                           "1.",
                           ".5",
                           "+1",
                           "-",
                           "1e5",
                           "tru",
                           "\"\\x\"",
                           "\"\\u0041\"",
                           "\"a\nb\"",
                           "\"\xC3\"",
                           "[1 2]",
                           "1 2",
                           "\"open",
                           "{1: 2}",
                           "1234567890123456789"}) {
    EXPECT_FALSE(takes(text)) << text;
  }
}

TEST(JsonScan, IsAsDeepAsTheTreeIsAndClosesWhatItOpens) {
  const auto nested = [](int opens, int closes) {
    return std::string(static_cast<std::size_t>(opens), '[') +
           std::string(static_cast<std::size_t>(closes), ']');
  };
  constexpr int kMost = JsonTree::kDepthMax;
  EXPECT_TRUE(takes(nested(kMost, kMost)));
  EXPECT_TRUE(JsonTree::parse(nested(kMost, kMost), "deep"));
  EXPECT_FALSE(JsonTree::parse(nested(kMost + 1, kMost + 1), "deep"));
  for (int opens = kMost - 1; opens <= kMost + 2; ++opens) {
    for (int closes = kMost - 2; closes <= kMost + 3; ++closes) {
      if (opens == closes && opens <= kMost) continue;
      EXPECT_FALSE(takes(nested(opens, closes))) << opens << " and " << closes;
    }
  }
}

TEST(JsonScan, BrokenTextIsNeverTakenForGood) {
  Random random(302);
  const std::string text = writeSong(testing::randomSong(random));
  for (std::size_t n = 0; n < text.size(); ++n) takes(text.substr(0, n));
  const char signs[] = "{}[]:,\"\\0129-.etnu \n\x80\xC3";
  int taken = 0;
  for (int i = 0; i < 20'000; ++i) {
    std::string bad = text.substr(0, 3000);
    bad = bad.substr(0, static_cast<std::size_t>(pick(random, 0, 2999)));
    for (int k = pick(random, 1, 3); k > 0 && !bad.empty(); --k) {
      bad[static_cast<std::size_t>(pick(random, 0, static_cast<int>(bad.size()) - 1))] =
          signs[pick(random, 0, static_cast<int>(sizeof signs) - 2)];
    }
    taken += takes(bad) ? 1 : 0;
    std::string small;
    for (int k = pick(random, 1, 8); k > 0; --k) {
      small += signs[pick(random, 0, static_cast<int>(sizeof signs) - 2)];
    }
    taken += takes(small) ? 1 : 0;
  }
  EXPECT_GT(taken, 100) << "some are good";
}

// What the library reads ahead and how it words its errors carries our line and column.
TEST(JsonScan, ErrorsKeepTheirPlaceAndWords) {
  const std::pair<const char*, const char*> cases[] = {
      {"{\n  \"format\": 7\n}", "f:2:13: format: expected text in quotes"},
      {"{\n \"a\": 1e999}", "f:2:12: not valid JSON: number overflow parsing '1e999'"},
      {"{\"a\": [1, 2}",
       "f:1:12: not valid JSON: syntax error while parsing array - unexpected '}'; "
       "expected ']'"},
      {"",
       "f:1:1: not valid JSON: syntax error while parsing value - unexpected end of input; "
       "expected '[', '{', or a literal"}};
  for (const auto& [text, line] : cases) {
    const auto song = readSong(text, "f");
    ASSERT_FALSE(song) << text;
    EXPECT_EQ(song.error().line(), line);
  }
}

TEST(JsonScan, BrokenBytesAreNotPassedOn) {
  const auto song = readSong("{\"format\": \"\xFF\xC3(\"}", "caf\xE9.ustick");
  ASSERT_FALSE(song);
  EXPECT_TRUE(isUtf8(song.error().line())) << song.error().line();
  EXPECT_EQ(song.error().line().substr(0, 15), "caf\xEF\xBF\xBD.ustick:1");
}

TEST(Utf8, IsToldFromOtherBytes) {  // RFC 3629
  for (const char* good : {"", "a", "\xC2\x80", "\xE0\xA0\x80", "\xED\x9F\xBF", "\xF0\x90\x80\x80",
                           "\xF4\x8F\xBF\xBF"}) {
    EXPECT_TRUE(isUtf8(good));
    EXPECT_EQ(asUtf8(good), good);
  }
  for (const char* bad : {"\x80", "\xC0\x80", "\xC1\xBF", "\xE0\x9F\xBF", "\xED\xA0\x80",
                          "\xF0\x8F\xBF\xBF", "\xF4\x90\x80\x80", "\xF5\x80\x80\x80", "\xE2\x82"}) {
    EXPECT_FALSE(isUtf8(bad));
    EXPECT_TRUE(isUtf8(asUtf8(bad)));
  }
}

}  // namespace
}  // namespace uneven
