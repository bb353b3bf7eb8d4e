// SPDX-License-Identifier: GPL-3.0-or-later
// Putting strokes into the order of time.
#pragma once

#include <cstdint>
#include <vector>

#include "core/perform/performance.h"

namespace uneven {

// The strokes come in written order. Seen piece by piece they are nearly always in order of time
// already, so the lanes are merged rather than sorted: n log(pieces), and only a lane that a nudge
// has put out of order is sorted. Ties go by the piece's id as text, then by velocity, then as
// written.
class StrokeOrder {
 public:
  explicit StrokeOrder(const Kit& kit);
  bool operator()(const Stroke& a, const Stroke& b) const {
    if (a.time != b.time) return a.time < b.time;
    if (a.piece != b.piece) return rank_[a.piece.value] < rank_[b.piece.value];
    return a.velocity < b.velocity;
  }
  const std::vector<std::uint8_t>& rank() const { return rank_; }  // by piece

 private:
  std::vector<std::uint8_t> rank_;
};

// By StrokeOrder.
void orderByTime(std::vector<Stroke>& strokes, const Kit& kit);

}  // namespace uneven
