// SPDX-License-Identifier: GPL-3.0-or-later
// Stickings as text, and the standard rudiments.
//
//   RLLK RLLK (R+K) L . R
//
// R and L are the hands, K the right foot, F the foot on the hats. Lower case or [R] is a ghost, >R
// an accent, ~R a flam, =R a drag, zR a buzz; + joins what sounds together (round brackets may hold
// it), . leaves a slot free. Blanks and | are for the eye.
#pragma once

#include <span>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.h"
#include "core/song/hit.h"

namespace uneven {

struct StickingStroke {
  char who = 'R';  // R, L, K or F
  Role role = Role::kNormal;
  Ornament ornament = Ornament::kNone;
  bool operator==(const StickingStroke&) const = default;
};

// One entry a slot; empty: nothing is struck.
using Sticking = std::vector<std::vector<StickingStroke>>;

// Errors: kSyntax, the column of the letter at fault in `where`.
Result<Sticking> readSticking(std::string_view text);

// One of the 40 rudiments of the Percussive Arts Society (International Drum Rudiments), led by the
// right hand: its sticking in the text form above and how many slots go to a quarter note.
struct Rudiment {
  std::string_view name;
  std::string_view sticking;
  int slotsPerQuarter = 4;
};

// All 40, in the order of their list; by name, nullptr: none of that name.
std::span<const Rudiment> rudiments();
const Rudiment* findRudiment(std::string_view name);

}  // namespace uneven
