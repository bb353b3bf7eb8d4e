// SPDX-License-Identifier: GPL-3.0-or-later
// Displacement.
#include "core/perform/displacement.h"

#include <algorithm>

namespace uneven {
namespace {

template <typename Key>
Milliseconds valueOf(const std::map<Key, Milliseconds>& values, Key key) {
  const auto found = values.find(key);
  return found == values.end() ? Milliseconds(0) : found->second;
}

}  // namespace

double shareFactor(const Feel& feel, Tempo tempo) {
  if (!feel.shareOf) return 1;
  return tempo.quarter() / Tempo::fromBpm(*feel.shareOf).quarter();
}

ShiftParts shiftOf(const Feel& feel, const Hit& hit, Limb limb, Beat inBar, double factor) {
  ShiftParts out;
  out.piece = factor * valueOf(feel.displacement, hit.piece);
  if (!feel.limbDisplacement.empty()) out.limb = factor * valueOf(feel.limbDisplacement, limb);
  auto slot = std::lower_bound(feel.slots.begin(), feel.slots.end(), inBar,
                               [](const Slot& s, Beat at) { return s.at < at; });
  for (; slot != feel.slots.end() && slot->at == inBar; ++slot) {
    if (slot->piece && *slot->piece != hit.piece) continue;
    out.slot += factor * slot->shift;
    out.velocity += slot->velocity;
  }
  out.nudge = hit.nudge;
  if (const auto limit = feel.limits.find(hit.role); limit != feel.limits.end()) {
    const Milliseconds whole = out.sum();
    out.limited = std::clamp(whole, -limit->second, limit->second) - whole;
  }
  return out;
}

}  // namespace uneven
