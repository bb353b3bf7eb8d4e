// SPDX-License-Identifier: GPL-3.0-or-later
// A sound bank as a file in the open SoundFont 2 format (E-mu Systems, SoundFont Technical
// Specification 2.01): RIFF lists INFO, sdta and pdta; here one preset, a drum kit, with one
// instrument whose zones play one sample each, once.
#pragma once

#include <cstdint>
#include <string>
#include <vector>

#include "core/base/result.h"

namespace uneven::bank {

// In timecents (1200 log2 of seconds): how fast a sound dies when it is shut.
inline constexpr int kShutTimecents = -5500;

struct Zone {
  std::string name;  // at most 19 letters
  int note = 60;
  int velocityFrom = 1, velocityTo = 127;
  std::vector<std::int16_t> samples;
};

struct SoundFont {
  std::string name;
  int rate = 48'000;
  std::vector<Zone> zones;
};

// Errors: kLimit where a name is too long, a range empty, or there are no zones.
Result<std::string> writeSoundFont(const SoundFont& font);

}  // namespace uneven::bank
