// SPDX-License-Identifier: GPL-3.0-or-later
// Small rules, each by a calculation of its own: what a broken line of the core would first be seen
// by.
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <filesystem>

#include "core/base/utf8.h"
#include "core/body/part.h"
#include "core/check/check.h"
#include "core/io/file_system.h"
#include "core/io/hits_csv.h"
#include "core/io/song_json.h"
#include "core/measure/tap_tempo.h"
#include "core/measure/timing_table.h"
#include "core/perform/ornament.h"
#include "core/song/edit.h"
#include "core/song/limbs.h"
#include "core/song/slots.h"
#include "core/take/take.h"
#include "core/tools/tool.h"
#include "core/voice/kit_maps.h"
#include "core/voice/notes.h"
#include "tests/support/made.h"
#include "tests/support/process.h"
#include "tests/support/random_song.h"

// A namespace of its own: short names that other tests have too.
namespace uneven::told_apart {
namespace {

using testing::hitAt;

Groove grooveOf(std::vector<Hit> hits, int bars = 1, Meter meter = {4, 4}) {
  Groove groove;
  groove.id = "g";
  groove.bars = bars;
  groove.meter = meter;
  groove.hits = std::move(hits);
  return groove;
}

Groove ran(std::string_view tool, const Groove& groove, const Arguments& arguments = {}) {
  const Result<ToolOutcome> out = runTool(tool, groove, houseKit(), arguments);
  EXPECT_TRUE(out) << out.error().line();
  return out ? out->groove : groove;
}

// "0 snare ghost, 1/4 hat": in written order.
std::string listed(const Groove& groove) {
  std::string out;
  for (const Hit& h : groove.hits) {
    out += (out.empty() ? "" : ", ") + h.at.toString() + " " + houseKit()[h.piece].id;
    if (h.role == Role::kGhost) out += " ghost";
    if (h.role == Role::kAccent) out += " accent";
  }
  return out;
}

Limb other(Limb limb) {
  switch (limb) {
    case Limb::kRightHand:
      return Limb::kLeftHand;
    case Limb::kLeftHand:
      return Limb::kRightHand;
    case Limb::kRightFoot:
      return Limb::kLeftFoot;
    case Limb::kLeftFoot:
      return Limb::kRightFoot;
    case Limb::kAutomatic:
      break;
  }
  return limb;
}

// A right-handed player who crosses plays the hats with the right and the snare with the left.
TEST(ToldApart, WhichHandPlaysWhatInEachSetup) {
  for (const bool left : {false, true}) {
    for (const bool open : {false, true}) {
      Kit kit = houseKit();
      kit.setup.kit = left ? Side::kLeft : Side::kRight;
      kit.setup.openHanded = open;
      const auto expected = [&](PieceId piece, Limb crossed) {
        Limb limb = crossed;
        if (open && (piece == piece::kHat || piece == piece::kSnare)) limb = other(limb);
        return left ? other(limb) : limb;
      };
      EXPECT_EQ(kit.usualLimb(piece::kHat), expected(piece::kHat, Limb::kRightHand));
      EXPECT_EQ(kit.usualLimb(piece::kSnare), expected(piece::kSnare, Limb::kLeftHand));
      EXPECT_EQ(kit.usualLimb(piece::kRide), expected(piece::kRide, Limb::kRightHand));
      EXPECT_EQ(kit.usualLimb(piece::kKick), expected(piece::kKick, Limb::kRightFoot));
      EXPECT_EQ(kit.usualLimb(piece::kHatFoot), expected(piece::kHatFoot, Limb::kLeftFoot));
    }
  }
  EXPECT_EQ(mirrored(Limb::kRightHand), Limb::kLeftHand);
  EXPECT_EQ(mirrored(Limb::kLeftHand), Limb::kRightHand);
  EXPECT_EQ(mirrored(Limb::kRightFoot), Limb::kLeftFoot);
  EXPECT_EQ(mirrored(Limb::kLeftFoot), Limb::kRightFoot);
  EXPECT_EQ(mirrored(Limb::kAutomatic), Limb::kAutomatic);
}

TEST(ToldApart, KicksNearerThanAnEighthTakeTheFeetInTurn) {
  Kit kit = houseKit();
  kit.setup.doublePedal = true;
  Groove groove = grooveOf({hitAt(Beat(0), piece::kKick), hitAt(Beat(1, 4), piece::kKick),
                            hitAt(Beat(1, 2), piece::kKick), hitAt(Beat(1), piece::kKick),
                            hitAt(Beat(5, 4), piece::kKick), hitAt(Beat(3, 2), piece::kKick)});
  groove.hits[4].limb = Limb::kRightFoot;  // by the player's own choice
  const std::vector<Limb> limbs = limbsOf(groove, kit);
  EXPECT_EQ(limbs, (std::vector<Limb>{Limb::kRightFoot, Limb::kLeftFoot, Limb::kRightFoot,
                                      Limb::kRightFoot, Limb::kRightFoot, Limb::kLeftFoot}))
      << "an eighth apart the same foot plays again";
  kit.setup.doublePedal = false;
  for (const Limb limb : limbsOf(groove, kit)) EXPECT_EQ(limb, Limb::kRightFoot);
}

TEST(ToldApart, EchoFollowsAllButGhostsAndReboundAccentsOnly) {
  const Groove groove = grooveOf({hitAt(Beat(0), piece::kSnare, 110, Role::kAccent),
                                  hitAt(Beat(1), piece::kSnare, 30, Role::kGhost),
                                  hitAt(Beat(2), piece::kHat), hitAt(Beat(3), piece::kSnare)});
  EXPECT_EQ(listed(ran("echo", groove, {{"piece", "snare"}})),
            "0 snare accent, 1/4 snare ghost, 1 snare ghost, 2 hat, 3 snare, 13/4 snare ghost");
  EXPECT_EQ(listed(ran("echo", groove, {{"piece", "any"}, {"from", "1"}, {"to", "3"}})),
            "0 snare accent, 1 snare ghost, 2 hat, 9/4 hat ghost, 3 snare");
  EXPECT_EQ(listed(ran("rebound", groove, {{"piece", "any"}})),
            "0 snare accent, 1/4 snare ghost, 1 snare ghost, 2 hat, 3 snare");
  Groove triplets = groove;
  triplets.beatGrids[Beat(0)] = {8, 3};
  EXPECT_EQ(listed(ran("rebound", triplets, {{"piece", "any"}})),
            "0 snare accent, 1/3 snare ghost, 1 snare ghost, 2 hat, 3 snare")
      << "in the slot of the beat's own grid";
}

std::string accentsOf(const Groove& groove) {
  std::string out;
  for (const Hit& h : groove.hits) out += h.role == Role::kAccent ? '>' : '.';
  return out;
}

TEST(ToldApart, WhereInACountAnAccentPatternFalls) {
  std::vector<Hit> hats;
  for (int i = 0; i < 16; ++i) hats.push_back(hitAt(Beat(i, 4), piece::kHat));
  const Groove four = grooveOf(hats);
  EXPECT_EQ(accentsOf(ran("accent-pattern", four, {{"on", "downbeats"}})), ">...>...>...>...");
  EXPECT_EQ(accentsOf(ran("accent-pattern", four, {{"on", "offbeats"}})), "..>...>...>...>.");
  EXPECT_EQ(accentsOf(ran("accent-pattern", four, {{"on", "every-nth"}, {"n", "5"}})),
            ">....>....>....>");
  // 6/8 counts dotted quarters: its halves are 3/4 of a quarter in.
  const Groove six = grooveOf({hats.begin(), hats.begin() + 12}, 1, {6, 8});
  EXPECT_EQ(accentsOf(ran("accent-pattern", six, {{"on", "downbeats"}})), ">.....>.....");
  EXPECT_EQ(accentsOf(ran("accent-pattern", six, {{"on", "offbeats"}})), "...>.....>..");
  // The second bar counts anew, also where a bar is no whole number of counts.
  std::vector<Hit> sevens;
  for (int i = 0; i < 28; ++i) sevens.push_back(hitAt(Beat(i, 4), piece::kHat));
  EXPECT_EQ(accentsOf(ran("accent-pattern", grooveOf(sevens, 2, {7, 8}), {{"on", "downbeats"}})),
            ">.>.>.>.>.>.>.>.>.>.>.>.>.>.");
}

// Every slot by going through the beats one by one.
std::vector<Beat> slotsByBeats(const Groove& groove) {
  std::vector<Beat> out;
  const Beat bar = groove.meter.barLength();
  for (int b = 0; b < groove.bars; ++b) {
    const Beat start = Beat(b) * bar;
    const Beat barEnd = start + bar;
    for (Beat beat = start; beat < barEnd; beat += groove.meter.countUnit()) {
      const Beat end = std::min(beat + groove.meter.countUnit(), barEnd);
      const auto own = groove.beatGrids.find(beat);
      if (own != groove.beatGrids.end()) {
        for (Beat at = beat; at < end; at += own->second.step()) out.push_back(at);
        continue;
      }
      for (Beat at = start; at < end; at += groove.grid.step()) {
        if (at >= beat) out.push_back(at);
      }
    }
  }
  return out;
}

TEST(ToldApart, SlotsAreThoseOfEachBeatsGrid) {
  testing::Random random(1120);
  int own = 0;
  for (int round = 0; round < 400; ++round) {
    const Groove groove = testing::randomGroove(random, "g", "");
    own += groove.beatGrids.empty() ? 0 : 1;
    const std::vector<Beat> expected = slotsByBeats(groove);
    ASSERT_EQ(slotsOf(groove, Beat(0), groove.length()), expected);
    for (std::size_t i = 0; i < expected.size(); ++i) {
      const Beat next = i + 1 < expected.size() ? expected[i + 1] : groove.length();
      ASSERT_EQ(slotAfter(groove, expected[i]), next) << expected[i].toString();
      ASSERT_EQ(slotBefore(groove, next), expected[i]) << next.toString();
      // Where no beat has a grid of its own a slot is the grid's step, cut by the bar line or not.
      ASSERT_EQ(slotLength(groove, expected[i]),
                groove.beatGrids.empty() ? groove.grid.step() : next - expected[i]);
      // From between two slots as well.
      const Beat between = (expected[i] + next) / Beat(2);
      ASSERT_EQ(slotAfter(groove, between), next);
      ASSERT_EQ(slotBefore(groove, between), expected[i]);
    }
    const Beat from = Beat(testing::pick(random, 0, 40), 6);
    const Beat to = from + Beat(testing::pick(random, 0, 40), 6);
    std::vector<Beat> part;
    for (const Beat at : expected) {
      if (at >= from && at < to) part.push_back(at);
    }
    ASSERT_EQ(slotsOf(groove, from, to), part);
  }
  EXPECT_GT(own, 60);
}

TEST(ToldApart, AnOrnamentsStrokesByHand) {
  const Milliseconds quarter(500);
  const auto strokes = [&](Ornament ornament, Beat slot, Beat room, double gap = 0) {
    Hit h = hitAt(Beat(0), piece::kSnare);
    h.ornament = ornament;
    h.ornamentGap = Milliseconds(gap);
    return ornamentStrokes(h, slot, room, quarter);
  };
  const auto shifts = [](const std::vector<OrnamentStroke>& all) {
    std::vector<double> out;
    for (const OrnamentStroke& s : all) out.push_back(s.shift.count());
    return out;
  };
  const Beat sixteenth(1, 4);
  EXPECT_EQ(shifts(strokes(Ornament::kFlam, sixteenth, Beat(1))), (std::vector<double>{-30}));
  EXPECT_EQ(shifts(strokes(Ornament::kRuff, sixteenth, Beat(1))),
            (std::vector<double>{-90, -60, -30}));
  EXPECT_EQ(shifts(strokes(Ornament::kDrag, sixteenth, Beat(1), 40)),
            (std::vector<double>{-80, -40}));
  // A diddle needs more room than half its slot; with a gap of its own more than the gap.
  EXPECT_TRUE(strokes(Ornament::kDiddle, sixteenth, Beat(1, 8)).empty());
  const auto diddle = strokes(Ornament::kDiddle, sixteenth, sixteenth);
  ASSERT_EQ(diddle.size(), 1U);
  EXPECT_EQ(diddle[0].after, Beat(1, 8));
  EXPECT_TRUE(strokes(Ornament::kDiddle, sixteenth, Beat(1, 10), 50).empty()) << "50 ms of room";
  EXPECT_EQ(strokes(Ornament::kDiddle, sixteenth, Beat(1, 8), 50).size(), 1U);
  // A buzz of a quarter at 120: 150 ms at most, every 25, each three quarters of the one before.
  const auto buzz = strokes(Ornament::kBuzz, Beat(1), Beat(1));
  EXPECT_EQ(shifts(buzz), (std::vector<double>{25, 50, 75, 100, 125}));
  EXPECT_NEAR(buzz[1].velocityShare, 0.75 * 0.75, 1e-12);
  // Of a sixteenth it lasts 125 ms, and what falls on the end is left out.
  EXPECT_EQ(shifts(strokes(Ornament::kBuzz, sixteenth, Beat(1))),
            (std::vector<double>{25, 50, 75, 100}));
  EXPECT_EQ(shifts(strokes(Ornament::kBuzz, Beat(1), Beat(1, 8))), (std::vector<double>{25, 50}));
  // A roll of an eighth in thirty-seconds, without the end itself.
  std::vector<Beat> after;
  for (const auto& s : strokes(Ornament::kRoll, Beat(1, 2), Beat(1))) after.push_back(s.after);
  EXPECT_EQ(after, (std::vector<Beat>{Beat(1, 8), Beat(1, 4), Beat(3, 8)}));
  EXPECT_EQ(shifts(strokes(Ornament::kRoll, sixteenth, Beat(1), 40)),
            (std::vector<double>{40, 80, 120}));
}

TEST(ToldApart, PiecesAtOneMomentGoByTheTextOfTheirIds) {
  Song song = blankSong();
  Kit kit = *song.kit;
  Piece bell;
  bell.id = "a-bell";
  bell.name = "Bell";
  kit.order.push_back({static_cast<std::uint8_t>(kit.pieces.size())});
  kit.pieces.push_back(bell);
  song.kit = SharedValue<Kit>(kit);
  song.grooves[0].edit([&](Groove& g) {
    for (std::size_t p = 0; p < kit.pieces.size(); ++p) {
      g.hits.push_back(hitAt(Beat(0), PieceId{static_cast<std::uint8_t>(p)}));
    }
  });
  song.feels[0].displacement.clear();
  const auto take = Take::ofSong(song);
  ASSERT_TRUE(take);
  std::vector<std::string> ids;
  for (const Stroke& s : (*take)->strokes()) ids.push_back(kit[s.piece].id);
  ASSERT_EQ(ids.size(), kit.pieces.size());
  EXPECT_EQ(ids.front(), "a-bell");
  EXPECT_TRUE(std::is_sorted(ids.begin(), ids.end()));
}

TEST(ToldApart, IdsOfNewGroovesAndFeelsAreFree) {
  Song song = blankSong();
  const std::string first = song.grooves[0]->id;
  EXPECT_EQ(freeId(song, "fresh"), "fresh");
  EXPECT_EQ(freeId(song, first), first + "-2");
  std::string id;
  song = withNewGroove(song, *song.grooves[0], first, id);
  EXPECT_EQ(id, first + "-2");
  EXPECT_EQ(freeId(song, first), first + "-3");
  EXPECT_EQ(freeId(song, song.feels[0].id), song.feels[0].id + "-2") << "feels count too";
}

// 120 bpm: a pair of eighths lasts 500 ms, of sixteenths 250.
TEST(ToldApart, SwingInMillisecondsGoesByThePairAtTheTempo) {
  Song song = blankSong();
  song.tempo[0].bpm = Bpm{120};
  const std::string id = song.grooves[0]->id;
  const auto ratio = [&](const Arguments& arguments) {
    const auto out = runTool("swing", song, id, arguments);
    EXPECT_TRUE(out) << out.error().line();
    const Feel* feel = out ? out->song.findFeel(feelInForce(out->song, id)) : nullptr;
    return feel == nullptr ? 0 : feel->swing.ratio;
  };
  EXPECT_NEAR(ratio({{"unit", "1/8"}, {"short_ms", "125"}}), 3, 1e-9);
  EXPECT_NEAR(ratio({{"unit", "1/16"}, {"short_ms", "100"}}), 1.5, 1e-9);
  EXPECT_NEAR(ratio({{"unit", "1/8"}, {"percent", "66.6666666666667"}}), 2, 1e-9);
  EXPECT_NEAR(ratio({{"unit", "1/8"}, {"ratio", "1.4"}}), 1.4, 1e-9);
}

TEST(ToldApart, TheTimingTableCountsFromEachBarsLine) {
  Song song = blankSong();
  song.tempo[0].bpm = Bpm{120};
  song.grooves[0].edit([](Groove& g) {
    g.bars = 2;
    g.hits = {hitAt(Beat(5), piece::kSnare)};
    g.hits[0].nudge = Milliseconds(7);
  });
  const auto rows = timingRows(**Take::ofGroove(song, song.grooves[0]->id));
  ASSERT_EQ(rows.size(), 1U);
  EXPECT_EQ(rows[0].bar, 1);
  EXPECT_EQ(rows[0].at, Beat(1));
  EXPECT_NEAR(rows[0].straight.count(), 500, 1e-6);
  EXPECT_NEAR(rows[0].swung.count(), 500, 1e-6);
  EXPECT_NEAR(rows[0].performed.count(), 507, 1e-6);
  EXPECT_NEAR(rows[0].ticks, 7.0 / 500 * 960, 1e-6);
  EXPECT_TRUE(timingRows(**Take::ofGroove(song, song.grooves[0]->id), 0).empty());
}

TEST(ToldApart, AnUnknownCsvColumnIsNamedWithItsPlace) {
  const auto read = readHitsCsv("at,piece,velocity,loudness\n", houseKit(), "hits.csv");
  ASSERT_FALSE(read);
  EXPECT_EQ(read.error().where.line, 1);
  EXPECT_EQ(read.error().where.column, 19);
  const auto field = readHitsCsv("at,piece,velocity\n0,hat,900\n", houseKit(), "hits.csv");
  ASSERT_FALSE(field);
  EXPECT_EQ(field.error().where.line, 2);
  EXPECT_EQ(field.error().where.column, 7);
}

TEST(ToldApart, WhatAReaderLeavesOutIsCountedInWords) {
  const auto notesOf = [](int openings) {
    std::string moves;
    for (int i = 0; i < openings; ++i) {
      moves += R"({"at": "1", "open": 0.)" + std::to_string(9 - i) + R"(, "for": "1/4"},)";
    }
    moves.pop_back();
    ReadWatch watch;
    const auto song = readSong(
        R"({"format": "uneven-stick-song", "version": 1, "title": "t", "tempo": [{"at": "0", "bpm": 90}],
      "grooves": [{"id": "a", "meter": "4/4", "bars": 1, "grid": "1/16", "pedal": {"moves": [)" +
            moves + R"(]}, "hits": []}]})",
        "small", &watch);
    EXPECT_TRUE(song) << song.error().line();
    return watch.notes.empty() ? std::string() : watch.notes.front();
  };
  EXPECT_EQ(notesOf(1), "");
  EXPECT_NE(notesOf(2).find("1 drawn opening was left out"), std::string::npos) << notesOf(2);
  EXPECT_NE(notesOf(3).find("2 drawn openings were left out"), std::string::npos) << notesOf(3);
}

// --- Bytes and letters ---

TEST(Bytes, EveryByteOfALetterCounts) {
  const std::string drum = "\xF0\x9F\xA5\x81";
  EXPECT_EQ(asUtf8(drum), drum);
  for (std::size_t i = 1; i < drum.size(); ++i) {
    std::string bad = drum;
    bad[i] = 'A';
    EXPECT_NE(asUtf8(bad), bad) << i;
  }
}

TEST(Bytes, TheIdOfAPieceIsPlain) {
  Song song = blankSong();
  Kit kit = houseKit();
  Piece own;
  own.id = "own-1";
  own.name = own.id;
  kit.order.push_back({static_cast<std::uint8_t>(kit.pieces.size())});
  kit.pieces.push_back(own);
  song.kit = SharedValue<Kit>(kit);
  const std::string good = writeSong(song);
  ASSERT_TRUE(readSong(good, "f"));
  for (const char* id : {"own!1", "own_1", "Own-1", "own 1"}) {
    std::string bad = good;
    for (std::size_t at = 0; (at = bad.find("own-1", at)) != std::string::npos;)
      bad.replace(at, 5, id);
    const Result<Song> read = readSong(bad, "f");
    ASSERT_FALSE(read) << id;
    EXPECT_NE(read.error().message.find("made of a..z"), std::string::npos) << read.error().line();
  }
}

TEST(Numbers, NothingIsDividedByNothing) {
  EXPECT_EQ(Beat(1, 0), Beat::invalid());
  EXPECT_FALSE(Beat(1, 0).valid());
  TapTempo taps;
  (void)taps.tap(Milliseconds(7));
  EXPECT_EQ(taps.tap(Milliseconds(7)), Bpm{kBpmMax});
}

TEST(Numbers, CountsAreTypedFromOneOn) {
  for (const char* places : {"0", "65", "x", "2 x"}) {
    const auto out =
        runTool("backbeat", grooveOf({}), houseKit(), {{"kind", "typed"}, {"places", places}});
    ASSERT_FALSE(out) << places;
    EXPECT_EQ(out.error().code, ErrorCode::kSyntax) << places;
  }
}

TEST(Pedal, AControllerMayBeTheFirst) {
  Song song = blankSong();
  Hit open = hitAt(0, piece::kHat);
  open.open = 0.7;
  Groove groove = *song.grooves.front();
  groove.hits = {open, hitAt(1, piece::kHat)};
  song = withGroove(song, groove);
  KitMap map = builtInKitMaps().front();
  const Result<SharedTake> take = Take::ofSong(song);
  for (const auto& [controller, carried] : {std::pair{-1, false}, {0, true}, {4, true}}) {
    map.pedalController = controller;
    EXPECT_EQ(!voice(**take, map).pedal.empty(), carried) << controller;
  }
}

TEST(ToldApart, CountsOfTypedBackbeatsGoTo64) {
  Groove longest = grooveOf({}, 1, {64, 4});
  const auto out = runTool("backbeat", longest, houseKit(), {{"kind", "typed"}, {"places", "64"}});
  ASSERT_TRUE(out) << out.error().line();
  EXPECT_TRUE(indexOf(out->groove, {Beat(63), piece::kSnare}));
}

TEST(ToldApart, APartLastsAsLongAsItsSongOrItsBlock) {
  Song song = blankSong();
  song.tempo = {{Beat(0), Bpm{120}, {}}};
  Groove first = grooveOf({hitAt(Beat(0), piece::kSnare)}), second = grooveOf({}, 2);
  second.id = "h";
  second.hits = {hitAt(Beat(5), piece::kSnare)};
  song.grooves = {SharedValue<Groove>(first), SharedValue<Groove>(second)};
  song.arrangement.clear();
  const Result<SharedTake> take = Take::ofSong(song);
  ASSERT_TRUE(take);
  EXPECT_NEAR(bodyPart(**take).length.count(), 6'000, 1e-6);
  EXPECT_NEAR(bodyPart(**take, 0).length.count(), 2'000, 1e-6);
  EXPECT_NEAR(bodyPart(**take, 1).length.count(), 4'000, 1e-6);
}

TEST(ToldApart, SoftUnisonsAreLoweredNoFartherThanNeeded) {
  Song song = blankSong();
  Groove groove = grooveOf({hitAt(Beat(2, 3), piece::kRide, 75, Role::kNormal),
                            hitAt(Beat(2, 3), piece::kSnare, 80, Role::kNormal),
                            hitAt(Beat(1), piece::kSnare, 110, Role::kAccent)});
  song.grooves = {SharedValue<Groove>(groove)};
  song.arrangement.clear();
  for (const Finding& f : check(**Take::ofSong(song), {}, builtInKitMaps().front()).findings) {
    if (f.kind != FindingKind::kSoftUnison) continue;
    const Groove after = mendedGroove(song, f.mends.front());
    const Hit& snare = after.hits[*indexOf(after, {Beat(2, 3), piece::kSnare})];
    EXPECT_NEAR(40 * std::log10(110.0 / snare.velocity.value()), 8.25, 0.3);
    return;
  }
  FAIL() << "it is not found";
}

// Where it is written in triplets, straight is 2 : 1.
TEST(ToldApart, EvennessGoesByHowItIsWritten) {
  Song song = blankSong();
  std::vector<Hit> hits;
  for (int i = 0; i < 6; ++i) hits.push_back(hitAt(Beat(i, 3), piece::kRide));
  hits[2].nudge = Milliseconds(30);
  Groove groove = grooveOf(std::move(hits));
  groove.feel = "f";
  song.arrangement.clear();
  const auto uneven = [&](Written written, double ratio) {
    Feel feel;
    feel.id = feel.name = "f";
    feel.swing.written = written;
    feel.swing.ratio = ratio;
    song.feels = {feel};
    song.grooves = {SharedValue<Groove>(groove)};
    const auto all = check(**Take::ofSong(song), {}, builtInKitMaps().front()).findings;
    return std::any_of(all.begin(), all.end(),
                       [](const Finding& f) { return f.kind == FindingKind::kUnevenNotes; });
  };
  EXPECT_TRUE(uneven(Written::kTriplet, 2));
  EXPECT_FALSE(uneven(Written::kTriplet, 2.5));
  EXPECT_TRUE(uneven(Written::kStraight, 1));
  EXPECT_FALSE(uneven(Written::kStraight, 2));
}

TEST(ToldApart, AFolderIsNotRemovedAsAFile) {
  const testing::TemporaryFolder folder;
  PosixFileSystem files;
  testing::writeText(folder.file("a"), "x");
  EXPECT_TRUE(files.remove(folder.file("a")));
  EXPECT_FALSE(std::filesystem::exists(folder.file("a")));
  EXPECT_TRUE(files.remove(folder.file("a"))) << "not there is no error";
  std::filesystem::create_directory(folder.file("b"));
  EXPECT_FALSE(files.remove(folder.file("b")));
}

TEST(ToldApart, ATempoHoldsFromItsMarkOn) {
  const TempoMap map({{Beat(0), Tempo{500'000}}, {Beat(4), Tempo{600'000}}});
  EXPECT_EQ(map.tempoAt(Beat(4)).usPerQuarter, 600'000);
  EXPECT_EQ(map.tempoAt(Beat(15, 4)).usPerQuarter, 500'000);
}

TEST(ToldApart, APieceThatIsLikeAnotherHasItsOwnRowFirst) {
  KitMap map;
  map.rows.push_back({"bell", StrokeKind::kNormal, 1, 70, "Bell", {}, {}});
  map.rows.push_back({"ride", StrokeKind::kNormal, 1, 51, "Ride", {}, {}});
  Piece bell;
  bell.id = "bell";
  bell.like = "ride";
  EXPECT_EQ(rowFor(map, bell, StrokeKind::kNormal, 0)->note, 70);
  bell.id = "gong";
  EXPECT_EQ(rowFor(map, bell, StrokeKind::kNormal, 0)->note, 51);
  bell.like.clear();
  EXPECT_EQ(rowFor(map, bell, StrokeKind::kNormal, 0), nullptr);
  KitMapLibrary library;
  map.id = "one";
  library.add(map);
  map.id = "two";
  map.name = "Two";
  library.add(map);
  EXPECT_EQ(library.find("two")->name, "Two");
  EXPECT_EQ(library.find("one")->name, "");
  EXPECT_EQ(library.find("three"), nullptr);
}

TEST(ToldApart, APieceGoesWithItsSlotsAndNoOthers) {
  Kit kit = houseKit();
  Piece own;
  own.id = own.name = "anvil";
  own.strokes = {StrokeKind::kNormal};
  const PieceId anvil{static_cast<std::uint8_t>(kit.pieces.size())};
  kit.order.push_back(anvil);
  kit.pieces.push_back(own);
  Song song = blankSong();
  song.kit = SharedValue<Kit>(kit);
  Slot slot;
  slot.at = Beat(1);
  slot.piece = anvil;
  song.feels.front().slots.push_back(slot);
  slot.piece = piece::kSnare;
  song.feels.front().slots.push_back(slot);
  const std::optional<Song> without = withoutPiece(song, anvil);
  ASSERT_TRUE(without);
  ASSERT_EQ(without->feels.front().slots.size(), 1U);
  EXPECT_EQ(without->feels.front().slots.front().piece, piece::kSnare);
}

// Strokes on the hats count for the pedal only where something opens them: then all of them do.
TEST(ToldApart, StrokesOnTheHatsAreCountedForThePedal) {
  Groove groove = grooveOf({}, 64);
  for (std::int64_t i = 0; i < 256 * 120; ++i)
    groove.hits.push_back(hitAt(Beat(i, 120), piece::kHat));
  Song song = blankSong();
  Section section;
  section.name = section.groove = "g";
  const auto refused = [&](int repeat, bool opens) {
    groove.hits[0].open = opens ? 0.5 : 0;
    song.grooves = {SharedValue<Groove>(groove)};
    section.repeat = repeat;
    song.arrangement = {section};
    return !arrange(song);
  };
  EXPECT_FALSE(refused(64, true));
  EXPECT_TRUE(refused(66, true)) << "more than 2 000 000";
  EXPECT_FALSE(refused(66, false));
}

TEST(ToldApart, ASongHasAsManyStrokesAsItMayHaveAndNoMore) {
  constexpr std::int64_t kPasses = 64;
  Groove groove = grooveOf({}, 64);
  for (const PieceId piece : {piece::kRide, piece::kSnare, piece::kTomHigh}) {
    for (std::int64_t i = 0; i < 256 * 120 && std::ssize(groove.hits) < kStrokesMax / kPasses; ++i)
      groove.hits.push_back(hitAt(Beat(i, 120), piece));
  }
  Song song = blankSong();
  Section section;
  section.name = section.groove = "g";
  section.repeat = kPasses;
  song.arrangement = {section};
  song.grooves = {SharedValue<Groove>(groove)};
  EXPECT_TRUE(arrange(song));
  groove.hits.push_back(hitAt(Beat(1), piece::kKick));
  song.grooves = {SharedValue<Groove>(groove)};
  EXPECT_FALSE(arrange(song));
}

TEST(ToldApart, BothPiecesOfASwapAreInTheKit) {
  const Song song = blankSong();
  const auto swapped = [&](const char* pairs) {
    return runTool("section-set", song, "", {{"section", "1"}, {"swap", pairs}});
  };
  const auto good = swapped("hat:ride");
  ASSERT_TRUE(good) << good.error().line();
  EXPECT_EQ(good->song.arrangement[0].swap.at("hat"), "ride");
  for (const char* bad : {"hat:gong", "gong:ride", "hat", ":ride", "hat:"})
    EXPECT_FALSE(swapped(bad)) << bad;
}

}  // namespace
}  // namespace uneven::told_apart
