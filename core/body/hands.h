// SPDX-License-Identifier: GPL-3.0-or-later
// Which hand plays what, as an experienced drummer does it.
//
// Reasons in order, each counting only where those above are equal (common practice, from memory;
// docs/hands.md tells them with examples):
//
//   1  what is set is kept
//   2  nothing that cannot be played, where there is a way without
//   3  a voice that keeps time stays in one hand: the leading one, open-handed that on its side;
//      the other hand takes all else. Beyond Profile::oneHandUpTo of the way from that hand's
//      comfortable to its playable tempo it goes hand to hand, all of the run
//   4  hand to hand goes by the slot: the leading hand on even ones, in triplets in turn; what
//      stands in the place of such a stroke is played by the hand whose slot it is
//   5  singles on drums alternate, the leading hand first after time or a rest; doubles where
//      singles cannot be played and doubles can
//   6  never crossed when struck together; of a cymbal and the snare the leading hand has the
//      cymbal
//   7  equal bars alike; a loop ends so that it can begin again
//
// 3 to 6 are rules that give each place a hand; where that cannot be played, a search over the
// places round it finds what departs least from them. Linear in strokes. Threads: pure functions.
#pragma once

#include <vector>

#include "core/body/strain.h"

namespace uneven {

struct HandPlan {
  std::vector<Limb> hands;  // one for each of the part's hand strokes
  double cost = 0;          // of what is asked: 4 strain^6, summed
};

// Ways of playing that can be asked for.
enum class HandWay : std::uint8_t {
  kByReasons,   // as above
  kOneHand,     // time stays in one hand at any tempo
  kHandToHand,  // time goes hand to hand at any tempo
  kDoubles,     // what goes hand to hand goes in doubles
  kOtherLead,   // the other hand leads
};

// The strokes that are struck at one place; one hand decides all of them.
struct HandPlace {
  std::uint32_t from = 0, to = 0;  // of the part's hand strokes
};
std::vector<HandPlace> placesOf(const std::vector<BodyStroke>& hands);
// The hand of a stroke where its place is begun by `first`.
Limb handOf(const BodyStroke& stroke, Limb first);
// The hand of a place that is set; automatic: it is free.
Limb setHand(const std::vector<BodyStroke>& hands, const HandPlace& place);

// By rules alone: the hand of each place. `round`: places of one round of a loop, 0: it is none.
std::vector<Limb> handsByRule(const Body& body, const std::vector<BodyStroke>& hands,
                              const std::vector<HandPlace>& places, double pace, HandWay way,
                              std::size_t round = 0);

}  // namespace uneven
