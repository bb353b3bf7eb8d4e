// SPDX-License-Identifier: GPL-3.0-or-later
// Drum tab and CSV of hits.
#include "core/io/drum_tab.h"

#include <gtest/gtest.h>

#include "core/io/hits_csv.h"
#include "core/song/edit.h"
#include "tests/support/random_song.h"

namespace uneven {
namespace {

using testing::pick;
using testing::Random;

TabReading tab(std::string_view text) {
  Result<TabReading> out = readDrumTab(text, houseKit(), "t.txt");
  EXPECT_TRUE(out) << out.error().line();
  return out ? *out : TabReading{};
}

constexpr const char* kPlain =
    "HH|x-x-x-x-x-x-x-xo|\n"
    "S |----O--g----f---|\n"
    "B |x-----x-x-------|\n";

TEST(DrumTab, ReadsWhatPeopleWrite) {
  const TabReading read = tab(kPlain);
  EXPECT_EQ(read.notes,
            (std::vector<std::string>{"guessed 1/16 in 4/4 from 16 characters to a bar"}));
  ASSERT_EQ(read.groove.hits.size(), 9U + 3U + 3U);
  const auto hit = [&](Beat at, PieceId piece) {
    return read.groove.hits.at(indexOf(read.groove, {at, piece}).value());
  };
  EXPECT_EQ(hit(Beat(1), piece::kSnare).role, Role::kAccent);
  EXPECT_EQ(hit(Beat(7, 4), piece::kSnare).role, Role::kGhost);
  EXPECT_EQ(hit(Beat(3), piece::kSnare).ornament, Ornament::kFlam);
  EXPECT_GT(hit(Beat(15, 4), piece::kHat).open, 0);
  EXPECT_EQ(hit(Beat(3, 2), piece::kKick).role, Role::kNormal);
}

TEST(DrumTab, GuessesTripletsAndOddMetersAndFollowsSystems) {
  EXPECT_EQ(tab("H|x-xx-xx-xx-x|\n").groove.grid, (Grid{8, 3}));
  const TabReading seven =
      tab("RD|x-x-x-x-x-x-x-|\r\n\r\nRD|--------------|\nK |x-------------|\n");
  EXPECT_EQ(seven.groove.meter, (Meter{7, 8}));
  EXPECT_EQ(seven.groove.bars, 2);
  EXPECT_EQ(seven.groove.hits.back().at, Beat(7, 2));
}

TEST(DrumTab, ErrorsHaveLineAndColumn) {
  struct Bad {
    const char* text;
    int line;
    int column;
    const char* message;
  };
  const Bad bad[] = {
      {"HH|x-x-x-x-|\nQQ|x-------|\n", 2, 1, "no lane \"QQ\""},
      {"HH|x-x-?-x-|\n", 1, 8, "\"?\" is no sign"},
      {"HH|x-x-x-x-|\nS|x--|\n", 2, 6, "this bar has 3 characters, others have 8"},
      {"HH|x-x-x-x-|x-x-x-x-|\nS|--------|\n", 2, 11, "8 characters, the one above 16"},
      {"just words\n", 1, 1, "a line without |"},
      {"", 1, 1, "no lanes found"},
      {"HH|x--|\n", 1, 1, "bars of 3 characters"}};
  for (const Bad& b : bad) {
    const auto read = readDrumTab(b.text, houseKit(), "t.txt");
    ASSERT_FALSE(read) << b.text;
    EXPECT_NE(read.error().message.find(b.message), std::string::npos) << read.error().line();
    EXPECT_EQ(read.error().where.line, b.line) << read.error().line();
    EXPECT_EQ(read.error().where.column, b.column) << read.error().line();
  }
}

TEST(DrumTab, TabToGrooveToTabIsStable) {
  Random random(81);
  for (int i = 0; i < 300; ++i) {
    static constexpr int kPerBar[] = {8, 16, 12, 24, 32, 14};
    const auto perBar = static_cast<std::size_t>(kPerBar[pick(random, 0, 5)]);
    const int bars = pick(random, 1, 4);
    std::string text;
    for (const char* lane : {"HH", "S", "B", "T1"}) {
      text += lane + std::string("|");
      for (int b = 0; b < bars; ++b) {
        for (std::size_t k = 0; k < perBar; ++k) text += "----xXgfdb"[pick(random, 0, 9)];
        text += "|";
      }
      text += "\n";
    }
    const Groove once = tab(text).groove;
    const TabWriting written = writeDrumTab(once, houseKit());
    Result<TabReading> again = readDrumTab(written.text, houseKit(), "again");
    ASSERT_TRUE(again) << again.error().line() << "\n" << written.text;
    // The grid may be written coarser; the hits are the same.
    ASSERT_EQ(again->groove.hits, once.hits) << text << written.text;
    ASSERT_EQ(writeDrumTab(again->groove, houseKit()).text, written.text);
  }
}

// What is written is read in the same meter, over the same bars, with every hit that the grid
// holds.
TEST(DrumTab, ReadingAndWritingAgreeOnEveryMeterAndGrid) {
  Random random(83);
  int headed = 0;
  for (int n = 1; n <= 64; ++n) {
    for (const int d : {1, 2, 4, 8, 16, 32}) {
      for (const int tuplet : {0, 3, 5, 7}) {
        Groove groove;
        groove.id = "tab";
        groove.name = "Tab";
        groove.meter = {n, d};
        groove.bars = pick(random, 1, 3);
        const Grid grid{1 << pick(random, 2, 5), tuplet};
        const auto slots = groove.length().floorDiv(grid.step());
        for (int i = pick(random, 1, 6); i > 0 && slots > 0; --i) {
          Hit hit;
          hit.at = Beat(pick(random, 0, static_cast<int>(slots) - 1)) * grid.step();
          hit.piece = i % 2 == 0 ? piece::kSnare : piece::kKick;
          groove = withHit(groove, hit);
        }
        const TabWriting written = writeDrumTab(groove, houseKit());
        const auto read = readDrumTab(written.text, houseKit(), "tab");
        ASSERT_TRUE(read) << read.error().line() << "\n" << written.text;
        ASSERT_EQ(read->groove.meter, groove.meter) << written.text;
        ASSERT_EQ(read->groove.bars, groove.bars) << written.text;
        headed += written.text.find(" in ") != std::string::npos ? 1 : 0;
        if (written.notes.size() > 1) continue;  // some were left out, and told
        const auto places = [](const Groove& g) {
          std::string out;
          for (const Hit& h : g.hits) out += h.at.toString() + " " + houseKit()[h.piece].id + "; ";
          return out;
        };
        ASSERT_EQ(places(read->groove), places(groove)) << written.text;
        ASSERT_EQ(writeDrumTab(read->groove, houseKit()).text, written.text);
      }
    }
  }
  EXPECT_GT(headed, 1000) << "most meters have to be said";
  Groove plain;
  EXPECT_EQ(writeDrumTab(plain, houseKit()).text.find(" in "), std::string::npos);
}

TEST(DrumTab, AFirstLineSaysMeterAndGrid) {
  const auto read = readDrumTab("5/4 in 1/8\nHH|x-x-x-x-xo|\n", houseKit(), "tab");
  ASSERT_TRUE(read) << read.error().line();
  EXPECT_EQ(read->groove.meter, (Meter{5, 4}));
  EXPECT_EQ(read->groove.hits.back().at, Beat(9, 2));
  EXPECT_EQ(read->notes.front(), "1/8 in 5/4, as its first line says");
  EXPECT_EQ(readDrumTab("5/4 in 1/8\nHH|x-x-|\n", houseKit(), "tab").error().line(),
            "tab:2:8: this bar has 4 characters, others have 10");
  for (const char* bad : {"5/3 in 1/8\nHH|x-|", "4/4 in 1/9\nHH|x-|", "HH|x-x-x-x-|\n4/4 in 1/8\n",
                          "4/4 in 1/8\n3/4 in 1/8\nHH|x-x-x-x-|"}) {
    EXPECT_FALSE(readDrumTab(bad, houseKit(), "tab")) << bad;
  }
  // Two lanes of one piece: it is struck once at a time.
  const auto twice = readDrumTab("HH|x-X-x-x-|\nH |X-x-----|\n", houseKit(), "tab");
  ASSERT_TRUE(twice);
  EXPECT_EQ(twice->groove.hits.size(), 4U);
  EXPECT_EQ(twice->groove.hits[0].velocity.value(), 112);
  EXPECT_EQ(twice->notes.back().substr(0, 20), "2 hits were left out");
}

TEST(DrumTab, TellsWhatATabCannotSay) {
  Groove groove;
  Hit eleventh;
  eleventh.at = Beat(1, 11);
  groove.hits = {eleventh};
  const TabWriting written = writeDrumTab(groove, houseKit());
  EXPECT_EQ(written.notes.back(), "1 hits off that grid left out");
}

TEST(DrumTab, NoiseNeverCrashes) {
  Random random(82);
  for (int i = 0; i < 5000; ++i) {
    std::string text = kPlain;
    for (int k = pick(random, 1, 6); k > 0; --k) {
      text[static_cast<std::size_t>(pick(random, 0, static_cast<int>(text.size()) - 1))] =
          static_cast<char>(pick(random, 0, 255));
    }
    const auto read = readDrumTab(text, houseKit(), "noise");
    if (!read) {
      EXPECT_GE(read.error().where.line, 1);
    }
    const auto csv = readHitsCsv(text, houseKit(), "noise");
    if (!csv) {
      EXPECT_FALSE(csv.error().message.empty());
    }
  }
}

TEST(DrumTab, LanesOfUnknownNameCanBeToldWhatTheyMean) {
  const char* text = "HH |x-x-x-x-|\nTom|----x---|\nxx |x-------|\nTom|--------|\n";
  EXPECT_EQ(unknownLanes(text, houseKit()), (std::vector<std::string>{"Tom", "xx"}));
  EXPECT_FALSE(readDrumTab(text, houseKit(), "t.txt"));
  const LaneNames names{{"Tom", piece::kTomMid}, {"xx", piece::kKick}};
  EXPECT_TRUE(unknownLanes(text, houseKit(), names).empty());
  const char* once = "HH |x-x-x-x-|\nTom|----x---|\nxx |x-------|\n";
  const auto read = readDrumTab(once, houseKit(), "t.txt", names);
  ASSERT_TRUE(read);
  EXPECT_TRUE(indexOf(read->groove, {Beat(2), piece::kTomMid}));
}

TEST(HitsCsv, RoundTripIsIdentity) {
  Random random(83);
  for (int i = 0; i < 200; ++i) {
    Groove groove = testing::randomGroove(random, "hits", "");
    for (Hit& hit : groove.hits) hit.extras = {};
    const Result<Groove> back = readHitsCsv(writeHitsCsv(groove, houseKit()), houseKit(), "h.csv");
    ASSERT_TRUE(back) << back.error().line();
    ASSERT_EQ(back->hits, groove.hits);
  }
}

TEST(HitsCsv, TakesColumnsByNameAndRefusesWithTheField) {
  const auto read = readHitsCsv("velocity,at,piece\n90,7/4,snare\n", houseKit(), "h.csv");
  ASSERT_TRUE(read);
  EXPECT_EQ(read->hits.at(0).at, Beat(7, 4));
  const auto bad = readHitsCsv("at,piece,velocity\n0,snare,200\n", houseKit(), "h.csv");
  ASSERT_FALSE(bad);
  EXPECT_EQ(bad.error().line(), "h.csv:2:9: velocity: \"200\" is not allowed; 1..127 is");
  EXPECT_FALSE(readHitsCsv("at,piece\n", houseKit(), "h.csv"));
  EXPECT_FALSE(readHitsCsv("at,piece,velocity,colour\n", houseKit(), "h.csv"));
  EXPECT_FALSE(readHitsCsv("at,piece,velocity\n0,snare\n", houseKit(), "h.csv"));
}

}  // namespace
}  // namespace uneven
