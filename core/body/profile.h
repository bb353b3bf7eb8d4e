// SPDX-License-Identifier: GPL-3.0-or-later
// What a player's hands and feet can do.
//
// Every figure is a default to start from, from memory and common practice; none is a measurement.
// A profile is data (JSON, core/io/profile_json.h), so each player has their own.
//
// The shortest time between two strokes of one limb hangs on where the later one stands in its run.
// A run is strokes of one limb, each about as near as the one before (core/body/strain.h):
//
//   second      the 2nd stroke of a run: a double, which bounces
//   run         the 3rd to the 7th
//   sustained   from the 8th on
//
// From `comfortable` on it is easy; from `playable` on it can be played and is hard; below it
// can't. Going from piece to piece adds to both. Threads: plain values.
#pragma once

#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/song/kit.h"
#include "core/time/units.h"

namespace uneven {

struct TimeLimit {
  Milliseconds comfortable{0}, playable{0};
  bool operator==(const TimeLimit&) const = default;
};

struct RunLimits {
  TimeLimit second, run, sustained;
  static constexpr int kRunFrom = 3, kSustainedFrom = 8;  // strokes of a run
  const TimeLimit& at(int stroke) const {
    return stroke >= kSustainedFrom ? sustained : stroke >= kRunFrom ? run : second;
  }
  bool operator==(const RunLimits&) const = default;
};

// Where a piece stands, seen from above by a right-handed player: x to the right, y away, in
// lengths of a forearm.
struct PlanPlace {
  double x = 0, y = 0;
  bool operator==(const PlanPlace&) const = default;
};

struct Profile {
  std::string id = "from-memory";
  std::string name = "From memory";
  RunLimits hand{{Milliseconds(75), Milliseconds(50)},
                 {Milliseconds(120), Milliseconds(95)},
                 {Milliseconds(165), Milliseconds(125)}};
  // Of the leading hand alone, in place of `hand`: how it makes its strokes (techniques()).
  std::optional<RunLimits> leadHand;
  RunLimits foot{{Milliseconds(110), Milliseconds(80)},
                 {Milliseconds(150), Milliseconds(115)},
                 {Milliseconds(200), Milliseconds(145)}};
  RunLimits hatFoot{{Milliseconds(180), Milliseconds(130)},
                    {Milliseconds(220), Milliseconds(160)},
                    {Milliseconds(250), Milliseconds(190)}};
  double weakHand = 1.10, weakFoot = 1.15;  // their times are so much longer
  // A ghost straight before an accent in the same hand.
  TimeLimit pullOut{Milliseconds(140), Milliseconds(90)};
  // Added from one piece to another: up to `nearby` away, farther, and over or under the other
  // hand.
  Milliseconds neighbour{25}, across{50}, crossed{75};
  double nearby = 1.05;  // forearms
  // After a rest of this a limb is fresh.
  Milliseconds runGap{250};
  // Between the comfortable and the playable tempo of one hand (0 to 1): where two take over.
  double oneHandUpTo = 0.5;
  bool bySlot = true;           // hand to hand; false: strictly in turn, whatever the rests
  bool leadTakesCymbal = true;  // of a cymbal and the snare; false: each hand what is on its side
  bool ruffInTurn = true;       // a four-stroke ruff; false: a bounce and a single
  std::map<std::string, PlanPlace> plan = housePlan();  // by the pieces' ids
  std::optional<Setup> setup;                           // in place of the song's

  static std::map<std::string, PlanPlace> housePlan();
  bool operator==(const Profile&) const = default;
};

// How a leading hand makes its strokes, as sets of limits: each stroke from the wrist, two strokes
// to one motion of the arm, the fingers. From memory and common practice.
struct Technique {
  std::string_view id;    // "wrist"
  std::string_view name;  // "each stroke from the wrist"
  RunLimits limits;
};
const std::vector<Technique>& techniques();
// nullptr: limits of one's own.
const Technique* techniqueOf(const RunLimits& limits);

// What they may be.
inline constexpr double kLimitMinMs = 1, kLimitMaxMs = 2'000;
inline constexpr double kWeakMin = 1, kWeakMax = 3;
inline constexpr double kPlanMin = -10, kPlanMax = 10;

// Where a piece of a kit stands: its own place, or that of the house piece it is like. Nothing:
// the plan does not know it, and no way to it is longer than to a neighbour.
std::optional<PlanPlace> placeOf(const Profile& profile, const Piece& piece);

}  // namespace uneven
