// SPDX-License-Identifier: GPL-3.0-or-later
// Days of practice: which groove, which step of it, from which tempo to which, how long, with which
// click.
//
// A groove begins at the slower of 60 % of its goal and 80 % of what the player's limits call
// comfortable, and comes to its goal on the last day, in even parts; its steps (by voice) take the
// first two fifths of its days, then all of it. Harder grooves have more days. What was practised
// comes back after 1, 2, 4, 8 and 16 practice days for a fifth of the minutes (boxes after Leitner
// 1972, So lernt man lernen; from memory). No day has more than the minutes asked for; every
// seventh is a rest unless it is said otherwise; from 20 minutes on a tenth of them is a break. A
// goal above what the limits allow is told, and the plan stops there. Threads: pure functions.
#pragma once

#include <chrono>
#include <optional>
#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/body/profile.h"
#include "core/song/song.h"

namespace uneven {

struct PlanAsked {
  std::string groove;  // id; empty: all that the song plays
  double minutes = 5;  // a day
  int days = 30;
  std::chrono::year_month_day from{};
  std::optional<double> goal;  // BPM; else each groove's tempo in the song
  int restEvery = 7;           // days; 0: none
};
inline constexpr double kPlanMinutesMax = 240;
inline constexpr int kPlanDaysMax = 366;

struct PlanItem {
  std::string groove;  // id; empty: a break
  std::string step;
  double bpmFrom = 0, bpmTo = 0, bpmStep = 0;
  double minutes = 0;
  std::string click;  // id of a pattern (core/rehearse/click.h)
};
struct PlanDay {
  int day = 1;
  std::chrono::year_month_day date{};
  std::vector<PlanItem> items;  // none: a rest
};
struct PracticePlan {
  std::vector<PlanDay> days;
  std::vector<std::string> notes;
};
// Errors: kUnknown for a groove that is not there, kLimit beyond the limits above.
Result<PracticePlan> planOf(const Song& song, const PlanAsked& asked, const Profile& profile);

// "2026-11-29".
std::string dateText(std::chrono::year_month_day date);
std::optional<std::chrono::year_month_day> readDate(std::string_view text);
std::string planText(const PracticePlan& plan, const Song& song);
// An event a day (RFC 5545), whole days, lines of at most 75 octets.
std::string planCalendar(const PracticePlan& plan, const Song& song);

// What every plan says besides.
std::string_view practiceCaution();

}  // namespace uneven
