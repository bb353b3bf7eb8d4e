// SPDX-License-Identifier: GPL-3.0-or-later
// Plain drum tab text: one line a piece, one character a slot.
//
//   HH|x-x-x-x-x-x-x-xo|
//   S |----O--g----O---|
//   B |x-----x-x-------|
//
// Lane letters as people write them: HH H hats, S SN SD snare, B BD K kick, R RD ride, C CC crash,
// T1 HT T2 MT T3 FT toms, HF foot hat (and the ids of pieces). Bars stand between |. Signs: - rest,
// x hit, X accent, o hit (on the hats: open), O accent (on the hats: wide open), g ghost, f flam, d
// drag, b buzz. The grid is guessed from the characters to a bar and told in the notes; lines that
// stand apart, with a blank line between, follow one another.
//
// A first line "5/4 in 1/8" says meter and grid; without it they are guessed. Writing puts it where
// the guess would be another.
#pragma once

#include <functional>
#include <map>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.h"
#include "core/song/song.h"

namespace uneven {

struct TabReading {
  Groove groove;
  std::vector<std::string> notes;  // "guessed 1/16 from 16 characters to a bar of 4/4"
};

// Further names of lanes, beside the usual ones.
using LaneNames = std::map<std::string, PieceId, std::less<>>;

// The names of lanes that neither the usual ones nor `names` know, in the order they stand.
std::vector<std::string> unknownLanes(std::string_view text, const Kit& kit,
                                      const LaneNames& names = {});

// Errors with line and column: kUnknown for a lane or sign, kSyntax for lines of unlike lengths,
// kLimit for more than kBarsMax bars.
Result<TabReading> readDrumTab(std::string_view text, const Kit& kit, const std::string& file,
                               const LaneNames& names = {});

struct TabWriting {
  std::string text;
  std::vector<std::string> notes;  // what a tab cannot say: "3 hits off the grid left out"
};
// In the coarsest grid (1/8, 1/8T, 1/16, 1/16T, 1/32, then fives, sevens and 1/32T) that holds
// every hit, else in the one that loses the fewest; what it does not hold is left out and told.
TabWriting writeDrumTab(const Groove& groove, const Kit& kit);

}  // namespace uneven
