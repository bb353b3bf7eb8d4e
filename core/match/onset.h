// SPDX-License-Identifier: GPL-3.0-or-later
// Strokes as they were found in a recording or a played take: the plain numbers that a feel is
// fitted to. Threads: plain values.
#pragma once

#include <string_view>
#include <vector>

#include "core/song/kit.h"

namespace uneven {

// What is none of the kit's pieces, or nobody knows which. A click that is heard is told so, too:
// it is nothing that is struck.
inline constexpr PieceId kNotInKit = piece::kClick;
inline std::string_view heardId(const Kit& kit, PieceId piece) {
  return piece == kNotInKit ? "other" : std::string_view(kit[piece].id);
}
inline std::string_view heardName(const Kit& kit, PieceId piece) {
  return piece == kNotInKit ? "Other" : std::string_view(kit[piece].name);
}

struct Onset {
  double seconds = 0;
  PieceId piece = kNotInKit;
  double velocity = 80;  // 1..127, or what stands for it where only strength is known
  double opening = 0;    // of the hats, 0..1
  bool used = true;      // false: the listener has left it out
  bool shared = false;   // struck with another in one sound: its moment is less sure
  bool operator==(const Onset&) const = default;
};

}  // namespace uneven
