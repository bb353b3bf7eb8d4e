// SPDX-License-Identifier: GPL-3.0-or-later
// What is done to the hats: openings of strokes and drawn ones, the pump, the foot. Each call is
// one undo step of the document.
#pragma once

#include "app/edit/edits.h"

namespace uneven {

class PedalEdits : public Edits {
 public:
  using Edits::Edits;

  void toggleOpen();
  // Of the chosen hats, or of the chosen drawn opening: how far open, and for how long (0: until
  // the next stroke on them).
  void openTo(double open, Merge merge);
  void openFor(Beat length, Merge merge);
  void changePedal(const QString& step, const std::function<void(Pedal&)>& change,
                   Merge merge = {});
  // A drawn opening, in place of one that begins there; an opening of 0 takes it away.
  void setMove(const PedalMove& move, Merge merge);
  void startDrawn(Beat at, Merge merge);  // the chosen one begins there instead
};

}  // namespace uneven
