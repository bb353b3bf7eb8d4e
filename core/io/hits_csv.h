// SPDX-License-Identifier: GPL-3.0-or-later
// The hits of a groove as CSV, both ways.
//
// Columns: at, piece, velocity, role, stroke, limb, ornament, ornament_for, open, open_for, nudge;
// units and words as in the song file. Reading takes the columns by their names in the first line,
// in any order; at, piece and velocity must be there.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.h"
#include "core/song/song.h"

namespace uneven {

// A first line with all columns, then a line a hit in the groove's order.
std::string writeHitsCsv(const Groove& groove, const Kit& kit);

// The hits go into a groove of as many bars of 4/4 as they need. Of hits that share piece and
// position the loudest is kept, which the notes tell. Errors with line and column of the field at
// fault.
Result<Groove> readHitsCsv(std::string_view text, const Kit& kit, const std::string& file,
                           std::vector<std::string>* notes = nullptr);

}  // namespace uneven
