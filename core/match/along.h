// SPDX-License-Identifier: GPL-3.0-or-later
// The swing along a take: where it changes, and whether it goes with the tempo.
//
// Each off-note between its voice's neighbours on the beat is a point of its pair (fit.h); points
// of some bars are one span, and neighbouring spans that differ by less than four standard errors
// are put together. Over a tempo that moves, the ratio is laid on a line against it. Threads: pure.
#pragma once

#include "core/match/fit.h"

namespace uneven {

struct SwingSpan {
  std::int64_t from = 0, to = 0;  // bars, from 0; `to` is behind the last
  double ratio = 1, se = 0;
  int pairs = 0;
  Bpm bpm{0};
};

struct SwingAlong {
  std::vector<SwingSpan> spans;  // one: it stays the same
  // By how much the ratio grows for each BPM, where the tempo moves enough to tell.
  std::optional<double> perBpm, perBpmSe;
  bool followsTempo() const { return perBpm && std::abs(*perBpm) > 3 * *perBpmSe; }
};

inline constexpr int kSpanBars = 4;

// Nothing in it where no voice has notes on and off the beat.
SwingAlong swingAlong(const Fit& fit, const std::vector<Onset>& onsets);

struct BarTempo {
  std::int64_t bar = 0;  // from 0
  Bpm bpm{0};            // to the next bar
};
// From bar to bar, by the line and by how the bars' strokes lie against it. In order; a bar without
// a stroke has none, nor has the one before it.
std::vector<BarTempo> barTempos(const Fit& fit, const std::vector<Onset>& onsets);

}  // namespace uneven
