// SPDX-License-Identifier: GPL-3.0-or-later
// Sections: grooves in turn, fills, levels, who is left out, what is played elsewhere, the crash;
// and tempos that ramp. Random arrangements stand beside tests/reference/arrangement.py.
#include <gtest/gtest.h>

#include <cmath>
#include <numeric>

#include "core/arrange/edits.h"
#include "core/check/check.h"
#include "core/io/song_json.h"
#include "core/perform/passage.h"
#include "core/take/take.h"
#include "tests/support/lanes.h"
#include "tests/support/process.h"
#include "tests/support/random_song.h"

namespace uneven {
namespace {

// Two grooves of a bar: a beat with the hats, and a turn over the toms.
Song twoGrooves() {
  Song song = testing::songOfLanes(
      {{"hat", "x.s.x.s.x.s.x.s."}, {"snare", "....X.......X..."}, {"kick", "x.......x......."}},
      Beat(1, 4), 120);
  Groove turn =
      *testing::songOfLanes({{"tom-high", "........xxxx...."}, {"tom-floor", "............xxxx"}},
                            Beat(1, 4), 120)
           .grooves[0];
  turn.id = turn.name = "turn";
  song.grooves.emplace_back(turn);
  song.arrangement[0].repeat = 4;
  return song;
}

std::string pieces(const Take& take, int bar) {
  std::string out;
  for (const Stroke& s : take.strokes()) {
    if (s.bar == bar) out += (*take.score().kit)[s.piece].id + " " + s.at.toString() + ", ";
  }
  return out;
}

SharedTake taken(const Song& song) {
  const Result<SharedTake> take = Take::ofSong(song);
  EXPECT_TRUE(take) << (take ? "" : take.error().line());
  return take ? *take : nullptr;
}

TEST(Sections, AFillTakesTheLastBeats) {
  Song song = twoGrooves();
  song.arrangement[0].fill = SectionFill{"turn", Beat(2), 0, {}};
  const SharedTake take = taken(song);
  const std::string beat = pieces(*take, 0);
  EXPECT_EQ(pieces(*take, 2), beat);
  EXPECT_EQ(
      pieces(*take, 3),
      "hat 0, kick 0, hat 1/2, hat 1, snare 1, hat 3/2, tom-high 2, tom-high 9/4, tom-high 5/2, "
      "tom-high 11/4, tom-floor 3, tom-floor 13/4, tom-floor 7/2, tom-floor 15/4, ");
  song.arrangement[0].fill->every = 2;
  EXPECT_EQ(pieces(*taken(song), 1).substr(0, 40), pieces(*take, 3).substr(0, 40));
  EXPECT_EQ(pieces(*taken(song), 2), beat);
  // The written groove is what is edited.
  const Result<SharedTake> alone = Take::ofGroove(song, song.grooves[0]->id);
  ASSERT_TRUE(alone);
  EXPECT_EQ(pieces(**alone, 0), beat);
  // Passes that are alike share one value.
  song.arrangement[0].repeat = 1'000;
  std::set<const Groove*> values;
  const SharedTake many = taken(song);
  for (const Score::Block& b : many->score().blocks) values.insert(&*b.groove);
  EXPECT_EQ(values.size(), 2U);
}

TEST(Sections, WhoIsLeftOutAndWhatIsPlayedElsewhere) {
  Song song = twoGrooves();
  Section& section = song.arrangement[0];
  section.mute = {"right-foot"};
  section.swap = {{"hat", "ride"}};
  section.crash = SectionCrash{"crash", Velocity(101), {}};
  const SharedTake take = taken(song);
  EXPECT_EQ(pieces(*take, 0),
            "crash 0, ride 1/2, ride 1, snare 1, ride 3/2, ride 2, ride 5/2, ride 3, snare 3, ride "
            "7/2, ");
  EXPECT_EQ(pieces(*take, 1).substr(0, 8), "ride 0, ") << "on the section's first position only";
  EXPECT_EQ(take->strokes().front().velocity, Velocity(101));
}

TEST(Sections, LevelsGoEvenlyOverTheSection) {
  Song song = twoGrooves();
  song.arrangement[0].levelDb = -12;
  song.arrangement[0].toLevelDb = 0;
  const SharedTake take = taken(song);
  for (const Stroke& s : take->strokes()) {
    const int written = take->score().blocks[s.block].groove->hits[s.hit].velocity.value();
    const double along = (4 * s.bar + s.at.toDouble()) / 16;
    EXPECT_EQ(s.velocity.value(), std::lround(written * std::pow(10, (-12 + 12 * along) / 40)));
  }
}

// The sum of its steps, near the integral of 60 / bpm.
TEST(Sections, ARampTakesAsLongAsItsIntegral) {
  Song song = twoGrooves();
  song.tempo = {{Beat(0), Bpm{80}, {}, true}, {Beat(16), Bpm{140}, {}}};
  const TempoMap map = song.tempoMap();
  ASSERT_EQ(map.steps().size(), 65U);
  const double sum = std::accumulate(
      map.steps().begin(), map.steps().end() - 1, 0.0,
      [](double ms, const TempoMap::Step& step) { return ms + step.tempo.usPerQuarter / 4e3; });
  EXPECT_NEAR(map.msAt(Beat(16)).count(), sum, 1e-6);
  const double integral = 60e3 * 16 / (140 - 80) * std::log(140.0 / 80);
  EXPECT_NEAR(sum, integral, integral * 1e-3);
  // Of the last mark there is nothing to go to.
  song.tempo.back().ramp = true;
  EXPECT_EQ(song.tempoMap().steps().size(), 65U);
}

TEST(Sections, AreRefusedWhereTheyCannotBe) {
  const auto read = [](const std::string& arrangement, const std::string& tempo) {
    const std::string file =
        R"({"format": "uneven-stick-song", "version": 1, "tempo": [)" + tempo +
        R"(], "grooves": [{"id": "a"}, {"id": "b", "bars": 2}], "arrangement": [)" + arrangement +
        "]}";
    const Result<Song> song = readSong(file, "s");
    return song ? std::string("read") : song.error().message;
  };
  const std::string even = R"({"at": "0", "bpm": 100})";
  EXPECT_EQ(read(R"({"groove": "a", "fill": {"groove": "b", "beats": "2"}})", even), "read");
  EXPECT_EQ(read(R"({"grooves": ["a", "b"]})", even), "read");
  for (const auto& [section, what] : std::map<std::string, std::string>{
           {R"({"groove": "a", "fill": {"groove": "b", "beats": "5"}})", "wants a fill of 5"},
           {R"({"groove": "a", "fill": {"groove": "b", "beats": "0"}})", "longer than 0"},
           {R"({"groove": "a", "fill": {"groove": "c", "beats": "1"}})", "\"c\""},
           {R"({"grooves": []})", "at least one"},
           {R"({"groove": "a", "mute": ["nobody"]})", "nobody"},
           {R"({"groove": "a", "swap": {"hat": "nothing"}})", "nothing"},
           {R"({"groove": "a", "level_db": 90})", "90"},
           {R"({"groove": "a", "crash": {"piece": "crash", "velocity": 0}})", "0"}}) {
    EXPECT_NE(read(section, even).find(what), std::string::npos) << section << read(section, even);
  }
  EXPECT_NE(read("", R"({"at": "0", "bpm": 100, "ramp": "linear"})").find("cannot ramp"),
            std::string::npos);
  EXPECT_NE(read("", R"({"at": "0", "bpm": 100, "ramp": "curved"}, {"at": "4", "bpm": 90})")
                .find("linear"),
            std::string::npos);
  EXPECT_NE(read("", R"({"at": "0", "bpm": 100, "ramp": "linear"}, {"at": "4000000", "bpm": 90})")
                .find("sixteenths"),
            std::string::npos)
      << "counted before it is made";
}

// What a version needs to be one, and no section plays it.
TEST(ArrangeEdits, AVersionIsKeptBesideItsCore) {
  Song song = twoGrooves();
  song.arrangement.clear();
  Groove variant = *song.grooves[0];
  variant.walk = {WalkNote{}};
  std::string id;
  const Song with = withVersion(song, variant, song.grooves[0]->id, id);
  ASSERT_NE(with.findGroove(id), nullptr);
  EXPECT_EQ(with.findGroove(id)->core, song.grooves[0]->id);
  EXPECT_TRUE(with.findGroove(id)->walk.empty());
  EXPECT_EQ(with.sections(), song.sections());
  Section last;
  last.groove = id;
  const Song longer = withSection(with, last);
  EXPECT_EQ(longer.arrangement.size(), 3U);
  EXPECT_EQ(longer.arrangement.back().groove, id);
}

TEST(ArrangeEdits, OfWhatStandsAroundTheGrooves) {
  const Song song = twoGrooves();
  EXPECT_EQ(withTitle(song, "Weir").title, "Weir");
  EXPECT_EQ(withMap(song, "house-keys").map, "house-keys");
  EXPECT_EQ(withPlayer(song, "me").check.profile, "me");
  EXPECT_EQ(withAim(song, {70, 5}).aim, (SeparationAim{60, 60})) << "within its limits, in order";
  EXPECT_EQ(withMix(song, piece::kSnare, {-3, 0.5, {}}).mixOf(piece::kSnare).levelDb, -3);
  const Song guided = withGuide(song, Guide{"take.wav", Milliseconds(5), {}});
  const Song followed = withTempoOf(guided, {Seconds(1.25), {{Beat(0), Bpm{97.5}}}});
  EXPECT_EQ(followed.tempo.size(), 1U);
  EXPECT_EQ(followed.tempo.front().bpm.value, 97.5);
  EXPECT_EQ(followed.audio->offset, Milliseconds(1'250)) << "it begins where the take does";
  EXPECT_FALSE(withGuide(guided, std::nullopt).audio);
}

TEST(Grouping, AddsUpToTheMeter) {
  const auto read = [](const std::string& keys) {
    return readSong(
        R"({"format": "uneven-stick-song", "version": 1, "tempo": [{"at": "0", "bpm": 90}],
                        "grooves": [{"id": "a", )" +
            keys + "}]}",
        "s");
  };
  const auto song = read(R"("meter": "7/8", "grouping": "2+2+3")");
  ASSERT_TRUE(song);
  EXPECT_EQ(song->grooves[0]->grouping, (std::vector<int>{2, 2, 3}));
  EXPECT_EQ(*readSong(writeSong(*song), "s"), *song);
  EXPECT_EQ(read(R"("meter": "6/8")")->grooves[0]->groups(), (std::vector<int>{3, 3}));
  EXPECT_EQ(read(R"("meter": "5/4")")->grooves[0]->groups(), (std::vector<int>(5, 1)));
  for (const char* wrong : {"2+2+2", "7+", "+7", "", "2+2+3.0", "0+7", "-1+8", "99999999999"})
    EXPECT_FALSE(read(std::string(R"("meter": "7/8", "grouping": ")") + wrong + "\"")) << wrong;
}

TEST(Sections, RandomArrangementsAgreeWithACalculationOfTheirOwn) {
  const testing::TemporaryFolder folder;
  const testing::ProcessResult run =
      testing::runProcess({"/usr/bin/python3", SOURCE_DIR "/tests/reference/arrangement.py",
                           USTICK_PROGRAM, folder.file(""), std::to_string(testing::rounds(60))});
  EXPECT_EQ(run.exitCode, 0) << run.err;
  EXPECT_GT(std::atoi(run.out.c_str()), 1'000);
}

// What a section does to a groove is no finding of its own a second time.
TEST(Sections, AreCheckedOncePerGroove) {
  Song song = twoGrooves();
  song.grooves[0].edit([](Groove& g) {
    for (Hit& hit : g.hits)
      if (hit.piece == piece::kSnare) hit.nudge = Milliseconds(hit.at == Beat(1) ? 30 : 0);
  });
  song.arrangement[0].fill = SectionFill{"turn", Beat(1), 0, {}};
  std::vector<int> times;
  for (const Finding& f : check(*taken(song), {}, builtInKitMaps().front()).findings)
    if (f.kind == FindingKind::kUnisonSpread) times.push_back(f.times);
  EXPECT_EQ(times, std::vector<int>{4}) << "in all passes, as one";
}

}  // namespace
}  // namespace uneven
