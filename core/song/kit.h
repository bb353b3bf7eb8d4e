// SPDX-License-Identifier: GPL-3.0-or-later
// The kit: which pieces can be struck, in the order the lanes show them.
//
// A PieceId is a piece's place in its kit's list. The house kit always comes first and in the order
// of the constants below, so that code can name a piece without a look-up.
#pragma once

#include <compare>
#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace uneven {

struct PieceId {
  std::uint8_t value = 0;
  auto operator<=>(const PieceId&) const = default;
};

// Which hand or foot; automatic means that the piece's usual limb plays it.
enum class Limb : std::uint8_t { kAutomatic, kRightHand, kLeftHand, kRightFoot, kLeftFoot };

struct Piece {
  std::string id;                 // as written in files: "tom-floor"
  std::string name;               // as shown: "Floor tom"
  Limb usual = Limb::kRightHand;  // of a right-handed player
  bool operator==(const Piece&) const = default;
};

struct Kit {
  std::string id;
  std::vector<Piece> pieces;

  std::optional<PieceId> find(std::string_view pieceId) const;
  const Piece& operator[](PieceId piece) const { return pieces[piece.value]; }
  bool operator==(const Kit&) const = default;
};

// The kit every song starts with.
const Kit& houseKit();

namespace piece {
inline constexpr PieceId kHat{0}, kHatFoot{1}, kRide{2}, kCrash{3}, kCrash2{4}, kChina{5},
    kSplash{6}, kStack{7}, kCowbell{8}, kSnare{9}, kTomHigh{10}, kTomMid{11}, kTomFloor{12},
    kKick{13}, kClick{14};
}  // namespace piece

}  // namespace uneven
