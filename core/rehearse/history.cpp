// SPDX-License-Identifier: GPL-3.0-or-later
// What days of practice came to.
#include "core/rehearse/history.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "core/base/number.h"

namespace uneven {

using std::chrono::days;
using std::chrono::sys_days;

LeitnerBox boxOf(const std::vector<PractisedDay>& practised) {
  LeitnerBox out;
  constexpr int kBoxes = 5;
  for (const PractisedDay& day : practised) {
    if (day.times == 0) continue;
    const bool good = 2 * day.clean >= day.times;
    out.box = good ? std::min(kBoxes, out.box + 1) : 1;
    out.due = day.date + days(1 << (out.box - 1));
  }
  return out;
}

std::optional<PracticePace> paceOf(const std::vector<PractisedDay>& practised, double goal) {
  std::vector<const PractisedDay*> with;
  for (const PractisedDay& day : practised) {
    if (day.cleanBpm > 0) with.push_back(&day);
  }
  constexpr std::size_t kLeast = 3;
  if (with.size() < kLeast) return std::nullopt;
  if (with.size() > kPaceDays) with.erase(with.begin(), with.end() - kPaceDays);
  PracticePace out;
  out.days = static_cast<int>(with.size());
  out.latest = with.back()->cleanBpm;
  const auto n = static_cast<double>(with.size());
  double sumX = 0, sumY = 0, sumXX = 0, sumXY = 0;
  for (const PractisedDay* day : with) {
    const double x = static_cast<double>((day->date - with.back()->date).count());
    sumX += x;
    sumY += day->cleanBpm;
    sumXX += x * x;
    sumXY += x * day->cleanBpm;
  }
  const double spread = sumXX - sumX * sumX / n;
  if (spread > 0) out.bpmPerDay = (sumXY - sumX * sumY / n) / spread;
  if (out.latest >= goal) {
    out.reaches = with.back()->date;
    return out;
  }
  // From the line's own height on the last day.
  const double now = (sumY - out.bpmPerDay * sumX) / n;
  constexpr double kYear = 365;
  const double left = out.bpmPerDay > 0 ? std::ceil((goal - now) / out.bpmPerDay) : kYear + 1;
  if (left <= kYear) out.reaches = with.back()->date + days(std::max(1, static_cast<int>(left)));
  return out;
}

std::string paceText(const std::vector<PractisedDay>& practised, double goal) {
  const std::optional<PracticePace> pace = paceOf(practised, goal);
  if (!pace) return "no pace to go by yet: three days with a clean time through are needed";
  if (pace->latest >= goal)
    return fmt::format("{} was clean on {}", shortest(roundedTo(goal, 10)),
                       spokenDate(*pace->reaches, *pace->reaches));
  const std::string from = fmt::format("from your last {} days", pace->days);
  if (!pace->reaches)
    return fmt::format("at this pace {} is more than a year away, {}",
                       shortest(roundedTo(goal, 10)), from);
  return fmt::format("at this pace {} by {}, {}", shortest(roundedTo(goal, 10)),
                     spokenDate(*pace->reaches, practised.back().date), from);
}

std::string spokenDate(sys_days date, sys_days today) {
  static constexpr std::array kMonths = {"January",   "February", "March",    "April",
                                         "May",       "June",     "July",     "August",
                                         "September", "October",  "November", "December"};
  const std::chrono::year_month_day is(date), now(today);
  std::string out = fmt::format("{} {}", static_cast<unsigned>(is.day()),
                                kMonths[static_cast<unsigned>(is.month()) - 1]);
  if (is.year() != now.year()) out += fmt::format(" {}", static_cast<int>(is.year()));
  return out;
}

double minutesBefore(const std::vector<PractisedDay>& practised, sys_days from) {
  double out = 0;
  for (const PractisedDay& day : practised) {
    if (day.date < from && day.date >= from - days(7)) out += day.minutes;
  }
  return out;
}

std::optional<std::string> loadWarning(double weekBefore, double week) {
  if (weekBefore <= 0 || week <= weekBefore * 4 / 3 + 1e-9) return std::nullopt;
  return fmt::format(
      "{} minutes in a week after {}: more than a third more. Go up by less; hands need weeks",
      shortest(roundedTo(week, 1)), shortest(roundedTo(weekBefore, 1)));
}

}  // namespace uneven
