// SPDX-License-Identifier: GPL-3.0-or-later
// A tempo from taps.
#include "core/measure/tap_tempo.h"

#include <algorithm>

namespace uneven {

std::optional<Bpm> TapTempo::tap(Milliseconds now) {
  if (!taps_.empty() && (now - taps_.back()).count() > 60'000 / kBpmMin) taps_.clear();
  taps_.push_back(now);
  if (taps_.size() > kMost + 1) taps_.erase(taps_.begin());
  if (taps_.size() < 2) return std::nullopt;
  const double mean =
      (taps_.back() - taps_.front()).count() / static_cast<double>(taps_.size() - 1);
  if (mean <= 0) return Bpm{kBpmMax};
  const double bpm = static_cast<double>(roundToInt(10 * 60'000 / mean)) / 10;
  return Bpm{std::clamp(bpm, kBpmMin, kBpmMax)};
}

}  // namespace uneven
