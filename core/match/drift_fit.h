// SPDX-License-Identifier: GPL-3.0-or-later
// What a body adds, from what is left of strokes once their lean is taken off: the clock that limbs
// share, each limb's own part, the clock's colour, and how much of a trend the clock may have had,
// which is the tempo's error (fit.h has the model and its sources). Threads: pure.
#pragma once

#include "core/match/fit.h"

namespace uneven {

struct DriftAsked {
  struct Rest {
    std::int64_t at = 0;  // written, in parts of a quarter (apart.h)
    Milliseconds left{0};
    PieceId piece;
  };
  std::vector<Rest> rests;       // of strokes that count, in their order
  double first = 0, length = 1;  // quarters
  Bpm bpm{120};
  bool asPlayed = false;  // against a click: nothing is lost to a line
  Seconds foundWithin{0};
};
struct DriftTold {
  DriftFound drift;
  Bpm bpmSe{0};
  std::vector<std::string> doubts;
};
// Where clock and limbs cannot be told apart all is the clock's, and a doubt says so.
DriftTold driftOf(const DriftAsked& asked);

}  // namespace uneven
