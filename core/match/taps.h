// SPDX-License-Identifier: GPL-3.0-or-later
// A beat that was tapped along to a recording.
//
// Each tap is so many beats after the first one, by the median distance; tempo and phase are the
// straight line through them, so that a hand's scatter goes down with their number. Threads: pure.
#pragma once

#include <optional>
#include <vector>

#include "core/time/meter.h"
#include "core/time/units.h"

namespace uneven {

struct Tapped {
  Bpm bpm{0};
  Seconds start{0};            // of the bar line that was tapped first, else of the first beat
  std::optional<Meter> meter;  // where two bar lines or more were tapped
};

inline constexpr std::size_t kTapsFewest = 4;

// Seconds of the recording; a tap of a bar line is one of a beat as well. Nothing where there are
// fewer than kTapsFewest, or where no tempo comes of them.
std::optional<Tapped> tapped(std::vector<double> beats, const std::vector<double>& bars);

}  // namespace uneven
