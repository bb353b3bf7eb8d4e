// SPDX-License-Identifier: GPL-3.0-or-later
// The house kit and the player's setup.
#include "core/song/kit.h"

namespace uneven {

std::optional<PieceId> Kit::find(std::string_view pieceId) const {
  for (std::size_t i = 0; i < pieces.size(); ++i) {
    if (pieces[i].id == pieceId) return PieceId{static_cast<std::uint8_t>(i)};
  }
  return std::nullopt;
}

Limb mirrored(Limb limb) {
  switch (limb) {
    case Limb::kRightHand:
      return Limb::kLeftHand;
    case Limb::kLeftHand:
      return Limb::kRightHand;
    case Limb::kRightFoot:
      return Limb::kLeftFoot;
    case Limb::kLeftFoot:
      return Limb::kRightFoot;
    case Limb::kAutomatic:
      break;
  }
  return limb;
}

Limb Kit::usualLimb(PieceId piece) const {
  const bool swapped = setup.openHanded && (piece == piece::kHat || piece == piece::kSnare);
  const bool left = setup.kit == Side::kLeft;
  const Limb limb = pieces[piece.value].usual;
  return swapped != left ? mirrored(limb) : limb;
}

namespace {

Kit makeHouseKit() {
  using enum StrokeKind;
  const std::vector<StrokeKind> drum{kNormal, kRimShot, kBuzz};
  const std::vector<StrokeKind> cymbal{kNormal, kEdge};
  Kit kit;
  kit.id = "house";
  const auto add = [&](std::string id, std::string name, Limb usual,
                       std::vector<StrokeKind> strokes, bool shown) {
    Piece piece;
    piece.id = std::move(id);
    piece.name = std::move(name);
    piece.usual = usual;
    piece.strokes = std::move(strokes);
    piece.shown = shown;
    kit.order.push_back({static_cast<std::uint8_t>(kit.pieces.size())});
    kit.pieces.push_back(std::move(piece));
  };
  add("hat", "Hats", Limb::kRightHand, {kNormal, kEdge, kBell}, true);
  add("hat-foot", "Foot hat", Limb::kLeftFoot, {kNormal, kSplash}, true);
  add("ride", "Ride", Limb::kRightHand, {kNormal, kEdge, kBell}, true);
  add("crash", "Crash", Limb::kRightHand, cymbal, false);
  add("crash-2", "Crash 2", Limb::kRightHand, cymbal, false);
  add("china", "China", Limb::kRightHand, cymbal, false);
  add("splash", "Splash", Limb::kLeftHand, cymbal, false);
  add("stack", "Stack", Limb::kLeftHand, cymbal, false);
  add("cowbell", "Cowbell", Limb::kRightHand, cymbal, false);
  add("snare", "Snare", Limb::kLeftHand, {kNormal, kRimShot, kCrossStick, kBuzz}, true);
  add("tom-high", "Rack tom", Limb::kLeftHand, drum, true);
  add("tom-mid", "Mid tom", Limb::kLeftHand, drum, false);
  add("tom-floor", "Floor tom", Limb::kRightHand, drum, true);
  add("kick", "Kick", Limb::kRightFoot, {kNormal}, true);
  add("click", "Click", Limb::kAutomatic, {kNormal}, false);
  return kit;
}

}  // namespace

const Kit& houseKit() {
  static const Kit kit = makeHouseKit();
  return kit;
}

}  // namespace uneven
