// SPDX-License-Identifier: GPL-3.0-or-later
// A search for hands, place by place: a dozen of the best are kept at each. Used where rules
// alone do not do. Threads: pure functions.
#pragma once

#include "core/body/hands.h"

namespace uneven {

// Both hands' pasts.
struct HandPasts {
  LimbPast right, left;
  LimbPast& of(Limb limb) { return limb == Limb::kRightHand ? right : left; }
};

enum class SearchFor : std::uint8_t {
  kLeastDeparture,  // nothing that cannot be played, then as near to a plan as can be
  kLeastStrain,     // the greatest strain as small as can be
  kLeastEffort,
};

struct SearchCall {
  const Body& body;
  const std::vector<BodyStroke>& hands;
  const std::vector<HandPlace>& places;
  std::size_t from = 0, to = 0;  // places that are free, but where they are set
  std::size_t end = 0;           // up to which the plan is held behind them
  double pace = 1;
  SearchFor goal = SearchFor::kLeastDeparture;
};

// `plan`: a hand for each place; the free ones are replaced by what is found. `pasts`: before the
// first of them.
void searchHands(const SearchCall& call, const HandPasts& pasts, std::vector<Limb>& plan);

}  // namespace uneven
