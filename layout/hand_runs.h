// SPDX-License-Identifier: GPL-3.0-or-later
// Who plays a lane, told once where it changes and not stroke by stroke.
#pragma once

#include <cstddef>
#include <vector>

#include "core/song/kit.h"

namespace uneven {

struct HandRun {
  enum class Kind {
    kOne,    // all by one limb
    kTurns,  // strictly in turn
    kEach,   // neither for long enough: a stroke by itself
  };
  Kind kind = Kind::kEach;
  std::size_t first = 0, last = 0;  // indices of the strokes, both in it
  bool operator==(const HandRun&) const = default;
};

// Strokes in a row that are a run: fewer are told each by itself.
inline constexpr std::size_t kHandRunLeast = 4;

// Of a lane's strokes in order of time; every stroke is in one run.
std::vector<HandRun> handRuns(const std::vector<Limb>& limbs);

}  // namespace uneven
