// SPDX-License-Identifier: GPL-3.0-or-later
// What a drummer says at a position: "2", "2 e", "2 &", "2 a", "3 trip", "3 let".
//
// Inside one count (Meter::countUnit): halves are "&", quarters "e" and "a", thirds "trip" and
// "let", eighths and sixths that have no other name "ta" (common practice). A position has one
// name whatever the grid. Anything finer is numbered: "2 3:5" is the third of five in count 2.
// Compound meters count dotted notes, so that 6/8 goes "1 trip let 2 trip let".
#pragma once

#include <string>

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

// `atInBar` counts from the bar line and lies in 0 .. the bar's length.
CountName countName(Beat atInBar, Meter meter);

}  // namespace uneven
