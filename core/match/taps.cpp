// SPDX-License-Identifier: GPL-3.0-or-later
// From taps to a beat.
#include "core/match/taps.h"

#include <algorithm>
#include <cmath>

#include "core/base/number.h"
#include "core/match/grid.h"
#include "core/match/numbers.h"

namespace uneven {

std::optional<Tapped> tapped(std::vector<double> beats, const std::vector<double>& bars) {
  beats.insert(beats.end(), bars.begin(), bars.end());
  std::sort(beats.begin(), beats.end());
  if (beats.size() < kTapsFewest) return std::nullopt;
  std::vector<double> apart;
  for (std::size_t i = 1; i < beats.size(); ++i) apart.push_back(beats[i] - beats[i - 1]);
  const double usual = medianOfReals(apart);
  if (!(usual > 0)) return std::nullopt;
  // From tap to tap, so that a tempo a little off does not add up.
  std::vector<double> index{0};
  for (const double a : apart)
    index.push_back(index.back() + static_cast<double>(roundToInt(a / usual)));
  if (index.back() < 1) return std::nullopt;
  const Line line = lineThrough(index, beats, std::vector<double>(beats.size(), 1));
  Tapped out;
  out.bpm = Bpm{60 / line.slope};
  if (!(out.bpm.value >= kFoundBpmMin && out.bpm.value <= kFoundBpmMax)) return std::nullopt;
  const auto beatAt = [&](double seconds) { return roundToInt((seconds - line.at0) / line.slope); };
  const std::int64_t first = bars.empty() ? 0 : beatAt(*std::min_element(bars.begin(), bars.end()));
  out.start = Seconds(line.at(static_cast<double>(first)));
  if (bars.size() < 2) return out;
  std::vector<double> sorted = bars, lengths;
  std::sort(sorted.begin(), sorted.end());
  for (std::size_t i = 1; i < sorted.size(); ++i)
    lengths.push_back((sorted[i] - sorted[i - 1]) / line.slope);
  const std::int64_t length = roundToInt(medianOfReals(lengths));
  if (length >= 2 && length <= 7) out.meter = Meter{static_cast<int>(length), 4};
  return out;
}

}  // namespace uneven
