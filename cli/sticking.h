// SPDX-License-Identifier: GPL-3.0-or-later
// `ustick sticking`: the hands of a groove, how fast it can go, and other ways to play it.
#pragma once

#include <optional>

#include "cli/commands.h"
#include "core/body/profile.h"

namespace uneven::cli {

struct StickingCall {
  std::string song;
  std::string groove;                        // id
  std::optional<double> bpm = std::nullopt;  // in place of the song's tempo there
  std::string profile;                       // a file; empty: the default player
  int alternatives = 5;
  CheckFormat format = CheckFormat::kText;
};
Result<Output> sticking(FileSystem& files, const StickingCall& call);

// A player profile; without a name the default one.
Result<Profile> loadProfile(FileSystem& files, const std::string& file);

}  // namespace uneven::cli
