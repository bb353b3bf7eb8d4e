// SPDX-License-Identifier: GPL-3.0-or-later
// A performance as rows of text, one a stroke. All of it goes out as it is made: a million rows
// need no more memory than the performance itself.
#pragma once

#include "core/base/text_out.h"
#include "core/take/take.h"

namespace uneven {

// Columns: bar (from 1 over the whole song), at (exact, inside the bar), piece, stroke, role, limb,
// velocity, opening (0..1), grid_ms (after swing and tempo), time_ms = grid_ms + displacement_ms +
// drift_ms, displacement_ms, drift_ms, times with six decimals. Rows in the performance's order,
// the foot's sounds on hat-foot among them. The limb is the one that plays it (Take::limbs).
void performanceCsv(TextOut& out, const Take& take);
// The same as a JSON array of objects.
void performanceJson(TextOut& out, const Take& take);

// The pedal: rows of the path (time_ms, opening), then of the foot's sounds (time_ms, sound,
// velocity, masked). As JSON: {"path": [...], "sounds": [...]}.
void pedalCsv(TextOut& out, const HatPedal& pedal);
void pedalJson(TextOut& out, const HatPedal& pedal);

}  // namespace uneven
