// SPDX-License-Identifier: GPL-3.0-or-later
// Guessing the pivot.
#include "core/measure/pivot.h"

#include <algorithm>

namespace uneven {

Swing writtenAs(const Groove& groove, Swing swing, Written written) {
  if (written == swing.written) return swing;
  swing.written = written;
  swing.linked = false;
  swing.ratio = written == Written::kTriplet ? 2 : 1;
  if (written == Written::kStraight) return swing;
  const auto last = [&](SwingUnit unit) {
    const Beat pair = unit == SwingUnit::kEighth ? Beat(1) : Beat(1, 2);
    const Beat bar = groove.meter.barLength();
    return std::count_if(groove.hits.begin(), groove.hits.end(), [&](const Hit& hit) {
      const Beat inBar = hit.at - Beat(hit.at.floorDiv(bar)) * bar;
      return (inBar - Beat(inBar.floorDiv(pair)) * pair) / pair == Beat(2, 3);
    });
  };
  const auto eighths = last(SwingUnit::kEighth), sixteenths = last(SwingUnit::kSixteenth);
  if (eighths != sixteenths)
    swing.unit = eighths > sixteenths ? SwingUnit::kEighth : SwingUnit::kSixteenth;
  return swing;
}

PivotGuess guessWritten(const Groove& groove, SwingUnit unit) {
  const Beat pair = unit == SwingUnit::kEighth ? Beat(1) : Beat(1, 2);
  const Beat bar = groove.meter.barLength();
  PivotGuess guess;
  for (const Hit& hit : groove.hits) {
    const Beat inBar = hit.at - Beat(hit.at.floorDiv(bar)) * bar;
    const Beat p = (inBar - Beat(inBar.floorDiv(pair)) * pair) / pair;
    if (p == Beat(0)) continue;
    if (p.den() % 3 == 0) {
      ++guess.triplet;
    } else {
      ++guess.straight;
    }
  }
  if (guess.triplet > guess.straight) guess.written = Written::kTriplet;
  return guess;
}

}  // namespace uneven
