// SPDX-License-Identifier: GPL-3.0-or-later
// A performance as rows of text, one a stroke.
#pragma once

#include <string>

#include "core/perform/performance.h"

namespace uneven {

// Columns: bar (from 1 over the whole song), at (exact, inside the bar), piece, stroke, role, limb,
// velocity, opening (0..1), grid_ms (after swing and tempo), time_ms = grid_ms + displacement_ms +
// drift_ms, displacement_ms, drift_ms, times with six decimals. Rows in the performance's order,
// the foot's sounds on hat-foot among them.
std::string performanceCsv(const Performance& performance, const Kit& kit);
// The same as a JSON array of objects.
std::string performanceJson(const Performance& performance, const Kit& kit);

// The pedal: rows of the path (time_ms, opening), then of the foot's sounds (time_ms, sound,
// velocity, masked). As JSON: {"path": [...], "sounds": [...]}.
std::string pedalCsv(const HatPedal& pedal);
std::string pedalJson(const HatPedal& pedal);

}  // namespace uneven
