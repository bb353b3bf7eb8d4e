// SPDX-License-Identifier: GPL-3.0-or-later
// Pulling unisons together.
#pragma once

#include <set>

#include "core/base/result.h"
#include "core/song/song.h"

namespace uneven {

struct PulledTogether {
  Groove groove;
  int positions = 0;
  int hits = 0;  // whose nudge was changed
};

// Nudges the hits of the groove that are written together so that they are struck together, at the
// mean of where they were: at each position of `at` (all where it is empty) whose spread without
// drift is above `above`, those on `pieces` (all where it is empty), as the song first plays the
// groove. Nudges are rounded to a microsecond and held to +-kShiftMax. Errors: as arrangeGroove.
Result<PulledTogether> pullTogether(const Song& song, const std::string& grooveId,
                                    const std::set<Beat>& at, const std::set<PieceId>& pieces,
                                    Milliseconds above);

}  // namespace uneven
