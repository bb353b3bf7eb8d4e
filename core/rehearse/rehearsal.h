// SPDX-License-Identifier: GPL-3.0-or-later
// A rehearsal as it goes: which step at which tempo comes next, a time through as it is listened
// to, and what is played besides the groove itself.
//
// Two ways up: the steps at the first tempo and then the whole groove up the ladder, or each step
// up the whole ladder before the next begins (common practice; drummers do both). After `up` clean
// times through in a row it goes on, after `down` unclean ones back.
//
// Threads: pure functions and plain values; an Ear belongs to one thread.
#pragma once

#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/rehearse/alignment.h"
#include "core/rehearse/steps.h"

namespace uneven {

enum class Climb : std::uint8_t { kWholeGroove, kEachStep };

struct RehearsalRules {
  Ladder ladder;
  Climb climb = Climb::kWholeGroove;
  std::size_t steps = 1;
};
// Where a rehearsal stands.
struct RehearsalPlace {
  std::size_t step = 0, rung = 0;
  int clean = 0, unclean = 0;  // in a row, here
  bool reached = false;        // clean at the top of everything
  bool operator==(const RehearsalPlace&) const = default;
};
RehearsalPlace placeAfter(const RehearsalRules& rules, RehearsalPlace at, bool clean);
// By hand: the next step, the one before; tempos stay. At the ends nothing changes.
RehearsalPlace stepBy(const RehearsalRules& rules, RehearsalPlace at, int by);

// The groove so many times, then a fill in the last bar, and round again: closer to music than a
// loop. `fill` nothing: that bar is left to the player, `free`. Of a groove in one meter; the times
// are cut to what a groove may hold (kBarsMax).
struct PracticeTemplate {
  Groove groove;
  std::vector<std::pair<Beat, Beat>> free;  // for AlignWanted
};
PracticeTemplate withFillAfter(const Groove& groove, const std::optional<Groove>& fill, int times);

// The groove as often as it fits into `bars` bars, at least once: what a loop with a click that
// leaves bars out plays round.
Groove repeated(const Groove& groove, int bars);

// How much later all of it arrives than it is played: the median over at least kLatencyLeast
// strokes on a click. Errors: kLimit where there are fewer, or where half of them lie further than
// kLatencySpread from the median: no steady part can be told.
inline constexpr std::size_t kLatencyLeast = 10;
inline constexpr Milliseconds kLatencySpread{25};
Result<Milliseconds> latencyOf(std::vector<Milliseconds> late);

// One time through after the other, as they are played.
class Ear {
 public:
  // `part`: the step's groove alone; a time through is so many rounds of it. `rate`: how fast it
  // plays, of the part's tempo: strokes are placed in the part's time, what is told is in the
  // room's.
  Ear(SharedTake part, int rounds, std::vector<std::pair<Beat, Beat>> free = {}, double rate = 1);
  // Another part of the same length, or another rate, from the time through at hand on: what has
  // been heard of it goes along.
  Ear goOn(SharedTake part, double rate) const;

  Milliseconds length() const { return length_; }  // of a time through
  // A stroke, its seconds from the beginning of the first time through on. Those near a border
  // belong to the written stroke that is nearest.
  int hear(const Onset& onset);  // which time through it is of
  // The time through at a moment, and the part of it that lies behind it.
  int at(Milliseconds now) const;
  Alignment soFar(Milliseconds now) const;
  // Those that are over by now, each told once: nothing more of them is to come.
  std::vector<Alignment> over(Milliseconds now);
  int told() const { return told_; }

 private:
  Alignment aligned(int time, std::optional<Milliseconds> until) const;
  int timeOf(const Onset& onset) const;

  SharedTake part_;
  int rounds_ = 1;
  std::vector<std::pair<Beat, Beat>> free_;
  double rate_ = 1;
  Milliseconds length_{0};
  std::vector<std::pair<PieceId, double>> written_;  // ms in one time through
  std::vector<std::pair<int, Onset>> heard_;         // of times that have not been told
  int told_ = 0;
};

}  // namespace uneven
