// SPDX-License-Identifier: GPL-3.0-or-later
// Strokes in sound: moment, strength and kind.
//
//   eight bands (bands.h), of which four groups: 30-180, 180-1500, 1500-5000, 5000-16000 Hz; energy
//   in frames of 1.3 ms, smoothed over 8, as log10; the rise over 8 frames, each group held to 1.5,
//   summed
//
// A moment is a peak of that sum, above a threshold that adapts to the take and at least 50 ms from
// the next. Which drums sound in it is told by their learnt sounds (voices.h): kick, snare, hats
// and cymbals, toms. Where one sounds alone, its moment is where the energy of the differentiated
// signal rises most from the millisecond before to the one after. Where several do, each has its
// own: where the energy of its own bands has risen by a part of its way (drums: 180 to 450 Hz,
// where hats have little; hats: above 5 kHz), corrected by how far that lies off where the same
// drum sounds alone. Of hats that a drum covers the moment is not known: they are told as shared.
// Soft strokes under loud ones are not found.
//
// How far the hats are open goes by how long the top band takes to fall by 20 dB, beside the
// shortest of the take: coarse, in quarters, and 0 where another stroke covers it.
//
// Bands and thresholds were measured on sampled kits (bench/ear --sound). Threads: one object, one
// thread.
#pragma once

#include <span>
#include <vector>

#include "core/match/bands.h"
#include "core/match/onset.h"

namespace uneven {

class StrokeFinder {
 public:
  explicit StrokeFinder(double rate) : bands_(rate) {}  // samples a second, 8000..384000
  // One channel, 1 is full scale; in order.
  void push(std::span<const float> samples) { bands_.push(samples); }
  // In order of time. Nothing can be pushed after it.
  std::vector<Onset> finish();

  // With which standard error moments are found, s.
  static constexpr double kFoundWithin = 0.0010;

 private:
  BandEnergies bands_;
  bool ended_ = false;
};

}  // namespace uneven
