// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/measure/tap_tempo.h"

#include <gtest/gtest.h>

namespace uneven {
namespace {

TEST(TapTempo, IsTheMeanOfTheIntervals) {
  TapTempo taps;
  EXPECT_EQ(taps.tap(Milliseconds(1000)), std::nullopt);
  EXPECT_EQ(taps.tap(Milliseconds(1600)), Bpm{100});
  EXPECT_EQ(taps.tap(Milliseconds(2250)), Bpm{96});  // 1250 ms for two beats
}

TEST(TapTempo, StartsAfreshAfterAPause) {
  TapTempo taps;
  (void)taps.tap(Milliseconds(0));
  (void)taps.tap(Milliseconds(500));
  EXPECT_EQ(taps.tap(Milliseconds(4000)), std::nullopt);
  EXPECT_EQ(taps.tap(Milliseconds(5000)), Bpm{60});
}

TEST(TapTempo, StaysInRangeAndForgetsOldTaps) {
  TapTempo taps;
  for (int i = 0; i < 4; ++i) (void)taps.tap(Milliseconds(10.0 * i));
  EXPECT_EQ(taps.tap(Milliseconds(40)), Bpm{kBpmMax});
  for (int i = 1; i < 10; ++i) (void)taps.tap(Milliseconds(40 + 500.0 * i));
  EXPECT_EQ(taps.tap(Milliseconds(40 + 5000)), Bpm{120});
}

}  // namespace
}  // namespace uneven
