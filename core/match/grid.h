// SPDX-License-Identifier: GPL-3.0-or-later
// Where the beat lies in a list of strokes: tempo, meter, bar 1 and which notes swing.
//
//   strokes --pulses.h--> beats, however they move --readings.h--> what they may mean
//
// A file's own tempo is one reading beside those that are found. Threads: pure functions.
#pragma once

#include <cstdint>
#include <map>
#include <optional>
#include <stop_token>
#include <string>
#include <vector>

#include "core/match/beat_line.h"
#include "core/match/onset.h"
#include "core/match/readings.h"
#include "core/song/feel.h"
#include "core/time/meter.h"
#include "core/time/units.h"

namespace uneven {

inline constexpr double kFoundBpmMin = 40, kFoundBpmMax = 240;

struct GridWanted {
  std::optional<Bpm> bpm;            // the pulse near it, which may move
  bool steady = false;               // one tempo: that one, where it is typed
  std::optional<Meter> meter;        // likewise
  std::optional<SwingKind> swing;    // likewise
  std::optional<Seconds> start;      // of bar 1
  std::optional<BeatLine> played;    // to a click or in a file with a tempo: taken where it fits
  std::optional<Meter> playedMeter;  // the file's: of that line alone
};

struct MeterGuess {
  Meter meter;
  double likelihood = 0;  // of those that are told, 0..1
};

// What the strokes may mean as well: all that differ in tempo, meter or kind of swing.
struct ReadingTold {
  Bpm bpm{0};  // on average
  Meter meter;
  Swing swing;
  SwingKind kind = SwingKind::kStraight;
  double likelihood = 0;  // 0..1
};

struct FoundGrid {
  BeatLine line;  // quarter 0 is bar 1
  bool steady = true;
  bool asPlayed = false;  // the line that was given
  Meter meter;
  Swing swing;                        // at first sight
  bool triplets = false;              // slots are triplets
  std::vector<MeterGuess> meters;     // at the tempo that was taken, likely ones first
  std::vector<ReadingTold> readings;  // likely ones first; the one that was taken among them
  double sure = 0;                    // the chance of what was taken, 0..1
};

// What was found in a take, kept for when something about it is corrected: following its beats and
// weighing what they may mean is what lasts. Of one take and for one thread at a time. It holds
// while the strokes that are left out are nearly the same (one in fifty), and for whatever meter,
// kind of swing or pulse is then taken of the readings that were found.
struct KeptGrid {
  std::optional<bool> steady;  // nothing: empty
  std::vector<bool> used;      // beside the onsets
  Seconds first{0}, last{0};   // of the strokes that are used
  std::vector<Beats> begun;    // through the beginning of the take
  std::vector<Reading> readings;
  std::map<std::size_t, BeatLine> whole;  // of those begun: through all of a long take
  bool isLong = false;
};

// Nothing where no beat can be found: fewer than 8 strokes, or all at one moment; and where it was
// told to stop.
std::optional<FoundGrid> findGrid(const std::vector<Onset>& onsets, const GridWanted& wanted,
                                  KeptGrid* kept = nullptr, const std::stop_token& stop = {});

}  // namespace uneven
