// SPDX-License-Identifier: GPL-3.0-or-later
// Time signatures and the subdivisions an editor snaps to.
#pragma once

#include <optional>
#include <string>
#include <string_view>

#include "core/time/beat.h"

namespace uneven {

// n/d, n 1..64, d one of 1 2 4 8 16 32. A bar is 4 n/d quarter notes: 7/8 lasts Beat(7, 2).
struct Meter {
  int n = 4;
  int d = 4;

  Beat barLength() const { return {std::int64_t{4} * n, d}; }
  // What is counted as "1, 2, 3": the quarter (or longer) under 1, 2, 4; a dotted note where the
  // meter is compound (6, 9, 12, ... over 8, 16 or 32); else the eighth, sixteenth or
  // thirty-second.
  Beat countUnit() const;
  bool compound() const { return d >= 8 && n > 3 && n % 3 == 0; }

  std::string toString() const;
  static std::optional<Meter> parse(std::string_view text);  // nothing when out of range

  bool operator==(const Meter&) const = default;
};

// A subdivision of the whole note: 1/8, 1/16, 1/32; with T three in the place of two (1/8T, 1/16T);
// with :5 or :7 five or seven in the place of four (1/16:5, 1/16:7). Grid{16, 3} steps by a sixth
// of a quarter.
struct Grid {
  int division = 16;  // 4, 8, 16 or 32 to a whole note
  int tuplet = 0;     // 0, 3, 5 or 7

  Beat step() const {
    if (tuplet == 0) return {4, division};
    return {tuplet == 3 ? 8 : 16, std::int64_t{tuplet} * division};
  }
  std::string toString() const;
  static std::optional<Grid> parse(std::string_view text);

  bool operator==(const Grid&) const = default;
};

}  // namespace uneven
