// SPDX-License-Identifier: GPL-3.0-or-later
// Feel: how a part's timing departs from the straight grid.
#pragma once

#include <cstdint>
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "core/song/extras.h"
#include "core/song/hit.h"
#include "core/song/kit.h"
#include "core/time/meter.h"
#include "core/time/units.h"

namespace uneven {

enum class SwingUnit : std::uint8_t { kEighth, kSixteenth };
// Whether the off-note of a pair is written halfway (straight) or on the last triplet partial.
enum class Written : std::uint8_t { kStraight, kTriplet };

inline constexpr double kRatioMin = 1;
inline constexpr double kRatioMax = 9;

// Swing of pairs of `unit`: long : short = ratio : 1. See core/perform/swing.h for the formulas.
struct Swing {
  SwingUnit unit = SwingUnit::kEighth;
  double ratio = 1;
  bool linked = false;  // the ratio follows the tempo; `ratio` waits until it is fixed again
  Written written = Written::kStraight;
  // 0..1, how far a piece and a limb follow; 1 where absent. What a limb plays on a piece follows
  // by the product.
  std::map<PieceId, double> depth;
  std::map<Limb, double> limbDepth;
  Extras extras;

  // Whether anything leaves where it is written.
  bool swings() const { return linked || ratio != (written == Written::kTriplet ? 2.0 : 1.0); }
  Beat unitLength() const { return unit == SwingUnit::kEighth ? Beat(1, 2) : Beat(1, 4); }
  bool operator==(const Swing&) const = default;
};

// What one position of the bar adds, for one piece or for all.
struct Slot {
  Beat at;  // from the bar line
  Milliseconds shift{0};
  int velocity = 0;  // added, -126..126
  std::optional<PieceId> piece;
  Extras extras;
  bool operator==(const Slot&) const = default;
};

// A take's own clock: ms by which the body lay beside the grid at each unit from the song's start,
// straight between, 0 after the last.
struct MeasuredClock {
  std::vector<double> ms;
  Grid unit{4, 0};
  Extras extras;
  bool operator==(const MeasuredClock&) const = default;
};
inline constexpr std::size_t kMeasuredMost = 400'000;

// Seeded human deviation. Standard deviations in ms and in velocity steps.
struct Drift {
  Milliseconds clock{0};  // shared by all limbs, 1/f^exponent noise
  Milliseconds motor{0};  // per limb, white
  double velocity = 0;
  double exponent = 1;
  std::uint64_t seed = 1;
  std::map<Limb, double> limbs;           // factors of the motor part, 0..4; 1 where absent
  std::optional<MeasuredClock> measured;  // in place of the random clock
  Extras extras;
  bool operator==(const Drift&) const = default;
};

struct Feel {
  std::string id;
  std::string name;
  Swing swing;
  std::map<PieceId, Milliseconds> displacement;  // + late, - early
  std::map<Limb, Milliseconds> limbDisplacement;
  std::vector<Slot> slots;
  // Displacement and slots hold as written at this tempo and keep their share of the beat at any
  // other; without it they keep their milliseconds. Nudges keep theirs always.
  std::optional<Bpm> shareOf;
  std::map<Role, Milliseconds> limits;  // how far a hit of the role may be displaced, 0..kShiftMax
  std::optional<Drift> drift;
  std::string note;  // where it comes from, in words
  Extras extras;

  // Whether it asks one hand for something of its own.
  bool asksByHand() const {
    const auto own = [](const auto& byLimb, auto usual) {
      for (const auto& [limb, value] : byLimb)
        if (isHand(limb) && value != usual) return true;
      return false;
    };
    return own(limbDisplacement, Milliseconds(0)) || own(swing.limbDepth, 1.0) ||
           (drift && own(drift->limbs, 1.0));
  }
  bool operator==(const Feel&) const = default;
};

}  // namespace uneven
