// SPDX-License-Identifier: GPL-3.0-or-later
// The swing of each voice by itself: where its off-notes lie between its notes on both sides, once
// clock and leans are known (fit.h). Threads: pure functions.
#pragma once

#include <algorithm>
#include <map>
#include <vector>

#include "core/match/apart.h"

namespace uneven {

inline constexpr std::size_t kPairsFewest = 6;  // of a voice that tells a swing

struct Pairs {
  std::vector<double> points;  // of the pair, those near the median
  double mean = 0, se = 0;
};
struct PairsAsked {
  const std::vector<Onset>& onsets;
  const std::vector<Placed>& placed;  // beside them
  const Apart& apart;                 // of these
  const BeatLine& line;
  Beat bar;  // its length
  Swing swing;
  bool bySound = false;  // a timekeeper under a drum is not heard, and is there all the same
};
// By voice, of however few pairs.
std::map<PieceId, Pairs> pairsOf(const PairsAsked& asked);

// Voices that swing alike, as one.
struct Together {
  double point = 0.5, se = 0;  // of the pair
  int pairs = 0;               // none: no voice has enough
  double ratioSe() const {
    const double held = std::max(point, 0.5);
    return se / ((1 - held) * (1 - held));
  }
};
Together togetherOf(const std::map<PieceId, Pairs>& pairs);

}  // namespace uneven
