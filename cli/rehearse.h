// SPDX-License-Identifier: GPL-3.0-or-later
// `ustick score` and `ustick plan`.
#pragma once

#include <optional>

#include "cli/commands.h"

namespace uneven::cli {

struct ScoreCall {
  std::string song, groove, take;  // take: a .mid file
  CheckFormat format = CheckFormat::kText;
};
Result<Output> score(FileSystem& files, const ScoreCall& call);

enum class PlanFormat : std::uint8_t { kText, kJson, kIcs };
struct PlanCall {
  std::string song, groove;
  double minutes = 5;
  int days = 30;
  std::string from;  // YYYY-MM-DD; empty: today
  std::optional<double> goal;
  std::string log;  // file; empty: none
  std::string profile;
  PlanFormat format = PlanFormat::kText;
};
Result<Output> plan(FileSystem& files, const PlanCall& call);

}  // namespace uneven::cli
