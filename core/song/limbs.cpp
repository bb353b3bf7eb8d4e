// SPDX-License-Identifier: GPL-3.0-or-later
// Limbs.
#include "core/song/limbs.h"

#include <optional>

namespace uneven {

std::vector<Limb> limbsOf(const Groove& groove, const Kit& kit) {
  const Beat eighth(1, 2);
  std::vector<Limb> out;
  out.reserve(groove.hits.size());
  std::optional<Beat> lastKick;
  Limb lastFoot = Limb::kAutomatic;
  for (const Hit& hit : groove.hits) {
    Limb limb = hit.limb == Limb::kAutomatic ? kit.usualLimb(hit.piece) : hit.limb;
    if (hit.piece == piece::kKick) {
      const bool follows = lastKick && hit.at > *lastKick && hit.at - *lastKick < eighth;
      if (kit.setup.doublePedal && hit.limb == Limb::kAutomatic && follows) {
        limb = mirrored(lastFoot);
      }
      lastKick = hit.at;
      lastFoot = limb;
    }
    out.push_back(limb);
  }
  return out;
}

}  // namespace uneven
