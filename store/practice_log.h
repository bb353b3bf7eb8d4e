// SPDX-License-Identifier: GPL-3.0-or-later
// The practice log: every time through, kept as it happens, in one file of the user's, apart from
// songs.
//
//   Result<OpenedLog> opened = PracticeLog::open("…/practice.sqlite", today);
//   const Result<std::int64_t> groove = log.groove({file, title, "verse", "Verse", mark});
//   const Result<std::int64_t> time = log.begin(*groove, through);
//   log.stroke(*time, {412.5, "snare", 104, 0});     …
//   log.end(*time, through);
//
// SQLite with a write-ahead log: each of these calls is written when it returns, so that a program
// that is killed loses at most the stroke in flight (a machine that loses its power may lose the
// last seconds: nothing waits for the disk while somebody plays). Strokes are kept of the last
// kStrokesOfTimes times through; of the others, what they came to.
//
// A groove of a song is found again by its file and id; where the file has moved or was renamed, by
// the song's title and id; else by what the groove is (grooveMark).
//
// Errors: store/sqlite.h. Threads: one at a time.
#pragma once

#include <cstdint>
#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/rehearse/alignment.h"
#include "core/rehearse/history.h"
#include "core/song/song.h"
#include "store/sqlite.h"

namespace uneven {

struct LoggedGroove {
  std::string songFile;  // empty: not saved yet
  std::string songTitle;
  std::string id, name;
  std::string mark;  // grooveMark
  bool operator==(const LoggedGroove&) const = default;
};
// Of what is struck where: 16 hexadecimal digits (FNV-1a, 64 bits). Levels, leans and names do not
// count.
std::string grooveMark(const Groove& groove, const Kit& kit);

enum class Through : std::uint8_t { kBrokenOff, kClean, kNotYet };

struct TimeThrough {
  std::string uid;         // one of its kind everywhere: newUid()
  std::int64_t begun = 0;  // ms since 1970, UTC
  std::string day;         // "2026-11-29", as the clock on the wall had it
  std::string step;
  bool whole = false;  // the whole groove
  double bpm = 0, seconds = 0;
  std::string source;  // what played: a port, "simulated player"; "by hand": nobody listened
  Through result = Through::kBrokenOff;
  int strokes = 0, missing = 0, extra = 0, wrong = 0;
  double meanMs = 0, sdMs = 0;  // + late
  std::optional<double> unisonMs, ghostsDb;
  std::string felt;  // what feels bad
  bool operator==(const TimeThrough&) const = default;
};
std::string newUid();
// What an alignment came to.
TimeThrough withScore(TimeThrough through, const Alignment& alignment, bool clean);

struct LoggedStroke {
  double ms = 0;  // from the beginning of the time through
  std::string piece;
  int velocity = 0;
  double opening = 0;
  bool operator==(const LoggedStroke&) const = default;
};

// One line of what goes out and comes in.
struct LoggedTime {
  LoggedGroove groove;
  TimeThrough through;
  bool operator==(const LoggedTime&) const = default;
};

class PracticeLog;
struct OpenedLog {
  std::unique_ptr<PracticeLog> log;
  std::string told;  // what had to be done, for the user; empty: nothing
};

class PracticeLog {
 public:
  static constexpr int kStrokesOfTimes = 200;
  // A step of the schema, from its number to the next: SQL. The file's user_version counts them.
  static const std::vector<std::string>& schema();

  // Makes the file where there is none. A damaged one is set aside as FILE.damaged-1, … and a new
  // one begun; before an older schema is changed a copy stays as FILE.version-N. kVersion: written
  // by a newer program, left as it is. `steps`: the schema, for tests.
  static Result<OpenedLog> open(const std::string& file,
                                const std::vector<std::string>& steps = schema());
  // To read only; a damaged one is an error and stays.
  static Result<std::unique_ptr<PracticeLog>> read(const std::string& file);

  // `isThere`: whether a song's file still exists; where it does, a song of the same title is
  // another one. 0: not known.
  using IsThere = std::function<bool(const std::string&)>;
  Result<std::int64_t> find(const LoggedGroove& groove, const IsThere& isThere = {}) const;
  // The same, under the names that it has now; made where it is not known.
  Result<std::int64_t> groove(const LoggedGroove& groove, const IsThere& isThere = {});
  Result<std::int64_t> begin(std::int64_t groove, const TimeThrough& through);
  Status stroke(std::int64_t time, const LoggedStroke& stroke);
  Status end(std::int64_t time, const TimeThrough& through);
  // Takes the last one away: marked by mistake.
  Status forget(std::int64_t time);
  Status feels(std::int64_t time, const std::string& felt);

  // Of a groove, the latest first; those broken off too.
  Result<std::vector<TimeThrough>> times(std::int64_t groove, int most) const;
  Result<std::vector<LoggedStroke>> strokes(std::int64_t time) const;
  // By date, oldest first; what was broken off, or that nobody judged, counts for the minutes only.
  Result<std::vector<PractisedDay>> days(std::int64_t groove) const;
  // Minutes of all grooves, by date, oldest first.
  struct DayMinutes {
    std::string day;
    double minutes = 0;
  };
  Result<std::vector<DayMinutes>> minutes() const;

  Result<std::vector<LoggedTime>> all() const;
  // Those that are not there yet, by uid; how many came in. All or, on an error, none.
  Result<int> take(const std::vector<LoggedTime>& times);

 private:
  explicit PracticeLog(Database database) : database_(std::move(database)) {}
  Status migrate(const std::vector<std::string>& steps, std::string& told);

  Database database_;
  std::unique_ptr<Query> strokeIn_;  // asked often
  std::int64_t strokes_ = 0;         // so far: numbers them
};

LoggedGroove loggedGroove(const Song& song, const std::string& songFile, const Groove& groove);
// Of all the song's grooves, by date: what a plan goes by.
Result<std::vector<PractisedDay>> historyOf(const PracticeLog& log, const Song& song,
                                            const std::string& songFile,
                                            const PracticeLog::IsThere& isThere = {});

// --- Out and in (practice_text.cpp) ---

// CSV as RFC 4180 has it, the first line names the columns; JSON is an array of objects by the same
// names. Both hold all but single strokes and read back equal.
std::string practiceCsv(const std::vector<LoggedTime>& times);
std::string practiceJson(const std::vector<LoggedTime>& times);
// Either of them. Errors: kSyntax, kLimit with line (CSV) or byte.
Result<std::vector<LoggedTime>> readPractice(std::string_view text, const std::string& file);

}  // namespace uneven
