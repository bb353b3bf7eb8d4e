// SPDX-License-Identifier: GPL-3.0-or-later
// A sound bank with silence in front of every sample, so that a synthesiser that begins notes only
// at the start of its blocks can be made to begin them on any frame: a stroke leaves out as much of
// the silence as makes it sound on time.
#pragma once

#include <string>
#include <string_view>

#include "core/base/result.h"

namespace uneven::bank {

// In front of each sample: enough for two blocks of the synthesiser at twice its rate.
inline constexpr int kLeadFrames = 256;

struct LedBank {
  std::string bytes;
  int rate = 48'000;  // of most of its samples
};

// `bytes`: a SoundFont 2 file (specification 2.01). Errors: kSyntax with the byte where it is cut
// off or contradicts itself; kVersion for compressed samples (SoundFont 3), in front of which
// nothing can be put. `file` is only for messages.
Result<LedBank> withLead(std::string_view bytes, const std::string& file);

}  // namespace uneven::bank
