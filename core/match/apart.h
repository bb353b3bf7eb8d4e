// SPDX-License-Identifier: GPL-3.0-or-later
// What makes a stroke late, taken apart: the lean of its piece, that of its slot, and the clock.
//
// By turns (backfitting: A. Buja, T. Hastie & R. Tibshirani 1989, Annals of Statistics 17(2)): with
// the clock known the leans are means over places, with the leans known the clock is what is left,
// smoothed along the take. Threads: a value.
#pragma once

#include <cstdint>
#include <map>
#include <utility>
#include <vector>

#include "core/match/fit.h"
#include "core/song/song.h"

namespace uneven {

// A written position in parts of a quarter, all of which are whole: quicker than fractions.
inline std::int64_t partsOf(Beat at) {
  return at.num() * (kDenominatorMax / at.den());
}
// Of a position in such parts and a piece: one number for both.
inline std::int64_t cellKey(Beat at, PieceId piece) {
  constexpr std::int64_t kPieces = 4'096;
  return partsOf(at) * kPieces + piece.value;
}

struct Extent {
  double first = 0, last = 0;  // swung quarters; 0 where none counts
};
// Over the strokes that are used.
Extent extentOf(const std::vector<Placed>& placed);

class Apart {
 public:
  using Place = std::pair<Beat, PieceId>;  // in the bar

  // Of the strokes that count; `placed` is beside `onsets`. A voice may swing less than `swing`:
  // then it is early off the beat. `further`: from the clock on that is known, where it is as long.
  void take(const std::vector<Onset>& onsets, const std::vector<Placed>& placed, const Swing& swing,
            Seconds quarter, int turns, bool further = false);

  Milliseconds ofPiece(PieceId piece) const;      // 0 where nothing is known yet
  Milliseconds ofSlot(const Place& place) const;  // beside its piece's; 0 of fewer than kSlotFewest
  Milliseconds at(const Place& place) const;      // both, and what swinging less makes
  // Where the timed strokes of the last take() were put, counted from 0: of each stroke, its mean
  // there without the clock, and its lean as at() tells it.
  std::size_t cells() const { return cells_.size(); }
  const Place& placeOf(std::size_t cell) const { return cells_[cell].place; }
  std::size_t cellOf(std::size_t onset) const { return cellOf_[onset]; }
  Milliseconds meanAt(std::size_t onset) const { return Milliseconds(cellAt(onset).mean); }
  Milliseconds leanAt(std::size_t onset) const { return Milliseconds(cellAt(onset).lean) - zero_; }
  Milliseconds clockAt(double quarters) const;
  // Of all strokes at a place, without the clock; ms.
  const std::map<Place, double>& means() const { return mean_; }
  // 0..1, of voices that surely swing less than the others.
  const std::map<PieceId, double>& depths() const { return depths_; }
  // How many of a piece's strokes lie in parts of the beat where the reference has none, 0..1: how
  // late those are and how far they swing cannot be told apart.
  std::map<PieceId, double> besideOf(PieceId reference) const;
  // Leans of pieces are told from here on.
  void setZero(Milliseconds lean);

 private:
  void findCells(const std::vector<Onset>& onsets, const std::vector<Placed>& placed);
  void leanOfPieces();
  void splitBySwing(PieceId piece);
  bool isOff(Beat at) const;
  double offBy(const Place& place) const;  // ms, as all that is kept
  std::size_t clockCellAt(double quarters) const;

  Swing swing_;
  Seconds quarter_{0.5};
  struct Cell {
    Place place;
    std::vector<double> values;
    double mean = 0, spread = 0, lean = 0;
  };
  const Cell& cellAt(std::size_t onset) const { return cells_[cellOf_[onset]]; }
  std::vector<Cell> cells_;            // in order
  std::vector<std::uint32_t> cellOf_;  // of each onset that is timed
  Milliseconds zero_{0};
  std::map<Place, double> mean_, slot_;
  std::map<PieceId, double> piece_, off_, depths_;
  std::vector<double> clock_{0};  // by sixteenths from firstCell_
  double firstCell_ = 0;
};

}  // namespace uneven
