// SPDX-License-Identifier: GPL-3.0-or-later
// Levels and separation.
#include "core/measure/level.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace uneven {

double medianOf(std::vector<int> values) {
  const std::size_t middle = values.size() / 2;
  std::nth_element(values.begin(), values.begin() + static_cast<std::ptrdiff_t>(middle),
                   values.end());
  const double upper = values[middle];
  if (values.size() % 2 == 1) return upper;
  const double lower =
      *std::max_element(values.begin(), values.begin() + static_cast<std::ptrdiff_t>(middle));
  return (lower + upper) / 2;
}

double louder(Velocity velocity, double db) {
  return velocity.value() * std::pow(10, db / 40);
}

Decibels levelOf(double velocity) {
  return {40 * std::log10(velocity / Velocity::kMax)};
}
Decibels levelOf(Velocity velocity) {
  return levelOf(static_cast<double>(velocity.value()));
}

std::vector<Separation> separations(const Groove& groove) {
  std::map<PieceId, std::pair<std::vector<int>, std::vector<int>>> byPiece;
  for (const Hit& hit : groove.hits) {
    if (hit.role == Role::kAccent) byPiece[hit.piece].first.push_back(hit.velocity.value());
    if (hit.role == Role::kGhost) byPiece[hit.piece].second.push_back(hit.velocity.value());
  }
  std::vector<Separation> out;
  for (const auto& [piece, levels] : byPiece) {
    const auto& [accents, ghosts] = levels;
    if (accents.empty() || ghosts.empty()) continue;
    Separation s;
    s.piece = piece;
    s.accentMedian = medianOf(accents);
    s.ghostMedian = medianOf(ghosts);
    s.accents = static_cast<int>(accents.size());
    s.ghosts = static_cast<int>(ghosts.size());
    s.difference = {levelOf(s.accentMedian).value - levelOf(s.ghostMedian).value};
    out.push_back(s);
  }
  return out;
}

}  // namespace uneven
