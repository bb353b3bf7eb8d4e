// SPDX-License-Identifier: GPL-3.0-or-later
// Positions move as one: what opens the hats at a stroke goes wherever the stroke goes.
#include "core/song/positions.h"

#include <gtest/gtest.h>

#include <set>

#include "core/io/song_json.h"
#include "core/song/edit.h"
#include "core/song/slots.h"
#include "core/tools/tool.h"
#include "tests/support/random_song.h"

namespace uneven {
namespace {

using testing::pick;
using testing::Random;
using testing::rounds;

// A random groove with a drawn opening wherever the hats are struck, as long as the stroke's own,
// and a note on that placement.
Groove mirroredOpenings(Random& random) {
  Groove groove = testing::randomGroove(random, "g", "");
  groove.pedal.emplace();
  groove.walk.clear();
  for (const Hit& hit : groove.hits) {
    if (hit.piece != piece::kHat) continue;
    groove.pedal->moves.push_back({hit.at, 0.5, hit.openFor, {}});
    groove.walk.push_back({hit.at.toString() + " for 2", WalkMark::kGood, "", {}});
  }
  return groove;
}

using Openings = std::multiset<std::pair<Beat, Beat>>;
Openings ofHats(const Groove& groove) {
  Openings out;
  for (const Hit& hit : groove.hits) {
    if (hit.piece == piece::kHat) out.emplace(hit.at, hit.openFor);
  }
  return out;
}
Openings ofMoves(const Groove& groove) {
  Openings out;
  for (const PedalMove& move : groove.pedal->moves) out.emplace(move.at, move.length);
  return out;
}

TEST(Positions, DrawnOpeningsGoWithTheirStrokesThroughEveryTool) {
  Random random(321);
  const std::pair<const char*, std::vector<Arguments>> tools[] = {
      {"rotate", {{{"by", "1/4"}}, {{"by", "-1"}}, {{"by", "3/2"}, {"from", "1"}, {"to", "2"}}}},
      {"shift", {{{"by", "1/4"}}, {{"by", "-1/3"}}, {{"by", "2"}}}},
      {"reverse", {{}, {{"grid", "1/16"}}, {{"to", "2"}}}},
      {"stretch",
       {{{"to_time", "half"}},
        {{"to_time", "double"}},
        {{"to_time", "half"}, {"bars", "no"}},
        {{"to_time", "double"}, {"bars", "no"}}}},
      {"insert-bars", {{}, {{"before", "2"}, {"count", "3"}}}},
      {"delete-bars", {{}, {{"bar", "2"}}}},
      {"copy-bars", {{}, {{"bar", "2"}, {"onto", "1"}}}},
      {"copy-span", {{}, {{"to", "1"}, {"times", "3"}}, {{"from", "1/2"}, {"to", "2"}}}},
      {"meter",
       {{{"meter", "7/8"}},
        {{"meter", "3/4"}, {"hits", "keep-bars"}},
        {{"meter", "5/4"}, {"hits", "scale-bars"}},
        {{"meter", "4/4"}, {"bars", "2"}}}}};
  std::map<std::string, int> done;
  for (int i = 0; i < rounds(150); ++i) {
    const Groove groove = mirroredOpenings(random);
    for (const auto& [tool, calls] : tools) {
      for (const Arguments& arguments : calls) {
        const auto out = runTool(tool, groove, houseKit(), arguments);
        if (!out) continue;  // too few bars
        ++done[tool];
        const Groove& after = out->groove;
        // An opening that meets another gives way as its stroke does; one that falls off, too.
        ASSERT_EQ(ofMoves(after), ofHats(after)) << tool << " " << groove.meter.toString();
        for (const auto& [at, grid] : after.beatGrids) {
          ASSERT_EQ(beatStart(after, at), at) << tool;
          ASSERT_LT(at, after.length()) << tool;
        }
        for (const Hit& hit : after.hits) ASSERT_LE(hit.ornamentFor, Beat(kLengthMax));
        const Song song = withGroove(blankSong(), after);
        const auto back = readSong(writeSong(song), tool);
        ASSERT_TRUE(back) << tool << ": " << back.error().line();
        ASSERT_EQ(*back, song) << tool;
      }
    }
  }
  for (const auto& [tool, calls] : tools)
    EXPECT_GT(done[tool], 50) << tool << " never did anything";
}

TEST(Positions, RotatingAndReversingThereAndBackIsIdentity) {
  Random random(322);
  for (int i = 0; i < rounds(200); ++i) {
    const Groove groove = mirroredOpenings(random);
    const std::string by = groove.meter.countUnit().toString();
    const auto there = runTool("rotate", groove, houseKit(), {{"by", by}});
    ASSERT_TRUE(there);
    const auto back = runTool("rotate", there->groove, houseKit(), {{"by", "-" + by}});
    EXPECT_EQ(back->groove.hits, groove.hits);
    EXPECT_EQ(back->groove.pedal, groove.pedal);
    EXPECT_EQ(back->groove.beatGrids, groove.beatGrids);
  }
}

// The last bars, taken to where they stood, are the groove without its first ones.
TEST(Positions, TheLastBarsAreTheGroovesOwn) {
  Random random(323);
  int cut = 0;
  for (int i = 0; i < rounds(200); ++i) {
    const Groove groove = mirroredOpenings(random);
    const Beat bar = groove.meter.barLength();
    const Groove last = lastBars(groove, bar / Beat(2));
    EXPECT_EQ(last.bars, 1);
    EXPECT_EQ(lastBars(groove, groove.length()), groove);
    cut += groove.bars > 1 ? 1 : 0;
    Groove there = last;
    there.bars = groove.bars;
    const Beat by = groove.length() - bar;
    PositionMap later;
    later.to = [by](Beat at) { return at + by; };
    later.beats = later.to;
    EXPECT_EQ(mapPositions(there, later).lostText(), "");
    Groove wanted = groove;
    std::erase_if(wanted.hits, [&](const Hit& hit) { return hit.at < by; });
    std::erase_if(wanted.pedal->moves, [&](const PedalMove& move) { return move.at < by; });
    std::erase_if(wanted.beatGrids, [&](const auto& own) { return own.first < by; });
    EXPECT_EQ(there.hits, wanted.hits);
    EXPECT_EQ(there.pedal, wanted.pedal);
    EXPECT_EQ(there.beatGrids, wanted.beatGrids);
  }
  EXPECT_GT(cut, 0);
}

TEST(Positions, ABeatsOwnGridGoesAlong) {
  Groove groove;
  groove.bars = 2;
  groove = withBeatGrid(groove, Beat(1), {8, 3});
  for (const Beat at : {Beat(1), Beat(4, 3), Beat(5, 3), Beat(3)}) {
    Hit hit;
    hit.at = at;
    groove = withHit(groove, hit);
  }
  const auto grids = [](const Groove& g) {
    std::string out;
    for (const auto& [at, grid] : g.beatGrids) out += at.toString() + " " + grid.toString() + "; ";
    return out;
  };
  const auto run = [&](const char* tool, const Arguments& arguments) {
    return runTool(tool, groove, houseKit(), arguments)->groove;
  };
  EXPECT_EQ(grids(run("rotate", {{"by", "2"}})), "3 1/8T; ");
  EXPECT_EQ(grids(run("rotate", {{"by", "1/4"}})), "1 1/8T; ") << "no beat begins there";
  EXPECT_EQ(grids(run("rotate", {{"by", "2"}, {"piece", "snare"}})), "1 1/8T; ");
  EXPECT_EQ(grids(run("insert-bars", {})), "5 1/8T; ");
  EXPECT_EQ(grids(run("stretch", {{"to_time", "half"}})), "2 1/4T; 3 1/4T; ");
  EXPECT_EQ(grids(run("copy-bars", {})), "1 1/8T; 5 1/8T; ");
  // Reversed, the triplets are in the mirrored beat, on its own slots.
  const Groove reversed = run("reverse", {});
  EXPECT_EQ(grids(reversed), "6 1/8T; ");
  EXPECT_TRUE(indexOf(reversed, {Beat(6), {}}));
  EXPECT_TRUE(indexOf(reversed, {Beat(19, 3), {}}));
  EXPECT_TRUE(indexOf(reversed, {Beat(20, 3), {}}));
  EXPECT_TRUE(indexOf(reversed, {Beat(19, 4), {}})) << "the last sixteenth before beat 5";
  EXPECT_EQ(runTool("reverse", reversed, houseKit(), {})->groove, groove);
}

TEST(Positions, AMeterTellsAllThatFellOff) {
  Groove groove;
  Hit hit;
  hit.at = Beat(7, 2);
  hit.piece = piece::kHat;
  groove = withBeatGrid(withHit(groove, hit), Beat(3), {8, 3});
  groove.pedal.emplace();
  groove.pedal->moves = {{Beat(1), 0.5, Beat(1), {}}, {Beat(7, 2), 0.5, Beat(0), {}}};
  groove.walk = {{"7/2 for 1", WalkMark::kGood, "", {}}, {"1+2 for 1", WalkMark::kGood, "", {}}};
  Moved moved;
  const Groove after = withMeter(groove, {3, 4}, 1, MeterChange::kKeepBars, &moved);
  EXPECT_EQ(moved.lostText(),
            "1 hit, 1 drawn opening, 1 beat's own grid, 1 note on a placement fell off the end");
  EXPECT_EQ(after.pedal->moves.size(), 1U);
  EXPECT_EQ(after.walk.size(), 1U);
  const Groove scaled = withMeter(groove, {2, 4}, 1, MeterChange::kScaleBars, &moved);
  EXPECT_EQ(scaled.pedal->moves[0].at, Beat(1, 2));
  EXPECT_EQ(scaled.pedal->moves[0].length, Beat(1, 2)) << "the figure is pressed, openings too";
  EXPECT_EQ(scaled.walk[1].placement, "1/2+1 for 1");
}

TEST(Positions, RepeatingTheFirstBarTakesAllOfIt) {
  Random random(323);
  for (int i = 0; i < rounds(100); ++i) {
    const Groove groove = mirroredOpenings(random);
    const Groove out = repeatFirstBar(groove);
    const Beat bar = groove.meter.barLength();
    EXPECT_EQ(ofMoves(out), ofHats(out));
    for (int b = 0; b < groove.bars; ++b) {
      for (const auto& [at, grid] : groove.beatGrids) {
        if (at >= bar) continue;
        const auto copy = out.beatGrids.find(at + Beat(b) * bar);
        ASSERT_NE(copy, out.beatGrids.end());
        EXPECT_EQ(copy->second, grid);
      }
    }
  }
}

TEST(Positions, TheLoudestOfAPairStays) {
  const auto hit = [](Beat at, PieceId piece, int velocity) {
    Hit out;
    out.at = at;
    out.piece = piece;
    out.velocity = Velocity(velocity);
    return out;
  };
  std::vector<Hit> hits{hit(0, piece::kHat, 50), hit(0, piece::kHat, 90), hit(0, piece::kHat, 70),
                        hit(0, piece::kKick, 20), hit(1, piece::kHat, 60)};
  const std::vector<Hit> kept{hits[1], hits[3], hits[4]};
  EXPECT_EQ(keepLoudest(hits), 2);
  EXPECT_EQ(hits, kept);
  EXPECT_EQ(keepLoudest(hits), 0);

  ReadWatch watch;
  const auto song = readSong(R"({"format": "uneven-stick-song", "version": 1,
    "tempo": [{"at": "0", "bpm": 100}], "grooves": [{"id": "g", "hits": [
      {"at": "1", "piece": "snare", "velocity": 30}, {"at": "2/2", "piece": "snare", "velocity": 99}],
      "pedal": {"moves": [{"at": "0", "open": 0.2}, {"at": "0", "open": 0.9}]}}]})",
                             "pair", &watch);
  ASSERT_TRUE(song) << song.error().line();
  EXPECT_EQ(song->grooves[0]->hits.size(), 1U);
  EXPECT_EQ(song->grooves[0]->hits[0].velocity.value(), 99);
  EXPECT_EQ(song->grooves[0]->pedal->moves.size(), 1U);
  EXPECT_EQ(song->grooves[0]->pedal->moves[0].open, 0.9);
  ASSERT_EQ(watch.notes.size(), 2U);
  EXPECT_EQ(watch.notes[0],
            "groove \"g\": 1 hit was left out, since a louder one of the same piece stands at the "
            "same position");
}

// slotAfter and slotBefore go straight to the slot; slotsOf lists them all.
TEST(Positions, SlotsAreFoundWhereTheyAreListed) {
  Random random(324);
  for (int i = 0; i < rounds(300); ++i) {
    const Groove groove = testing::randomGroove(random, "g", "");
    const std::vector<Beat> all = slotsOf(groove, Beat(0), groove.length());
    for (int k = 0; k < 40; ++k) {
      const Beat at(pick(random, 0, static_cast<int>(groove.length().toDouble() * 24)), 24);
      if (at >= groove.length()) continue;
      const auto next = std::upper_bound(all.begin(), all.end(), at);
      EXPECT_EQ(slotAfter(groove, at), next == all.end() ? groove.length() : *next)
          << groove.meter.toString() << " " << at.toString();
      const auto here = std::lower_bound(all.begin(), all.end(), at);
      EXPECT_EQ(slotBefore(groove, at), here == all.begin() ? Beat(0) : *std::prev(here))
          << groove.meter.toString() << " " << at.toString();
    }
  }
}

}  // namespace
}  // namespace uneven
