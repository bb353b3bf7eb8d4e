// SPDX-License-Identifier: GPL-3.0-or-later
// Where written positions of a block fall on the song's beats, by swing and, where one feel turns
// into the next, by both.
//
// While a feel morphs, a position lies between where the two feels put it:
//
//   w = x x (3 - 2 x)          position = (1 - w) before + w after
//
// x is how much of the stretch lies behind the middle of the position's pair (of the longer pair
// where the feels swing different units), so that every pair is a pair still and what is on the
// beat stays there.
//
// A beat whose own grid is triplets (Groove::beatGrids) in a groove written straight is in triplets
// already: what stands in it is not swung again, neither its strokes nor the lines of its grid.
// Threads: refer to their Score and Feel; reading is safe from anywhere.
#pragma once

#include <memory>
#include <vector>

#include "core/perform/displacement.h"
#include "core/perform/score.h"
#include "core/perform/swing.h"

namespace uneven {

// One groove under one feel, standing at `start` on the song's beats.
class FeelClock {
 public:
  FeelClock(const Groove& groove, const Feel& feel, const Kit& kit, const TempoMap& tempo,
            Beat start);

  // Quarter notes from the groove's start. Limb automatic: as if no limb held back.
  Quarters swung(Beat at, PieceId piece, Limb limb = Limb::kAutomatic) const;
  // Where a line of the grid stands: what follows with its whole depth.
  Quarters line(Beat at) const;
  ShiftParts shift(const Hit& hit, Limb limb) const;
  Milliseconds displacement(PieceId piece, Beat at) const;  // of the piece alone
  Beat pair() const { return curve_.pair(); }
  // Whether another start means other places.
  static bool dependsOnTempo(const Feel& feel) { return feel.swing.linked || feel.shareOf; }

 private:
  static constexpr std::size_t kLimbs = 5;
  double factorAt(Beat at) const;
  double targetAt(Beat pairStart, double depth) const;
  bool inTriplets(Beat at) const;

  const Feel& feel_;
  const TempoMap& tempo_;
  Beat start_;
  Beat barLength_;
  SwingCurve curve_;
  std::vector<double> depths_;                   // by piece and limb
  std::vector<double> targets_;                  // likewise, where the ratio is fixed
  std::vector<std::pair<Beat, Beat>> triplets_;  // beats that are not swung, ascending
};

// How far the morph has come at a position of the block, 0..1. `pair`: of the longer unit.
double morphWeight(const Score::Block& block, Beat at, Beat pair);

// One block of a score.
class BlockClock {
 public:
  BlockClock(const Score& score, std::size_t block);

  Quarters swung(Beat at, PieceId piece, Limb limb = Limb::kAutomatic) const;
  Quarters line(Beat at) const;
  Moment grid(Beat at, PieceId piece, Limb limb = Limb::kAutomatic) const;
  // Of the piece alone.
  Milliseconds displacement(Beat at, PieceId piece) const;
  // The grid and the piece's displacement.
  Milliseconds struck(Beat at, PieceId piece) const;
  double weight(Beat at) const;  // of a morph; 1 where there is none

 private:
  const Score& score_;
  const Score::Block& block_;
  FeelClock after_;
  std::optional<FeelClock> before_;  // while it morphs
};

}  // namespace uneven
