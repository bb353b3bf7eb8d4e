// SPDX-License-Identifier: GPL-3.0-or-later
// A swing at first sight.
#include "core/match/swing_guess.h"

#include <algorithm>

#include "core/match/weights.h"

namespace uneven {
namespace {

// How well slots suit positions: mean log likelihood, with an even part for false strokes.
double suits(const std::vector<double>& quarters, const SwungSlots& slots, double width) {
  double sum = 0;
  const double peak = (1 - ear::kFalseStrokes) / (width * std::sqrt(2 * 3.14159265358979)) /
                      static_cast<double>(slots.cycle().size());
  for (const double q : quarters) {
    const double away = slots.away(q) / width;
    sum += std::log(peak * std::exp(-away * away / 2) +
                    ear::kFalseStrokes / slots.length().toDouble());
  }
  return sum / static_cast<double>(std::max<std::size_t>(1, quarters.size()));
}

}  // namespace

SwingGuess bestPoint(const std::vector<double>& quarters, Grid grid, SwingUnit unit,
                     Written written, double width) {
  constexpr double kStep = 0.01, kShift = 0.08, kShiftStep = 0.02;
  SwingGuess best;
  const double from = written == Written::kTriplet ? 2.0 / 3 : 0.5;
  const double to = written == Written::kTriplet ? 2.0 / 3 : ear::kPointMost;
  std::vector<double> shifted(quarters.size());
  for (double shift = -kShift; shift <= kShift + 1e-9; shift += kShiftStep) {
    for (std::size_t i = 0; i < quarters.size(); ++i) shifted[i] = quarters[i] - shift;
    for (double point = from; point <= to + 1e-9; point += kStep) {
      Swing swing;
      swing.unit = unit;
      swing.written = written;
      swing.ratio = ratioOfPoint(point);
      // What needs no shift and no swing comes first.
      const double value = suits(shifted, SwungSlots(grid, swing), width) - 0.1 * std::abs(shift) -
                           0.05 * (point - from);
      if (value > best.suits) best = {swing, shift, value};
    }
  }
  return best;
}

}  // namespace uneven
