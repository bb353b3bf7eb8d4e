// SPDX-License-Identifier: GPL-3.0-or-later
// What a drummer says at a position: "2", "2 e", "2 &", "2 a", "3 trip", "3 let".
//
// Inside one count (Meter::countUnit): halves are "&", quarters "e" and "a", thirds "trip" and
// "let", eighths and sixths that have no other name "ta" after the part they follow: "2 ta", "2 e
// ta", "2 let ta" (common practice), so that no name comes twice in a count. A position has one
// name whatever the grid. Anything finer is numbered: "2 3:5" is the third of five in count 2.
// Compound meters count dotted notes, so that 6/8 goes "1 trip let 2 trip let".
#pragma once

#include <optional>
#include <string>
#include <string_view>

#include "core/time/beat.h"
#include "core/time/meter.h"

namespace uneven {

struct CountName {
  int count = 1;        // from 1
  std::string partial;  // empty on the count itself

  // "2 e"; on the count itself only the number.
  std::string text() const;
  // What stands above a grid line: the number on the count, else the partial.
  std::string label() const;

  bool operator==(const CountName&) const = default;
};

// "3 a", and behind the first bar "3 a of bar 2".
std::string placeName(Beat at, Meter meter);
// Back from that, also without the space: "3a", "3 a of bar 2", "2 3:5". "ta" is an eighth of
// the count, a sixth where `grid` is in triplets or the meter compound. Nothing for anything else,
// or beyond the bar.
std::optional<Beat> placeOfName(std::string_view text, Meter meter, Grid grid);

// `atInBar` counts from the bar line and lies in 0 .. the bar's length.
CountName countName(Beat atInBar, Meter meter);

}  // namespace uneven
