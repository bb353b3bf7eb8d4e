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
constexpr Milliseconds kRollMost{10'000};  // of a roll that is even in milliseconds
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
  const auto gap = [&](Milliseconds usual) {
    return hit.ornamentGap > Milliseconds(0) ? hit.ornamentGap : usual;
  };
  const auto share = [&](double usual) {
    return hit.ornamentPercent > 0 ? hit.ornamentPercent / 100.0 : usual;
  };
  std::vector<OrnamentStroke> out;
  for (int i = gracesOf(hit.ornament); i > 0; --i) {
    out.push_back({-gap(kGraceGap) * i, Beat(0), share(kGraceShare), Role::kGrace});
  }
  const Beat length = std::min(lengthOf(hit, slot), room);
  if (hit.ornament == Ornament::kDiddle) {
    const bool own = hit.ornamentGap > Milliseconds(0);
    const Beat after = own ? Beat(0) : slot / Beat(2);
    const bool fits = own ? hit.ornamentGap < quarter * room.toDouble() : after < room;
    if (fits) out.push_back({hit.ornamentGap, after, share(kDiddleShare), hit.role});
  }
  if (hit.ornament == Ornament::kBuzz) {
    const Milliseconds most = std::min(kBuzzMost, quarter * length.toDouble());
    double level = share(kBuzzShare);
    for (Milliseconds at = gap(kBuzzGap); at < most; at += gap(kBuzzGap)) {
      out.push_back({at, Beat(0), level, Role::kGrace});
      level *= share(kBuzzShare);
    }
  }
  if (hit.ornament == Ornament::kRoll && hit.ornamentGap > Milliseconds(0)) {
    const Milliseconds most = std::min(kRollMost, quarter * length.toDouble());
    for (Milliseconds at = hit.ornamentGap; at < most; at += hit.ornamentGap) {
      out.push_back({at, Beat(0), share(kRollShare), hit.role});
    }
  } else if (hit.ornament == Ornament::kRoll) {
    for (Beat at = kRollStep; at < length; at += kRollStep) {
      out.push_back({Milliseconds(0), at, share(kRollShare), hit.role});
    }
  }
  return out;
}

std::int64_t strokesAtMost(const Hit& hit, Beat slot) {
  const bool ownGap = hit.ornamentGap > Milliseconds(0);
  switch (hit.ornament) {
    case Ornament::kNone:
      return 1;
    case Ornament::kBuzz:
      return 1 + static_cast<std::int64_t>(kBuzzMost / (ownGap ? hit.ornamentGap : kBuzzGap));
    case Ornament::kRoll:
      if (ownGap) return 1 + static_cast<std::int64_t>(kRollMost / hit.ornamentGap);
      return 2 + lengthOf(hit, slot).floorDiv(kRollStep);
    default:
      return 4;
  }
}

}  // namespace uneven
