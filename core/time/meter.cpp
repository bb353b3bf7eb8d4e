// SPDX-License-Identifier: GPL-3.0-or-later
// Time signatures and grids as text.
#include "core/time/meter.h"

#include <utility>

#include "core/base/number.h"

namespace uneven {

Beat Meter::countUnit() const {
  if (compound()) return {12, d};
  return {4, d};
}

std::string Meter::toString() const {
  return std::to_string(n) + "/" + std::to_string(d);
}

std::optional<Meter> Meter::parse(std::string_view text) {
  const std::size_t slash = text.find('/');
  if (slash == std::string_view::npos) return std::nullopt;
  const auto n = wholeNumber(text.substr(0, slash));
  const auto d = wholeNumber(text.substr(slash + 1));
  if (!n || !d || *n < 1 || *n > 64 || *d < 1 || *d > 32 || (*d & (*d - 1)) != 0) {
    return std::nullopt;
  }
  return Meter{static_cast<int>(*n), static_cast<int>(*d)};
}

std::string Grid::toString() const {
  const std::string text = "1/" + std::to_string(division);
  if (tuplet == 3) return text + "T";
  return tuplet == 0 ? text : text + ":" + std::to_string(tuplet);
}

std::optional<Grid> Grid::parse(std::string_view text) {
  Grid grid;
  for (const auto& [ending, tuplet] : {std::pair{"T", 3}, {":5", 5}, {":7", 7}}) {
    if (!text.ends_with(ending)) continue;
    grid.tuplet = tuplet;
    text.remove_suffix(std::string_view(ending).size());
    break;
  }
  if (!text.starts_with("1/")) return std::nullopt;
  const auto division = wholeNumber(text.substr(2));
  if (!division || (*division != 4 && *division != 8 && *division != 16 && *division != 32)) {
    return std::nullopt;
  }
  grid.division = static_cast<int>(*division);
  return grid;
}

}  // namespace uneven
