// SPDX-License-Identifier: GPL-3.0-or-later
// A tempo from taps.
#pragma once

#include <optional>
#include <vector>

#include "core/time/units.h"

namespace uneven {

// Taps on the beat give the mean of the last kMost intervals, to a tenth of a bpm, from the second
// tap on. A pause longer than the slowest beat (kBpmMin) starts afresh. The caller brings the
// clock.
class TapTempo {
 public:
  static constexpr std::size_t kMost = 8;

  // `now` on any steady clock. The tempo lies in kBpmMin..kBpmMax.
  std::optional<Bpm> tap(Milliseconds now);

 private:
  std::vector<Milliseconds> taps_;
};

}  // namespace uneven
