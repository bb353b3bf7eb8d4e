// SPDX-License-Identifier: GPL-3.0-or-later
// The house kit.
#include "core/song/kit.h"

namespace uneven {

std::optional<PieceId> Kit::find(std::string_view pieceId) const {
  for (std::size_t i = 0; i < pieces.size(); ++i) {
    if (pieces[i].id == pieceId) return PieceId{static_cast<std::uint8_t>(i)};
  }
  return std::nullopt;
}

const Kit& houseKit() {
  static const Kit kit{"house",
                       {{"hat", "Hat", Limb::kRightHand},
                        {"hat-foot", "Hat foot", Limb::kLeftFoot},
                        {"ride", "Ride", Limb::kRightHand},
                        {"crash", "Crash", Limb::kRightHand},
                        {"crash-2", "Crash 2", Limb::kLeftHand},
                        {"china", "China", Limb::kRightHand},
                        {"splash", "Splash", Limb::kLeftHand},
                        {"stack", "Stack", Limb::kRightHand},
                        {"cowbell", "Cowbell", Limb::kRightHand},
                        {"snare", "Snare", Limb::kLeftHand},
                        {"tom-high", "Rack tom", Limb::kLeftHand},
                        {"tom-mid", "Mid tom", Limb::kLeftHand},
                        {"tom-floor", "Floor tom", Limb::kRightHand},
                        {"kick", "Kick", Limb::kRightFoot},
                        {"click", "Click", Limb::kAutomatic}}};
  return kit;
}

}  // namespace uneven
