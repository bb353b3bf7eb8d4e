// SPDX-License-Identifier: GPL-3.0-or-later
// What weighs when hands are sought and their strain is counted, in one table. The limits of limbs
// are the player's (core/body/profile.h); what they mean is in docs/hands.md and docs/strain.md.
#pragma once

#include <cstddef>

#include "core/time/units.h"

namespace uneven::weight {

// A voice keeps time while it comes again within this. Chosen by: quarters at 86 BPM still do.
inline constexpr Milliseconds kGoesOn{700};
// So many strokes in a row on toms are a ride, fewer a fill. Chosen by: known parts of the tests.
inline constexpr std::size_t kTomTime = 6;
// A run with holes is one where at least this share of its gaps is the short one. Chosen likewise.
inline constexpr double kMostly = 0.6;
// The foot's own stroke so near shuts the hats for what is drawn. Chosen by: no foot
// strikes twice in it (core/body/profile.h).
inline constexpr Milliseconds kSameStroke{40};

// To leave what keeps time weighs more than to leave what does not: common practice; by how much is
// chosen by the stickings of the tests.
inline constexpr double kLeaveTime = 4, kLeave = 1;
// What cannot be played costs more than all else together.
inline constexpr double kCannot = 1'000;

// Forearms beyond the other hand from which hands are crossed. From memory.
inline constexpr double kCrossed = 0.5;
// How far a stroke counts that came at half the speed, of a single into a double. Chosen by: the
// rudiments' tempos in docs/strain.md.
inline constexpr double kSingleToDouble = 0.28;
// Times the comfortable gap of a sustained run, at least, after which a limb is fresh. Likewise.
inline constexpr double kFresh = 1.5;
// Comfortable lies so far below playable at least: common practice.
inline constexpr double kComfortableMost = 0.97;

}  // namespace uneven::weight
