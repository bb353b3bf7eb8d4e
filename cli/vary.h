// SPDX-License-Identifier: GPL-3.0-or-later
// `ustick vary`: the variants of a walk, measured, and written as grooves.
#pragma once

#include "cli/commands.h"
#include "core/tools/tool.h"

namespace uneven::cli {

struct VaryCall {
  std::string song;
  std::string groove;              // id
  std::vector<std::string> words;  // the walk's name, then key=value
  std::string out;                 // a song with every variant as a groove; empty: none
  std::string profile;             // a file; empty: the default player
  CheckFormat format = CheckFormat::kText;
};
// With --format json all is measured; more than kSortedMost variants are refused there.
Result<Output> vary(FileSystem& files, const VaryCall& call);

// Names, parameters, ranges and defaults of all walks.
std::string walkList();

// "key=value" words after the first. Errors: kUsage.
Result<Arguments> argumentsOf(const std::vector<std::string>& words, const std::string& list);
// A tool's parameters, a line each.
std::string parameterLines(const Tool& tool);

}  // namespace uneven::cli
