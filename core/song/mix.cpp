// SPDX-License-Identifier: GPL-3.0-or-later
// The house's mix.
#include "core/song/mix.h"

#include <array>

namespace uneven {

MixSetting houseMix(const Kit& kit, PieceId piece) {
  struct Row {
    PieceId piece;
    double levelDb, pan;
  };
  static constexpr std::array<Row, 15> kRows{{{piece::kHat, 0, -0.35},
                                              {piece::kHatFoot, 0, -0.35},
                                              {piece::kRide, 0, 0.4},
                                              {piece::kCrash, -2, -0.5},
                                              {piece::kCrash2, -2, 0.5},
                                              {piece::kChina, -3, 0.6},
                                              {piece::kSplash, -2, -0.2},
                                              {piece::kStack, -2, 0.2},
                                              {piece::kCowbell, -3, 0.1},
                                              {piece::kSnare, 0, -0.05},
                                              {piece::kTomHigh, -1, -0.2},
                                              {piece::kTomMid, -1, 0.1},
                                              {piece::kTomFloor, -1, 0.35},
                                              {piece::kKick, 0, 0},
                                              {piece::kClick, -6, 0}}};
  MixSetting out;
  const std::string& like = kit[piece].like;
  const PieceId house = kit.find(like.empty() ? kit[piece].id : like).value_or(piece);
  for (const Row& row : kRows) {
    if (row.piece == house) out = {row.levelDb, row.pan, {}};
  }
  if (kit.setup.kit == Side::kLeft) out.pan = -out.pan;
  return out;
}

}  // namespace uneven
