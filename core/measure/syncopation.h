// SPDX-License-Identifier: GPL-3.0-or-later
// How far a rhythm goes against its meter, and how dense it is.
//
// Each position of a bar has a weight. With c counts to the bar (Meter::countUnit) and W(x) the
// number of prime factors of x:
//
//   on count k of c      -W(denominator of k / c)
//   inside a count       -W(c) - W(denominator of the position as a share of the count)
//
// so that in 4/4 the bar line has 0, the half bar -1, quarters -2, eighths and triplets -3,
// sixteenths -4. A note that is followed, before the next note of its voice, by a silent slot of
// more weight adds the difference to the heaviest such slot (Longuet-Higgins & Lee 1984, Music
// Perception 1(4), in the form of Fitch & Rosenfeld 2007, Music Perception 25(1); figures from
// memory). A groove goes round: its last note looks on to the first. A rhythm on the beats is 0.
//
// Example: kicks on 1 and on the "a" of 2 in 4/4 sixteenths, nothing on 3: the "a" of 2 weighs -4,
// the 3 it leaves silent -1, so it adds 3; the kick on 1 adds nothing.
//
// For a kit (after Witek et al. 2014, PLoS ONE 9(4)) kick and snare are taken together: a note of
// either looks on to the next of either; to the difference a kick adds 2 and a snare 1, since a
// kick that leaves a strong place empty tells more. The two figures are from memory.
//
// Flams and other ornaments are one note. Threads: pure functions.
#pragma once

#include <set>
#include <vector>

#include "core/song/song.h"

namespace uneven {

// 0 on the bar line, less elsewhere. `inBar` in 0 <= inBar < the bar's length.
int metricalWeight(Beat inBar, Meter meter);

// The slots of a groove with their weights: made once for all variants of the same bars and grids.
struct WeighedSlots {
  explicit WeighedSlots(const Groove& groove);
  std::vector<Beat> slots;
  std::vector<int> weights;
};

// Of the notes of these pieces taken as one voice; one number a bar, to which each note counts.
std::vector<int> syncopationByBar(const Groove& groove, const std::set<PieceId>& pieces);
int syncopation(const Groove& groove, const std::set<PieceId>& pieces);
int syncopation(const Groove& groove, const std::set<PieceId>& pieces, const WeighedSlots& slots);
// Of kick and snare together.
std::vector<int> kitSyncopationByBar(const Groove& groove);
int kitSyncopation(const Groove& groove);
int kitSyncopation(const Groove& groove, const WeighedSlots& slots);

// Hits a quarter note: of each bar, and of the groove.
std::vector<double> densityByBar(const Groove& groove);
double density(const Groove& groove);

}  // namespace uneven
