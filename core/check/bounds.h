// SPDX-License-Identifier: GPL-3.0-or-later
// What a part is held against, in one table. "Common practice" is a fact of the trade; "chosen by"
// says what decided where there is none. Bounds of unisons stand with their measure
// (core/measure/unison.h), limits of limbs with the player (core/body/profile.h).
#pragma once

#include "core/song/kit.h"
#include "core/time/units.h"

namespace uneven::bound {

// Levels, dB. Common practice, from memory.
inline constexpr double kGhostOverDb = 4;    // a ghost above its piece's median ghost
inline constexpr double kGhostUnderDb = 12;  // what lies so far under the median is one, by ear
inline constexpr double kBackbeatDb = 3;     // backbeats apart
inline constexpr double kSoftDb = 8;         // a soft unison under the accents
inline constexpr double kHatsUnderDb = 6;    // the ride hand under the backbeat, and in sixteenths
inline constexpr double kHatsDbPerStep = 2;  // so much more
inline constexpr double kHatsStepBpm = 20;   // for so many BPM
inline constexpr double kHatsFromBpm = 110;  // above this
inline constexpr double kSofterDb = 4;       // every second stroke, where all are alike
// Chosen by: what a mending sets must not be found again once velocities are whole numbers.
inline constexpr double kSurelyDb = 0.25;

// Figures. Chosen by: parts of the tests that drummers would leave alone, and those that they would
// not.
inline constexpr double kLeavesShare = 0.7;      // of its usual strokes: the ride hand plays a fill
inline constexpr double kMachinePerBar = 4;      // strokes at one velocity, over a bar
inline constexpr double kUnevenShare = 0.08;     // of even intervals; common practice
inline constexpr Milliseconds kShade{5};         // slots and nudges beside a feel's own lean
inline constexpr Milliseconds kMeantMost{20};    // a feel's lean up to here is meant (Hirsh 1959)
inline constexpr Milliseconds kPulledMost{100};  // what stands farther apart is meant so

// Too short. Common practice.
inline constexpr Milliseconds kTooClose{25};  // strokes of one piece
inline constexpr Milliseconds kBuzzLeast{80};
inline constexpr Milliseconds kGraceLeast{12};  // graces apart: nearer they are one sound

}  // namespace uneven::bound
