// SPDX-License-Identifier: GPL-3.0-or-later
// A part beside a take, a tempo map that goes with it, and a tapped beat.
#include "core/match/compare.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>

#include "core/base/number.h"
#include "core/io/song_json.h"
#include "core/match/along.h"
#include "core/match/follow.h"
#include "core/match/song_of.h"
#include "core/match/taps.h"
#include "core/midi/onsets.h"
#include "core/midi/render.h"
#include "core/song/edit.h"
#include "tests/support/invented.h"
#include "tests/support/made.h"

namespace uneven {
namespace {

using testing::invent;
using testing::Invented;
using testing::pickReal;
using testing::Random;
using testing::struck;

SharedTake takeOf(const Song& song) {
  return *Take::ofGroove(song, song.grooves.front()->id);
}

// What was played is compared with what it was played from: nothing to move.
TEST(Compare, ThePartThatWasPlayedIsTheSame) {
  Random random(41);
  for (int i = 0; i < 10; ++i) {
    const Invented made = invent(random, 16, 0, SwingUnit::kSixteenth, pickReal(random, 1.2, 2.2));
    const std::vector<Onset> onsets = struck(made.song);
    const auto found = fit(onsets, {});
    ASSERT_TRUE(found);
    const auto c = compare(*takeOf(made.song), *found, onsets, true);
    ASSERT_TRUE(c);
    EXPECT_EQ(c->onlyMine + c->onlyTheirs, 0);
    EXPECT_LT(c->meanLate.count(), 0.6);
    EXPECT_EQ(c->meanLouder.value, 0);
    EXPECT_LT(c->distance, 0.15);
    for (const SlotCompared& s : c->slots)
      EXPECT_FALSE(s.beyond) << s.at.toString() << " " << s.late.count();
  }
}

// One difference of each kind, found, told first, and taken away by moving there.
TEST(Compare, WhatIsOtherwiseIsFoundAndMoved) {
  Random random(42);
  const Invented made = invent(random, 24, 2, SwingUnit::kSixteenth, 1.5);
  const std::vector<Onset> onsets = struck(made.song);
  const auto found = fit(onsets, {});
  ASSERT_TRUE(found);
  Song mine = made.song;
  Groove groove = *mine.grooves.front();
  std::vector<std::size_t> snares;
  for (std::size_t i = 0; i < groove.hits.size(); ++i) {
    if (groove.hits[i].piece == piece::kSnare && groove.hits[i].velocity.value() > 90)
      snares.push_back(i);
  }
  ASSERT_GE(snares.size(), 2U);
  const Beat late = groove.hits[snares[0]].at, soft = groove.hits[snares[1]].at;
  groove.hits[snares[0]].nudge = Milliseconds(-14);
  const int loud = groove.hits[snares[1]].velocity.value();
  groove.hits[snares[1]].velocity = Velocity(loud / 2);
  const HitRef gone = refOf(groove, 0);
  groove = withoutHits(std::move(groove), {gone});
  Hit more;
  more.piece = piece::kCowbell;
  more.at = Beat(1, 2);
  groove = withHit(std::move(groove), more);
  mine = withGroove(std::move(mine), groove);
  const SharedTake take = takeOf(mine);
  const auto c = compare(*take, *found, onsets, true);
  ASSERT_TRUE(c);
  EXPECT_EQ(c->onlyMine, 1);
  EXPECT_EQ(c->onlyTheirs, 1);
  const auto at = [&](const Compared& of, Beat where, PieceId piece) {
    const auto s = std::find_if(of.slots.begin(), of.slots.end(), [&](const SlotCompared& x) {
      return x.at == where && x.piece == piece;
    });
    EXPECT_NE(s, of.slots.end());
    return *s;
  };
  EXPECT_NEAR(at(*c, late, piece::kSnare).late.count(), 14, 2.5);
  EXPECT_NEAR(at(*c, soft, piece::kSnare).louder.value, 40 * std::log10(2.0), 0.5);
  for (std::size_t i = 0; i < 4; ++i) EXPECT_TRUE(c->slots[i].beyond) << "first " << i;
  // Each moved by itself.
  Groove moved = groove;
  for (const SlotCompared& s : c->slots) {
    if (s.beyond) moved = movedThere(std::move(moved), s);
  }
  EXPECT_TRUE(indexOf(moved, gone));
  EXPECT_FALSE(indexOf(moved, HitRef{more.at, more.piece}));
  EXPECT_EQ(moved.hits[*indexOf(moved, {soft, piece::kSnare})].velocity.value(), loud);
  const auto again = compare(*takeOf(withGroove(mine, moved)), *found, onsets, true);
  ASSERT_TRUE(again);
  EXPECT_LT(again->distance, c->distance / 2);
  EXPECT_LT(std::abs(at(*again, late, piece::kSnare).late.count()), 0.2);
  // Theirs as a whole is nearer still.
  const auto theirs = theirGroove(*take, *found, onsets, true);
  ASSERT_TRUE(theirs);
  const auto whole = compare(*takeOf(withGroove(mine, *theirs)), *found, onsets, true);
  ASSERT_TRUE(whole);
  EXPECT_EQ(whole->onlyMine + whole->onlyTheirs, 0);
  EXPECT_LT(whole->meanLate.count(), 0.2);
  EXPECT_LT(whole->distance, 0.05);
}

// Theirs is as loud as theirs where loudness is known, and as loud as mine where it is not.
TEST(Compare, TheirsIsAsLoudAsIsKnown) {
  Random random(47);
  const Invented made = invent(random, 16, 1, SwingUnit::kSixteenth, 1.4);
  const std::vector<Onset> onsets = struck(made.song);
  const auto found = fit(onsets, {});
  ASSERT_TRUE(found);
  Groove softer = *made.song.grooves.front();
  for (Hit& h : softer.hits) h.velocity = Velocity(std::max(1, h.velocity.value() / 2));
  const SharedTake mine = takeOf(withGroove(made.song, softer));
  const auto known = theirGroove(*mine, *found, onsets, true);
  const auto unknown = theirGroove(*mine, *found, onsets, false);
  ASSERT_TRUE(known && unknown);
  ASSERT_EQ(known->hits.size(), softer.hits.size());
  ASSERT_EQ(unknown->hits.size(), softer.hits.size());
  for (std::size_t i = 0; i < softer.hits.size(); ++i) {
    EXPECT_NEAR(known->hits[i].velocity.value(),
                made.song.grooves.front()->hits[i].velocity.value(), 1);
    EXPECT_NEAR(unknown->hits[i].velocity.value(), softer.hits[i].velocity.value(), 1);
  }
}

// A quieter recording is not a softer part.
TEST(Compare, InSoundOnlyLoudnessAgainstEachOtherCounts) {
  Random random(43);
  const Invented made = invent(random, 16, 1, SwingUnit::kEighth, 1);
  std::vector<Onset> onsets = struck(made.song);
  for (Onset& o : onsets) o.velocity *= 0.5;
  const auto found = fit(onsets, {});
  ASSERT_TRUE(found);
  const auto levels = compare(*takeOf(made.song), *found, onsets, true);
  const auto sound = compare(*takeOf(made.song), *found, onsets, false);
  ASSERT_TRUE(levels && sound);
  EXPECT_NEAR(levels->meanLouder.value, 40 * std::log10(2.0), 0.01);
  EXPECT_NEAR(sound->meanLouder.value, 0, 0.01);
}

TEST(Compare, WhereNothingIsInBothThereIsNoMean) {
  Random random(45);
  const Invented made = invent(random, 16, 1, SwingUnit::kEighth, 1);
  std::vector<Onset> onsets = struck(made.song);
  for (Onset& o : onsets) {
    if (o.piece == piece::kHat) o.piece = piece::kRide;
  }
  Song hats = made.song;
  hats.grooves.front().edit([](Groove& g) {
    std::erase_if(g.hits, [](const Hit& hit) { return hit.piece != piece::kHat; });
  });
  const auto found = fit(onsets, {});
  ASSERT_TRUE(found);
  const auto compared = compare(*takeOf(hats), *found, onsets, true);
  ASSERT_TRUE(compared);
  EXPECT_EQ(compared->both, 0);
  EXPECT_GT(compared->onlyMine, 0);
  EXPECT_EQ(compared->meanLate.count(), 0);
  EXPECT_EQ(compared->meanLouder.value, 0);
}

TEST(Compare, AnotherMeterIsRefused) {
  Random random(44);
  const Invented made = invent(random, 8, 1, SwingUnit::kEighth, 1);
  const std::vector<Onset> onsets = struck(made.song);
  const auto found = fit(onsets, {});
  ASSERT_TRUE(found);
  Song waltz = made.song;
  waltz = withGroove(waltz, withMeter(*waltz.grooves.front(), Meter{3, 4}, 1));
  const auto c = compare(*takeOf(waltz), *found, onsets, true);
  ASSERT_FALSE(c);
  EXPECT_NE(c.error().message.find("3/4"), std::string::npos);
  EXPECT_TRUE(strokesBehind(*takeOf(waltz), *found, onsets).empty());
}

// The part stays with the recording: every bar of the map begins where the take's does.
TEST(Follow, TheMapGoesWithATakeThatMoves) {
  Random random(45);
  Invented made = invent(random, 48, 2, SwingUnit::kSixteenth, 1.4);
  made.song.tempo = {{Beat(0), Bpm{92}, {}}};
  for (int bar = 1; bar < 48; ++bar)
    made.song.tempo.push_back({Beat(4 * bar), Bpm{92 + 6.0 * bar / 48}, {}});
  const std::vector<Onset> onsets = struck(made.song, 1.5);
  const auto found = fit(onsets, {});
  ASSERT_TRUE(found);
  const TempoMap truth = made.song.tempoMap();
  for (const FollowBy by : {FollowBy::kBar, FollowBy::kBeat}) {
    for (const double smooth : {0.0, 2.0}) {
      const Followed followed =
          follow(*found, onsets, {.asFound = false, .by = by, .smoothBars = smooth});
      Song song;
      song.tempo.clear();
      for (const TempoFound& mark : followed.marks) song.tempo.push_back({mark.at, mark.bpm, {}});
      const TempoMap map = song.tempoMap();
      // The hats are the reference, and they lean.
      const double lean = made.feel.displacement.at(piece::kHat).count();
      for (int bar = 0; bar < 48; ++bar) {
        const Quarters at(4.0 * bar);
        EXPECT_NEAR((map.msAt(at) + followed.start).count(), truth.msAt(at).count() + 1'500 + lean,
                    10)
            << bar << " smoothed over " << smooth;
      }
    }
  }
}

// Rounding to whole microseconds does not add up.
TEST(Follow, ALongSteadyTakeDoesNotDriftAway) {
  Random random(46);
  const Invented made = invent(random, 200, 0, SwingUnit::kEighth, 1);
  const std::vector<Onset> onsets = struck(made.song);
  const auto found = fit(onsets, {});
  ASSERT_TRUE(found);
  const Followed followed = follow(*found, onsets, {});
  Song song;
  song.tempo.clear();
  for (const TempoFound& mark : followed.marks) song.tempo.push_back({mark.at, mark.bpm, {}});
  const double end = made.song.tempoMap().msAt(Quarters(800)).count();
  const double first = Milliseconds(followed.start).count();
  EXPECT_NEAR(song.tempoMap().msAt(Quarters(800)).count() + first, end + first, 1.5);
  const Followed whole =
      follow(*found, onsets, {.asFound = false, .by = FollowBy::kWhole, .smoothBars = 0});
  EXPECT_EQ(whole.marks.size(), 1U);
}

// Ghosts lie elsewhere than the backbeat, and are told apart by how loud they are.
TEST(Levels, GhostsAreAGroupOfTheirOwn) {
  Random random(50);
  for (int i = 0; i < 10; ++i) {
    Invented made = invent(random, 32, 2, SwingUnit::kSixteenth, 1.4);
    int ghosts = 0;
    made.song.grooves.front().edit([&](Groove& g) {
      for (Hit& hit : g.hits) {
        if (hit.role != Role::kGhost) continue;
        hit.nudge = Milliseconds(10);
        ++ghosts;
      }
    });
    if (ghosts == 0) continue;
    const std::vector<Onset> onsets = struck(made.song);
    const auto found = fit(onsets, {});
    ASSERT_TRUE(found);
    const auto of = [&](Role role) {
      return std::find_if(found->levels.begin(), found->levels.end(),
                          [&](const LevelFit& l) { return l.role == role; });
    };
    ASSERT_NE(of(Role::kGhost), found->levels.end());
    EXPECT_NEAR((of(Role::kGhost)->lean - of(Role::kAccent)->lean).count(), 10, 2) << i;
    EXPECT_LT(of(Role::kGhost)->velocity, 40);
    EXPECT_EQ(of(Role::kGhost)->n, ghosts * 16);
  }
}

// The pedal's controller tells how far the hats are open, better than the note's zone.
TEST(Openings, OfAMidiFileComeFromThePedal) {
  Song song = blankSong();
  Groove groove = *song.grooves.front();
  for (int i = 0; i < 16; ++i) {
    Hit hit;
    hit.at = Beat(i, 2);
    hit.piece = piece::kHat;
    hit.open = i % 4 == 1 ? 0.45 : i % 4 == 3 ? 0.95 : 0;
    groove = withHit(std::move(groove), hit);
  }
  song = withGroove(std::move(song), groove);
  const auto made = render(song, builtInKitMaps().front(), {});
  ASSERT_TRUE(made);
  int open = 0, shut = 0;
  for (const Onset& o : onsetsOf(made->sequence, *song.kit).onsets) {
    if (o.piece != piece::kHat) continue;
    const int eighth = static_cast<int>(std::lround(o.seconds / 0.25)) % 4;
    const double truth = eighth == 1 ? 0.45 : eighth == 3 ? 0.95 : 0;
    EXPECT_NEAR(o.opening, truth, 0.06);
    ++(truth > 0 ? open : shut);
  }
  EXPECT_EQ(open, 8);
  EXPECT_EQ(shut, 8);
}

// Two sections with another swing, and one that goes with the tempo.
TEST(SwingAlong, IsFoundWhereItChangesAndOnlyThere) {
  Random random(48);
  int kept = 0;
  for (int i = 0; i < 12; ++i) {
    Invented made = invent(random, 16, 3, SwingUnit::kSixteenth, 1.3);
    const std::vector<Onset> plain = struck(made.song);
    const auto one = fit(plain, {});
    ASSERT_TRUE(one);
    kept += swingAlong(*one, plain).spans.size() == 1 ? 1 : 0;
    Song song = made.song;
    Feel other = made.song.feels.front();
    other.id = "g";
    other.swing.ratio = 1.7;
    song.feels.push_back(other);
    song.arrangement.push_back(song.arrangement.front());
    song.arrangement.back().feel = "g";
    const std::vector<Onset> onsets = struck(song);
    const auto found = fit(onsets, {});
    ASSERT_TRUE(found);
    const SwingAlong along = swingAlong(*found, onsets);
    ASSERT_EQ(along.spans.size(), 2U) << i;
    EXPECT_EQ(along.spans[0].to, 16);
    EXPECT_NEAR(along.spans[0].ratio, 1.3, 0.06);
    EXPECT_NEAR(along.spans[1].ratio, 1.7, 0.08);
    EXPECT_FALSE(along.perBpm) << "one tempo";
  }
  EXPECT_GE(kept, 11);
}

TEST(SwingAlong, GoesWithTheTempoWhereItDoes) {
  Random random(49);
  for (const bool linked : {true, false}) {
    Invented made = invent(random, 48, 2, SwingUnit::kEighth, 1.6);
    made.song.feels.front().swing.linked = linked;
    made.song.tempo.clear();
    for (int bar = 0; bar < 48; ++bar)
      made.song.tempo.push_back({Beat(4 * bar), Bpm{180 + bar / 4 * 2.0}, {}});
    const std::vector<Onset> onsets = struck(made.song);
    const auto found = fit(onsets, {});
    ASSERT_TRUE(found);
    const SwingAlong along = swingAlong(*found, onsets);
    ASSERT_TRUE(along.perBpm);
    EXPECT_EQ(along.followsTempo(), linked) << *along.perBpm << " " << *along.perBpmSe;
    // r = (D - 100) / 100 with D the beat in ms: at 191 BPM it falls by 0.0164 for each BPM.
    if (linked) {
      EXPECT_NEAR(*along.perBpm, -0.0164, 0.004);
    }
  }
}

// A straight line by weights, its error widened by how the points lie about it: W. H. Press et al.,
// Numerical Recipes, "Fitting Data to a Straight Line".
TEST(SwingAlong, IsNoSurerThanTheSpansLieOnTheLine) {
  Random random(51);
  Song song = invent(random, 4, 2, SwingUnit::kEighth, 1.35).song;
  Feel other = song.feels.front();
  other.id = "h";
  other.swing.ratio = 1.75;
  song.feels.push_back(other);
  const Section plain = song.arrangement.front();
  song.arrangement.clear();
  song.tempo.clear();
  for (int i = 0; i < 12; ++i) {
    song.arrangement.push_back(plain);
    song.arrangement.back().feel = i % 2 == 0 ? "f" : "h";
    for (int bar = 0; bar < 4; ++bar)
      song.tempo.push_back({Beat(16 * i + 4 * bar), Bpm{118 + 2.0 * i}, {}});
  }
  const std::vector<Onset> onsets = struck(song);
  const auto found = fit(onsets, {});
  ASSERT_TRUE(found);
  const SwingAlong along = swingAlong(*found, onsets);
  ASSERT_EQ(along.spans.size(), 12U);
  ASSERT_TRUE(along.perBpm);
  double sum = 0, x = 0, y = 0, xx = 0, xy = 0, chi2 = 0;
  for (const SwingSpan& s : along.spans) {
    const double weight = 1 / (s.se * s.se);
    sum += weight;
    x += weight * s.bpm.value;
    y += weight * s.ratio;
  }
  for (const SwingSpan& s : along.spans) {
    const double weight = 1 / (s.se * s.se), t = s.bpm.value - x / sum;
    xx += weight * t * t;
    xy += weight * t * s.ratio;
  }
  const double slope = xy / xx;
  for (const SwingSpan& s : along.spans)
    chi2 += std::pow((s.ratio - y / sum - slope * (s.bpm.value - x / sum)) / s.se, 2);
  EXPECT_NEAR(*along.perBpm, slope, 1e-9);
  EXPECT_NEAR(*along.perBpmSe, std::sqrt(chi2 / (12 - 2) / xx), 1e-9);
  EXPECT_GT(chi2, 100) << "two swings in turn are on no line";
  EXPECT_FALSE(along.followsTempo());
}

TEST(SwingAlong, TripletsAreTwoToOne) {
  Random random(50);
  std::normal_distribution<double> hand(0, 0.002);
  std::vector<Onset> onsets;
  for (int i = 0; i < 24 * 12; ++i) {
    const PieceId beat = i % 6 == 0 ? piece::kKick : piece::kSnare;
    for (const PieceId piece : {piece::kHat, beat}) {
      if (piece == beat && i % 3 != 0) continue;
      Onset& o = onsets.emplace_back();
      o.seconds = 0.5 + i * 60 / 104.0 / 3 + hand(random);
      o.piece = piece;
      o.velocity = piece == piece::kHat ? 70 : 110;
    }
  }
  std::stable_sort(onsets.begin(), onsets.end(),
                   [](const Onset& a, const Onset& b) { return a.seconds < b.seconds; });
  FitWanted wanted;
  wanted.where.bpm = Bpm{104};
  wanted.where.swing = SwingKind::kTriplets;
  const auto found = fit(onsets, wanted);
  ASSERT_TRUE(found);
  ASSERT_EQ(found->swing.written, Written::kTriplet);
  const SwingAlong along = swingAlong(*found, onsets);
  ASSERT_EQ(along.spans.size(), 1U);
  EXPECT_NEAR(along.spans[0].ratio, 2, 0.03);
}

TEST(Taps, TempoPhaseAndMeterComeOfThem) {
  Random random(47);
  std::normal_distribution<double> hand(0, 0.012);
  std::vector<double> beats, bars;
  for (int i = 0; i < 32; ++i) {
    if (i == 5 || i == 11) continue;  // missed
    (i % 3 == 1 ? bars : beats).push_back(2.5 + i * 60 / 134.0 + hand(random));
  }
  const auto found = tapped(beats, bars);
  ASSERT_TRUE(found);
  EXPECT_NEAR(found->bpm.value, 134, 0.4);
  EXPECT_NEAR(found->start.count(), 2.5 + 60 / 134.0, 0.012);
  ASSERT_TRUE(found->meter);
  EXPECT_EQ(*found->meter, (Meter{3, 4}));
  EXPECT_FALSE(tapped(beats, {})->meter);
}

TEST(Taps, NothingComesOfNothing) {
  EXPECT_FALSE(tapped({1, 2, 3}, {}));
  EXPECT_FALSE(tapped({1, 1, 1, 1, 1}, {}));
  EXPECT_FALSE(tapped({1, 10, 20, 30}, {})) << "six BPM";
  EXPECT_TRUE(tapped({1, 2, 3, 4}, {}));
}

TEST(GuideInTheFile, ComesBackAndIsHeldToItsLimits) {
  Song song = blankSong();
  song.audio = Guide{"takes/harbour.flac", Milliseconds(125), {}};
  song.feels.front().note = "measured";
  const std::string text = writeSong(song);
  EXPECT_NE(text.find("\"audio\": {\"file\": \"takes/harbour.flac\", \"offset_ms\": 125}"),
            std::string::npos)
      << text;
  const auto again = readSong(text, "a.ustick");
  ASSERT_TRUE(again);
  EXPECT_TRUE(*again == song);
  std::string bad = text;
  bad.replace(bad.find("125}"), 4, "1e9}");
  EXPECT_FALSE(readSong(bad, "a.ustick"));
  bad = text;
  bad.replace(bad.find("\"file\": \"takes"), 6, "\"fila\"");
  EXPECT_FALSE(readSong(bad, "a.ustick"));
}

// Which bars of a take are meant says nothing about mine: from bar 17 on all of it is found again.
TEST(Compare, ATakeThatStartsLateIsComparedFromThereOn) {
  Random random(53);
  for (const int from : {0, 3, 7, 16, 17}) {
    const Invented made = invent(random, 32, 0, SwingUnit::kSixteenth, 1.5);
    std::vector<Onset> onsets = struck(made.song);
    const auto whole = fit(onsets, {});
    ASSERT_TRUE(whole);
    for (std::size_t i = 0; i < onsets.size(); ++i)
      onsets[i].used = whole->placed[i].bar >= from && whole->placed[i].bar < from + 8;
    FitWanted wanted;
    wanted.where.start = whole->start;
    const auto found = fit(onsets, wanted);
    ASSERT_TRUE(found);
    const SharedTake take = takeOf(made.song);
    const auto c = compare(*take, *found, onsets, true);
    ASSERT_TRUE(c);
    EXPECT_EQ(c->onlyMine, 0) << "from bar " << from;
    EXPECT_EQ(c->onlyTheirs, 0) << "from bar " << from;
    const auto theirs = theirGroove(*take, *found, onsets, true);
    ASSERT_TRUE(theirs);
    EXPECT_EQ(theirs->hits.size(), made.song.grooves.front()->hits.size()) << "from bar " << from;
    // As a song: the bars that nobody chose are empty and are not taken for the groove.
    const Song laid = songOf(*found, onsets, houseKit(), {"late", false});
    EXPECT_FALSE(laid.grooves.front()->hits.empty()) << "from bar " << from;
    const Groove& first = *laid.findGroove(laid.arrangement.front().groove);
    EXPECT_EQ(first.hits.size() < laid.grooves.front()->hits.size(), from > 0) << "from " << from;
  }
}

// An ornament's other strokes are no strokes of mine: its hit is, at its own time and velocity.
TEST(Compare, AnOrnamentIsOneStrokeOfMine) {
  for (const Ornament ornament : {Ornament::kNone, Ornament::kFlam, Ornament::kDiddle}) {
    Hit hit = testing::hitAt(Beat(1), piece::kSnare, 90);
    hit.ornament = ornament;
    const Song song = testing::songOf({hit});
    const SharedTake take = takeOf(song);
    ASSERT_EQ(take->strokes().size(), ornament == Ornament::kNone ? 1U : 2U);
    Fit theirs;
    theirs.against = LeanAgainst::kGrid;
    const auto mine = strokesOfMine(*take, theirs);
    ASSERT_EQ(mine.size(), 1U);
    EXPECT_EQ(mine[0].at, Beat(1));
    EXPECT_NEAR(mine[0].late.count(), 0, 1e-3);
    EXPECT_EQ(mine[0].velocity, 90);
  }
}

// Of five bars over a groove of two the first comes by three times, the second twice: one kick in
// the second is half of its times, in the first it is not.
TEST(Compare, APatternIsWhatComesHalfOfItsTimes) {
  std::vector<Hit> hits;
  std::vector<Onset> played;
  const auto strike = [&](double quarters, PieceId piece) {
    Onset o;
    o.seconds = 0.5 + quarters / 2;
    o.piece = piece;
    o.velocity = 90;
    played.push_back(o);
  };
  for (int bar = 0; bar < 5; ++bar) {
    for (int i = 0; i < 8; ++i) {
      const Beat at = Beat(4 * bar) + Beat(i, 2);
      const PieceId drum = i % 4 == 2 ? piece::kSnare : piece::kKick;
      strike(at.toDouble(), piece::kHat);
      if (i % 4 == 0 || i % 4 == 2) strike(at.toDouble(), drum);
      if (i == 5 && (bar == 1 || bar == 2)) strike(at.toDouble(), piece::kKick);
      if (bar > 1) continue;
      hits.push_back(testing::hitAt(at, piece::kHat));
      if (i % 4 == 0 || i % 4 == 2) hits.push_back(testing::hitAt(at, drum));
    }
  }
  Song mine = testing::songOf(hits, 2);
  FitWanted wanted;
  wanted.where.start = Seconds(0.5);
  wanted.where.bpm = Bpm{120};
  const auto found = fit(played, wanted);
  ASSERT_TRUE(found);
  const auto compared = compare(*takeOf(mine), *found, played, true);
  ASSERT_TRUE(compared);
  std::vector<Beat> theirs;
  for (const SlotCompared& s : compared->slots) {
    if (s.theirs && !s.mine) theirs.push_back(s.at);
  }
  EXPECT_EQ(theirs, std::vector<Beat>{Beat(13, 2)});
}

}  // namespace
}  // namespace uneven
