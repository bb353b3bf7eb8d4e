// SPDX-License-Identifier: GPL-3.0-or-later
// The kit: which pieces can be struck, how, and who sits behind it.
//
// A PieceId is a piece's place in its kit's list. The house kit always comes first and in the order
// of the constants below, so that code can name a piece without a look-up; a song's own pieces
// follow. The order the player sees them in is `order`.
#pragma once

#include <compare>
#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/song/extras.h"

namespace uneven {

struct PieceId {
  std::uint8_t value = 0;
  auto operator<=>(const PieceId&) const = default;
};

// Which hand or foot; automatic means that the limb is found by limbsOf (core/song/limbs.h).
enum class Limb : std::uint8_t { kAutomatic, kRightHand, kLeftHand, kRightFoot, kLeftFoot };
constexpr bool isHand(Limb limb) {
  return limb == Limb::kRightHand || limb == Limb::kLeftHand;
}
constexpr bool isFoot(Limb limb) {
  return limb == Limb::kRightFoot || limb == Limb::kLeftFoot;
}
enum class StrokeKind : std::uint8_t {
  kNormal,
  kRimShot,
  kCrossStick,
  kEdge,
  kBell,
  kBuzz,
  kSplash
};

struct Piece {
  std::string id;                 // as written in files: "tom-floor"
  std::string name;               // as shown: "Floor tom"
  Limb usual = Limb::kRightHand;  // of a right-handed player who crosses over
  std::vector<StrokeKind> strokes{StrokeKind::kNormal};  // offered, the first by default
  bool shown = true;  // a lane of its own even where it is not struck
  std::string like;   // id of a house piece whose note is played where a kit map has none
  Extras extras;
  // The house piece that it is, or is like; else its own id.
  const std::string& kind() const { return like.empty() ? id : like; }
  bool operator==(const Piece&) const = default;
};

enum class Side : std::uint8_t { kRight, kLeft };

// How the player sits and plays.
struct Setup {
  Side kit = Side::kRight;   // left: the kit is mirrored
  Side lead = Side::kRight;  // the hand that leads hand-to-hand figures
  bool openHanded = false;   // the hats with the hand on their side, the snare with the other
  bool doublePedal = false;  // two feet on the kick
  bool operator==(const Setup&) const = default;
};

inline constexpr std::size_t kPiecesMax = 64;

struct Kit {
  std::string id;
  std::vector<Piece> pieces;
  std::vector<PieceId> order;  // every piece once, from the top lane down
  Setup setup;
  Extras extras;

  std::optional<PieceId> find(std::string_view pieceId) const;
  const Piece& operator[](PieceId piece) const { return pieces[piece.value]; }
  // Who plays the piece with this setup when nothing else is known.
  Limb usualLimb(PieceId piece) const;
  bool operator==(const Kit&) const = default;
};

// The kit every song starts with.
const Kit& houseKit();

// The other side's hand or foot; automatic stays.
Limb mirrored(Limb limb);

namespace piece {
inline constexpr PieceId kHat{0}, kHatFoot{1}, kRide{2}, kCrash{3}, kCrash2{4}, kChina{5},
    kSplash{6}, kStack{7}, kCowbell{8}, kSnare{9}, kTomHigh{10}, kTomMid{11}, kTomFloor{12},
    kKick{13}, kClick{14};
}  // namespace piece

}  // namespace uneven
