// SPDX-License-Identifier: GPL-3.0-or-later
// Strokes as they were found in a recording or a played take: the plain numbers that a feel is
// fitted to. Threads: plain values.
#pragma once

#include <vector>

#include "core/song/kit.h"

namespace uneven {

struct Onset {
  double seconds = 0;
  PieceId piece = piece::kClick;  // the click: not known which
  double velocity = 80;           // 1..127, or what stands for it where only strength is known
  double opening = 0;             // of the hats, 0..1
  bool used = true;               // false: the listener has left it out
  bool shared = false;            // struck with another in one sound: its moment is less sure
  bool operator==(const Onset&) const = default;
};

}  // namespace uneven
