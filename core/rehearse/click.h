// SPDX-License-Identifier: GPL-3.0-or-later
// Clicks as data: where they sound, how loud, and when they leave the player alone.
//
//   clicksOf(*findClick("two-and-two"), Meter{4, 4}, 96, 0, 8): quarters in bars 1, 2, 5 and 6
//
// Threads: pure functions.
#pragma once

#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

#include "core/time/meter.h"
#include "core/time/units.h"

namespace uneven {

struct ClickPattern {
  std::string id, title, help;
  // Of each count below `dividedBelow` BPM into so many, above it whole.
  int parts = 1;
  double dividedBelow = 0;
  Beat moved;           // every click so many quarter notes late: 1/2 is the offbeat
  int on = 1, off = 0;  // bars with clicks, then without
  int grows = 0;        // after each turn so many more bars without
  double silent = 0;    // share of bars without, by dice; in place of on and off
  double fades = 0;     // dB softer from bar to bar
  std::uint64_t seed = 1;
  bool operator==(const ClickPattern&) const = default;
};
const std::vector<ClickPattern>& clickPatterns();
const ClickPattern* findClick(std::string_view id);  // nullptr: there is none

// As it is at one tempo, whichever tempo it is asked at: cut or not.
ClickPattern at(ClickPattern pattern, double bpm);

struct ClickStroke {
  Beat at;           // from the first bar's start
  double db = 0;     // under the click's own level
  bool one = false;  // the first of a bar
};
// Of `bars` bars, as the pattern stands at its bar `from`.
std::vector<ClickStroke> clicksOf(const ClickPattern& pattern, Meter meter, double bpm, int from,
                                  int bars);

}  // namespace uneven
