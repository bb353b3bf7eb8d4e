// SPDX-License-Identifier: GPL-3.0-or-later
// Moving what stands at the positions of a groove, all of it as one.
//
// A groove keeps positions in five places: its hits, the lengths of their openings and ornaments,
// the drawn openings of the hats, the beats that have a grid of their own, and what the player
// noted about placements. Whatever moves one of them goes through here, so that an opening never
// stays behind where its stroke was:
//
//   PositionMap later{[](Beat at) { return at + Beat(1); }};
//   const Moved moved = mapPositions(groove, later);      // moved.lost fell off the end
//
// Threads: pure functions of their arguments.
#pragma once

#include <functional>
#include <optional>

#include "core/song/song.h"

namespace uneven {

struct PositionMap {
  // Where what stands at a position goes. What lands outside the groove, or on a fraction beyond
  // kDenominatorMax, falls off; so does what gets Beat::invalid().
  std::function<Beat(Beat at)> to;
  // Lengths are multiplied with it, rounded to what a file can say, and held to their limits.
  Beat lengths{1};
  // What goes along; empty: all of that kind.
  std::function<bool(const Hit&)> hits;
  std::function<bool(const PedalMove&)> openings;
  // Where a beat with a grid of its own goes; what would not land on the start of a beat loses its
  // grid. Empty: such beats, and what was noted about placements, stay where they are.
  std::function<Beat(Beat start)> beats;
};

// How many went where. Hits and drawn openings that meet one of their kind take its place.
struct Moved {
  int hits = 0;  // that were moved
  int lostHits = 0;
  int lostOpenings = 0;
  int lostBeats = 0;  // with a grid of their own
  int lostNotes = 0;  // about placements
  int replaced = 0;   // hits that gave way

  // "2 hits and 1 drawn opening fell off"; empty when nothing did.
  std::string lostText() const;
};

// The groove's meter and bars are those that hold afterwards.
Moved mapPositions(Groove& groove, const PositionMap& map);

// Its last whole bars, as few as hold a length, from their own start on: all five go along.
Groove lastBars(const Groove& groove, Beat length);

// Whether every beat with a grid of its own that the map concerns lands on the start of a beat.
bool beatsLand(const Groove& groove, const std::function<Beat(Beat)>& beats);

// All that stands in [from, from + length) also stands `onto`, in place of what stood there.
// Returns how many hits were copied.
int copyPositions(Groove& groove, Beat from, Beat length, Beat onto);

// A drawn opening in place of one that begins there.
void putMove(Pedal& pedal, const PedalMove& move);
void takeMove(Pedal& pedal, Beat at);

// Of hits that share piece and position only the loudest stays, the first of equals: a piece is
// struck once at a time. The hits must be in order. Returns how many went.
int keepLoudest(std::vector<Hit>& hits);
// "2 hits were left out, since a louder one of the same piece stands at the same position"
std::string leftOutNote(int hits);
// Likewise the widest of drawn openings that begin at one position.
int keepWidest(std::vector<PedalMove>& moves);

}  // namespace uneven
