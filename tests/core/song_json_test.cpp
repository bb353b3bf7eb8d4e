// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/io/song_json.h"

#include <gtest/gtest.h>

#include "core/perform/performance.h"
#include "core/song/edit.h"
#include "tests/support/process.h"
#include "tests/support/random_song.h"

namespace uneven {
namespace {

// Plain hits are read as their members come; a key of somebody else's has them looked up by name.
TEST(SongJson, PlainHitsAreReadAsThoseWithUnknownKeys) {
  testing::Random random(14);
  for (int i = 0; i < 60; ++i) {
    Song song = testing::randomSong(random);
    const auto marked = [&](const char* value) {
      Song out = song;
      for (auto& groove : out.grooves) {
        groove.edit([&](Groove& g) {
          for (Hit& hit : g.hits)
            hit.extras = value ? Extras(Extras::Pairs{{"zz", value}}) : Extras();
        });
      }
      return out;
    };
    const Result<Song> quick = readSong(writeSong(marked(nullptr)), "quick");
    const Result<Song> careful = readSong(writeSong(marked("1")), "careful");
    ASSERT_TRUE(quick && careful);
    song = *careful;
    EXPECT_EQ(marked(nullptr), *quick);
  }
}
TEST(SongJson, HitsAreReadInWhateverOrderTheyAreWritten) {
  const auto hitOf = [](const std::string& members) {
    return readSong(
        R"({"format": "uneven-stick-song", "version": 1, "tempo": [{"at": "0", "bpm": 90}],
      "grooves": [{"id": "g", "hits": [)" +
            members + "]}]}",
        "s");
  };
  const auto song =
      hitOf(R"({"nudge": -2.5, "velocity": 31, "zz": [1], "p\u0069ece": "snare", "at": "7/4"})");
  ASSERT_TRUE(song) << song.error().line();
  const Hit& hit = song->grooves[0]->hits[0];
  EXPECT_EQ(hit.at, Beat(7, 4));
  EXPECT_EQ(hit.piece, piece::kSnare);
  EXPECT_EQ(hit.velocity.value(), 31);
  EXPECT_EQ(hit.nudge, Milliseconds(-2.5));
  EXPECT_EQ(hit.extras.pairs().size(), 1U);
  for (const auto& [members, why] : {
           std::pair{R"({"at": "1", "piece": "hat", "velocity": 4, "at": "2"})", "stands twice"},
           {R"({"at": "1", "piece": "hat", "velocity": 4, "\u0061t": "2"})", "stands twice"},
           {R"({"velocity": 4, "at": "1"})", "\"piece\" is missing"},
           {R"([])", "expected an object"},
           {R"({"velocity": 200, "at": "1", "piece": "hat"})", "hits[0].velocity"},
       }) {
    const auto refused = hitOf(members);
    ASSERT_FALSE(refused) << members;
    EXPECT_NE(refused.error().message.find(why), std::string::npos) << refused.error().message;
  }
}

TEST(SongJson, NobodyDriftsAutomatically) {
  const auto song = readSong(R"({"format": "uneven-stick-song", "version": 1,
    "tempo": [{"at": "0", "bpm": 100}],
    "feels": [{"id": "f", "drift": {"limbs": {"automatic": 2}}}]})",
                             "song");
  ASSERT_FALSE(song);
  EXPECT_EQ(song.error().line(),
            "song:3:60: feels[0].drift.limbs.automatic: \"automatic\" is not allowed; right-hand, "
            "left-hand, right-foot, left-foot are");
}

TEST(SongJson, RoundTripIsIdentity) {
  testing::Random random(1);
  for (int i = 0; i < 500; ++i) {
    const Song song = testing::randomSong(random);
    const std::string text = writeSong(song);
    const Result<Song> back = readSong(text, "random.ustick");
    ASSERT_TRUE(back) << back.error().line() << "\n" << text;
    ASSERT_TRUE(*back == song) << text;
    ASSERT_EQ(writeSong(*back), text);
  }
}

// The song of docs/file-format.md, with every key that the format has.
constexpr const char* kEveryKey = R"({
  "format": "uneven-stick-song", "version": 1, "title": "All keys",
  "tempo": [ {"at": "0", "bpm": 92} ],
  "feels": [ {"id": "pocket", "name": "Pocket",
     "swing": {"unit": "1/16", "ratio": 1.45, "written": "straight", "depth": {"kick": 0.5}},
     "displacement": {"snare": 14, "hat": -5},
     "slots": [ {"at": "3/4", "ms": 4, "velocity": -3, "piece": "hat"} ],
     "drift": {"clock_ms": 0, "motor_ms": 0, "velocity": 0, "exponent": 1, "seed": 1} } ],
  "grooves": [ {"id": "verse", "name": "Verse", "meter": "4/4", "bars": 2, "grid": "1/16",
     "feel": "pocket",
     "hits": [ {"at": "0", "piece": "kick", "velocity": 104},
       {"at": "7/4", "piece": "hat", "velocity": 62, "open": 0.6, "open_for": "1/4", "nudge": -2.5},
       {"at": "3", "piece": "snare", "velocity": 112, "role": "accent", "stroke": "rim-shot",
        "limb": "left-hand", "ornament": "flam"} ],
     "pedal": {"technique": "heel-down", "pump": {"unit": "1/8", "phase": "off", "lift": 0.35}} } ],
  "arrangement": [ {"name": "Verse", "groove": "verse", "repeat": 4, "feel": "pocket"} ],
  "kit": "house", "map": "general-midi", "mood": ["rain", 3]
})";

TEST(SongJson, ReadsEveryKey) {
  const Result<Song> song = readSong(kEveryKey, "s.ustick");
  ASSERT_TRUE(song) << song.error().line();
  const Feel& feel = song->feels.at(0);
  EXPECT_EQ(feel.swing.unit, SwingUnit::kSixteenth);
  EXPECT_EQ(feel.swing.ratio, 1.45);
  EXPECT_EQ(feel.swing.depth.at(piece::kKick), 0.5);
  EXPECT_EQ(feel.displacement.at(piece::kSnare), Milliseconds(14));
  EXPECT_EQ(feel.slots.at(0).velocity, -3);
  const Groove& groove = *song->grooves.at(0);
  EXPECT_EQ(groove.hits.at(1).openFor, Beat(1, 4));
  EXPECT_EQ(groove.hits.at(1).nudge, Milliseconds(-2.5));
  EXPECT_EQ(groove.hits.at(2).stroke, StrokeKind::kRimShot);
  EXPECT_EQ(groove.hits.at(2).ornament, Ornament::kFlam);
  EXPECT_EQ(groove.hits.at(2).limb, Limb::kLeftHand);
  EXPECT_EQ(groove.pedal->pump->phase, PumpPhase::kOff);
  EXPECT_EQ(song->arrangement.at(0).repeat, 4);
  EXPECT_EQ(song->extras.pairs().at(0).second, R"(["rain", 3])") << "unknown keys are kept";
}

struct Refusal {
  const char* was;
  const char* becomes;
  ErrorCode code;
  const char* message;
};

class SongJsonRefuses : public ::testing::TestWithParam<Refusal> {};

TEST_P(SongJsonRefuses, WithPathAndWhatIsAllowed) {
  const Refusal& refusal = GetParam();
  std::string text = kEveryKey;
  const std::size_t at = text.find(refusal.was);
  ASSERT_NE(at, std::string::npos) << refusal.was;
  text.replace(at, std::string(refusal.was).size(), refusal.becomes);
  const Result<Song> song = readSong(text, "s.ustick");
  ASSERT_FALSE(song) << refusal.becomes;
  EXPECT_EQ(song.error().code, refusal.code) << song.error().line();
  EXPECT_NE(song.error().message.find(refusal.message), std::string::npos) << song.error().line();
  // The line is the one that was changed.
  const auto line = 1 + std::count(text.begin(), text.begin() + static_cast<long>(at), '\n');
  EXPECT_EQ(song.error().where.line, line) << song.error().line();
  EXPECT_GE(song.error().where.column, 1);
}

INSTANTIATE_TEST_SUITE_P(
    Limits, SongJsonRefuses,
    ::testing::Values(
        Refusal{R"("velocity": 104)", R"("velocity": 128)", ErrorCode::kLimit,
                "grooves[0].hits[0].velocity: 128 is not allowed; 1..127 is"},
        Refusal{R"("velocity": 104)", R"("velocity": 0)", ErrorCode::kLimit, "1..127"},
        Refusal{R"("velocity": 104)", R"("velocity": 64.5)", ErrorCode::kSyntax, "whole number"},
        Refusal{R"("velocity": 104)", R"("velocity": 99999999999999999999)", ErrorCode::kSyntax,
                "whole number"},
        Refusal{R"("bpm": 92)", R"("bpm": 19.9)", ErrorCode::kLimit, "tempo[0].bpm"},
        Refusal{R"("bpm": 92)", R"("bpm": 401)", ErrorCode::kLimit, "20..400"},
        Refusal{R"("at": "0", "bpm")", R"("at": "1", "bpm")", ErrorCode::kLimit, "first tempo"},
        Refusal{R"([ {"at": "0", "bpm": 92} ])", "[]", ErrorCode::kLimit, "at least one tempo"},
        Refusal{R"("ratio": 1.45)", R"("ratio": 9.5)", ErrorCode::kLimit, "1..9"},
        Refusal{R"("ratio": 1.45)", R"("ratio": 0.5)", ErrorCode::kLimit, "feels[0].swing.ratio"},
        Refusal{R"("unit": "1/16")", R"("unit": "1/4")", ErrorCode::kUnknown, "1/8, 1/16"},
        Refusal{R"({"kick": 0.5})", R"({"kick": 1.5})", ErrorCode::kLimit, "depth.kick"},
        Refusal{R"("snare": 14)", R"("snare": 201)", ErrorCode::kLimit, "-200..200"},
        Refusal{R"("snare": 14)", R"("gong": 14)", ErrorCode::kUnknown, "no piece \"gong\""},
        Refusal{R"("ms": 4)", R"("ms": -300)", ErrorCode::kLimit, "slots[0].ms"},
        Refusal{R"("meter": "4/4")", R"("meter": "4/3")", ErrorCode::kLimit, "1..64 over"},
        Refusal{R"("bars": 2)", R"("bars": 65)", ErrorCode::kLimit, "1..64"},
        Refusal{R"("at": "3", "piece")", R"("at": "8", "piece")", ErrorCode::kLimit,
                "outside its groove, which is 8 quarter"},
        Refusal{R"("at": "3", "piece")", R"("at": "1/10081", "piece")", ErrorCode::kLimit, "10080"},
        Refusal{R"("at": "3", "piece")", R"("at": "-1/4", "piece")", ErrorCode::kLimit, "-1/4"},
        Refusal{R"("at": "3", "piece")", R"("at": 3, "piece")", ErrorCode::kSyntax, "in quotes"},
        Refusal{R"("open": 0.6)", R"("open": 1.01)", ErrorCode::kLimit, "0..1"},
        Refusal{R"("nudge": -2.5)", R"("nudge": "late")", ErrorCode::kSyntax, "a number"},
        Refusal{R"("role": "accent")", R"("role": "loud")", ErrorCode::kUnknown,
                "accent, normal, ghost, grace"},
        Refusal{R"("repeat": 4)", R"("repeat": 0)", ErrorCode::kLimit, "repeat"},
        Refusal{R"("groove": "verse")", R"("groove": "chorus")", ErrorCode::kUnknown, "chorus"},
        Refusal{R"("repeat": 4, "feel": "pocket")", R"("repeat": 4, "feel": "?")",
                ErrorCode::kUnknown, "no feel \"?\""},
        Refusal{R"("kit": "house")", R"("kit": "barn")", ErrorCode::kUnknown, "no kit \"barn\""},
        Refusal{R"("version": 1)", R"("version": 2)", ErrorCode::kVersion, "newer program"},
        Refusal{R"("uneven-stick-song")", R"("something")", ErrorCode::kSyntax, "not a song"},
        Refusal{R"("name": "Verse", "meter")", R"("id": "v2", "meter")", ErrorCode::kSyntax,
                "stands twice"},
        Refusal{R"("lift": 0.35)", R"("lift": 7)", ErrorCode::kLimit, "pedal.pump.lift"}));

TEST(SongJson, RefusesASecondIdAndAMissingKey) {
  std::string text = kEveryKey;
  text.replace(text.find("\"grooves\": ["), 12, "\"grooves\": [ {\"id\": \"verse\"},");
  EXPECT_NE(readSong(text, "s").error().message.find("a second groove of the id \"verse\""),
            std::string::npos);
  text = kEveryKey;
  text.replace(text.find("\"piece\": \"kick\", "), 17, "");
  EXPECT_NE(readSong(text, "s").error().message.find("\"piece\" is missing"), std::string::npos);
}

TEST(SongJson, NamesLineAndColumnOfBrokenJson) {
  const Result<Song> song = readSong("{\n  \"format\": \"x\",\n  oops\n}", "s.ustick");
  ASSERT_FALSE(song);
  EXPECT_EQ(song.error().where.line, 3);
  EXPECT_EQ(song.error().where.column, 3);
  EXPECT_EQ(song.error().line().substr(0, 13), "s.ustick:3:3:");
}

TEST(SongJson, TheDemoAndABlankSongAreValid) {
  const std::string text =
      testing::readText(std::string(SOURCE_DIR) + "/data/demo/lock-gate-nine.ustick");
  const Result<Song> demo = readSong(text, "demo");
  ASSERT_TRUE(demo) << demo.error().line();
  EXPECT_TRUE(writeSong(*demo) == text) << "keep it in the form the program writes";
  EXPECT_TRUE(readSong(writeSong(blankSong()), "blank"));
}

TEST(SongJson, TheMixerIsOptionalAndChecked) {
  const Song plain = blankSong();
  EXPECT_EQ(writeSong(plain).find("mixer"), std::string::npos);
  EXPECT_EQ(plain.mixOf(piece::kHat), houseMix(*plain.kit, piece::kHat));
  Song song = plain;
  song.mixer[piece::kKick] = {-3.5, 0.25, {}};
  const Result<Song> back = readSong(writeSong(song), "f");
  ASSERT_TRUE(back) << back.error().line();
  EXPECT_EQ(back->mixer, song.mixer);
  EXPECT_EQ(back->mixOf(piece::kKick).levelDb, -3.5);
  const auto with = [&](const std::string& mixer) {
    std::string text = writeSong(plain);
    return readSong(text.insert(text.rfind('}'), ", \"mixer\": " + mixer), "f");
  };
  EXPECT_TRUE(with(R"({"snare": {}})"));
  EXPECT_EQ(with(R"({"snare": {"level_db": 13}})").error().code, ErrorCode::kLimit);
  EXPECT_EQ(with(R"({"snare": {"pan": -1.5}})").error().code, ErrorCode::kLimit);
  EXPECT_EQ(with(R"({"gong": {}})").error().code, ErrorCode::kUnknown);
  EXPECT_EQ(with(R"({"snare": 3})").error().code, ErrorCode::kSyntax);
}

// Beats of the groove, and no others: not beside them, not past its end.
TEST(SongJson, ABeatsGridStandsOnABeat) {
  Song song = blankSong();
  song.grooves[0].edit([](Groove& g) { g.beatGrids[Beat(g.bars * 4 - 1)] = {8, 3}; });
  const std::string good = writeSong(song);
  const std::string last = "\"at\": \"" + (song.grooves[0]->length() - Beat(1)).toString() + "\"";
  ASSERT_NE(good.find(last), std::string::npos) << good;
  const auto read = readSong(good, "a.ustick");
  ASSERT_TRUE(read) << read.error().line();
  EXPECT_EQ(read->grooves[0]->beatGrids, song.grooves[0]->beatGrids);
  for (const std::string& at : {song.grooves[0]->length().toString(), std::string("1/2")}) {
    std::string bad = good;
    bad.replace(bad.find(last), last.size(), "\"at\": \"" + at + "\"");
    const auto refused = readSong(bad, "a.ustick");
    ASSERT_FALSE(refused) << at;
    EXPECT_NE(refused.error().message.find("not the start of a beat"), std::string::npos);
  }
}

}  // namespace
}  // namespace uneven
