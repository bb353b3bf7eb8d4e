// SPDX-License-Identifier: GPL-3.0-or-later
// Plans.
#include "core/rehearse/plan.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>

#include "core/base/number.h"
#include "core/check/check.h"
#include "core/playing/hardness.h"
#include "core/playing/ways.h"
#include "core/rehearse/steps.h"

namespace uneven {
namespace {

// A groove of the plan with what it asks.
struct Course {
  const Groove* groove = nullptr;
  double goal = 0, start = 0;
  double hard = 1;
  std::vector<std::string> steps;
  int days = 0;  // that it is the day's own
  int done = 0;
  std::vector<std::string> spots;            // to be looked at by themselves
  std::vector<int> comesBack;                // practice days on which it is gone over again
  std::optional<std::chrono::sys_days> due;  // by the log
};

// What holds the tempo back, what Check finds of hands and feet, what was found awkward, what feels
// bad: as steps of their own.
std::vector<std::string> spotsOf(const Groove& groove, const HandReport& report, double goal,
                                 const std::vector<PractisedDay>& days, const Profile& profile) {
  std::vector<std::string> out;
  // Held back near the goal, not at three times of it.
  constexpr double kNear = 1.5;
  const double playable = ceilingBpm(report, report.ceiling.playable);
  const std::optional<Beat> held = heldBackAt(report);
  if (held && playable > 0 && playable < kNear * goal) out.push_back(hardSpot(groove, *held).title);
  // What Check finds that is a matter of hands and feet: the first places of it.
  constexpr FindingKind kOfTheBody[] = {FindingKind::kThirdHand, FindingKind::kNotPlayable,
                                        FindingKind::kHard,      FindingKind::kLeadFoot,
                                        FindingKind::kLateClose, FindingKind::kEarlyClose,
                                        FindingKind::kNoRoom,    FindingKind::kTwoPlaces};
  constexpr int kPlaces = 3;
  int places = 0;
  for (const Finding& f : check(*report.take, profile, builtInKitMaps().front()).findings) {
    const bool ours =
        std::find(std::begin(kOfTheBody), std::end(kOfTheBody), f.kind) != std::end(kOfTheBody);
    if (!ours || places == kPlaces) continue;
    const std::string spot =
        std::string(findingWord(f.kind)) + " " + hardSpot(groove, f.inGroove).title;
    if (std::find(out.begin(), out.end(), spot) != out.end()) continue;
    out.push_back(spot);
    ++places;
  }
  for (const WalkNote& note : groove.walk) {
    if (note.mark == WalkMark::kAwkward) out.push_back("awkward: " + note.placement);
  }
  for (auto day = days.rbegin(); day != days.rend(); ++day) {
    if (day->felt.empty()) continue;
    out.push_back("feels bad: " + day->felt);
    break;
  }
  return out;
}

double wholeBpm(double bpm) {
  return roundedTo(bpm, 1);
}

Result<Course> courseOf(const Song& song, const Groove& groove, const PlanAsked& asked,
                        const Profile& profile, std::vector<std::string>& notes,
                        const std::stop_token& stop) {
  const Result<HandReport> report = handReport(song, groove.id, profile, {}, {}, stop);
  if (!report) return report.error();
  Course out;
  out.groove = &groove;
  out.goal = asked.goal.value_or(roundedTo(report->bpm, 100));
  const double playable = ceilingBpm(*report, report->ceiling.playable);
  const double comfortable = comfortableBpm(*report, report->ceiling.comfortable);
  if (playable > 0 && out.goal > playable) {
    notes.push_back(
        fmt::format("{}: {:g} BPM lies above what the player's limits allow; the plan "
                    "goes to {:g}",
                    groove.name, out.goal, std::floor(playable)));
    out.goal = std::floor(playable);
  }
  out.start = ladderStart(out.goal, comfortable);
  out.hard = std::max(1.0, hardness(*report, report->strains).groove.total());
  // Steps that are alike in kind are one day's work at most: their first and last stand for them.
  for (const RehearsalStep& step : stepsOf(groove, *song.kit, StepsBy::kVoice))
    out.steps.push_back(step.title);
  if (!out.steps.empty()) out.steps.pop_back();  // the last is the groove itself
  std::vector<PractisedDay> days;
  for (const PractisedDay& day : asked.history) {
    if (day.groove == groove.id && day.date < std::chrono::sys_days(asked.from))
      days.push_back(day);
  }
  out.spots = spotsOf(groove, *report, out.goal, days, profile);
  if (days.empty()) return out;
  out.due = boxOf(days).due;
  for (auto day = days.rbegin(); day != days.rend(); ++day) {
    if (day->cleanBpm <= 0) continue;
    out.start = std::clamp(wholeBpm(day->cleanBpm), std::min(out.start, out.goal), out.goal);
    break;
  }
  if (std::any_of(days.begin(), days.end(), [](const PractisedDay& d) { return d.whole; }))
    out.steps.clear();
  return out;
}

double stepOf(double from, double to, double minutes) {
  // A rung a minute or so.
  const double each = (to - from) / std::max(1.0, minutes);
  return each > 2 ? 5 : each > 1 ? 2 : 1;
}

std::string clickOf(double share, double bpm) {
  constexpr double kSlow = 90;
  if (share > 0.85) return "longer-gaps";
  if (share > 0.6) return "two-and-two";
  return bpm < kSlow ? "divided" : "plain";
}

PlanItem itemOf(Course& course, double minutes) {
  PlanItem out;
  out.groove = course.groove->id;
  out.minutes = minutes;
  const double days = std::max(1, course.days);
  const double before = course.done / days, share = (course.done + 1) / days;
  constexpr double kSteps = 0.4;  // of the days
  const auto stepDays = static_cast<int>(std::floor(kSteps * course.days));
  out.step = "whole groove";
  if (course.done < stepDays && !course.steps.empty()) {
    // What stands at the end of the day's part of the stairs.
    const auto last =
        static_cast<std::size_t>(std::ceil((course.done + 1) / static_cast<double>(stepDays) *
                                           static_cast<double>(course.steps.size())));
    out.step = course.steps[std::clamp<std::size_t>(last, 1, course.steps.size()) - 1];
  }
  const double way = course.goal - course.start;
  out.bpmFrom = wholeBpm(course.start + before * way);
  out.bpmTo = course.done + 1 >= course.days ? course.goal : wholeBpm(course.start + share * way);
  out.bpmTo = std::max(out.bpmFrom, out.bpmTo);
  out.bpmStep = stepOf(out.bpmFrom, out.bpmTo, minutes);
  out.click = clickOf(share, out.bpmTo);
  ++course.done;
  return out;
}

// What was practised, gone over up to where it had come.
PlanItem againOf(const Course& course, double minutes) {
  PlanItem out;
  out.groove = course.groove->id;
  out.step = "once more";
  out.minutes = minutes;
  const double share = course.done / static_cast<double>(std::max(1, course.days));
  out.bpmTo = wholeBpm(course.start + share * (course.goal - course.start));
  out.bpmFrom = std::max(course.start, wholeBpm(0.9 * out.bpmTo));
  out.bpmTo = std::max(out.bpmFrom, out.bpmTo);
  out.bpmStep = stepOf(out.bpmFrom, out.bpmTo, minutes);
  out.click = "plain";
  return out;
}

// Which groove is the day's own on each practice day: harder ones more often, each at least once
// where there are days enough.
std::vector<std::size_t> ownDays(std::vector<Course>& courses, int days) {
  double all = 0;
  for (const Course& course : courses) all += std::sqrt(course.hard);
  std::vector<double> owed(courses.size(), 0);
  std::vector<std::size_t> out;
  for (int day = 0; day < days; ++day) {
    std::size_t most = 0;
    for (std::size_t c = 0; c < courses.size(); ++c) {
      owed[c] += std::sqrt(courses[c].hard) / all;
      if (owed[c] > owed[most] + 1e-9) most = c;
    }
    owed[most] -= 1;
    ++courses[most].days;
    out.push_back(most);
  }
  return out;
}

}  // namespace

Result<PracticePlan> planOf(const Song& song, const PlanAsked& asked, const Profile& profile,
                            const std::stop_token& stop) {
  const auto refuse = [](std::string text) {
    return Error{ErrorCode::kLimit, std::move(text), {}};
  };
  if (!(asked.minutes >= 1 && asked.minutes <= kPlanMinutesMax))
    return refuse(fmt::format("minutes are 1 to {:g} a day", kPlanMinutesMax));
  if (asked.days < 1 || asked.days > kPlanDaysMax)
    return refuse(fmt::format("days are 1 to {}", kPlanDaysMax));
  if (asked.goal && !(*asked.goal >= kBpmMin && *asked.goal <= kBpmMax))
    return refuse(fmt::format("a goal is {:g} to {:g} BPM", kBpmMin, kBpmMax));
  if (!asked.from.ok()) return refuse("the first day is no date");
  PracticePlan out;
  std::vector<Course> courses;
  const auto take = [&](const std::string& id) -> std::optional<Error> {
    const Groove* groove = song.findGroove(id);
    if (groove == nullptr)
      return Error{ErrorCode::kUnknown, fmt::format("there is no groove \"{}\"", id), {}};
    const bool known = std::any_of(courses.begin(), courses.end(),
                                   [&](const Course& c) { return c.groove == groove; });
    if (known || groove->hits.empty()) return std::nullopt;
    Result<Course> course = courseOf(song, *groove, asked, profile, out.notes, stop);
    if (!course) return course.error();
    courses.push_back(*std::move(course));
    return std::nullopt;
  };
  if (!asked.groove.empty()) {
    if (auto error = take(asked.groove)) return *error;
  } else {
    constexpr std::size_t kCoursesMost = 50;
    for (const Section& section : song.sections()) {
      for (const std::string& id : section.pass()) {
        if (courses.size() >= kCoursesMost) break;
        if (auto error = take(id)) return *error;
      }
    }
  }
  if (courses.empty()) return refuse("there is nothing to practise: no groove has a stroke");
  const auto rests = [&](int day) { return asked.restEvery > 0 && day % asked.restEvery == 0; };
  int practice = 0;
  for (int day = 1; day <= asked.days; ++day) practice += rests(day) ? 0 : 1;
  const std::vector<std::size_t> own = ownDays(courses, practice);
  int at = 0;
  double week = 0;
  for (int day = 1; day <= asked.days; ++day) {
    PlanDay now;
    now.day = day;
    now.date = std::chrono::sys_days(asked.from) + std::chrono::days(day - 1);
    if (!rests(day)) {
      if (day <= 7) week += asked.minutes;
      constexpr double kLong = 20, kBreak = 0.1, kAgain = 0.2, kSpot = 0.3, kLeast = 5;
      const std::size_t mine = own[static_cast<std::size_t>(at)];
      std::optional<PlanItem> rest, again;
      if (asked.minutes >= kLong) {
        rest.emplace();
        rest->step = "a break";
        rest->minutes = roundedTo(kBreak * asked.minutes, 2);
      }
      // One that comes back, not the day's own.
      for (std::size_t c = 0; c < courses.size() && !again; ++c) {
        Course& course = courses[c];
        if (c != mine && course.due && *course.due <= std::chrono::sys_days(now.date) &&
            asked.minutes >= kLeast) {
          again = againOf(course, roundedTo(kAgain * asked.minutes, 2));
          course.due.reset();
          break;
        }
        const auto due = std::find(course.comesBack.begin(), course.comesBack.end(), at);
        if (c == mine || due == course.comesBack.end() || asked.minutes < kLeast) continue;
        again = againOf(course, roundedTo(kAgain * asked.minutes, 2));
      }
      double left = asked.minutes - (rest ? rest->minutes : 0) - (again ? again->minutes : 0);
      Course& course = courses[mine];
      std::optional<PlanItem> spot;
      if (!course.spots.empty() && course.done % 2 == 1 && asked.minutes >= kLeast) {
        spot.emplace();
        spot->step = course.spots[static_cast<std::size_t>(course.done / 2) % course.spots.size()];
        spot->minutes = roundedTo(kSpot * asked.minutes, 2);
        left -= spot->minutes;
      }
      now.items.push_back(itemOf(course, left));
      course.due.reset();
      if (spot) {
        const PlanItem& main = now.items.front();
        spot->groove = main.groove;
        spot->bpmTo = main.bpmTo;
        spot->bpmFrom = std::min(main.bpmTo, std::max(kBpmMin, wholeBpm(0.8 * main.bpmFrom)));
        spot->bpmStep = stepOf(spot->bpmFrom, spot->bpmTo, spot->minutes);
        spot->click = "plain";
        now.items.push_back(*std::move(spot));
      }
      if (rest) now.items.push_back(*std::move(rest));
      if (again) now.items.push_back(*std::move(again));
      for (const int later : {1, 2, 4, 8, 16}) courses[mine].comesBack.push_back(at + later);
      ++at;
    }
    out.days.push_back(std::move(now));
  }
  const double before = minutesBefore(asked.history, std::chrono::sys_days(asked.from));
  if (auto warning = loadWarning(before, week)) out.notes.push_back(*std::move(warning));
  return out;
}

std::string dateText(std::chrono::year_month_day date) {
  return fmt::format("{:04}-{:02}-{:02}", static_cast<int>(date.year()),
                     static_cast<unsigned>(date.month()), static_cast<unsigned>(date.day()));
}

std::optional<std::chrono::year_month_day> readDate(std::string_view text) {
  if (text.size() != 10 || text[4] != '-' || text[7] != '-') return std::nullopt;
  const auto year = wholeNumber(text.substr(0, 4)), month = wholeNumber(text.substr(5, 2)),
             day = wholeNumber(text.substr(8, 2));
  if (!year || !month || !day || *year < 1 || *month < 1 || *day < 1) return std::nullopt;
  const std::chrono::year_month_day out{std::chrono::year(static_cast<int>(*year)),
                                        std::chrono::month(static_cast<unsigned>(*month)),
                                        std::chrono::day(static_cast<unsigned>(*day))};
  return out.ok() ? std::optional(out) : std::nullopt;
}

namespace {

std::string nameOf(const Song& song, const std::string& id) {
  const Groove* groove = song.findGroove(id);
  return groove == nullptr ? id : groove->name;
}

std::string itemText(const PlanItem& item, const Song& song) {
  if (item.groove.empty()) return fmt::format("{} min: {}", shortest(item.minutes), item.step);
  return fmt::format("{} min: {}, {}, {} to {} BPM by {}, click {}", shortest(item.minutes),
                     nameOf(song, item.groove), item.step, shortest(item.bpmFrom),
                     shortest(item.bpmTo), shortest(item.bpmStep), item.click);
}

// RFC 5545, 3.3.11.
std::string escaped(std::string_view text) {
  std::string out;
  for (const char c : text) {
    if (c == '\\' || c == ';' || c == ',') out += '\\';
    if (c == '\n') {
      out += "\\n";
    } else if (static_cast<unsigned char>(c) >= 0x20) {
      out += c;
    }
  }
  return out;
}

// 3.1: at most 75 octets, then a line that begins with a blank; no letter is cut.
void putLine(std::string& out, std::string line) {
  constexpr std::size_t kMost = 75;
  std::size_t room = kMost;
  while (line.size() > room) {
    std::size_t cut = room;
    while (cut > 1 && (static_cast<unsigned char>(line[cut]) & 0xC0) == 0x80) --cut;
    out += line.substr(0, cut) + "\r\n ";
    line.erase(0, cut);
    room = kMost - 1;
  }
  out += line + "\r\n";
}

}  // namespace

std::string planText(const PracticePlan& plan, const Song& song) {
  std::string out;
  for (const std::string& note : plan.notes) out += note + "\n";
  for (const PlanDay& day : plan.days) {
    out += fmt::format("day {}, {}:", day.day, dateText(day.date));
    if (day.items.empty()) out += " rest";
    out += "\n";
    for (const PlanItem& item : day.items) out += "  " + itemText(item, song) + "\n";
  }
  return out + std::string(practiceCaution()) + "\n";
}

std::string planCalendar(const PracticePlan& plan, const Song& song) {
  std::string out;
  const auto compact = [](std::chrono::year_month_day date) {
    std::string text = dateText(date);
    std::erase(text, '-');
    return text;
  };
  putLine(out, "BEGIN:VCALENDAR");
  putLine(out, "VERSION:2.0");
  putLine(out, "PRODID:-//Uneven Stick//Practice//EN");
  putLine(out, "CALSCALE:GREGORIAN");
  for (const PlanDay& day : plan.days) {
    if (day.items.empty()) continue;
    double minutes = 0;
    std::string told;
    for (const PlanItem& item : day.items) {
      minutes += item.minutes;
      told += itemText(item, song) + "\n";
    }
    const std::string date = compact(day.date);
    putLine(out, "BEGIN:VEVENT");
    putLine(out, fmt::format("UID:practice-{}-{}@uneven-stick", date, day.day));
    putLine(out, fmt::format("DTSTAMP:{}T000000Z", date));
    putLine(out, "DTSTART;VALUE=DATE:" + date);
    putLine(out,
            "DTEND;VALUE=DATE:" + compact(std::chrono::sys_days(day.date) + std::chrono::days(1)));
    putLine(out, "SUMMARY:" +
                     escaped(fmt::format("{}: {} minutes", nameOf(song, day.items.front().groove),
                                         shortest(minutes))));
    putLine(out, "DESCRIPTION:" + escaped(told + std::string(practiceCaution())));
    putLine(out, "END:VEVENT");
  }
  putLine(out, "END:VCALENDAR");
  return out;
}

std::string_view practiceCaution() {
  return "Warm up; rest as long as you play hard; stop at pain, numbness or tingling and see a "
         "professional; keep the level low and protect your ears.";
}

}  // namespace uneven
