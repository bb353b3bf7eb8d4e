// SPDX-License-Identifier: GPL-3.0-or-later
// The quick way from JSON text to the nodes of a JsonTree.
//
// Takes what nearly every file is made of: strict JSON with plain escapes and numbers that are
// written without an exponent. It never judges: at anything else, wrong or only rare, it gives up,
// and the JSON library reads the text again from its start and says what there is to say. What it
// does take, the library takes too, and gives the same nodes. Threads: a pure function.
#pragma once

#include <string_view>
#include <vector>

#include "core/io/json_tree.h"

namespace uneven {

// False: given up, and `nodes` are of no use. Node 0 is no one's.
bool scanJson(std::string_view text, std::vector<JsonNode>& nodes);

}  // namespace uneven
