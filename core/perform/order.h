// SPDX-License-Identifier: GPL-3.0-or-later
// Putting strokes into the order of time.
#pragma once

#include <vector>

#include "core/perform/performance.h"

namespace uneven {

// The strokes come in written order. Seen piece by piece they are nearly always in order of time
// already, so the lanes are merged rather than sorted: n log(pieces), and only a lane that a nudge
// has put out of order is sorted. Ties go by the piece's id as text, then by velocity, then as
// written.
void orderByTime(std::vector<Stroke>& strokes, const Kit& kit);

}  // namespace uneven
