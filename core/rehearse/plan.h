// SPDX-License-Identifier: GPL-3.0-or-later
// Days of practice: which groove, which step of it, from which tempo to which, how long, with which
// click.
//
// A groove begins at ladderStart (steps.h), or where the log says that it was clean last, and comes
// to its goal on the last day, in even parts; its steps (by voice) take the first two fifths of its
// days, then all of it; who has played all of it clean has no steps. Harder grooves have more days.
// Every other day has its hard spot: what holds the tempo back, what Check finds of hands and
// feet, a placement that was found awkward
// (Groove::walk), what feels bad by the log. What was practised comes back for a fifth of the
// minutes, by boxes (history.h): later where it was clean, sooner where it was not. No day has more
// than the minutes asked for; every seventh is a rest unless it is said otherwise; from 20 minutes
// on a tenth of them is a break. A goal above what the limits allow is told, and the plan stops
// there; so is a week with more than a third more minutes than the one before it. Threads: pure
// functions.
#pragma once

#include <chrono>
#include <optional>
#include <stop_token>
#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/body/profile.h"
#include "core/rehearse/history.h"
#include "core/song/song.h"

namespace uneven {

struct PlanAsked {
  std::string groove;  // id; empty: all that the song plays
  double minutes = 5;  // a day
  int days = 30;
  std::chrono::year_month_day from{};
  std::optional<double> goal;         // BPM; else each groove's tempo in the song
  int restEvery = 7;                  // days; 0: none
  std::vector<PractisedDay> history;  // by date; what lies after `from` is not looked at
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
// Errors: kUnknown for a groove that is not there, kLimit beyond the limits above, givenUp() where
// it was told to stop.
Result<PracticePlan> planOf(const Song& song, const PlanAsked& asked, const Profile& profile,
                            const std::stop_token& stop = {});

// "2026-11-29".
std::string dateText(std::chrono::year_month_day date);
std::optional<std::chrono::year_month_day> readDate(std::string_view text);
std::string planText(const PracticePlan& plan, const Song& song);
// An event a day (RFC 5545), whole days, lines of at most 75 octets.
std::string planCalendar(const PracticePlan& plan, const Song& song);

// What every plan says besides.
std::string_view practiceCaution();

}  // namespace uneven
