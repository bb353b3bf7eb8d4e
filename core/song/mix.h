// SPDX-License-Identifier: GPL-3.0-or-later
// Where a piece stands in the mix when the song is heard: how loud, and how far to a side.
//
// The house's values hold where the song has none of its own. They concern the house kit's sounds
// only: another bank has a mix of its own.
#pragma once

#include "core/song/extras.h"
#include "core/song/kit.h"

namespace uneven {

inline constexpr double kMixDbMin = -60, kMixDbMax = 12;

struct MixSetting {
  double levelDb = 0;  // kMixDbMin..kMixDbMax
  double pan = 0;      // -1 left .. 1 right, as the drummer sits
  Extras extras;
  // Its share of the room against the house's, kMixDbMin (none)..kMixDbMax.
  double roomDb = 0;
  bool operator==(const MixSetting&) const = default;
};

// Hats left, ride right; mirrored with the kit. A piece like one of the house stands where that
// does.
MixSetting houseMix(const Kit& kit, PieceId piece);

}  // namespace uneven
