// SPDX-License-Identifier: GPL-3.0-or-later
// Where every stroke of a groove falls, as numbers: straight, swung, performed.
//
// Times are in ms from the bar line. Ticks are of kTableTicks to a quarter note at the tempo there.
// Threads: pure functions.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/perform/displacement.h"
#include "core/song/edit.h"
#include "core/take/take.h"

namespace uneven {

inline constexpr int kTableTicks = 960;

struct TimingRow {
  HitRef ref;
  int bar = 0;  // of the groove, from 0
  Beat at;      // in the bar
  Limb limb = Limb::kAutomatic;
  Milliseconds straight{0};
  Milliseconds swung{0};
  Milliseconds performed{0};
  double ticks = 0;        // performed - straight
  ShiftParts parts;        // of performed - swung
  Milliseconds drift{0};   // likewise; with parts.sum() the whole, but for strokes that are held
  Milliseconds spread{0};  // of all strokes written at this position; 0 where it stands alone

  Milliseconds difference() const { return performed - straight; }
};

// Of a groove alone (Take::ofGroove), in written order; strokes that ornaments add are left out. Of
// one bar of the groove, from 0, or of all.
std::vector<TimingRow> timingRows(const Take& take, std::optional<int> bar = std::nullopt);

// A heading and one line a row, columns divided by tabs or commas. Numbers have three decimals.
std::string timingText(const std::vector<TimingRow>& rows, const Kit& kit, Meter meter,
                       char divider);

}  // namespace uneven
