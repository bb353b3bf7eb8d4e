// SPDX-License-Identifier: GPL-3.0-or-later
// The table of sticks.
#include "layout/bar_table.h"

#include <algorithm>

namespace uneven {

std::optional<std::size_t> BarTable::columnAt(Beat at) const {
  const auto found = std::lower_bound(columns.begin(), columns.end(), at);
  if (found == columns.end() || *found != at) return std::nullopt;
  return static_cast<std::size_t>(found - columns.begin());
}

std::optional<std::size_t> BarTable::rowOf(PieceId piece, Limb limb) const {
  const auto found = std::find_if(rows.begin(), rows.end(), [&](const BarRow& row) {
    return row.limb == Limb::kAutomatic ? row.piece == piece : row.limb == limb;
  });
  if (found == rows.end()) return std::nullopt;
  return static_cast<std::size_t>(found - rows.begin());
}

const Stroke& mainStroke(const Take& take, std::uint32_t hit) {
  const Take::Indices all = take.ofHit(0, hit);
  return take.strokes()[*std::find_if(
      all.begin(), all.end(), [&](std::uint32_t i) { return take.strokes()[i].part == 0; })];
}

BarTable barTable(const Take& take, const BarFrame& frame, std::vector<BarRow> rows) {
  const Groove& groove = *take.score().blocks.front().groove;
  BarTable out;
  out.rows = std::move(rows);
  for (const GridLine& line : frame.lines) {
    if (frame.shows(line.at)) out.columns.push_back(line.at);
  }
  for (const Hit& hit : groove.hits) {
    if (frame.shows(hit.at)) out.columns.push_back(hit.at);
  }
  std::sort(out.columns.begin(), out.columns.end());
  out.columns.erase(std::unique(out.columns.begin(), out.columns.end()), out.columns.end());
  out.hits.resize(out.rows.size() * out.columns.size());
  for (std::uint32_t i = 0; i < groove.hits.size(); ++i) {
    const Hit& hit = groove.hits[i];
    if (!frame.shows(hit.at)) continue;
    const auto row = out.rowOf(hit.piece, mainStroke(take, i).limb);
    if (row) out.hits[*row * out.columns.size() + *out.columnAt(hit.at)] = i;
  }
  return out;
}

}  // namespace uneven
