// SPDX-License-Identifier: GPL-3.0-or-later
#include "layout/strain_hills.h"

#include <gtest/gtest.h>

namespace uneven {
namespace {

TEST(StrainRooms, HillsStandBelowTheSticksAndTheRulerBelowThem) {
  for (const double height : {440.0, 640.0, 1'200.0}) {
    const StrainRooms rooms = strainRooms(height, 96, 900);
    double above = rooms.top;
    for (const Rect& hill : rooms.hills) {
      EXPECT_GT(hill.top, above);
      above = hill.bottom;
    }
    EXPECT_GT(rooms.ruler.top, above);
    EXPECT_LT(rooms.ruler.bottom, height) << "the bands under it have room";
    for (double bpm = kRulerFrom; bpm <= kRulerTo; bpm += 1)
      EXPECT_EQ(rooms.bpmAt(rooms.xOfBpm(bpm)), bpm);
    EXPECT_EQ(rooms.xOfBpm(20), rooms.ruler.left);
    EXPECT_EQ(rooms.bpmAt(2'000), kRulerTo);
  }
}

TEST(HillEdge, RisesAtAStrokeAndRecovers) {
  const Rect hill{100, 0, 500, 130};
  // 0.65 of the limit is half of what is shown; it is fresh again after 100 px.
  const std::vector<Point> edge = hillEdge({{200, 0.65, 100}, {250, 5, 20}}, hill);
  const std::vector<Point> expected = {{100, 130},  {200, 130}, {200, 65},  {250, 97.5},
                                       {250, 97.5}, {250, 0},   {270, 130}, {270, 130}};
  ASSERT_EQ(edge.size(), expected.size());
  for (std::size_t i = 0; i < edge.size(); ++i) {
    EXPECT_NEAR(edge[i].x, expected[i].x, 1e-9) << i;
    EXPECT_NEAR(edge[i].y, expected[i].y, 1e-9) << i;
  }
  EXPECT_EQ(hillEdge({}, hill).size(), 2U);
}

}  // namespace
}  // namespace uneven
