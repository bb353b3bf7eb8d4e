// SPDX-License-Identifier: GPL-3.0-or-later
// Where the beat lies in a list of strokes: tempo, meter and bar 1.
//
//   strokes --moments--> strengths in time --periods--> candidates --followed--> beats --> BeatLine
//
// Strokes within 25 ms are one moment. Candidates for the quarter come from how often moments lie a
// period and its multiples apart; each is followed through the take by a filter that corrects phase
// and period at every beat near which something is struck; then they are judged by how sharply the
// moments gather in the beat, by accented snares on every other beat, by how many parts a beat is
// divided into, and by a wide preference around 105 BPM. The judgement's weights are ours.
//
// The meter is the bar after which the strokes are most like themselves, with 4/4 preferred; bar 1
// begins where kicks fall on the bar line and accented snares do not.
//
// A file's own tempo is one reading beside these: it is taken where strokes gather in it and it is
// not judged much worse than the best that was found. Threads: pure functions.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/match/onset.h"
#include "core/time/meter.h"
#include "core/time/units.h"

namespace uneven {

inline constexpr double kFoundBpmMin = 40, kFoundBpmMax = 240;

// Quarter notes in time: straight between its points, and beyond the first and last as there.
class BeatLine {
 public:
  struct Point {
    double quarters = 0, seconds = 0;
    bool operator==(const Point&) const = default;
  };
  BeatLine() : BeatLine({{0, 0}, {1, 0.5}}) {}
  // Ascending in both; points that do not ascend, or are no numbers, are left out, and two there
  // are in any case.
  explicit BeatLine(const std::vector<Point>& points);

  double secondsAt(double quarters) const;
  double quartersAt(double seconds) const;
  // Seconds a quarter lasts there.
  double periodAt(double quarters) const;
  const std::vector<Point>& points() const { return points_; }
  BeatLine shifted(double quarters) const;  // what was at `quarters` is at 0
  bool operator==(const BeatLine&) const = default;

 private:
  std::size_t pieceAt(double value, double Point::*of) const;
  std::vector<Point> points_;
};

struct GridWanted {
  std::optional<double> bpm;       // the pulse near it, which may move
  bool steady = false;             // one tempo: that one, where it is typed
  std::optional<Meter> meter;      // likewise
  std::optional<double> start;     // seconds of bar 1
  std::optional<BeatLine> played;  // to a click or in a file with a tempo: taken where it fits
};

struct MeterGuess {
  Meter meter;
  double likelihood = 0;  // of those that are told, 0..1
};

// A pulse that strokes may go by, quarter notes a minute on average.
struct PulseGuess {
  double bpm = 0;
  double likelihood = 0;  // of those that are told, 0..1
};

struct FoundGrid {
  BeatLine line;  // quarter 0 is bar 1
  bool steady = true;
  bool asPlayed = false;  // the line that was given
  Meter meter;
  std::vector<MeterGuess> meters;  // likely ones first
  std::vector<PulseGuess> pulses;  // likewise; of what was found, whether or not it was taken
  // How much more often strokes fall together in the beat than by chance: 1 is chance.
  double gathering = 1;
};

// Nothing where no beat can be found: fewer than 8 strokes, or all at one moment.
std::optional<FoundGrid> findGrid(const std::vector<Onset>& onsets, const GridWanted& wanted);

// How sharply positions gather in a quarter: mean of a kernel of `width` seconds over pairs, as a
// multiple of what evenly spread ones give.
double gatheringOf(const std::vector<double>& quarters, double period, double width);

}  // namespace uneven
