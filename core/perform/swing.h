// SPDX-License-Identifier: GPL-3.0-or-later
// Where swing puts a written position.
//
// Pairs of the unit u are P = 2u long and count from the bar line; a pair that the bar line cuts
// stays straight. With ratio r (long : short) the target point is t = r / (1 + r); the written
// pivot w is 1/2 for a groove written straight, 2/3 for one written in triplets. A piece of depth d
// uses w + d (t - w) in t's place. A position p of a pair, p in [0, 1), moves to
//
//   p <= w:  p' = p t / w            p > w:  p' = t + (p - w) (1 - t) / (1 - w)
//
// so what falls on the beat never moves. Worked: r = 2, straight, sixteenths: the e of 1 (written
// 1/4 of a quarter, the middle of its pair) is played at 2/3 of the pair, 1/3 of a quarter.
// Threads: plain values.
#pragma once

#include "core/song/feel.h"
#include "core/time/beat.h"

namespace uneven {

class SwingCurve {
 public:
  // depth 0..1.
  SwingCurve(const Swing& swing, double depth, Beat barLength);

  // Position in quarter notes from the bar line, for atInBar in 0 .. barLength.
  double swung(Beat atInBar) const;

 private:
  Beat pair_;
  Beat swungEnd_;  // from here to the bar line the last pair is cut
  bool triplet_;
  double pivot_;
  double target_;
  bool straight_;
};

}  // namespace uneven
