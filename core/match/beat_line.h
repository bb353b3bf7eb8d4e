// SPDX-License-Identifier: GPL-3.0-or-later
// Quarter notes in time. Threads: plain values, pure functions.
#pragma once

#include <optional>
#include <vector>

namespace uneven {

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
  double meanPeriod() const {
    return (points_.back().seconds - points_.front().seconds) /
           (points_.back().quarters - points_.front().quarters);
  }
  const std::vector<Point>& points() const { return points_; }
  // By how many quarters another line of the same beats counts them later; nothing where they are
  // others.
  std::optional<double> shiftTo(const BeatLine& other) const;
  BeatLine shifted(double quarters) const;  // what was at `quarters` is at 0
  bool operator==(const BeatLine&) const = default;

 private:
  double periodOf(std::size_t piece) const;
  std::size_t pieceAt(double value, double Point::*of) const;
  std::vector<Point> points_;
};

// How sharply positions gather in a quarter: mean of a kernel of `width` seconds over pairs, as a
// multiple of what evenly spread ones give.
double gatheringOf(const std::vector<double>& quarters, double period, double width);

}  // namespace uneven
