// SPDX-License-Identifier: GPL-3.0-or-later
// Time signatures and grids as text.
#include "core/time/meter.h"

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
  return "1/" + std::to_string(division) + (triplet ? "T" : "");
}

std::optional<Grid> Grid::parse(std::string_view text) {
  Grid grid;
  if (text.ends_with('T')) {
    grid.triplet = true;
    text.remove_suffix(1);
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
