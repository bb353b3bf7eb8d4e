// SPDX-License-Identifier: GPL-3.0-or-later
// The placement walk: every way to open the hats once or twice in a span, one after the other.
//
// In order: openings of one slot from the last slot to the first (in two beats of sixteenths eight
// of them), then those of two slots, then pairs of one-slot openings that do not touch. Threads:
// pure functions.
#pragma once

#include <set>
#include <string>
#include <vector>

#include "core/song/edit.h"

namespace uneven {

struct Placement {
  std::vector<Beat> at;  // where the hats open, ascending
  int slots = 1;         // for how many slots each time
  bool operator==(const Placement&) const = default;
};

// The key of such a variant, by which the song keeps what is thought of it: "3/4 for 1", "1/4+5/4
// for 1".
std::string placementText(const Placement& placement);

// All of the span, from and to in the groove, in the order above.
std::vector<Placement> placements(const Groove& groove, Beat from, Beat to);

// The groove with its hats shut in the span but for the placement, opened by `open`; those in
// `kept` stay as they are. Where no hat is struck at a place one is put.
Groove withPlacement(Groove groove, Beat from, Beat to, const Placement& placement, double open,
                     const std::set<HitRef>& kept = {});

}  // namespace uneven
