// SPDX-License-Identifier: GPL-3.0-or-later
// Ornaments.
#include "core/perform/ornament.h"

namespace uneven {
namespace {

constexpr double kGraceShare = 0.45;
constexpr double kDiddleShare = 0.9;
constexpr Milliseconds kBuzzGap{25};
constexpr Milliseconds kBuzzMost{150};
constexpr double kBuzzShare = 0.75;
constexpr double kRollShare = 0.85;
const Beat kRollStep(1, 8);

int gracesOf(Ornament ornament) {
  switch (ornament) {
    case Ornament::kFlam:
      return 1;
    case Ornament::kDrag:
      return 2;
    case Ornament::kRuff:
      return 3;
    default:
      return 0;
  }
}

Beat lengthOf(const Hit& hit, Beat slot) {
  return hit.ornamentFor > Beat(0) ? hit.ornamentFor : slot;
}

}  // namespace

std::vector<OrnamentStroke> ornamentStrokes(const Hit& hit, Beat slot, Beat room,
                                            Milliseconds quarter) {
  std::vector<OrnamentStroke> out;
  for (int i = gracesOf(hit.ornament); i > 0; --i) {
    out.push_back({-kGraceGap * i, Beat(0), kGraceShare, Role::kGrace});
  }
  const Beat length = std::min(lengthOf(hit, slot), room);
  if (hit.ornament == Ornament::kDiddle && slot / Beat(2) < room) {
    out.push_back({Milliseconds(0), slot / Beat(2), kDiddleShare, hit.role});
  }
  if (hit.ornament == Ornament::kBuzz) {
    const Milliseconds most = std::min(kBuzzMost, quarter * length.toDouble());
    double share = kBuzzShare;
    for (Milliseconds at = kBuzzGap; at < most; at += kBuzzGap, share *= kBuzzShare) {
      out.push_back({at, Beat(0), share, Role::kGrace});
    }
  }
  if (hit.ornament == Ornament::kRoll) {
    for (Beat at = kRollStep; at < length; at += kRollStep) {
      out.push_back({Milliseconds(0), at, kRollShare, hit.role});
    }
  }
  return out;
}

std::int64_t strokesAtMost(const Hit& hit, Beat slot) {
  switch (hit.ornament) {
    case Ornament::kNone:
      return 1;
    case Ornament::kBuzz:
      return 6;  // kBuzzMost / kBuzzGap
    case Ornament::kRoll:
      return 2 + lengthOf(hit, slot).floorDiv(kRollStep);
    default:
      return 4;
  }
}

}  // namespace uneven
