// SPDX-License-Identifier: GPL-3.0-or-later
// Guessing the pivot.
#include "core/measure/pivot.h"

namespace uneven {

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
