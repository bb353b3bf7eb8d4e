// SPDX-License-Identifier: GPL-3.0-or-later
// How a variant differs from its core, and how hard it is.
//
// Distance: of each piece by itself, summed. Of two rhythms with as many strokes the swap distance:
// the least sum of moves by one slot that turn one into the other (Toussaint 2004, "A comparison of
// rhythmic similarity measures", ISMIR). With different numbers the edit distance: each stroke that
// is put or taken away counts 1, the others their moves, in the cheapest way. It is symmetric and 0
// only for the same rhythm, and within rhythms of as many strokes a metric. A slot is one of the
// core's grid. Threads: pure functions.
#pragma once

#include <vector>

#include "core/base/result.h"
#include "core/body/profile.h"
#include "core/measure/syncopation.h"
#include "core/vary/variant.h"

namespace uneven {

// Positions ascend; `slot` above 0.
double rhythmDistance(const std::vector<Beat>& a, const std::vector<Beat>& b, Beat slot);
// A variant that is longer than its core is held against the core played over and over.
double grooveDistance(const Groove& core, const Groove& variant);

struct Measures {
  int changed = 0, added = 0, removed = 0;  // hits, by position and piece
  int syncopation = 0;                      // of one voice
  int kitSyncopation = 0;
  double density = 0;  // hits a quarter note
  double distance = 0;
};
// Of many variants of one core.
class Measurer {
 public:
  Measurer(Groove core, PieceId voice) : core_(std::move(core)), voice_(voice), slots_(core_) {}
  Measures of(const Groove& variant) const;

 private:
  Groove core_;
  PieceId voice_;
  WeighedSlots slots_;
};
// Of one of them.
Measures measure(const Groove& core, const Groove& variant, PieceId voice);

// BPM up to which the player can play it; 0: at no tempo (a third hand).
struct VariantCeiling {
  double comfortable = 0, playable = 0;
  std::string limit;  // what holds it back: "double of the right hand on 2 a"; empty: nothing
};
// `song` is the variant's; its groove takes the place of the one of its id. Errors: those of Take.
Result<VariantCeiling> ceilingOf(const Song& song, const Groove& variant, const Profile& profile);

}  // namespace uneven
