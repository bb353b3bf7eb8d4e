// SPDX-License-Identifier: GPL-3.0-or-later
// Count names against tables written by hand (common practice).
#include "core/time/count.h"

#include <gtest/gtest.h>

#include <set>

namespace uneven {
namespace {

std::string spoken(Meter meter, Beat step, int count) {
  std::string out;
  for (int i = 0; i < count; ++i) {
    if (i > 0) out += " ";
    out += countName(Beat(i) * step, meter).label();
  }
  return out;
}

TEST(Count, SaysSixteenths) {
  EXPECT_EQ(spoken({4, 4}, Beat(1, 4), 16), "1 e & a 2 e & a 3 e & a 4 e & a");
}

TEST(Count, SaysTriplets) {
  EXPECT_EQ(spoken({4, 4}, Beat(1, 3), 12), "1 trip let 2 trip let 3 trip let 4 trip let");
}

TEST(Count, SaysThirtySecondsAndSextuplets) {
  EXPECT_EQ(spoken({2, 4}, Beat(1, 8), 8), "1 ta e e ta & & ta a a ta");
  EXPECT_EQ(spoken({1, 4}, Beat(1, 6), 6), "1 ta trip & let let ta");
}

// No name comes twice in a count, and each leads back to its place.
TEST(Count, NamesAreReadBack) {
  for (const Meter meter : {Meter{4, 4}, {7, 8}, {6, 8}, {5, 4}}) {
    for (const Grid grid :
         {Grid{8, 0}, Grid{16, 0}, Grid{32, 0}, Grid{8, 3}, Grid{16, 3}, Grid{16, 5}}) {
      std::set<std::string> names;
      const Beat bar = meter.barLength();
      for (Beat at; at < bar * Beat(2); at += grid.step()) {
        const Beat inBar = at - Beat(at.floorDiv(bar)) * bar;
        const std::string name = placeName(Beat(at.floorDiv(bar)) * bar + inBar, meter);
        EXPECT_TRUE(names.insert(name).second) << meter.toString() << " " << name;
        EXPECT_EQ(placeOfName(name, meter, grid), at) << meter.toString() << " " << name;
      }
    }
  }
  EXPECT_EQ(placeOfName("3a", {4, 4}, {16, 0}), Beat(11, 4));
  EXPECT_EQ(placeOfName("1 of bar 3", {4, 4}, {16, 0}), Beat(8));
  for (const char* bad : {"", "0", "5", "a", "3 x", "3 a of bar", "3 a of bar 0", "1 9:5", "1 0:5",
                          "99999999999999999999", "1 1:0", "3 a a"})
    EXPECT_EQ(placeOfName(bad, {4, 4}, {16, 0}), std::nullopt) << bad;
}

TEST(Count, CountsTheEighthWhereItIsTheBeat) {
  EXPECT_EQ(spoken({7, 8}, Beat(1, 2), 7), "1 2 3 4 5 6 7");
  EXPECT_EQ(spoken({7, 8}, Beat(1, 4), 6), "1 & 2 & 3 &");
}

TEST(Count, CountsDottedQuartersInCompoundMeters) {
  EXPECT_EQ(spoken({6, 8}, Beat(1, 2), 6), "1 trip let 2 trip let");
  EXPECT_EQ(spoken({12, 8}, Beat(3, 2), 4), "1 2 3 4");
}

TEST(Count, NumbersWhatHasNoName) {
  EXPECT_EQ(countName(Beat(1) + Beat(2, 5), {4, 4}).text(), "2 3:5");
  EXPECT_EQ(countName(Beat(7, 4), {4, 4}).text(), "2 a");
}

TEST(Meter, GivesBarLengths) {
  EXPECT_EQ((Meter{7, 8}).barLength(), Beat(7, 2));
  EXPECT_EQ((Meter{4, 4}).barLength(), Beat(4));
  for (const char* bad : {"0/4", "65/4", "4/3", "4/64", "4", "4/", "/4", "-4/4", "4/4 "}) {
    EXPECT_EQ(Meter::parse(bad), std::nullopt) << bad;
  }
}

TEST(Meter, AFigureOfThreeEighthsOverFiveFourMeetsAfterThreeBars) {
  // Common practice, arithmetic: 15 quarter notes.
  const Beat figure(3, 2);
  const Beat bar = Meter{5, 4}.barLength();
  Beat bars = bar;
  while (Beat(bars.floorDiv(figure)) * figure != bars) bars += bar;
  EXPECT_EQ(bars, Beat(15));
}

TEST(Grid, StepsAndWords) {
  EXPECT_EQ(Grid::parse("1/16")->step(), Beat(1, 4));
  EXPECT_EQ(Grid::parse("1/8T")->step(), Beat(1, 3));
  EXPECT_EQ(Grid::parse("1/16T")->step(), Beat(1, 6));
  EXPECT_EQ(Grid::parse("1/32")->step(), Beat(1, 8));
  EXPECT_EQ(Grid::parse("1/16T")->toString(), "1/16T");
  EXPECT_EQ(Grid::parse("1/6"), std::nullopt);
}

}  // namespace
}  // namespace uneven
