// SPDX-License-Identifier: GPL-3.0-or-later
// Swing.
#include "core/perform/swing.h"

namespace uneven {

SwingCurve::SwingCurve(const Swing& swing, double depth, Beat barLength)
    : pair_(Beat(2) * swing.unitLength()),
      swungEnd_(Beat(barLength.floorDiv(pair_)) * pair_),
      triplet_(swing.written == Written::kTriplet),
      pivot_(triplet_ ? 2.0 / 3.0 : 0.5),
      target_(pivot_ + depth * (swing.targetPoint() - pivot_)),
      straight_(target_ == pivot_) {}

double SwingCurve::swung(Beat atInBar) const {
  if (straight_ || atInBar >= swungEnd_) return atInBar.toDouble();
  const Beat start = Beat(atInBar.floorDiv(pair_)) * pair_;
  const Beat p = (atInBar - start) / pair_;
  if (p == Beat(0)) return atInBar.toDouble();
  const Beat pivot = triplet_ ? Beat(2, 3) : Beat(1, 2);
  const double moved = p <= pivot
                           ? p.toDouble() * target_ / pivot_
                           : target_ + (p.toDouble() - pivot_) * (1 - target_) / (1 - pivot_);
  return start.toDouble() + pair_.toDouble() * moved;
}

}  // namespace uneven
