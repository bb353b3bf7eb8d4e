// SPDX-License-Identifier: GPL-3.0-or-later
// What days of practice came to, and what follows from it: when a groove is due again, at what pace
// its tempo grows, and whether a week asks for much more than the one before.
//
// Threads: pure functions over values.
#pragma once

#include <chrono>
#include <optional>
#include <string>
#include <vector>

namespace uneven {

// One groove on one day.
struct PractisedDay {
  std::string groove;  // id in the song
  std::chrono::sys_days date{};
  int times = 0, clean = 0;  // times through
  double cleanBpm = 0;       // the fastest that was clean; 0: none was
  bool whole = false;        // the whole groove was among the clean ones
  double minutes = 0;
  std::string felt;  // what feels bad, as it was noted; empty: nothing
  bool operator==(const PractisedDay&) const = default;
};

// Boxes after Leitner 1972 (So lernt man lernen; from memory): a day on which at least half of the
// times were clean moves the groove up one of five boxes, any other back into the first. From the
// n-th box it comes back after 1, 2, 4, 8, 16 days. `days`: of one groove, in order of dates.
struct LeitnerBox {
  int box = 0;  // 1..5; 0: never practised
  std::chrono::sys_days due{};
};
LeitnerBox boxOf(const std::vector<PractisedDay>& days);

// The line through the fastest clean tempo of each day (least squares), over the last ten days that
// have one.
struct PracticePace {
  int days = 0;  // it goes by
  double bpmPerDay = 0;
  double latest = 0;  // BPM, of the last of them
  // When it comes to the goal; nothing: not within a year.
  std::optional<std::chrono::sys_days> reaches;
};
inline constexpr int kPaceDays = 10;
// Nothing: fewer than three days with a clean tempo.
std::optional<PracticePace> paceOf(const std::vector<PractisedDay>& days, double goal);
// "at this pace 98 by 12 December, from your last 10 days"; why not, where it cannot be said.
std::string paceText(const std::vector<PractisedDay>& days, double goal);

// "12 December"; with the year where it is not that of `today`.
std::string spokenDate(std::chrono::sys_days date, std::chrono::sys_days today);

// The minutes of the seven days before `from`.
double minutesBefore(const std::vector<PractisedDay>& days, std::chrono::sys_days from);
// More than a third more than the week before is told: tendons follow slower than eagerness (common
// practice). Nothing where there was no week before, or it is no jump.
std::optional<std::string> loadWarning(double weekBefore, double week);

}  // namespace uneven
