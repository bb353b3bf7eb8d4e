// SPDX-License-Identifier: GPL-3.0-or-later
// A tempo map that goes with a take: where each bar or beat begins in it.
//
// Moments of beats come from the fitted line and from how the strokes near each beat lie against
// it, their lean taken off, smoothed as far as asked (Whittaker, core/match/numbers.h). Each mark's
// tempo is what leads from one moment to the next in whole microseconds a quarter, and what
// rounding leaves is made up by the next one, so that nothing adds up. Threads: pure functions.
#pragma once

#include "core/match/fit.h"

namespace uneven {

enum class FollowBy : std::uint8_t { kWhole, kBar, kBeat };

struct FollowWanted {
  bool asFound = false;  // one tempo where it is steady, else bar by bar
  FollowBy by = FollowBy::kBar;
  double smoothBars = 0;  // what is shorter than so many bars is smoothed away; 0: nothing
};

struct Followed {
  Seconds start{0};               // in the recording, where the map's 0 lies
  std::vector<TempoFound> marks;  // the first at 0
};

// `onsets` as they were fitted. Beats of more than 20 000 bars are left out.
Followed follow(const Fit& fit, const std::vector<Onset>& onsets, const FollowWanted& wanted);

}  // namespace uneven
