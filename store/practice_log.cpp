// SPDX-License-Identifier: GPL-3.0-or-later
// The practice log.
#include "store/practice_log.h"

#include <fmt/format.h>

#include <filesystem>
#include <random>

#include "core/rehearse/plan.h"

namespace uneven {
namespace {

// The columns of a time through, in the order of bindings and rows.
constexpr const char* kColumns =
    "uid, begun, day, step, whole, bpm, seconds, source, result, strokes, missing, extra, wrong, "
    "mean_ms, sd_ms, unison_ms, ghosts_db, felt";

void bind(Query& query, const TimeThrough& t) {
  query.put(t.uid).put(t.begun).put(t.day).put(t.step).put(std::int64_t{t.whole}).put(t.bpm);
  query.put(t.seconds).put(t.source).put(static_cast<std::int64_t>(t.result));
  query.put(std::int64_t{t.strokes}).put(std::int64_t{t.missing}).put(std::int64_t{t.extra});
  query.put(std::int64_t{t.wrong}).put(t.meanMs).put(t.sdMs).put(t.unisonMs).put(t.ghostsDb);
  query.put(t.felt);
}

TimeThrough throughOf(const Query& query, int at) {
  TimeThrough t;
  const auto whole = [&] { return static_cast<int>(query.whole(at++)); };
  t.uid = query.text(at++);
  t.begun = query.whole(at++);
  t.day = query.text(at++);
  t.step = query.text(at++);
  t.whole = query.whole(at++) != 0;
  t.bpm = query.number(at++);
  t.seconds = query.number(at++);
  t.source = query.text(at++);
  t.result = static_cast<Through>(std::clamp(whole(), 0, 2));
  t.strokes = whole();
  t.missing = whole();
  t.extra = whole();
  t.wrong = whole();
  t.meanMs = query.number(at++);
  t.sdMs = query.number(at++);
  t.unisonMs = query.maybe(at++);
  t.ghostsDb = query.maybe(at++);
  t.felt = query.text(at++);
  return t;
}

std::string beside(const std::string& file, const std::string& word, int first) {
  for (int n = first;; ++n) {
    std::string name = fmt::format("{}.{}-{}", file, word, n);
    if (!std::filesystem::exists(name)) return name;
  }
}

// The file and what SQLite keeps beside it.
Result<std::string> setAside(const std::string& file) {
  const std::string to = beside(file, "damaged", 1);
  for (const char* part : {"", "-wal", "-shm"}) {
    std::error_code failed;
    if (*part != '\0' && !std::filesystem::exists(file + part, failed)) continue;
    std::filesystem::rename(file + part, to + part, failed);
    if (failed && *part == '\0') {
      return Error{ErrorCode::kPermission,
                   "the practice log is damaged and cannot be set aside: " + failed.message(),
                   {file, 0, 0, {}}};
    }
  }
  return to;
}

Result<Database> sound(const std::string& file, Database::Mode mode) {
  Result<Database> database = Database::open(file, mode);
  if (!database) return database;
  if (mode == Database::Mode::kWrite) {
    // What is written stays written when the program is killed; nothing waits for the disk.
    const Status set = database->run(
        "PRAGMA journal_mode = WAL; PRAGMA synchronous = NORMAL; PRAGMA foreign_keys = ON");
    if (!set) return set.error();
  }
  Query check(*database, "PRAGMA quick_check(1)");
  const bool good = check.next() && check.text(0) == "ok";
  if (check.error()) return *check.error();
  if (!good) return Error{ErrorCode::kSyntax, "the practice log is damaged", {file, 0, 0, {}}};
  return database;
}

std::int64_t versionOf(const Database& database) {
  Query query(database, "PRAGMA user_version");
  return query.next() ? query.whole(0) : 0;
}

Error tooNew(const std::string& file) {
  return Error{ErrorCode::kVersion,
               "the practice log was written by a newer Uneven Stick; it is left as it is",
               {file, 0, 0, {}}};
}

// Rolls back unless it is committed.
class Transaction {
 public:
  explicit Transaction(Database& database) : database_(database) {
    status_ = database_.run("BEGIN IMMEDIATE");
  }
  ~Transaction() {
    if (open()) (void)database_.run("ROLLBACK");
  }
  Transaction(const Transaction&) = delete;
  Transaction& operator=(const Transaction&) = delete;
  const Status& status() const { return status_; }
  Status commit() {
    status_ = database_.run("COMMIT");
    done_ = static_cast<bool>(status_);
    return status_;
  }

 private:
  bool open() const { return !done_; }
  Database& database_;
  Status status_ = Done{};
  bool done_ = false;
};

}  // namespace

std::string grooveMark(const Groove& groove, const Kit& kit) {
  std::uint64_t hash = 0xcbf29ce484222325ULL;
  const auto add = [&](std::string_view text) {
    for (const char c : text) {
      hash ^= static_cast<unsigned char>(c);
      hash *= 0x100000001b3ULL;
    }
  };
  add(fmt::format("{}/{} {}", groove.meter.n, groove.meter.d, groove.bars));
  for (const Hit& hit : groove.hits)
    add(fmt::format(";{} {}", hit.at.toString(), kit[hit.piece].id));
  return fmt::format("{:016x}", hash);
}

std::string newUid() {
  static std::mt19937_64 random = [] {
    std::random_device device;
    std::seed_seq seed{device(), device(), device(), device(), device(), device()};
    return std::mt19937_64(seed);
  }();
  const std::uint64_t first = random(), second = random();
  return fmt::format("{:016x}{:016x}", first, second);
}

TimeThrough withScore(TimeThrough t, const Alignment& a, bool clean) {
  t.result = clean ? Through::kClean : Through::kNotYet;
  t.strokes = a.all.n;
  t.missing = a.missing;
  t.extra = a.extra;
  t.wrong = a.wrong;
  t.meanMs = a.all.mean.count();
  t.sdMs = a.all.sd.count();
  t.unisonMs.reset();
  if (a.unison) t.unisonMs = a.unison->count();
  t.ghostsDb = a.ghosts;
  return t;
}

const std::vector<std::string>& PracticeLog::schema() {
  static const std::vector<std::string> steps = {
      "CREATE TABLE grooves (key INTEGER PRIMARY KEY, song_file TEXT NOT NULL, song_title TEXT NOT "
      "NULL, groove TEXT NOT NULL, name TEXT NOT NULL, mark TEXT NOT NULL);"
      "CREATE TABLE times (key INTEGER PRIMARY KEY, of INTEGER NOT NULL REFERENCES grooves(key), "
      "uid TEXT NOT NULL UNIQUE, begun INTEGER NOT NULL, day TEXT NOT NULL, step TEXT NOT NULL, "
      "whole INTEGER NOT NULL, bpm REAL NOT NULL, seconds REAL NOT NULL, source TEXT NOT NULL, "
      "result INTEGER NOT NULL, strokes INTEGER NOT NULL, missing INTEGER NOT NULL, extra INTEGER "
      "NOT NULL, wrong INTEGER NOT NULL, mean_ms REAL NOT NULL, sd_ms REAL NOT NULL, unison_ms "
      "REAL, ghosts_db REAL, felt TEXT NOT NULL);"
      "CREATE TABLE strokes (time INTEGER NOT NULL, number INTEGER NOT NULL, ms REAL NOT NULL, "
      "piece TEXT NOT NULL, velocity INTEGER NOT NULL, opening REAL NOT NULL, PRIMARY KEY (time, "
      "number)) WITHOUT ROWID;"
      "CREATE INDEX grooves_by_id ON grooves (groove);"
      // All that days() and minutes() read, so that they do not read the table.
      "CREATE INDEX times_by_day ON times (of, day, result, bpm, whole, seconds);"
      "CREATE INDEX times_by_begun ON times (of, begun, key);"
      "CREATE INDEX minutes_by_day ON times (day, result, seconds);"
      "CREATE INDEX times_felt ON times (of, day, key) WHERE felt <> ''"};
  return steps;
}

Status PracticeLog::migrate(const std::vector<std::string>& steps, std::string& told) {
  const std::int64_t version = versionOf(database_);
  const auto wanted = static_cast<std::int64_t>(steps.size());
  if (version > wanted) return tooNew(database_.file());
  if (version == wanted) return Done{};
  if (version > 0) {
    const std::string copy = beside(database_.file(), "version", static_cast<int>(version));
    Query backup(database_, "VACUUM INTO ?");
    backup.put(copy);
    if (Status kept = backup.done(); !kept) return kept;
    told = fmt::format("the practice log was brought up to date; as it was it stays in {}", copy);
  }
  Transaction all(database_);
  if (!all.status()) return all.status();
  // Another program may have done it meanwhile.
  for (std::int64_t step = versionOf(database_); step < wanted; ++step) {
    if (Status ran = database_.run(steps[static_cast<std::size_t>(step)]); !ran) return ran;
  }
  if (Status set = database_.run(fmt::format("PRAGMA user_version = {}", wanted)); !set) return set;
  return all.commit();
}

Result<OpenedLog> PracticeLog::open(const std::string& file,
                                    const std::vector<std::string>& steps) {
  std::error_code ignored;
  const std::filesystem::path folder = std::filesystem::path(file).parent_path();
  if (!folder.empty()) std::filesystem::create_directories(folder, ignored);
  OpenedLog out;
  Result<Database> database = sound(file, Database::Mode::kWrite);
  if (!database && database.error().code == ErrorCode::kSyntax) {
    const Result<std::string> aside = setAside(file);
    if (!aside) return aside.error();
    out.told =
        fmt::format("the practice log was damaged: it is kept as {}, a new one has begun", *aside);
    database = sound(file, Database::Mode::kWrite);
  }
  if (!database) return database.error();
  out.log.reset(new PracticeLog(*std::move(database)));
  if (const Status migrated = out.log->migrate(steps, out.told); !migrated) return migrated.error();
  return out;
}

Result<std::unique_ptr<PracticeLog>> PracticeLog::read(const std::string& file) {
  Result<Database> database = sound(file, Database::Mode::kRead);
  if (!database) return database.error();
  const auto wanted = static_cast<std::int64_t>(schema().size());
  const std::int64_t version = versionOf(*database);
  if (version > wanted) return tooNew(file);
  if (version != wanted)
    return Error{ErrorCode::kSyntax, "this is no practice log", {file, 0, 0, {}}};
  return std::unique_ptr<PracticeLog>(new PracticeLog(*std::move(database)));
}

Result<std::int64_t> PracticeLog::find(const LoggedGroove& g, const IsThere& isThere) const {
  struct Known {
    std::int64_t key;
    LoggedGroove groove;
  };
  std::vector<Known> known;
  Query query(database_,
              "SELECT key, song_file, song_title, groove, name, mark FROM grooves WHERE groove = ? "
              "OR mark = ? ORDER BY key DESC");
  query.put(g.id).put(g.mark);
  while (query.next()) {
    known.push_back({query.whole(0),
                     {query.text(1), query.text(2), query.text(3), query.text(4), query.text(5)}});
  }
  if (query.error()) return *query.error();
  // A file that still stands elsewhere is another song's.
  const auto elsewhere = [&](const LoggedGroove& other) {
    return !other.songFile.empty() && other.songFile != g.songFile && isThere &&
           isThere(other.songFile);
  };
  const auto first = [&](const auto& is) -> std::int64_t {
    const auto at =
        std::find_if(known.begin(), known.end(), [&](const Known& k) { return is(k.groove); });
    return at == known.end() ? 0 : at->key;
  };
  const auto byFile = first([&](const LoggedGroove& k) {
    return k.id == g.id && !g.songFile.empty() && k.songFile == g.songFile;
  });
  if (byFile != 0) return byFile;
  const auto byTitle = first([&](const LoggedGroove& k) {
    return k.id == g.id && k.songTitle == g.songTitle && !elsewhere(k) &&
           (k.mark == g.mark || !k.songFile.empty());
  });
  if (byTitle != 0) return byTitle;
  return first([&](const LoggedGroove& k) { return k.mark == g.mark && !elsewhere(k); });
}

Result<std::int64_t> PracticeLog::groove(const LoggedGroove& g, const IsThere& isThere) {
  Result<std::int64_t> known = find(g, isThere);
  if (!known) return known;
  if (*known == 0) {
    Query add(database_,
              "INSERT INTO grooves (song_file, song_title, groove, name, mark) VALUES (?, ?, ?, ?, "
              "?) RETURNING key");
    add.put(g.songFile).put(g.songTitle).put(g.id).put(g.name).put(g.mark);
    const std::int64_t key = add.next() ? add.whole(0) : 0;
    if (const Status added = add.done(); !added) return added.error();
    return key;
  }
  Query update(database_,
               "UPDATE grooves SET song_file = CASE ?1 WHEN '' THEN song_file ELSE ?1 END, "
               "song_title = ?2, groove = ?3, name = ?4, mark = ?5 WHERE key = ?6");
  update.put(g.songFile).put(g.songTitle).put(g.id).put(g.name).put(g.mark);
  if (const Status updated = update.put(*known).done(); !updated) return updated.error();
  return known;
}

Result<std::int64_t> PracticeLog::begin(std::int64_t groove, const TimeThrough& through) {
  Query query(database_,
              fmt::format("INSERT INTO times (of, {}) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, "
                          "?, ?, ?, ?, ?, ?, ?, ?, ?, ?) RETURNING key",
                          kColumns));
  query.put(groove);
  bind(query, through);
  const std::int64_t key = query.next() ? query.whole(0) : 0;
  if (const Status done = query.done(); !done) return done.error();
  return key;
}

Status PracticeLog::stroke(std::int64_t time, const LoggedStroke& s) {
  if (strokeIn_ == nullptr || strokeIn_->error())
    strokeIn_ = std::make_unique<Query>(database_, "INSERT INTO strokes VALUES (?, ?, ?, ?, ?, ?)");
  strokeIn_->put(time).put(strokes_++).put(s.ms).put(s.piece);
  return strokeIn_->put(std::int64_t{s.velocity}).put(s.opening).done();
}

Status PracticeLog::end(std::int64_t time, const TimeThrough& through) {
  Query query(
      database_,
      fmt::format("UPDATE times SET ({}) = (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, "
                  "?, ?) WHERE key = ?",
                  kColumns));
  bind(query, through);
  if (Status done = query.put(time).done(); !done) return done;
  Query old(database_, "DELETE FROM strokes WHERE time <= ?");
  return old.put(time - kStrokesOfTimes).done();
}

Status PracticeLog::forget(std::int64_t time) {
  for (const char* sql :
       {"DELETE FROM strokes WHERE time = ?", "DELETE FROM times WHERE key = ?"}) {
    Query query(database_, sql);
    if (Status done = query.put(time).done(); !done) return done;
  }
  return Done{};
}

Status PracticeLog::feels(std::int64_t time, const std::string& felt) {
  Query query(database_, "UPDATE times SET felt = ? WHERE key = ?");
  return query.put(felt).put(time).done();
}

Result<std::vector<TimeThrough>> PracticeLog::times(std::int64_t groove, int most) const {
  Query query(database_,
              fmt::format("SELECT {} FROM times WHERE of = ? ORDER BY begun DESC, key DESC LIMIT ?",
                          kColumns));
  query.put(groove).put(std::int64_t{most});
  std::vector<TimeThrough> out;
  while (query.next()) out.push_back(throughOf(query, 0));
  if (query.error()) return *query.error();
  return out;
}

Result<std::vector<LoggedStroke>> PracticeLog::strokes(std::int64_t time) const {
  Query query(database_,
              "SELECT ms, piece, velocity, opening FROM strokes WHERE time = ? ORDER BY number");
  query.put(time);
  std::vector<LoggedStroke> out;
  while (query.next())
    out.push_back(
        {query.number(0), query.text(1), static_cast<int>(query.whole(2)), query.number(3)});
  if (query.error()) return *query.error();
  return out;
}

Result<std::vector<PractisedDay>> PracticeLog::days(std::int64_t groove) const {
  std::vector<PractisedDay> out;
  Query query(
      database_,
      "SELECT day, sum(result > 0), sum(result = 1), max(CASE WHEN result = 1 THEN bpm ELSE 0 "
      "END), max(result = 1 AND whole), sum(seconds) FROM times WHERE of = ? "
      "GROUP BY day ORDER BY day");
  query.put(groove);
  while (query.next()) {
    const auto date = readDate(query.text(0));
    if (!date) continue;
    PractisedDay day;
    day.date = *date;
    day.times = static_cast<int>(query.whole(1));
    day.clean = static_cast<int>(query.whole(2));
    day.cleanBpm = query.number(3);
    day.whole = query.whole(4) != 0;
    day.minutes = query.number(5) / 60;
    out.push_back(std::move(day));
  }
  if (query.error()) return *query.error();
  Query named(database_, "SELECT groove FROM grooves WHERE key = ?");
  named.put(groove);
  const std::string id = named.next() ? named.text(0) : std::string();
  Query felt(database_,
             "SELECT day, felt FROM times WHERE of = ? AND felt <> '' ORDER BY day, key");
  felt.put(groove);
  std::size_t at = 0;
  while (felt.next()) {
    const auto date = readDate(felt.text(0));
    while (date && at < out.size() && out[at].date < std::chrono::sys_days(*date)) ++at;
    if (date && at < out.size() && out[at].date == std::chrono::sys_days(*date))
      out[at].felt = felt.text(1);
  }
  if (felt.error()) return *felt.error();
  for (PractisedDay& day : out) day.groove = id;
  return out;
}

Result<std::vector<PracticeLog::DayMinutes>> PracticeLog::minutes() const {
  Query query(database_, "SELECT day, sum(seconds) FROM times GROUP BY day ORDER BY day");
  std::vector<DayMinutes> out;
  while (query.next()) out.push_back({query.text(0), query.number(1) / 60});
  if (query.error()) return *query.error();
  return out;
}

Result<std::vector<LoggedTime>> PracticeLog::all() const {
  std::string columns = kColumns;
  Query query(database_,
              fmt::format("SELECT song_file, song_title, groove, name, mark, {} FROM times JOIN "
                          "grooves ON grooves.key = times.of ORDER BY begun, times.key",
                          columns));
  std::vector<LoggedTime> out;
  while (query.next()) {
    out.push_back({{query.text(0), query.text(1), query.text(2), query.text(3), query.text(4)},
                   throughOf(query, 5)});
  }
  if (query.error()) return *query.error();
  return out;
}

Result<int> PracticeLog::take(const std::vector<LoggedTime>& times) {
  Transaction all(database_);
  if (!all.status()) return all.status().error();
  int came = 0;
  LoggedGroove last;
  std::int64_t key = 0;
  for (const LoggedTime& time : times) {
    Query known(database_, "SELECT 1 FROM times WHERE uid = ?");
    known.put(time.through.uid);
    const bool there = known.next();
    if (known.error()) return *known.error();
    if (there) continue;
    if (key == 0 || !(time.groove == last)) {
      const Result<std::int64_t> of = groove(time.groove);
      if (!of) return of.error();
      key = *of;
      last = time.groove;
    }
    if (const Result<std::int64_t> in = begin(key, time.through); !in) return in.error();
    ++came;
  }
  if (const Status done = all.commit(); !done) return done.error();
  return came;
}

LoggedGroove loggedGroove(const Song& song, const std::string& songFile, const Groove& groove) {
  return {songFile, song.title, groove.id, groove.name, grooveMark(groove, *song.kit)};
}

Result<std::vector<PractisedDay>> historyOf(const PracticeLog& log, const Song& song,
                                            const std::string& songFile,
                                            const PracticeLog::IsThere& isThere) {
  std::vector<PractisedDay> out;
  for (const auto& groove : song.grooves) {
    const Result<std::int64_t> key = log.find(loggedGroove(song, songFile, *groove), isThere);
    if (!key) return key.error();
    if (*key == 0) continue;
    Result<std::vector<PractisedDay>> days = log.days(*key);
    if (!days) return days;
    for (PractisedDay& day : *days) {
      day.groove = groove->id;
      out.push_back(std::move(day));
    }
  }
  std::stable_sort(out.begin(), out.end(),
                   [](const PractisedDay& a, const PractisedDay& b) { return a.date < b.date; });
  return out;
}

}  // namespace uneven
