// SPDX-License-Identifier: GPL-3.0-or-later
// Runs of hands.
#include "layout/hand_runs.h"

namespace uneven {

std::vector<HandRun> handRuns(const std::vector<Limb>& limbs) {
  std::vector<HandRun> out;
  for (std::size_t i = 0; i < limbs.size();) {
    std::size_t same = i + 1, turns = i + 1;
    while (same < limbs.size() && limbs[same] == limbs[i]) ++same;
    while (turns < limbs.size() && limbs[turns] != limbs[turns - 1] &&
           (turns < i + 2 || limbs[turns] == limbs[turns - 2]))
      ++turns;
    if (same - i >= kHandRunLeast) {
      out.push_back({HandRun::Kind::kOne, i, same - 1});
      i = same;
    } else if (turns - i >= kHandRunLeast) {
      out.push_back({HandRun::Kind::kTurns, i, turns - 1});
      i = turns;
    } else {
      out.push_back({HandRun::Kind::kEach, i, i});
      ++i;
    }
  }
  return out;
}

}  // namespace uneven
