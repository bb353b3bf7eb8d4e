// SPDX-License-Identifier: GPL-3.0-or-later
// Where a position on the song's beats falls in time.
//
// A map is a list of steps; from each step's position on, a quarter note lasts that step's whole
// microseconds. The time of a position is the exact sum over the steps before it:
//
//   t(b) = sum over steps i below b of (min(b, at[i+1]) - at[i]) * usPerQuarter[i] / 1000   [ms]
//
// Before the first step (positions below 0) the first tempo holds, so a lead-in needs no case of
// its own. msAt takes quarter notes as a double since swung positions are not rational.
// Threads: a plain value; reading is safe from anywhere.
#pragma once

#include <vector>

#include "core/time/beat.h"
#include "core/time/quarters.h"
#include "core/time/units.h"

namespace uneven {

class TempoMap {
 public:
  struct Step {
    Beat at;
    Tempo tempo;
    bool operator==(const Step&) const = default;
  };

  TempoMap() : TempoMap({Step{}}) {}
  // Steps in ascending order of `at`, the first at 0, at least one.
  explicit TempoMap(std::vector<Step> steps);

  const std::vector<Step>& steps() const { return steps_; }
  Tempo tempoAt(Beat at) const;
  // Whether one tempo holds over all of from <= at < to.
  bool holdsOver(Beat from, Beat to) const;
  Milliseconds msAt(Quarters quarters) const;
  Quarters quartersAt(Milliseconds ms) const;

  // The same questions for positions that mostly grow: remembers the last step, so that a pass over
  // a whole song costs no search for each stroke.
  class Cursor {
   public:
    explicit Cursor(const TempoMap& map) : map_(&map) {}
    Milliseconds msAt(Quarters at);

   private:
    const TempoMap* map_;
    std::size_t step_ = 0;
  };

  bool operator==(const TempoMap& other) const { return steps_ == other.steps_; }

 private:
  std::vector<Step> steps_;
  std::vector<double> startQuarters_;
  std::vector<double> startMs_;
};

}  // namespace uneven
