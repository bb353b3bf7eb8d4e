// SPDX-License-Identifier: GPL-3.0-or-later
// Player profiles as JSON.
//
//   {
//     "format": "uneven-stick-player", "version": 1, "id": "me", "name": "Me, on my kit",
//     "hand": {"second": [75, 50], "run": [120, 95], "sustained": [165, 125]},
//     "lead_hand": "fingers",
//     "foot": {...}, "hat_foot": {...},
//     "weak_hand": 1.1, "weak_foot": 1.15, "pull_out": [140, 90],
//     "ways": {"neighbour": 25, "across": 50, "crossed": 75, "nearby": 1.05},
//     "run_gap": 250,
//     "plan": {"snare": [0, 0], "hat": [-0.8, 0.3]},
//     "setup": {"handed": "right", "lead": "right", "open_handed": false, "double_pedal": false}
//   }
//
// Pairs of limits are comfortable, playable, in ms (core/body/profile.h). What is left out is the
// default; pieces that the plan does not name stand where the default has them; without "setup" the
// song's holds. "lead_hand" is the word of a technique ("wrist", "two-to-a-motion", "fingers") or
// limits like the others', and holds for the leading hand in place of "hand". Threads: pure
// functions.
#pragma once

#include <string>
#include <string_view>

#include "core/base/result.h"
#include "core/body/profile.h"

namespace uneven {

// `file` is only for messages. Errors: kSyntax, kLimit, kUnknown, kVersion with line and column: a
// comfortable limit is at least the playable one, and no limit falls as a run gets longer.
Result<Profile> readProfile(std::string_view text, const std::string& file);

// Ends with a line break; read back it is the same.
std::string writeProfile(const Profile& profile);

}  // namespace uneven
