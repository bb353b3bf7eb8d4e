// SPDX-License-Identifier: GPL-3.0-or-later
// The sticks of a view of bars as a table: a row for each lane, a column for each slot of the grid
// and for each position off it that is struck. What cannot see the sticks can read it.
// Threads: plain values.
#pragma once

#include <cstdint>
#include <optional>
#include <vector>

#include "core/take/take.h"
#include "layout/bar_frame.h"

namespace uneven {

struct BarRow {
  PieceId piece;
  Limb limb = Limb::kAutomatic;  // of a limb's lane: what that limb strikes, whatever the piece
  double top = 0;
  double bottom = 0;
  bool operator==(const BarRow&) const = default;
};

struct BarTable {
  std::vector<BarRow> rows;
  std::vector<Beat> columns;                       // from the groove's start, in order
  std::vector<std::optional<std::uint32_t>> hits;  // row by row: which of the groove's hits

  std::optional<std::uint32_t> hit(std::size_t row, std::size_t column) const {
    return hits[row * columns.size() + column];
  }
  // Nothing when it is not one of them.
  std::optional<std::size_t> columnAt(Beat at) const;
  std::optional<std::size_t> rowOf(PieceId piece, Limb limb) const;
};

// `take` is of a groove alone.
BarTable barTable(const Take& take, const BarFrame& frame, std::vector<BarRow> rows);

// The stroke of a hit that is its own, not one of its ornament's.
const Stroke& mainStroke(const Take& take, std::uint32_t hit);

}  // namespace uneven
