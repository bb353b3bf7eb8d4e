// SPDX-License-Identifier: GPL-3.0-or-later
// A list of times: strokes as seconds, with piece and velocity where they are known.
//
//   seconds,piece,velocity
//   0.5021,kick,104
//
// The first line names the columns, in any order; `seconds` must be there. Without such a line each
// line is a time. Threads: pure functions.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.h"
#include "core/match/onset.h"

namespace uneven {

inline constexpr std::size_t kTimesMost = 2'000'000;
inline constexpr double kTimesMostSeconds = 24 * 3600;

// In order of time. Errors with line and column: kSyntax, kLimit, kUnknown for a piece that the kit
// does not have.
Result<std::vector<Onset>> readTimesCsv(std::string_view text, const Kit& kit,
                                        const std::string& file);

}  // namespace uneven
