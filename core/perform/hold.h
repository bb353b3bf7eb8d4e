// SPDX-License-Identifier: GPL-3.0-or-later
// Keeping the strokes of one piece in their written order.
//
// Where displacement and drift would take a stroke past its neighbour on the same piece, the one of
// the two that is moved further from its grid is held kHeldGap beside the other. Hits written at
// one position have no order. Threads: plain values.
#pragma once

#include <vector>

#include "core/perform/performance.h"

namespace uneven {

inline constexpr Milliseconds kHeldGap{1};

class OrderKeeper {
 public:
  explicit OrderKeeper(const Kit& kit) : newest_(kit.pieces.size(), Moment::min()) {}

  // Every stroke as it is written; ornaments come later.
  void see(const Stroke& stroke) {
    Moment& newest = newest_[stroke.piece.value];
    if (stroke.time < newest) passed_ = true;
    if (stroke.time > newest) newest = stroke.time;
  }

  // The same strokes in the same order. Returns how many were held.
  int hold(std::vector<Stroke>& strokes) const;

 private:
  std::vector<Moment> newest_;
  bool passed_ = false;  // most songs: never
};

}  // namespace uneven
