// SPDX-License-Identifier: GPL-3.0-or-later
// Every tool keeps the laws that its name promises, on random grooves.
#include "core/tools/tool.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "core/io/song_json.h"
#include "core/measure/level.h"
#include "tests/support/random_song.h"

namespace uneven {
namespace {

using testing::pick;
using testing::Random;

ToolOutcome run(std::string_view tool, const Groove& groove, const Arguments& arguments = {}) {
  Result<ToolOutcome> out = runTool(tool, groove, houseKit(), arguments);
  EXPECT_TRUE(out) << out.error().line();
  return out ? *out : ToolOutcome{groove, {}};
}

Error refusal(std::string_view tool, const Arguments& arguments) {
  const Result<ToolOutcome> out = runTool(tool, Groove{}, houseKit(), arguments);
  EXPECT_FALSE(out);
  return out ? Error{} : out.error();
}

// One hit a piece and position, as the tools write; plain values.
Groove plainGroove(Random& random) {
  Groove groove;
  groove.id = "g";
  groove.bars = pick(random, 1, 4);
  groove.meter = pick(random, 0, 1) == 0 ? Meter{4, 4} : Meter{7, 8};
  const int slots = static_cast<int>(groove.length().toDouble() * 4);
  for (int i = pick(random, 0, 40); i > 0; --i) {
    Hit hit;
    hit.at = Beat(pick(random, 0, slots - 1), 4);
    hit.piece = {static_cast<std::uint8_t>(pick(random, 0, 14))};
    hit.velocity = Velocity(pick(random, 20, 110));
    hit.role = static_cast<Role>(pick(random, 0, 2));
    groove = withHit(std::move(groove), hit);
  }
  return groove;
}

std::string placesOf(const Groove& groove, PieceId piece) {
  std::string out;
  for (const Hit& hit : groove.hits) {
    if (hit.piece == piece) out += (out.empty() ? "" : " ") + hit.at.toString();
  }
  return out;
}

TEST(Tools, EveryToolWithItsDefaultsGivesAValidGroove) {
  Random random(71);
  std::map<std::string, int> done;
  for (int i = 0; i < testing::rounds(60); ++i) {
    const Groove groove = testing::randomGroove(random, "g", "");
    for (const Tool& tool : tools()) {
      Arguments arguments;
      if (tool.name == "sticking") arguments["text"] = "RLRR";
      const Result<ToolOutcome> out = runTool(tool.name, groove, houseKit(), arguments);
      if (!out) {  // in words: copy-bars on a single bar
        ASSERT_FALSE(out.error().message.empty());
        continue;
      }
      ++done[tool.name];
      EXPECT_FALSE(out->notes.empty()) << tool.name;
      Song song = blankSong();
      song = withGroove(song, out->groove);
      const Result<Song> back = readSong(writeSong(song), tool.name);
      ASSERT_TRUE(back) << tool.name << ": " << back.error().line();
      ASSERT_TRUE(*back == song) << tool.name << " leaves hits out of order";
    }
  }
  for (const Tool& tool : tools()) EXPECT_GT(done[tool.name], 5) << tool.name << " refuses it all";
}

TEST(Tools, RefuseWhatIsNotAllowedAndSayWhatIs) {
  EXPECT_EQ(refusal("sing", {}).code, ErrorCode::kUnknown);
  EXPECT_EQ(refusal("echo", {{"loudness", "3"}}).code, ErrorCode::kUnknown);
  EXPECT_NE(refusal("echo", {{"loudness", "3"}}).message.find("it has piece, from"),
            std::string::npos);
  EXPECT_EQ(refusal("echo", {{"level_db", "90"}}).message,
            "echo: level_db: \"90\" is not allowed; 3..60 is");
  EXPECT_EQ(refusal("echo", {{"piece", "gong"}}).code, ErrorCode::kUnknown);
  EXPECT_EQ(refusal("ostinato", {{"kind", "cell"}, {"cell", "..."}}).code, ErrorCode::kSyntax);
  EXPECT_EQ(refusal("rotate", {{"from", "2"}, {"to", "1"}}).code, ErrorCode::kLimit);
  EXPECT_EQ(refusal("delete-bars", {}).code, ErrorCode::kLimit);
  EXPECT_NE(refusal("sticking", {{"text", "RLX"}}).message.find("letter 3"), std::string::npos);
}

// What is no value of its kind, and numbers a little outside; each is refused by name.
TEST(Tools, EveryParameterRefusesWhatItIsNot) {
  int refused = 0;
  for (const Tool& tool : tools()) {
    for (const ToolParameter& p : tool.parameters) {
      if (p.kind == ParameterKind::kText) continue;  // what it means is the tool's
      std::vector<std::string> wrong{"zebra", "", "1 2"};
      if (p.kind == ParameterKind::kWhole || p.kind == ParameterKind::kReal ||
          p.kind == ParameterKind::kLength) {
        for (const double outside : {p.min - 1, p.max + 1})
          wrong.push_back(std::to_string(static_cast<std::int64_t>(outside)));
      }
      if (p.kind == ParameterKind::kWhole) wrong.emplace_back("1.5");
      if (p.kind == ParameterKind::kLength) wrong.emplace_back("1/100003");
      for (const std::string& value : wrong) {
        if (value == p.fallback) continue;  // a word that is allowed, as nothing is
        if (std::find(p.choices.begin(), p.choices.end(), value) != p.choices.end()) continue;
        const Error error = refusal(tool.name, {{p.name, value}});
        EXPECT_EQ(error.message.rfind(tool.name + ": " + p.name + ": \"" + value + "\"", 0), 0U)
            << error.message;
        ++refused;
      }
    }
  }
  EXPECT_GT(refused, 300);
}

TEST(Tools, RotatingByTheLengthIsIdentityAndBackAgain) {
  Random random(72);
  for (int i = 0; i < 100; ++i) {
    const Groove groove = plainGroove(random);
    EXPECT_EQ(run("rotate", groove, {{"by", groove.length().toString()}}).groove, groove);
    const Beat by(pick(random, -30, 30), 4);
    const Groove there = run("rotate", groove, {{"by", by.toString()}}).groove;
    EXPECT_EQ(run("rotate", there, {{"by", (Beat(0) - by).toString()}}).groove, groove);
  }
}

TEST(Tools, ReverseAndMirrorTwiceAreIdentity) {
  Random random(73);
  for (int i = 0; i < 100; ++i) {
    Groove groove = plainGroove(random);
    EXPECT_EQ(run("reverse", run("reverse", groove).groove).groove, groove);
    const Groove once = run("mirror", groove).groove;
    EXPECT_EQ(run("mirror", run("mirror", once).groove).groove, once);
  }
}

TEST(Tools, HalfTimeThenDoubleTimeIsIdentity) {
  Random random(74);
  for (int i = 0; i < 100; ++i) {
    const Groove groove = plainGroove(random);
    const Groove half = run("stretch", groove, {{"to_time", "half"}}).groove;
    EXPECT_EQ(half.bars, 2 * groove.bars);
    EXPECT_EQ(run("stretch", half, {{"to_time", "double"}}).groove, groove);
  }
}

TEST(Tools, EchoAddsAtMostOneSofterHitForEach) {
  Random random(75);
  for (int i = 0; i < 100; ++i) {
    const Groove groove = plainGroove(random);
    const double db = pick(random, 3, 40);
    const Groove out =
        run("echo", groove, {{"piece", "any"}, {"level_db", std::to_string(db)}}).groove;
    EXPECT_LE(out.hits.size(), 2 * groove.hits.size());
    for (const Hit& hit : out.hits) {
      if (indexOf(groove, {hit.at, hit.piece})) continue;
      const auto lead = indexOf(groove, {hit.at - Beat(1, 4), hit.piece});
      ASSERT_TRUE(lead) << "an echo follows a hit by a sixteenth";
      const double under = levelOf(groove.hits[*lead].velocity).value - levelOf(hit.velocity).value;
      // To the nearest velocity, which at the soft end is coarse.
      const double above = levelOf(Velocity(hit.velocity.value() + 1)).value;
      EXPECT_NEAR(under, db, hit.velocity.value() == 1 ? 90 : above - levelOf(hit.velocity).value);
    }
  }
}

TEST(Tools, LineariseLeavesNoTwoTogether) {
  Random random(76);
  for (int i = 0; i < 100; ++i) {
    const Groove groove = plainGroove(random);
    const Groove out = run("linearise", groove, {{"take", "hat"}}).groove;
    for (const Hit& hat : out.hits) {
      if (hat.piece != piece::kHat) continue;
      for (const Hit& other : out.hits) EXPECT_TRUE(other.piece == hat.piece || other.at != hat.at);
    }
    EXPECT_EQ(run("linearise", groove, {{"take", "hat"}, {"list", "yes"}}).groove, groove);
  }
}

TEST(Tools, FillTheGapsAndItsMaskCoverTheGrid) {
  Random random(77);
  for (int i = 0; i < 100; ++i) {
    const Groove groove = plainGroove(random);
    const Groove out = run("fill-gaps", groove, {{"grid", "1/16"}}).groove;
    std::set<Beat> places;
    for (const Hit& hit : out.hits) places.insert(hit.at);
    for (Beat at; at < groove.length(); at += Beat(1, 4)) EXPECT_TRUE(places.contains(at));
    EXPECT_EQ(out.hits.size() - groove.hits.size(),
              static_cast<std::size_t>(
                  std::count_if(out.hits.begin(), out.hits.end(),
                                [&](const Hit& h) {
                                  return std::none_of(groove.hits.begin(), groove.hits.end(),
                                                      [&](const Hit& g) { return g.at == h.at; });
                                })))
        << "only gaps are filled";
  }
}

TEST(Tools, TheLeftHandPlaysEveryTripletButThoseOfTheKick) {
  Groove groove;
  groove.grid = {8, 3};
  for (const Beat at : {Beat(0), Beat(5, 3), Beat(3)}) {
    Hit kick;
    kick.at = at;
    kick.piece = piece::kKick;
    groove = withHit(groove, kick);
  }
  const Groove out = run("fill-gaps", groove, {{"around", "right-foot"}}).groove;
  EXPECT_EQ(placesOf(out, piece::kSnare), "1/3 2/3 1 4/3 2 7/3 8/3 10/3 11/3");
}

TEST(Tools, OstinatosFallWhereTheirNamesSay) {
  const auto places = [](const Arguments& arguments) {
    return placesOf(run("ostinato", Groove{}, arguments).groove, piece::kHat);
  };
  EXPECT_EQ(places({{"kind", "offbeats"}}), "1/2 3/2 5/2 7/2");
  EXPECT_EQ(places({{"kind", "shuffle"}, {"to", "2"}}), "0 2/3 1 5/3");
  EXPECT_EQ(places({{"kind", "broken-sixteenths"}, {"to", "2"}}), "0 1/4 1/2 1 5/4 3/2");
  EXPECT_EQ(places({{"kind", "cell"}, {"cell", "x.."}, {"to", "2"}}), "0 3/4 3/2") << "3 over 16";
  const Groove hands = run("ostinato", Groove{}, {{"kind", "hand-to-hand"}}).groove;
  EXPECT_EQ(hands.hits[0].limb, Limb::kRightHand);
  EXPECT_EQ(hands.hits[15].limb, Limb::kLeftHand);
}

TEST(Tools, BackbeatsFallWhereTheirNamesSay) {
  const auto places = [](const char* kind) {
    return placesOf(run("backbeat", Groove{}, {{"kind", kind}}).groove, piece::kSnare);
  };
  EXPECT_EQ(places("two-and-four"), "1 3");
  EXPECT_EQ(places("half-time"), "2");
  EXPECT_EQ(places("displaced-four"), "1 7/2");
  EXPECT_EQ(places("displaced-three"), "5/2");
}

TEST(Tools, GhostDepthKeepsDifferencesAndItsCeiling) {
  Groove groove;
  for (int i = 0; i < 4; ++i) {
    Hit ghost;
    ghost.at = Beat(i, 4);
    ghost.piece = piece::kSnare;
    ghost.role = Role::kGhost;
    ghost.velocity = Velocity(20 + 6 * i);
    groove = withHit(groove, ghost);
  }
  const Groove softer = run("ghost-depth", groove, {{"db", "-4"}}).groove;
  for (std::size_t i = 0; i < 4; ++i) {
    EXPECT_NEAR(levelOf(groove.hits[i].velocity).value - levelOf(softer.hits[i].velocity).value, 4,
                0.6);
  }
  const ToolOutcome held = run("ghost-depth", groove, {{"db", "10"}, {"ceiling", "45"}});
  EXPECT_EQ(held.groove.hits[3].velocity, Velocity(45));
  EXPECT_EQ(held.notes.back(), "3 hits held at ceiling 45");
}

TEST(Tools, AccentPatternsAndShapes) {
  const Groove hats = run("ostinato", Groove{}, {{"kind", "sixteenths"}}).groove;
  const Groove threes = run("accent-pattern", hats, {{"on", "cell"}, {"cell", ">.."}}).groove;
  std::string accents;
  for (const Hit& hit : threes.hits) accents += hit.role == Role::kAccent ? '>' : '.';
  EXPECT_EQ(accents, ">..>..>..>..>..>");
  Groove flat = hats;
  for (Hit& hit : flat.hits) hit.velocity = Velocity(100);
  const Groove rising = run("shape", flat, {{"kind", "crescendo"}, {"low_db", "12"}}).groove;
  EXPECT_TRUE(std::is_sorted(rising.hits.begin(), rising.hits.end(),
                             [](const Hit& a, const Hit& b) { return a.velocity < b.velocity; }));
  EXPECT_EQ(rising.hits.front().velocity, Velocity(50));  // 12 dB below 100
  EXPECT_EQ(rising.hits.back().velocity, Velocity(100));
  EXPECT_EQ(run("spread", flat, {{"factor", "0"}}).groove, flat);
}

TEST(Tools, BarsAreCopiedInsertedAndDeleted) {
  Random random(78);
  for (int i = 0; i < 50; ++i) {
    Groove groove = plainGroove(random);
    const Groove more = run("insert-bars", groove, {{"before", "1"}, {"count", "2"}}).groove;
    EXPECT_EQ(more.bars, groove.bars + 2);
    EXPECT_EQ(run("delete-bars", more, {{"bar", "1"}, {"count", "2"}}).groove, groove);
    const Groove copied = run("copy-bars", more, {{"bar", "3"}, {"onto", "1"}}).groove;
    const Beat bar = groove.meter.barLength();
    for (const Hit& hit : groove.hits) {
      EXPECT_EQ(indexOf(copied, {hit.at, hit.piece}).has_value(),
                hit.at < bar || indexOf(groove, {hit.at - Beat(2) * bar, hit.piece}).has_value());
    }
  }
}

TEST(Tools, OrchestrateMovesEveryNthHit) {
  const Groove hats = run("ostinato", Groove{}, {{"kind", "sixteenths"}}).groove;
  const Groove out =
      run("orchestrate", hats, {{"piece", "hat"}, {"onto", "ride"}, {"every", "4"}}).groove;
  EXPECT_EQ(placesOf(out, piece::kRide), "0 1 2 3");
  EXPECT_EQ(out.hits.size(), hats.hits.size());
}

TEST(Tools, OrchestrateFitsLevelsToThePiece) {
  Groove groove;
  const auto add = [&](Beat at, PieceId piece, int velocity) {
    Hit hit;
    hit.at = at;
    hit.piece = piece;
    hit.velocity = Velocity(velocity);
    groove = withHit(std::move(groove), hit);
  };
  for (int i = 0; i < 3; ++i) add(Beat(i), piece::kHat, 60 + 10 * i);
  add(Beat(3), piece::kRide, 105);
  const Arguments arguments{{"onto", "ride"}, {"piece", "hat"}, {"fit", "yes"}};
  const Groove fitted = run("orchestrate", groove, arguments).groove;
  std::vector<int> velocities;
  for (const Hit& hit : fitted.hits) velocities.push_back(hit.velocity.value());
  EXPECT_EQ(velocities, (std::vector<int>{90, 105, 120, 105}));
}

TEST(Tools, BackbeatsAndShapesCanBeTyped) {
  Groove groove;
  groove = run("backbeat", groove, {{"kind", "typed"}, {"places", "2 4&, 1a"}}).groove;
  EXPECT_EQ(placesOf(groove, piece::kSnare), "3/4 1 7/2");
  EXPECT_EQ(refusal("backbeat", {{"kind", "typed"}, {"places", "2 x"}}).message,
            "backbeat: places: letter 3: a count must stand here, as in 2 4&");
  groove.meter = {6, 8};
  groove = run("backbeat", Groove{groove}, {{"kind", "typed"}, {"places", "2"}}).groove;
  EXPECT_TRUE(indexOf(groove, {Beat(3, 2), piece::kSnare}));

  Groove hats = run("ostinato", Groove{}, {{"on_beat", "100"}, {"velocity", "100"}}).groove;
  hats = run("shape", hats, {{"kind", "typed"}, {"levels", "0 -12 0"}, {"to", "5/2"}}).groove;
  std::vector<int> velocities;
  for (const Hit& hit : hats.hits) velocities.push_back(hit.velocity.value());
  // Five eighths: 0, -6, -12, -6, 0 dB by 40 log10, then what lies behind the span.
  EXPECT_EQ(velocities, (std::vector<int>{100, 71, 50, 71, 100, 100, 100, 100}));
  EXPECT_NE(refusal("shape", {{"kind", "typed"}, {"levels", "0 99"}}).message.find("\"99\""),
            std::string::npos);
}

TEST(Tools, EveryStartingPointIsAPlayablePattern) {
  const ToolParameter& names = findTool("start")->parameters.front();
  ASSERT_GE(names.choices.size(), 10U);
  for (const std::string& name : names.choices) {
    const Groove groove = run("start", Groove{}, {{"pattern", name}, {"bars", "3"}}).groove;
    ASSERT_EQ(groove.bars, 3) << name;
    ASSERT_GE(groove.hits.size(), 12U) << name;
    // The third bar is the first again.
    for (const Hit& hit : groove.hits) {
      const Beat later = hit.at + Beat(2) * groove.meter.barLength();
      if (hit.at < groove.meter.barLength()) {
        ASSERT_TRUE(indexOf(groove, {later, hit.piece})) << name << " " << hit.at.toString();
      }
    }
  }
  const Groove linear = run("start", Groove{}, {{"pattern", "linear"}}).groove;
  EXPECT_EQ(run("linearise", linear, {{"list", "yes"}}).notes.back(), "0 places in all");
  // Right, left, left: the left hand plays both later partials of every beat.
  const Groove shuffle = run("start", Groove{}, {{"pattern", "half-time-shuffle-rll"}}).groove;
  EXPECT_EQ(placesOf(shuffle, piece::kHat), "0 1 2 3 4 5 6 7");
}

TEST(Tools, TheMeterChangesWithAChoiceOfWhatBecomesOfTheHits) {
  Groove groove = run("start", Groove{}, {{"pattern", "straight-eighths"}, {"bars", "1"}}).groove;
  const auto snares = [&](const char* hits) {
    return placesOf(run("meter", groove, {{"meter", "3/4"}, {"hits", hits}, {"bars", "2"}}).groove,
                    piece::kSnare);
  };
  EXPECT_EQ(snares("keep-distance"), "1 3");
  EXPECT_EQ(snares("keep-bars"), "1");
  EXPECT_EQ(snares("scale-bars"), "3/4 9/4");
  EXPECT_NE(refusal("meter", {{"meter", "4/5"}}).message.find("as 7/8"), std::string::npos);
}

TEST(Tools, FollowTheGridsOfSingleBeats) {
  Groove groove;
  groove.beatGrids[Beat(1)] = {8, 3};
  groove = run("fill-gaps", groove).groove;
  EXPECT_EQ(placesOf(groove, piece::kSnare),
            "0 1/4 1/2 3/4 1 4/3 5/3 2 9/4 5/2 11/4 3 13/4 7/2 15/4");
  groove.hits.clear();
  groove = run("sticking", groove, {{"text", "RLRL RLL R"}}).groove;
  EXPECT_EQ(placesOf(groove, piece::kSnare), "0 1/4 1/2 3/4 1 4/3 5/3 2");
}

TEST(Tools, ASpanIsCopiedAndRepeated) {
  Groove groove;
  groove.bars = 2;
  groove = run("sticking", groove, {{"text", "RlL"}}).groove;
  groove = run("copy-span", groove, {{"to", "1"}, {"times", "9"}}).groove;
  EXPECT_EQ(placesOf(groove, piece::kSnare),
            "0 1/4 1/2 1 5/4 3/2 2 9/4 5/2 3 13/4 7/2 4 17/4 9/2 5 21/4 11/2 6 25/4 13/2 7 29/4 "
            "15/2");
  const ToolOutcome onto = run("copy-span", groove, {{"to", "1/4"}, {"onto", "1/2"}});
  EXPECT_EQ(onto.notes,
            (std::vector<std::string>{"1 hit copied", "1 hit replaced what stood there"}));
}

TEST(Tools, TheFootTakesTheStrokeThatShutsTheHatsAndGivesItBack) {
  // 1 e & with the 1 open: the & is the same sound by foot.
  Groove groove = run("ostinato", Groove{}, {{"kind", "broken-sixteenths"}}).groove;
  for (Hit& hit : groove.hits) {
    if (hit.at.den() == 4) hit.open = 0.5;
  }
  const Groove byFoot = run("hand-and-foot", groove).groove;
  EXPECT_EQ(placesOf(byFoot, piece::kHatFoot), "1/2 3/2 5/2 7/2");
  EXPECT_EQ(run("hand-and-foot", byFoot, {{"to_limb", "hand"}}).groove, groove);
}

TEST(Tools, AnOpeningWithoutAStrokeIsTyped) {
  Groove groove = run("draw-opening", Groove{}, {{"at", "2"}, {"open", "70"}}).groove;
  groove = run("draw-opening", groove, {{"at", "1"}, {"for", "1/2"}}).groove;
  ASSERT_EQ(groove.pedal->moves.size(), 2U);
  EXPECT_EQ(groove.pedal->moves[0], (PedalMove{Beat(1), 0.5, Beat(1, 2), {}}));
  EXPECT_EQ(groove.pedal->moves[1], (PedalMove{Beat(2), 0.7, Beat(1, 4), {}}));
  groove = run("draw-opening", groove, {{"at", "1"}, {"open", "0"}}).groove;
  EXPECT_EQ(groove.pedal->moves.size(), 1U);
  EXPECT_NE(refusal("draw-opening", {{"at", "9"}}).message.find("outside the groove"),
            std::string::npos);
}

// Downbeats of a bar that is grouped by hand are where its groups begin.
TEST(Tools, AccentsGoByTheGrouping) {
  Groove groove;
  groove.meter = {7, 8};
  groove.grouping = {2, 2, 3};
  for (int i = 0; i < 7; ++i) {
    Hit hit;
    hit.at = Beat(i, 2);
    hit.piece = piece::kSnare;
    groove.hits.push_back(hit);
  }
  const Result<ToolOutcome> out =
      runTool("accent-pattern", groove, houseKit(), {{"on", "downbeats"}});
  ASSERT_TRUE(out);
  std::string accents;
  for (const Hit& hit : out->groove.hits) accents += hit.role == Role::kAccent ? '>' : '.';
  EXPECT_EQ(accents, ">.>.>..");
}

}  // namespace
}  // namespace uneven
