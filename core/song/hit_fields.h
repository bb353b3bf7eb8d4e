// SPDX-License-Identifier: GPL-3.0-or-later
// What a hit is made of, said once: the name in files and tools, what is allowed, the unit, and
// what stands for "nothing written". Song files, CSV, tools, the card of the hit and edits go by
// these. Threads: constants.
#pragma once

#include <algorithm>
#include <string_view>

#include "core/song/hit.h"
#include "core/song/song.h"

namespace uneven {

struct HitField {
  std::string_view name;
  double min = 0;  // of numbers and lengths; of words and pieces both are 0
  double max = 0;
  std::string_view unit = {};
  bool zeroIsOwn = false;  // 0 is allowed below `min`: the ornament's own, or the next stroke

  constexpr bool allows(double value) const {
    return (value >= min && value <= max) || (zeroIsOwn && value == 0);
  }
  // The nearest that is allowed.
  constexpr double held(double value) const {
    if (zeroIsOwn && value <= 0) return 0;
    return std::clamp(value, min, max);
  }
};

namespace hit_field {

inline constexpr HitField kAt{"at", 0, 4 * kBarsMax, "quarter notes"};  // and inside its groove
inline constexpr HitField kPiece{"piece"};
inline constexpr HitField kVelocity{"velocity", Velocity::kMin, Velocity::kMax};
inline constexpr HitField kRole{"role"};
inline constexpr HitField kStroke{"stroke"};
inline constexpr HitField kLimb{"limb"};
inline constexpr HitField kOrnament{"ornament"};
inline constexpr HitField kOrnamentFor{"ornament_for", 0, kLengthMax, "quarter notes", true};
inline constexpr HitField kOrnamentGap{"ornament_gap", kOrnamentGapMin.count(),
                                       kOrnamentGapMax.count(), "ms", true};
inline constexpr HitField kOrnamentVelocity{"ornament_velocity", 1, 100, "%", true};
inline constexpr HitField kOpen{"open", 0, 1};
inline constexpr HitField kOpenFor{"open_for", 0, 4.0 * 64 * kSongBarsMax, "quarter notes", true};
inline constexpr HitField kNudge{"nudge", -kShiftMax.count(), kShiftMax.count(), "ms"};

// In the order of CSV columns.
inline constexpr HitField kAll[] = {kAt,   kPiece,    kVelocity,    kRole,        kStroke,
                                    kLimb, kOrnament, kOrnamentFor, kOrnamentGap, kOrnamentVelocity,
                                    kOpen, kOpenFor,  kNudge};

}  // namespace hit_field

}  // namespace uneven
