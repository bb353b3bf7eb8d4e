// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/song/edit.h"

#include <gtest/gtest.h>

#include <map>
#include <set>

#include "core/io/song_json.h"
#include "core/perform/score.h"
#include "tests/support/random_song.h"

namespace uneven {
namespace {

using testing::pick;
using testing::Random;

Selection someOf(Random& random, const Groove& groove) {
  Selection out;
  for (std::size_t i = 0; i < groove.hits.size(); ++i) {
    if (pick(random, 0, 2) == 0) out.insert(refOf(groove, i));
  }
  return out;
}

// Whatever an edit gives must be a groove that the file format takes.
void expectValid(const Groove& groove) {
  Song song = withGroove(blankSong(), groove);
  song.grooves.back().edit([](Groove& g) { g.feel.clear(); });
  const Result<Song> back = readSong(writeSong(song), "edited");
  ASSERT_TRUE(back) << back.error().line();
  ASSERT_TRUE(*back == song) << "hits are in order";
}

TEST(Edit, RefsNameTheirHits) {
  Random random(21);
  for (int i = 0; i < 200; ++i) {
    const Groove groove = testing::randomGroove(random, "g", "");
    for (std::size_t k = 0; k < groove.hits.size(); ++k) {
      ASSERT_EQ(indexOf(groove, refOf(groove, k)), k);
    }
    EXPECT_EQ(indexOf(groove, {Beat(1, 11), piece::kHat}), std::nullopt);
  }
}

TEST(Edit, EveryEditGivesAValidGroove) {
  Random random(22);
  for (int i = 0; i < 200; ++i) {
    const Groove groove = testing::randomGroove(random, "g", "");
    const Selection selection = someOf(random, groove);
    expectValid(withoutHits(groove, selection));
    const Edited moved = changeHits(groove, selection, [&](Hit& h) {
      h.at += Beat(pick(random, -8, 8), 4);
      h.nudge += Milliseconds(pick(random, -300, 300));
      h.open += 0.7;
    });
    expectValid(moved.groove);
    for (const HitRef& ref : moved.selection) EXPECT_TRUE(indexOf(moved.groove, ref));
    const Pasted pasted =
        pasteHits(groove, copyHits(groove, selection), Beat(pick(random, 0, 9), 3));
    expectValid(pasted.groove);
    expectValid(repeatFirstBar(groove));
    expectValid(withMeter(groove, {pick(random, 1, 9), 8}, pick(random, 0, 70)));
    Hit hit;
    hit.at = Beat(pick(random, 0, 100), 4);
    expectValid(withHit(groove, hit));
  }
}

TEST(Edit, AHitTakesThePlaceOfItsPieceThere) {
  Groove groove;
  Hit hit;
  hit.at = Beat(1);
  hit.piece = piece::kSnare;
  hit.velocity = Velocity(50);
  groove = withHit(groove, hit);
  hit.velocity = Velocity(110);
  groove = withHit(groove, hit);
  ASSERT_EQ(groove.hits.size(), 1U);
  EXPECT_EQ(groove.hits[0].velocity, Velocity(110));
}

TEST(Edit, PasteSaysWhatItLeftOut) {
  Groove groove;
  Hit a, b;
  b.at = Beat(2);
  groove.hits = {a, b};
  const Pasted pasted = pasteHits(groove, groove.hits, Beat(3));
  EXPECT_EQ(pasted.leftOut, 1);
  EXPECT_EQ(pasted.groove.hits.size(), 3U);
  EXPECT_EQ(pasted.selection, (Selection{{Beat(3), {}}}));
}

TEST(Edit, RepeatTheFirstBarOverTheRest) {
  Groove groove;
  groove.bars = 3;
  Hit early, late;
  early.at = Beat(1);
  late.at = Beat(6);
  groove.hits = {early, late};
  const Groove out = repeatFirstBar(groove);
  ASSERT_EQ(out.hits.size(), 3U);
  EXPECT_EQ(out.hits[1].at, Beat(5));
  EXPECT_EQ(out.hits[2].at, Beat(9));
}

TEST(Edit, AChangeOfMeterKeepsWhatIsAskedFor) {
  Groove groove;
  groove.bars = 2;
  for (const Beat at : {Beat(0), Beat(3), Beat(4), Beat(11, 2)}) {
    Hit hit;
    hit.at = at;
    groove.hits.push_back(hit);
  }
  const auto places = [&](MeterChange change) {
    std::string out;
    for (const Hit& hit : withMeter(groove, {3, 4}, 2, change).hits) out += hit.at.toString() + " ";
    return out;
  };
  EXPECT_EQ(places(MeterChange::kKeepDistance), "0 3 4 11/2 ");
  EXPECT_EQ(places(MeterChange::kKeepBars), "0 3 9/2 ");
  EXPECT_EQ(places(MeterChange::kScaleBars), "0 9/4 3 33/8 ");
}

TEST(Edit, GroovesMoveInTheirListAndLoseTheirCore) {
  Song song = blankSong();
  std::string a;
  std::string b;
  song = withNewGroove(song, *song.grooves[0], "a", a);
  song = withNewGroove(song, *song.grooves[0], "b", b);
  song.grooves[2].edit([&](Groove& g) { g.core = a; });
  EXPECT_EQ(withGrooveMoved(song, b, -1).grooves[1]->id, "b");
  EXPECT_EQ(withGrooveMoved(song, b, -9).grooves[0]->id, "b");
  EXPECT_EQ(withGrooveMoved(withGrooveMoved(song, b, -1), b, 1), song);
  EXPECT_EQ(withoutGroove(song, a).findGroove(b)->core, "");
}

TEST(Edit, ChangesTheTempoThatHolds) {
  Song song = blankSong();
  song.tempo = {{0, {100}, {}}, {Beat(16), {140}, {}}};
  EXPECT_EQ(withTempoAt(song, Beat(15), {90}).tempo[0].bpm.value, 90);
  EXPECT_EQ(withTempoAt(song, Beat(16), {900}).tempo[1].bpm.value, kBpmMax);
}

// Half way up a ramp the tempo is half way, and setting it there bends the ramp at that place.
TEST(Edit, ATempoOnARampIsWhatItHasComeTo) {
  Song song = blankSong();
  TempoMark fast = song.tempo.front();
  song.tempo.front().bpm = {100};
  song.tempo.front().ramp = true;
  fast.at = Beat(16);
  fast.bpm = {140};
  song.tempo.push_back(fast);
  EXPECT_EQ(bpmAt(song.tempo, Beat(0)).value, 100);
  EXPECT_NEAR(bpmAt(song.tempo, Beat(4)).value, 110, 1e-12);
  EXPECT_EQ(bpmAt(song.tempo, Beat(16)).value, 140);
  EXPECT_EQ(bpmAt(song.tempo, Beat(99)).value, 140);
  const Song bent = withTempoAt(song, Beat(8), {90});
  ASSERT_EQ(bent.tempo.size(), 3U);
  EXPECT_EQ(bpmAt(bent.tempo, Beat(8)).value, 90);
  EXPECT_NEAR(bpmAt(bent.tempo, Beat(4)).value, 95, 1e-12);
  EXPECT_NEAR(bpmAt(bent.tempo, Beat(12)).value, 115, 1e-12);
  EXPECT_EQ(withTempoAt(song, Beat(0), {90}).tempo.size(), 2U);
  EXPECT_EQ(withTempoAt(song, Beat(20), {90}).tempo[1].bpm.value, 90);
  // What is performed goes by the same line, in steps of a sixteenth.
  EXPECT_NEAR(song.tempoMap().tempoAt(Beat(8)).bpm().value, bpmAt(song.tempo, Beat(8)).value, 0.4);
}

TEST(Edit, SetsTheFeelWhereItIsInForce) {
  Song song = blankSong();
  Feel other;
  other.id = "other";
  song = withFeel(song, other);
  EXPECT_EQ(withFeelInForce(song, "groove", "other").grooves[0]->feel, "other");
  song.arrangement[0].feel = "straight";
  const Song set = withFeelInForce(song, "groove", "other");
  EXPECT_EQ(set.arrangement[0].feel, "other");
  EXPECT_EQ(feelInForce(set, "groove"), "other");
  EXPECT_EQ(freeId(set, "other"), "other-2");
}

TEST(Edit, ZeroErasesADisplacement) {
  Feel feel;
  setDisplacement(feel, piece::kSnare, Milliseconds(3));
  setDisplacement(feel, Limb::kLeftHand, Milliseconds(3));
  EXPECT_EQ(feel.displacement.size() + feel.limbDisplacement.size(), 2U);
  setDisplacement(feel, piece::kSnare, Milliseconds(0));
  setDisplacement(feel, Limb::kLeftHand, Milliseconds(0));
  EXPECT_EQ(feel, Feel{});
}

Kit kitWith(const std::vector<std::string>& own) {
  Kit kit = houseKit();
  for (const std::string& id : own) {
    Piece piece;
    piece.id = piece.name = id;
    kit.order.push_back({static_cast<std::uint8_t>(kit.pieces.size())});
    kit.pieces.push_back(piece);
  }
  return kit;
}

TEST(Edit, PiecesAreCarriedByTheirIds) {
  const Kit from = kitWith({"gong", "bell-tree"});
  Song song = blankSong();
  song.kit = SharedValue<Kit>(kitWith({"bell-tree"}));
  std::vector<Hit> hits(3);
  hits[0].piece = *from.find("bell-tree");
  hits[1].piece = *from.find("gong");
  hits[2].piece = piece::kSnare;
  Carried carried = carryPieces(song, from, hits);
  EXPECT_EQ(carried.added, "gong");
  EXPECT_EQ(carried.leftOut, 0);
  std::set<std::string> struck;
  for (const Hit& hit : hits) struck.insert((*song.kit)[hit.piece].id);
  EXPECT_EQ(struck, (std::set<std::string>{"bell-tree", "gong", "snare"}));
  EXPECT_EQ(song.kit->order.size(), song.kit->pieces.size());
  EXPECT_TRUE(readSong(writeSong(song), "song"));

  std::vector<std::string> many;
  while (many.size() + houseKit().pieces.size() < kPiecesMax) {
    many.push_back("own-" + std::to_string(many.size()));
  }
  song.kit = SharedValue<Kit>(kitWith(many));
  hits.assign(2, Hit{});
  hits[0].piece = *from.find("gong");
  hits[1].piece = piece::kSnare;
  carried = carryPieces(song, from, hits);
  EXPECT_EQ(carried.leftOut, 1) << "the kit is full";
  EXPECT_EQ(hits.size(), 1U);
}

// What feels and mix say of pieces, by their names, but for one.
std::map<std::string, double> saidOfPieces(const Song& song, const std::string& but) {
  std::map<std::string, double> out;
  const auto say = [&](const std::string& what, PieceId id, double value) {
    const std::string& name = (*song.kit)[id].id;
    if (name != but) out[what + " " + name] = value;
  };
  for (const auto& [id, mix] : song.mixer) say("mix", id, mix.levelDb);
  for (const Feel& feel : song.feels) {
    for (const auto& [id, depth] : feel.swing.depth) say(feel.id + " depth", id, depth);
    for (const auto& [id, ms] : feel.displacement) say(feel.id + " lean", id, ms.count());
    for (const Slot& slot : feel.slots) {
      if (slot.piece) say(feel.id + " " + slot.at.toString(), *slot.piece, slot.shift.count());
    }
  }
  return out;
}

TEST(Edit, WithoutAPieceNothingElseChanges) {
  Random random(44);
  for (int i = 0; i < 60; ++i) {
    Song song = testing::randomSong(random);
    if (song.kit->pieces.size() == houseKit().pieces.size()) continue;
    // The last own piece is struck, the first is not.
    const PieceId first{static_cast<std::uint8_t>(houseKit().pieces.size())};
    const PieceId last{static_cast<std::uint8_t>(song.kit->pieces.size() - 1)};
    EXPECT_FALSE(withoutPiece(song, piece::kSnare)) << "the house's stay";
    if (first == last) continue;
    Hit hit;
    hit.piece = last;
    song = withGroove(song, withHit(*song.grooves[0], hit));
    EXPECT_FALSE(withoutPiece(song, last)) << "it is struck";
    for (const PieceId id : {first, last}) {
      song.mixer[id].levelDb = -3.0 - id.value;
      for (Feel& feel : song.feels) {
        setDisplacement(feel, id, Milliseconds(id.value));
        setSlot(feel, Beat(1), id, Milliseconds(4));
      }
    }
    const auto without = withoutPiece(song, first);
    ASSERT_TRUE(without);
    const std::string gone = (*song.kit)[first].id;
    EXPECT_EQ(saidOfPieces(*without, ""), saidOfPieces(song, gone));
    EXPECT_FALSE(without->kit->find(gone));
    EXPECT_EQ(without->kit->pieces.size() + 1, song.kit->pieces.size());
    const auto strikes = [](const Song& s) {
      std::multiset<std::pair<std::string, std::string>> out;
      for (const auto& groove : s.grooves) {
        for (const Hit& h : groove->hits) out.emplace(h.at.toString(), (*s.kit)[h.piece].id);
      }
      return out;
    };
    EXPECT_EQ(strikes(*without), strikes(song));
    EXPECT_TRUE(readSong(writeSong(*without), "song"));
  }
}

TEST(Edit, WhatIsTakenAwayLeavesASongThatIsReadBack) {
  Random random(45);
  int shown = 0, refused = 0;
  const auto expectRead = [&](const Song& song, const std::string& what) {
    const bool isShown =
        static_cast<bool>(arrange(song));  // else it is refused, and told, before that
    ++(isShown ? shown : refused);
    if (!isShown) return;
    const Result<Song> back = readSong(writeSong(song), "song");
    EXPECT_TRUE(back) << what << ": " << back.error().line();
  };
  for (int i = 0; i < 60; ++i) {
    const Song song = testing::randomSong(random);
    for (const auto& groove : song.grooves) expectRead(withoutGroove(song, groove->id), "groove");
    for (const Feel& feel : song.feels) expectRead(withoutFeel(song, feel.id), "feel");
  }
  EXPECT_GT(shown, 4 * refused);
}

TEST(Edit, APieceGoesFromSectionsThatOnlyLeaveItOut) {
  Song song = blankSong();
  song.kit = SharedValue<Kit>(kitWith({"gong", "bin"}));
  const PieceId gong = *song.kit->find("gong");
  Section& section = song.arrangement.emplace_back();
  section.groove = song.grooves[0]->id;
  section.mute = {"gong", "bin", "left-foot"};
  section.swap = {{"gong", "hat"}, {"bin", "ride"}};
  const auto without = withoutPiece(song, gong);
  ASSERT_TRUE(without);
  EXPECT_EQ(without->arrangement.back().mute, (std::vector<std::string>{"bin", "left-foot"}));
  EXPECT_EQ(without->arrangement.back().swap,
            (std::map<std::string, std::string>{{"bin", "ride"}}));
  EXPECT_TRUE(readSong(writeSong(*without), "song"));
  section.crash = SectionCrash{"gong", Velocity(90), {}};
  EXPECT_FALSE(withoutPiece(song, gong)) << "a section begins with it";
  section.crash.reset();
  section.swap["hat"] = "gong";
  EXPECT_FALSE(withoutPiece(song, gong)) << "a section plays the hats on it";
}

TEST(Edit, AGrooveIsPlayedWhereItsSectionsSay) {
  Song song = blankSong();
  const std::string first = song.grooves[0]->id;
  song.grooves.emplace_back(Groove{}).edit([](Groove& g) { g.id = "second"; });
  song.arrangement.clear();
  EXPECT_TRUE(song.plays(first, {0, 0}));
  EXPECT_FALSE(song.plays(first, {0, 1})) << "every groove once";
  EXPECT_FALSE(song.plays(first, {1, 0}));
  EXPECT_TRUE(song.plays("second", {1, 0}));
  EXPECT_FALSE(song.plays("second", {2, 0}));
  Section section;
  section.groove = first;
  section.repeat = 3;
  song.arrangement = {section, section};
  song.arrangement[1].grooves = {"second", first};
  EXPECT_TRUE(song.plays(first, {0, 2}));
  EXPECT_FALSE(song.plays(first, {0, 3}));
  EXPECT_FALSE(song.plays(first, {0, -1}));
  EXPECT_FALSE(song.plays("second", {0, 0}));
  EXPECT_TRUE(song.plays("second", {1, 0}));
  EXPECT_FALSE(song.plays("third", {1, 0}));
  EXPECT_FALSE(song.plays(first, {2, 0}));
}

TEST(Edit, AMorphIsWrittenOnItsSection) {
  Song song = blankSong();
  song.arrangement.clear();
  song.grooves.emplace_back(Groove{});
  song.grooves[1].edit([](Groove& g) { g.id = "second"; });
  const Song morphed = withMorph(song, 1, Beat(3));
  ASSERT_EQ(morphed.arrangement.size(), 2U) << "every groove is a section already";
  EXPECT_EQ(morphed.arrangement[1].morph, Beat(3));
  EXPECT_EQ(morphed.arrangement[1].groove, "second");
  EXPECT_EQ(morphed.arrangement[0].morph, Beat(0));
  EXPECT_EQ(withMorph(morphed, 7, Beat(1)), morphed) << "there is no such section";
}

}  // namespace
}  // namespace uneven
