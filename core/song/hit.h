// SPDX-License-Identifier: GPL-3.0-or-later
// One written hit.
#pragma once

#include <algorithm>
#include <cstdint>

#include "core/song/extras.h"
#include "core/song/kit.h"
#include "core/time/beat.h"
#include "core/time/units.h"

namespace uneven {

// How hard, 1..127 as MIDI has it.
class Velocity {
 public:
  static constexpr int kMin = 1;
  static constexpr int kMax = 127;

  constexpr Velocity() = default;
  // Held to 1..127.
  constexpr explicit Velocity(int value)
      : value_(static_cast<std::uint8_t>(std::clamp(value, kMin, kMax))) {}
  constexpr int value() const { return value_; }
  auto operator<=>(const Velocity&) const = default;

 private:
  std::uint8_t value_ = 90;
};

// How far the hats stand open, 0 pressed shut .. 1 wide, held in one precision wherever it is
// compared: an opening of 0.6 does not lie above a zone that ends at 0.6.
class HatOpening {
 public:
  constexpr HatOpening() = default;
  constexpr HatOpening(double value) : value_(static_cast<float>(value)) {}
  constexpr float value() const { return value_; }
  auto operator<=>(const HatOpening&) const = default;

 private:
  float value_ = 0;
};

enum class Role : std::uint8_t { kNormal, kAccent, kGhost, kGrace };
enum class Ornament : std::uint8_t { kNone, kFlam, kDrag, kRuff, kDiddle, kBuzz, kRoll };

// Limits of what can be written (docs/file-format.md).
inline constexpr Milliseconds kShiftMax{200};  // displacement, slots and nudge, either way
// A ghost above, an accent below these is told of (common practice, from memory).
inline constexpr int kGhostCeiling = 50, kAccentFloor = 90;
inline constexpr Milliseconds kOrnamentGapMin{5}, kOrnamentGapMax{100};

struct Hit {
  Beat at;  // from the start of the groove
  PieceId piece;
  Velocity velocity;
  Role role = Role::kNormal;
  StrokeKind stroke = StrokeKind::kNormal;
  Limb limb = Limb::kAutomatic;
  Ornament ornament = Ornament::kNone;
  double open = 0;              // of the hats: 0 pressed shut .. 1 wide
  Beat openFor;                 // how long the hats stay open; 0: until the next hat stroke
  Milliseconds nudge{0};        // + late, - early
  Beat ornamentFor;             // length of a buzz or roll; 0: one slot of the groove's grid
  Milliseconds ornamentGap{0};  // between an ornament's strokes; 0: the ornament's own
  std::uint8_t ornamentPercent =
      0;  // its strokes' velocity, of the main one; 0: the ornament's own
  Extras extras;

  bool operator==(const Hit&) const = default;
};

// The order hits are kept in: by position, then lane.
inline bool writtenBefore(const Hit& a, const Hit& b) {
  const auto order = a.at <=> b.at;
  return order != 0 ? order < 0 : a.piece < b.piece;
}

}  // namespace uneven
