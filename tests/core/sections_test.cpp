// SPDX-License-Identifier: GPL-3.0-or-later
// Edits of sections, fills by recipe, templates, joints, writing out and folding, form as text.
#include <gtest/gtest.h>

#include <cmath>

#include "core/arrange/form.h"
#include "core/arrange/joints.h"
#include "core/arrange/templates.h"
#include "core/arrange/write_out.h"
#include "core/io/performance_text.h"
#include "core/io/song_json.h"
#include "core/song/edit.h"
#include "core/take/take.h"
#include "core/tools/fill_library.h"
#include "tests/support/lanes.h"
#include "tests/support/made.h"
#include "tests/support/random_song.h"

namespace uneven {
namespace {

using testing::Random;
using testing::verseAndChorus;

std::string performed(const Song& song) {
  const Result<SharedTake> take = Take::ofSong(song);
  EXPECT_TRUE(take) << (take ? "" : take.error().line());
  TextOut out;
  if (take) performanceCsv(out, **take);
  return out.take();
}

template <typename T>
T got(Result<T> result) {
  EXPECT_TRUE(result) << (result ? "" : result.error().line());
  return result ? *std::move(result) : T{};
}

// How long each section lasts.
std::vector<double> lengths(const Song& song) {
  std::vector<double> out;
  const TempoMap map = song.tempoMap();
  const std::vector<Beat> starts = sectionStarts(song);
  for (std::size_t i = 0; i + 1 < starts.size(); ++i)
    out.push_back(
        (map.msAt(Quarters(starts[i + 1].toDouble())) - map.msAt(Quarters(starts[i].toDouble())))
            .count());
  return out;
}

// A ramp that no longer leads to what follows ends before it, or does not begin where there is no
// room for that.
TEST(SectionEdits, ARampLeadsToNothingElse) {
  Song song = verseAndChorus();
  song.arrangement.push_back(song.arrangement[1]);
  for (const Beat before : {Beat(1, 8), Beat(2)}) {
    const Beat ramps = Beat(32) - before, ends = Beat(32) - Beat(1, 4);
    song.tempo = {{Beat(0), Bpm{100}, {}},
                  {ramps, Bpm{100}, {}, true},
                  {Beat(32), Bpm{120}, {}},
                  {Beat(48), Bpm{90}, {}}};
    const Song out = withSectionMoved(song, 1, 2, TempoGoes::kAlong);
    EXPECT_NEAR(bpmAt(out.tempo, Beat(32)).value, 90, 1e-6);
    EXPECT_NEAR(bpmAt(out.tempo, Beat(48)).value, 120, 1e-6);
    const double there = before < Beat(1, 4) ? 100 : 120;
    EXPECT_NEAR(bpmAt(out.tempo, ends + Beat(3, 16)).value, there, 1e-6);
  }
}

// Fills in every n-th pass go on over a seam that lies between rounds of n, and only there.
TEST(SectionEdits, AFillGoesOnWhereItsPassesDo) {
  Song song = verseAndChorus();
  song.grooves.push_back(song.grooves[0]);
  song.grooves[1].edit([](Groove& g) { g.id = g.name = "fill"; });
  for (const int every : {0, 1, 2, 3, 4, 8}) {
    for (Section& s : song.arrangement) s.fill = SectionFill{"fill", Beat(1), every, {}};
    const Result<Song> joined = withSectionsJoined(song, 0);
    ASSERT_EQ(static_cast<bool>(joined), every > 0 && 8 % every == 0) << every;
    if (joined) {
      EXPECT_TRUE(performed(*joined) == performed(song)) << every;
    }
  }
}

// Two slopes are one where the second goes on from the first's end as steeply, and only there.
TEST(SectionEdits, SlopesAreOneWhereTheyAreOneLine) {
  Song song = verseAndChorus();
  Section &a = song.arrangement[0], &b = song.arrangement[1];
  a.repeat = 8;
  b.repeat = 4;
  const auto joined = [&](double to, double from, std::optional<double> end) {
    a.toLevelDb = to;
    b.levelDb = from;
    b.toLevelDb = end;
    return withSectionsJoined(song, 0);
  };
  const Result<Song> one = joined(2, 2, 3);
  ASSERT_TRUE(one) << one.error().line();
  EXPECT_EQ(one->arrangement[0].levelDb, 0);
  EXPECT_EQ(one->arrangement[0].toLevelDb, 3);
  EXPECT_EQ(performed(*one), performed(song));
  EXPECT_TRUE(joined(2, 2.004, 3.004));  // below what is written
  EXPECT_FALSE(joined(2, 2.01, 3.01));   // a step
  EXPECT_FALSE(joined(2, 1.9, 3));       // one line from end to end but for a step
  EXPECT_FALSE(joined(2, 2, 4));         // steeper
  EXPECT_FALSE(joined(2, 2, std::nullopt));
  EXPECT_TRUE(joined(0, 0, std::nullopt));
}

TEST(SectionEdits, LimitsArePassedByNone) {
  Song song = verseAndChorus();
  const auto joined = [&](int repeat) {
    song.arrangement[0].repeat = 8;
    song.arrangement[1].repeat = repeat - 8;
    return withSectionsJoined(song, 0);
  };
  ASSERT_TRUE(joined(kSongBarsMax));
  EXPECT_EQ(joined(kSongBarsMax)->arrangement[0].repeat, kSongBarsMax);
  EXPECT_FALSE(joined(kSongBarsMax + 1));
  // The passes that are written out count, not those of other sections.
  song.arrangement[1].repeat = static_cast<int>(kPassMost);
  EXPECT_TRUE(writtenOut(song, std::nullopt));
  song.arrangement[1].repeat = static_cast<int>(kPassMost) + 1;
  EXPECT_FALSE(writtenOut(song, std::nullopt));
  EXPECT_FALSE(writtenOut(song, 1));
  EXPECT_TRUE(writtenOut(song, 0));
  EXPECT_FALSE(writtenOut(song, 2)) << "there is none";
}

TEST(SectionEdits, ATempoMarkStaysBetweenItsNeighbours) {
  Song song = blankSong();
  song.tempo = {{Beat(0), Bpm{90}, {}}, {Beat(8), Bpm{95}, {}}, {Beat(16), Bpm{100}, {}}};
  const auto movedTo = [&](std::size_t mark, Beat at) {
    return withTempoMarkMoved(song, mark, at).tempo[mark].at;
  };
  EXPECT_EQ(movedTo(1, Beat(12)), Beat(12));
  EXPECT_EQ(movedTo(1, Beat(40)), Beat(63, 4));
  EXPECT_EQ(movedTo(1, Beat(0)), Beat(1, 4));
  EXPECT_EQ(movedTo(2, Beat(40)), Beat(40));
  EXPECT_EQ(movedTo(2, Beat(2)), Beat(33, 4));
  EXPECT_EQ(movedTo(0, Beat(4)), Beat(0)) << "a song begins with a tempo";
  EXPECT_EQ(withTempoMarkMoved(song, 3, Beat(4)), song);
}

TEST(SectionEdits, WhatIsFoldedAfterBeingWrittenOutSoundsTheSame) {
  int written = 0;
  for (int seed = 0; seed < testing::rounds(300); ++seed) {
    Random random(static_cast<unsigned>(seed));
    const Song song = testing::randomSong(random);
    const Result<Song> out = writtenOut(song, std::nullopt);
    if (!out) continue;
    ++written;
    const std::string before = performed(song);
    EXPECT_TRUE(performed(*out) == before) << seed;
    const Folded folded = foldedUp(*out);
    EXPECT_TRUE(performed(folded.song) == before) << seed;
    EXPECT_EQ(folded.hits, 0);
    EXPECT_LE(folded.song.grooves.size(), out->grooves.size());
    // Nothing is lost on the way through a file.
    EXPECT_TRUE(got(readSong(writeSong(*out), "")) == *out) << seed;
  }
  EXPECT_GT(written, testing::rounds(300) / 2);
}

TEST(SectionEdits, AFoldedSongIsShortAgain) {
  Song song = verseAndChorus();
  const Song open = got(writtenOut(song, std::nullopt));
  EXPECT_EQ(open.grooves.size(), 13U);
  EXPECT_EQ(open.grooves[1]->origin, song.grooves[0]->id);
  EXPECT_EQ(foldedUp(open).song, song);
  // One bar that was edited stays itself.
  Song edited = open;
  edited.grooves[4].edit([](Groove& g) { g.hits[0].velocity = Velocity(30); });
  const Folded folded = foldedUp(edited);
  EXPECT_EQ(folded.song.grooves.size(), 2U);
  EXPECT_TRUE(performed(folded.song) == performed(edited));
  const int apart = std::abs(song.grooves[0]->hits[0].velocity.value() - 30);
  const Folded near = foldedUp(edited, {apart, Milliseconds(0)});
  EXPECT_EQ(near.song.grooves.size(), 1U);
  EXPECT_EQ(near.hits, 1);
  EXPECT_EQ(near.velocity, apart);
  EXPECT_NE(foldText(near).find("1 hits changed"), std::string::npos);
}

// A name that somebody chose keeps its section apart; what is named by its groove does not.
TEST(SectionEdits, FoldingKeepsNamesThatWereChosen) {
  Song song = verseAndChorus();
  song.grooves[0].edit([](Groove& g) { g.name = "As it is called"; });
  const std::string id = song.grooves[0]->id;
  const auto sections = [&](const std::string& first, const std::string& second) {
    song.arrangement[0].name = first;
    song.arrangement[1].name = second;
    return foldedUp(song).song.arrangement.size();
  };
  EXPECT_EQ(sections(id, "As it is called"), 1U);
  EXPECT_EQ(sections("Chorus", "Chorus"), 1U);
  EXPECT_EQ(sections(id, "Chorus"), 2U);
  EXPECT_EQ(sections("Verse", "As it is called"), 2U);
}

TEST(SectionEdits, ASectionIsSplitWithoutBeingHeard) {
  int split = 0;
  for (int seed = 0; seed < testing::rounds(300); ++seed) {
    Random random(static_cast<unsigned>(seed));
    Song song = testing::randomSong(random);
    for (Section& section : song.arrangement) section.toLevelDb.reset();
    for (std::size_t i = 0; i < song.sections().size(); ++i) {
      const Result<Song> out = withSectionSplit(song, i, 1);
      if (!out) continue;
      ++split;
      EXPECT_EQ(out->arrangement.size(), song.sections().size() + 1);
      EXPECT_TRUE(performed(*out) == performed(song)) << seed << " " << i;
      if (!song.sections()[i].crash && song.sections()[i].morph == Beat(0)) {
        const Result<Song> joined = withSectionsJoined(*out, i);
        if (joined) {
          EXPECT_TRUE(performed(*joined) == performed(song)) << seed << " " << i;
        }
      }
    }
  }
  EXPECT_GT(split, testing::rounds(300) / 3);
}

TEST(SectionEdits, AnEvenLevelGoesOn) {
  Song song = verseAndChorus();
  song.arrangement[0].levelDb = -12;
  song.arrangement[0].toLevelDb = -4;
  const Song out = got(withSectionSplit(song, 0, 2));
  EXPECT_DOUBLE_EQ(*out.arrangement[0].toLevelDb, -10);
  EXPECT_DOUBLE_EQ(out.arrangement[1].levelDb, -10);
  EXPECT_TRUE(performed(out) == performed(song));
  EXPECT_TRUE(performed(got(withSectionsJoined(out, 0))) == performed(song));
  EXPECT_FALSE(withSectionsJoined(song, 0));  // the chorus is louder at once
  EXPECT_FALSE(withSectionsJoined(song, 1));
  EXPECT_FALSE(withSectionSplit(song, 0, 8));
  EXPECT_FALSE(withSectionSplit(song, 7, 1));
}

TEST(SectionEdits, TempoGoesAlongWithItsSection) {
  int moved = 0;
  for (int seed = 0; seed < testing::rounds(300); ++seed) {
    Random random(static_cast<unsigned>(seed));
    Song song = testing::randomSong(random);
    song.arrangement = song.sections();
    for (TempoMark& mark : song.tempo) mark.ramp = false;
    // Marks behind the song's end belong to no section.
    const Beat end = sectionStarts(song).back();
    std::erase_if(song.tempo, [&](const TempoMark& mark) { return mark.at >= end; });
    const std::size_t count = song.arrangement.size();
    const std::vector<double> before = lengths(song);
    const auto from = static_cast<std::size_t>(random() % count);
    const auto to = static_cast<std::size_t>(random() % count);
    const Song out = withSectionMoved(song, from, to, TempoGoes::kAlong);
    std::vector<double> wanted = before;
    const double length = wanted[from];
    wanted.erase(wanted.begin() + static_cast<std::ptrdiff_t>(from));
    wanted.insert(wanted.begin() + static_cast<std::ptrdiff_t>(to), length);
    const std::vector<double> now = lengths(out);
    ASSERT_EQ(now.size(), wanted.size());
    for (std::size_t i = 0; i < now.size(); ++i) EXPECT_NEAR(now[i], wanted[i], 1e-6) << seed;
    // And back: the song as it was, but for marks that are needed no more.
    EXPECT_TRUE(performed(withSectionMoved(out, to, from, TempoGoes::kAlong)) == performed(song));
    if (from != to) ++moved;
    const Song twice = withSectionDoubled(song, from, TempoGoes::kAlong);
    EXPECT_NEAR(lengths(twice)[from + 1], before[from], 1e-6) << seed;
    EXPECT_TRUE(performed(withoutSection(twice, from, TempoGoes::kAlong)) == performed(song))
        << seed;
    EXPECT_EQ(withSectionMoved(song, from, to, TempoGoes::kStays).tempo, song.tempo);
  }
  EXPECT_GT(moved, testing::rounds(300) / 4);
}

TEST(SectionEdits, ARampIsCutWhereItsSectionGoes) {
  Song song = verseAndChorus();
  song.tempo = {{Beat(0), Bpm{100}, {}, true}, {Beat(48), Bpm{148}, {}}};
  const std::vector<double> before = lengths(song);
  const Song out = withSectionMoved(song, 0, 1, TempoGoes::kAlong);
  ASSERT_EQ(out.tempo.size(), 4U);  // ends a sixteenth before the seam, where the tempo falls
  EXPECT_DOUBLE_EQ(out.tempo[0].bpm.value, 132);
  EXPECT_TRUE(out.tempo[0].ramp);
  EXPECT_DOUBLE_EQ(out.tempo[2].bpm.value, 100);
  EXPECT_DOUBLE_EQ(out.tempo.back().bpm.value, 132);
  EXPECT_NEAR(lengths(out)[0], before[1], 0.002 * before[1]);
  EXPECT_NEAR(lengths(out)[1], before[0], 0.002 * before[0]);
}

TEST(SectionEdits, TheOldTripletIsTheNewEighth) {
  const Song song = verseAndChorus(92);
  const Song out = got(withTempoRelation(song, 1, got(readRelation("1/8T = 1/8"))));
  ASSERT_EQ(out.tempo.size(), 2U);
  EXPECT_EQ(out.tempo[1].at, Beat(32));
  EXPECT_DOUBLE_EQ(out.tempo[1].bpm.value, 138);  // arithmetic: 92 * (1/2) / (1/3)
  EXPECT_EQ(out.tempo[1].relation, "1/8T = 1/8");
  EXPECT_EQ(got(readSong(writeSong(out), "")).tempo, out.tempo);
  EXPECT_FALSE(readRelation("triplet"));
  EXPECT_FALSE(withTempoRelation(song, 0, got(readRelation("1/8=1/4"))));
}

TEST(Form, IsReadBackAsItIsWritten) {
  for (int seed = 0; seed < testing::rounds(300); ++seed) {
    Random random(static_cast<unsigned>(seed));
    Song song = testing::randomSong(random);
    song.arrangement = song.sections();
    for (std::size_t i = 0; i < song.arrangement.size(); ++i) {
      const char* const names[] = {"Verse", "Verse, open", "Part 2", "  ", "A + fill"};
      song.arrangement[i].name = names[random() % 5];
    }
    const Result<Song> back = withForm(song, formText(song), TempoGoes::kAlong);
    ASSERT_TRUE(back) << seed << " " << formText(song) << ": " << back.error().message;
    EXPECT_EQ(back->arrangement, song.arrangement) << formText(song);
    EXPECT_TRUE(performed(*back) == performed(song)) << seed;
  }
}

TEST(Form, LaysOutWhatIsTyped) {
  const Song song = verseAndChorus();
  EXPECT_EQ(formText(song), "Verse 8, Chorus 4");
  const Song out =
      got(withForm(song, "chorus 2, Verse 4 + fill,chorus 8, verse", TempoGoes::kAlong));
  ASSERT_EQ(out.arrangement.size(), 4U);
  EXPECT_EQ(formText(out), "Chorus 2, Verse 4 + fill, Chorus 8, Verse 8");
  EXPECT_EQ(out.findGroove(out.arrangement[1].fill->groove)->origin, song.grooves[0]->id);
  const auto why = [&](const std::string& text) {
    const Result<Song> bad = withForm(song, text, TempoGoes::kAlong);
    return bad ? std::string() : bad.error().message;
  };
  EXPECT_NE(why("Verse 4, Bridge 2").find("item 2: no section and no groove"), std::string::npos);
  EXPECT_NE(why("Verse 4,,").find("item 2"), std::string::npos);
  EXPECT_NE(why("\"Verse").find("quote"), std::string::npos);
  EXPECT_NE(why(""), "");
}

TEST(Fills, EachRecipeIsPlayableOrSaysItIsNot) {
  const Song song = verseAndChorus(92);
  const Groove& base = *song.grooves[0];
  for (const FillRecipe& recipe : fillRecipes()) {
    std::set<std::string> different;
    for (std::uint64_t seed = 1; seed <= 6; ++seed) {
      const FillAsked asked{std::string(recipe.id), Beat(2), seed, 92};
      const Groove fill = got(makeFill(base, *song.kit, asked));
      EXPECT_EQ(got(makeFill(base, *song.kit, asked)), fill) << recipe.id;  // the same bytes
      EXPECT_EQ(fill.length(), base.length());
      Song alone = song;
      alone.arrangement.clear();
      alone.grooves = {SharedValue<Groove>(fill)};
      different.insert(performed(alone));
      // Before it the base, and nothing behind the 1 that it lands on.
      for (const Hit& hit : fill.hits) {
        EXPECT_LT(hit.at, fill.length());
        if (hit.at < Beat(2)) {
          EXPECT_NE(std::find(base.hits.begin(), base.hits.end(), hit), base.hits.end());
        }
      }
      const Tried tried = triedBy(song, fill, Profile{}, 92);
      EXPECT_GT(tried.playable, 0) << recipe.id << seed;
      EXPECT_EQ(triedText(tried, 92).starts_with("not"), tried.playable < 92) << recipe.id << seed;
    }
    EXPECT_GE(different.size(), 2U) << recipe.id;
  }
  EXPECT_FALSE(makeFill(base, *song.kit, {"nothing", Beat(2), 1, 92}));
  EXPECT_FALSE(makeFill(base, *song.kit, {"toms", Beat(5), 1, 92}));
}

TEST(Fills, TomsLeaveKickAndBackbeat) {
  const Song song = verseAndChorus();
  const Groove fill = got(makeFill(*song.grooves[0], *song.kit, {"toms", Beat(2), 1, 100}));
  int toms = 0, kicks = 0, backbeats = 0;
  for (const Hit& hit : fill.hits) {
    if (hit.at < Beat(2)) continue;
    EXPECT_NE(hit.piece, piece::kHat);
    EXPECT_EQ(hit.limb, Limb::kAutomatic);
    kicks += hit.piece == piece::kKick;
    backbeats += hit.piece == piece::kSnare && hit.role == Role::kAccent && hit.at == Beat(3);
    toms += hit.piece >= piece::kTomHigh && hit.piece <= piece::kTomFloor;
  }
  EXPECT_EQ(kicks, 1);
  EXPECT_EQ(backbeats, 1);
  EXPECT_GE(toms, 1);
}

// What the recipes make of any groove has hits within the groove, in order, one at a place.
TEST(Fills, OfAnyGrooveCanBeWritten) {
  int made = 0;
  for (int seed = 0; seed < testing::rounds(200); ++seed) {
    Random random(static_cast<unsigned>(seed));
    Song song = testing::randomSong(random);
    const Groove base = *song.grooves[0];
    for (const FillRecipe& recipe : fillRecipes()) {
      const Beat beats = std::min(base.length(), Beat(1 + static_cast<int>(random() % 4), 1));
      const Result<Groove> fill =
          makeFill(base, *song.kit, {std::string(recipe.id), beats, random(), 120});
      if (!fill) continue;
      ++made;
      Song with = song;
      with.arrangement.clear();
      with.grooves.emplace_back(*fill).edit([](Groove& g) { g.id = "made"; });
      EXPECT_EQ(got(readSong(writeSong(with), "")).grooves.back(), with.grooves.back())
          << seed << " " << recipe.id;
    }
  }
  EXPECT_GT(made, testing::rounds(200) * 4);
}

TEST(Fills, AreNeverTheSameWhereAsked) {
  FillPlan plan;
  plan.every = 2;
  plan.another = true;
  const Song song = got(withFill(verseAndChorus(), 0, plan));
  const SectionFill& fill = *song.arrangement[0].fill;
  ASSERT_EQ(fill.grooves.size(), 4U);
  EXPECT_EQ(got(withFill(verseAndChorus(), 0, plan)), song);
  const Result<Score> score = arrange(song);
  ASSERT_TRUE(score);
  EXPECT_FALSE(*score->blocks[1].groove == *score->blocks[3].groove);
  EXPECT_EQ(score->blocks[0].groove->id, score->blocks[2].groove->id);
  EXPECT_EQ(got(readSong(writeSong(song), "")), song);
  // Asked again the same way nothing piles up.
  EXPECT_EQ(got(withFill(song, 0, plan)).grooves.size(), song.grooves.size());
}

TEST(Fills, WhatComesAfterIsAChoice) {
  FillPlan plan;
  plan.after = FillAfter::kCrash;
  const auto first = [](const Song& song, std::size_t block) {
    std::string out;
    const Result<Score> score = arrange(song);
    for (const Hit& hit : score->blocks[block].groove->hits) {
      if (hit.at == Beat(0)) out += (*song.kit)[hit.piece].id + (hit.open > 0 ? " open, " : ", ");
    }
    return out;
  };
  Song song = got(withFill(verseAndChorus(), 0, plan));
  EXPECT_EQ(first(song, 7), "hat, kick, ");
  EXPECT_EQ(first(song, 8), "crash, kick, ");  // in the next section
  EXPECT_EQ(first(song, 9), "hat, kick, ");
  song.arrangement[0].fill->after = FillAfter::kOpenHats;
  EXPECT_EQ(first(song, 8), "hat open, kick, ");
  song.arrangement[0].fill->every = 4;
  EXPECT_EQ(first(song, 4), "hat open, kick, ");
}

TEST(Fills, TheLibraryIsPlayableAndShort) {
  ASSERT_GE(fillLibrary().size(), 10U);
  const Song song = verseAndChorus(100);
  for (const LibraryFill& one : fillLibrary()) {
    EXPECT_TRUE(one.beats == Beat(1) || one.beats == Beat(2) || one.beats == Beat(4))
        << one.groove.id;
    EXPECT_GE(triedBy(song, one.groove, Profile{}, 100).playable, 100) << one.groove.id;
    const Song with = got(withFillFrom(song, 0, one.groove, one.beats, 0, FillAfter::kNothing));
    const Result<Score> score = arrange(with);
    ASSERT_TRUE(score);
    for (const Hit& hit : score->blocks[7].groove->hits) {
      EXPECT_TRUE(hit.at < Beat(4) - one.beats || hit.piece != piece::kHat) << one.groove.id;
    }
  }
}

// What the groove draws and divides in the fill's span is not left lying under the fill.
TEST(Templates, TheFillOfAaabTakesItsSpanWhole) {
  Song song = verseAndChorus();
  song.arrangement[0].repeat = 4;
  song.grooves[0].edit([](Groove& g) {
    g.pedal = Pedal{};
    g.pedal->moves = {{Beat(1), 0.5, Beat(1, 4), {}}, {Beat(7, 2), 0.5, Beat(1, 4), {}}};
    g.beatGrids[Beat(3)] = Grid{16, 3};
  });
  TemplateAsked asked;
  asked.id = "aaab";
  const Song with = got(withTemplate(song, 0, asked)).song;
  const Groove& base = *song.grooves[0];
  const Groove& b = *with.findGroove(with.arrangement[0].grooves[3]);
  const Groove fill = got(makeFill(base, *song.kit, asked.fill.asked));
  EXPECT_EQ(b.bars, base.bars);
  EXPECT_EQ(b.hits, fill.hits);
  EXPECT_EQ(b.beatGrids, fill.beatGrids);
  EXPECT_EQ(b.pedal, fill.pedal);
  EXPECT_NE(b.pedal, base.pedal);
}

// What is arranged can be written and read again.
TEST(SectionEdits, NoMoreGroovesInTurnThanAFileHolds) {
  Song song = verseAndChorus();
  song.arrangement[0].repeat = 1;
  song.arrangement[0].grooves.assign(kPassMost, song.grooves[0]->id);
  ASSERT_TRUE(arrange(song));
  EXPECT_TRUE(readSong(writeSong(song), "x"));
  song.arrangement[0].grooves.push_back(song.grooves[0]->id);
  const Result<Score> one = arrange(song);
  ASSERT_FALSE(one);
  EXPECT_EQ(one.error().code, ErrorCode::kLimit);
  EXPECT_NE(one.error().message.find("1001 grooves in turn; at most 1000"), std::string::npos);
  EXPECT_FALSE(readSong(writeSong(song), "x"));

  Song fills = verseAndChorus();
  SectionFill& fill = fills.arrangement[0].fill.emplace();
  fill.groove = fills.grooves[0]->id;
  fill.every = 1;
  fill.grooves.assign(kPassMost + 1, fill.groove);
  EXPECT_FALSE(arrange(fills));
}

TEST(Templates, EachDoesWhatItSays) {
  const Song song = verseAndChorus();
  const auto made = [&](const char* id) {
    TemplateAsked asked;
    asked.id = id;
    return got(withTemplate(song, 0, asked));
  };
  EXPECT_EQ(made("every-4").song.arrangement[0].fill->every, 4);
  EXPECT_EQ(made("three-and-fill").song.arrangement[0].repeat, 8);
  const Song aaab = made("aaab").song;
  EXPECT_EQ(aaab.arrangement[0].grooves.size(), 4U);
  EXPECT_EQ(sectionBars(aaab, aaab.arrangement[0]), 8);
  const Templated build = made("build");
  ASSERT_EQ(build.sections, 3U);
  EXPECT_EQ(build.song.arrangement[0].mute, (std::vector<std::string>{"hat", "snare"}));
  EXPECT_TRUE(build.song.arrangement[2].mute.empty());
  EXPECT_EQ(sectionStarts(build.song).back(), sectionStarts(song).back());
  EXPECT_EQ(made("break").song.arrangement[0].mute.size(), 3U);
  const Templated open = made("last-open");
  EXPECT_EQ(open.song.arrangement[0].repeat, 7);
  EXPECT_EQ(open.song.arrangement[1].repeat, 1);
  EXPECT_GT(open.song.findGroove(open.song.arrangement[1].groove)->hits[0].open, 0);
  // Half time: the backbeat on 3 of each bar, the hats as they were.
  const Song half = made("half-time").song;
  const Groove& slow = *half.findGroove(half.arrangement[0].groove);
  EXPECT_EQ(sectionBars(half, half.arrangement[0]), 8);
  std::vector<Beat> backbeats;
  int hats = 0;
  for (const Hit& hit : slow.hits) {
    if (hit.piece == piece::kSnare && hit.role == Role::kAccent) backbeats.push_back(hit.at);
    hats += hit.piece == piece::kHat;
  }
  EXPECT_EQ(backbeats, (std::vector<Beat>{Beat(2), Beat(6)}));
  EXPECT_EQ(hats, 16);
  const Song twice = made("double-time").song;
  backbeats.clear();
  for (const Hit& hit : twice.findGroove(twice.arrangement[0].groove)->hits) {
    if (hit.piece == piece::kSnare) backbeats.push_back(hit.at);
  }
  EXPECT_EQ(backbeats, (std::vector<Beat>{Beat(1, 2), Beat(3, 2), Beat(5, 2), Beat(7, 2)}));
  for (const SectionTemplate& one : sectionTemplates()) {
    const Templated any = made(std::string(one.id).c_str());
    EXPECT_EQ(got(readSong(writeSong(any.song), "")), any.song) << one.id;
    EXPECT_NE(performed(any.song), performed(song)) << one.id;
  }
  TemplateAsked wrong;
  wrong.id = "chorus";
  EXPECT_FALSE(withTemplate(song, 0, wrong));
}

TEST(Templates, HatsOpenAlongALine) {
  const Song even = got(withHatsOpened(verseAndChorus(), 1, 0.25, 0.25));
  EXPECT_EQ(even.grooves.size(), 2U);
  for (const Hit& hit : even.grooves[1]->hits) {
    EXPECT_DOUBLE_EQ(hit.open, hit.piece == piece::kHat ? 0.25 : 0);
  }
  EXPECT_EQ(even.arrangement[0].groove, verseAndChorus().arrangement[0].groove);
  const Song line = got(withHatsOpened(verseAndChorus(), 1, 0, 0.8));
  const Section& section = line.arrangement[1];
  ASSERT_EQ(section.grooves.size(), 4U);
  EXPECT_DOUBLE_EQ(line.findGroove(section.grooves[0])->hits[0].open, 0);
  EXPECT_DOUBLE_EQ(line.findGroove(section.grooves[2])->hits[0].open, 0.4);
}

TEST(Joints, ASeamIsSmoothedByTheShortestMorph) {
  Song song = verseAndChorus();
  Feel swung;
  swung.id = swung.name = "swung";
  swung.swing.unit = SwingUnit::kEighth;
  swung.swing.ratio = 2;
  song.feels.push_back(swung);
  song.arrangement[1].feel = "swung";
  const auto at = [&](const Song& s) { return seamAt(s, 1)->jump.count(); };
  EXPECT_GT(at(song), 20);
  const Song smooth = got(withSmoothSeam(song, 1, Milliseconds(12)));
  EXPECT_LE(at(smooth), 12);
  Song shorter = smooth;
  shorter.arrangement[1].morph = smooth.arrangement[1].morph / Beat(2);
  EXPECT_GT(at(shorter), 12);
  EXPECT_FALSE(withSmoothSeam(song, 1, Milliseconds(0.5)));
  EXPECT_FALSE(withSmoothSeam(song, 0, Milliseconds(12)));
  // How often it goes round is nothing to its seam.
  Song longer = smooth;
  longer.arrangement[1].repeat = 4'000;
  EXPECT_EQ(at(longer), at(smooth));
  EXPECT_EQ(got(smoothMorph(longer, 1, Milliseconds(12))), smooth.arrangement[1].morph);
}

TEST(Joints, StrokesLeaveAndEnterTheSoftestFirst) {
  const Song song = verseAndChorus();
  const Groove& from = *song.grooves[0];
  const Groove to = linearSister(from, *song.kit);
  for (std::size_t i = 1; i < to.hits.size(); ++i) EXPECT_NE(to.hits[i].at, to.hits[i - 1].at);
  std::size_t before = from.hits.size();
  for (int step = 1; step <= 5; ++step) {
    const Groove now = between(from, to, step, 5);
    EXPECT_LE(now.hits.size(), before);
    before = now.hits.size();
  }
  EXPECT_EQ(between(from, to, 5, 5), to);
  const Groove shuffled = shuffledSister(from);
  EXPECT_EQ(shuffled.grid, (Grid{16, 3}));
  // 1/4 of a quarter becomes 1/3: the second of three.
  EXPECT_EQ(shuffled.hits.size(), from.hits.size());
  const Song turned = got(withTurnInto(song, 0, "shuffled", 4));
  ASSERT_EQ(turned.arrangement.size(), 3U);
  EXPECT_EQ(turned.arrangement[0].grooves.size(), 4U);
  EXPECT_EQ(turned.arrangement[1].repeat, 4);
  EXPECT_EQ(sectionStarts(turned).back(), sectionStarts(song).back());
  EXPECT_FALSE(withTurnInto(song, 0, "shuffled", 9));
}

TEST(Joints, APickupLeadsIn) {
  const Song song = verseAndChorus();
  const Song second = got(withPickup(song, 1, Beat(1)));
  EXPECT_EQ(second.arrangement[0].fill->beats, Beat(1));
  EXPECT_FALSE(withPickup(second, 1, Beat(1)));  // it ends with one already
  const Song first = got(withPickup(song, 0, Beat(1)));
  ASSERT_EQ(first.arrangement.size(), 3U);
  const Groove& bar = *first.findGroove(first.arrangement[0].groove);
  EXPECT_EQ(bar.hits.front().at, Beat(3));
  Song drawn = song;
  drawn.grooves[0].edit([](Groove& g) {
    g.pedal = Pedal{};
    g.pedal->moves = {{Beat(1), 0.5, Beat(1, 4), {}}, {Beat(7, 2), 0.5, Beat(1, 4), {}}};
  });
  const Song with = got(withPickup(drawn, 0, Beat(1)));
  const Groove& led = *with.findGroove(with.arrangement[0].groove);
  ASSERT_EQ(led.pedal->moves.size(), 1U);
  EXPECT_EQ(led.pedal->moves[0].at, Beat(7, 2));
  EXPECT_EQ(first.tempo.front().bpm.value, 100);
}

}  // namespace
}  // namespace uneven
