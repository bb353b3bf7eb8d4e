// SPDX-License-Identifier: GPL-3.0-or-later
// The quick way from a JSON object to a hit: a song has a hundred thousand of them, and hardly one
// that is not plain. Gives up on whatever is not, wrong or only rare: unknown keys, escapes, values
// out of range. Then the careful way reads the hit again and has the last word. Threads: a pure
// function.
#pragma once

#include <optional>

#include "core/io/json_tree.h"
#include "core/song/hit.h"

namespace uneven {

// `length`: of the groove.
std::optional<Hit> quickHit(const JsonTree& tree, JsonTree::Id id, const Kit& kit, Beat length);

}  // namespace uneven
