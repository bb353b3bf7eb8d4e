// SPDX-License-Identifier: GPL-3.0-or-later
// Walking through placements of openings.
#include "core/vary/walk.h"

#include <algorithm>

#include "core/song/edit.h"
#include "core/song/slots.h"

namespace uneven {

std::string placementText(const Placement& placement) {
  std::string out;
  for (const Beat at : placement.at) out += (out.empty() ? "" : "+") + at.toString();
  return out + " for " + std::to_string(placement.slots);
}

std::vector<Placement> placements(const Groove& groove, Beat from, Beat to) {
  const std::vector<Beat> slots = slotsOf(groove, from, to);
  std::vector<Placement> out;
  for (auto at = slots.rbegin(); at != slots.rend(); ++at) out.push_back({{*at}, 1});
  for (std::size_t i = slots.size(); i-- > 1;) out.push_back({{slots[i - 1]}, 2});
  // Two that touch would be one long opening.
  for (std::size_t second = slots.size(); second-- > 2;) {
    for (std::size_t first = second - 1; first-- > 0;) {
      out.push_back({{slots[first], slots[second]}, 1});
    }
  }
  return out;
}

Groove withPlacement(Groove groove, Beat from, Beat to, const Placement& placement, double open,
                     const std::set<HitRef>& kept) {
  for (Hit& hit : groove.hits) {
    if (hit.piece != piece::kHat || hit.at < from || hit.at >= to) continue;
    if (kept.contains({hit.at, hit.piece})) continue;
    hit.open = 0;
    hit.openFor = Beat(0);
  }
  for (const Beat at : placement.at) {
    Beat end = at;
    for (int i = 0; i < placement.slots; ++i) end = slotAfter(groove, end);
    auto index = indexOf(groove, {at, piece::kHat});
    if (!index) {
      Hit hit;
      hit.at = at;
      hit.piece = piece::kHat;
      hit.velocity = Velocity(84);
      groove = withHit(std::move(groove), hit);
      index = indexOf(groove, {at, piece::kHat});
    }
    groove.hits[*index].open = open;
    groove.hits[*index].openFor = end - at;
  }
  return groove;
}

}  // namespace uneven
