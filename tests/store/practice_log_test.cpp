// SPDX-License-Identifier: GPL-3.0-or-later
// The practice log: kept as it happens, found again, out and in.
#include "store/practice_log.h"

#include <gtest/gtest.h>
#include <signal.h>
#include <sys/mman.h>
#include <sys/wait.h>
#include <unistd.h>

#include <atomic>
#include <map>
#include <random>

#include "core/io/song_json.h"
#include "core/rehearse/plan.h"
#include "tests/support/lanes.h"
#include "tests/support/process.h"
#include "tests/support/random_song.h"

namespace uneven {
namespace {

using Random = std::mt19937_64;

const LoggedGroove kVerse = {"/songs/lock.ustick", "Lock", "verse", "Verse", "00000000000000aa"};

int whole(Random& random, int least, int most) {
  return least + static_cast<int>(random() % static_cast<unsigned>(most - least + 1));
}

TimeThrough randomTime(Random& random) {
  TimeThrough t;
  t.uid = newUid();
  t.begun = 1'790'000'000'000 + whole(random, 0, 1'000'000'000);
  t.day = dateText(std::chrono::sys_days(*readDate("2026-11-01")) +
                   std::chrono::days(whole(random, 0, 27)));
  const char* steps[] = {"hands alone", "kick on 2 &", "say \"slow\", then\nfast", "größer"};
  t.step = steps[whole(random, 0, 3)];
  t.whole = whole(random, 0, 1) == 1;
  t.bpm = whole(random, 300, 2000) / 7.0;
  t.seconds = whole(random, 1, 9000) / 100.0;
  t.source = "simulated player";
  t.result = static_cast<Through>(whole(random, 0, 2));
  t.strokes = whole(random, 0, 100);
  t.missing = whole(random, 0, 5);
  t.meanMs = whole(random, -200, 200) / 9.0;
  t.sdMs = whole(random, 0, 300) / 11.0;
  if (whole(random, 0, 1) == 1) t.unisonMs = whole(random, 0, 300) / 13.0;
  if (whole(random, 0, 1) == 1) t.ghostsDb = -whole(random, 0, 300) / 13.0;
  if (whole(random, 0, 4) == 0) t.felt = "left hand, at 4;\r\n\"stiff\"";
  return t;
}

TimeThrough begun(const std::string& uid) {
  TimeThrough t;
  t.uid = uid;
  return t;
}

std::unique_ptr<PracticeLog> opened(const std::string& file) {
  Result<OpenedLog> log = PracticeLog::open(file);
  EXPECT_TRUE(log) << (log ? "" : log.error().line());
  return log ? std::move(log->log) : nullptr;
}

TEST(PracticeLog, KeepsTimesAndTheirStrokes) {
  const testing::TemporaryFolder folder;
  const auto log = opened(folder.file("deep/in/practice.sqlite"));
  Random random(1);
  const std::int64_t verse = *log->groove(kVerse);
  std::vector<TimeThrough> put;
  for (int i = 0; i < 300; ++i) {
    TimeThrough t = randomTime(random);
    t.begun = i;
    const std::int64_t key = *log->begin(verse, begun(t.uid));
    EXPECT_TRUE(log->stroke(key, {412.5, "snare", i % 127 + 1, 0.25}));
    EXPECT_TRUE(log->stroke(key, {i * 1.0, "kick", 100, 0}));
    EXPECT_TRUE(log->end(key, t));
    if (i == 299) {
      const auto strokes = *log->strokes(key);
      ASSERT_EQ(strokes.size(), 2U);
      EXPECT_EQ(strokes[0], (LoggedStroke{412.5, "snare", 299 % 127 + 1, 0.25}));
      EXPECT_TRUE(log->strokes(key - PracticeLog::kStrokesOfTimes)->empty());
      EXPECT_EQ(log->strokes(key - PracticeLog::kStrokesOfTimes + 1)->size(), 2U);
      EXPECT_TRUE(log->forget(key));
    } else {
      put.insert(put.begin(), t);
    }
  }
  EXPECT_EQ(*log->times(verse, 1000), put);
  EXPECT_EQ(log->times(verse, 7)->size(), 7U);
}

// What a day came to is what a loop over its times says.
TEST(PracticeLog, DaysAreTheSumsOfTheirTimes) {
  const testing::TemporaryFolder folder;
  const auto log = opened(folder.file("practice.sqlite"));
  Random random(2);
  const std::int64_t verse = *log->groove(kVerse);
  LoggedGroove other = kVerse;
  other.id = "chorus";
  other.mark = "00000000000000bb";
  const std::int64_t chorus = *log->groove(other);
  EXPECT_NE(verse, chorus);
  std::map<std::string, PractisedDay> days;
  std::map<std::string, double> minutes;
  for (int i = 0; i < 500; ++i) {
    const TimeThrough t = randomTime(random);
    const bool mine = whole(random, 0, 2) > 0;
    ASSERT_TRUE(log->begin(mine ? verse : chorus, t));
    minutes[t.day] += t.seconds / 60;
    if (!mine) continue;
    PractisedDay& day = days[t.day];
    day.times += t.result != Through::kBrokenOff;
    const bool clean = t.result == Through::kClean;
    day.clean += clean;
    if (clean) day.cleanBpm = std::max(day.cleanBpm, t.bpm);
    day.whole = day.whole || (clean && t.whole);
    day.minutes += t.seconds / 60;
    if (!t.felt.empty()) day.felt = t.felt;
  }
  const auto told = *log->days(verse);
  ASSERT_EQ(told.size(), days.size());
  auto expected = days.begin();
  for (const PractisedDay& day : told) {
    EXPECT_EQ(dateText(day.date), expected->first);
    EXPECT_EQ(day.groove, "verse");
    EXPECT_EQ(day.times, expected->second.times);
    EXPECT_EQ(day.clean, expected->second.clean);
    EXPECT_DOUBLE_EQ(day.cleanBpm, expected->second.cleanBpm);
    EXPECT_EQ(day.whole, expected->second.whole);
    EXPECT_NEAR(day.minutes, expected->second.minutes, 1e-9);
    ++expected;
  }
  const auto all = *log->minutes();
  ASSERT_EQ(all.size(), minutes.size());
  for (const auto& day : all) EXPECT_NEAR(day.minutes, minutes.at(day.day), 1e-9);
}

TEST(PracticeLog, AGrooveIsFoundAgainWhereItsSongMoved) {
  const testing::TemporaryFolder folder;
  const auto log = opened(folder.file("practice.sqlite"));
  const std::int64_t verse = *log->groove(kVerse);
  const auto find = [&](LoggedGroove g, bool oldIsThere) {
    return *log->groove(g, [&](const std::string&) { return oldIsThere; });
  };
  LoggedGroove moved = kVerse;
  moved.songFile = "/elsewhere/lock.ustick";
  EXPECT_EQ(find(moved, false), verse);
  // The song was renamed, the groove changed; the file is the same.
  moved.songTitle = "Lock Two";
  moved.mark = "00000000000000cc";
  EXPECT_EQ(find(moved, true), verse);
  // All but what it is was renamed.
  LoggedGroove all = moved;
  all.songFile = "/third.ustick";
  all.songTitle = "Third";
  all.id = "a";
  EXPECT_EQ(find(all, false), verse);
  // A copy whose original stays is another song's; so is another groove of that name.
  LoggedGroove copy = all;
  copy.songFile = "/copy.ustick";
  EXPECT_NE(find(copy, true), verse);
  LoggedGroove unsaved = {"", "Untitled", "groove-1", "Groove 1", "0000000000000001"};
  const std::int64_t first = find(unsaved, false);
  unsaved.mark = "0000000000000002";
  EXPECT_NE(find(unsaved, false), first);
}

TEST(PracticeLog, AGroovesMarkIsWhatIsStruckWhere) {
  const Song song = testing::songOfLanes({{"hat", "xxxx"}, {"kick", "X..."}}, Beat(1, 4), 96);
  Groove groove = *song.grooves[0];
  const std::string mark = grooveMark(groove, *song.kit);
  EXPECT_EQ(mark.size(), 16U);
  groove.name = "other";
  groove.hits[0].velocity = Velocity(3);
  EXPECT_EQ(grooveMark(groove, *song.kit), mark);
  groove.hits[0].at += Beat(1, 8);
  EXPECT_NE(grooveMark(groove, *song.kit), mark);
}

TEST(PracticeLog, OutAndInAgain) {
  const testing::TemporaryFolder folder;
  const auto log = opened(folder.file("a.sqlite"));
  Random random(4);
  for (int i = 0; i < 200; ++i) {
    LoggedGroove g = kVerse;
    g.id += std::to_string(i % 3);
    g.mark[0] = static_cast<char>('0' + i % 3);
    g.songTitle = "Lock, \"gate\"";
    ASSERT_TRUE(log->begin(*log->groove(g), randomTime(random)));
  }
  const auto all = *log->all();
  ASSERT_EQ(all.size(), 200U);
  for (const std::string& text : {practiceCsv(all), practiceJson(all)}) {
    const auto read = readPractice(text, "log");
    ASSERT_TRUE(read) << read.error().line();
    EXPECT_EQ(*read, all);
    const auto other = opened(folder.file(text[0] == '[' ? "b.sqlite" : "c.sqlite"));
    EXPECT_EQ(*other->take(*read), 200);
    EXPECT_EQ(*other->take(*read), 0);
    EXPECT_EQ(practiceCsv(*other->all()), practiceCsv(all));
    // Truncated anywhere it is an error or fewer; never a crash.
    for (std::size_t size = 0; size < text.size(); size += 997) {
      const auto less = readPractice(std::string_view(text).substr(0, size), "log");
      EXPECT_LE(less ? less->size() : 0, 200U);
    }
  }
  for (const char* bad : {"", "day\n", "[1]", "[{}]", "{\"uid\": 1}", "uid,day\n\"", "\xFF\xFE"}) {
    const auto read = readPractice(bad, "log.csv");
    ASSERT_FALSE(read) << bad;
    EXPECT_EQ(read.error().where.file, "log.csv");
  }
  std::string csv = practiceCsv(all);
  csv.replace(csv.find("2026-"), 4, "26-x");
  EXPECT_NE(readPractice(csv, "log.csv").error().line().find("log.csv:2"), std::string::npos);
}

TEST(PracticeLog, ADamagedOneIsSetAsideAndSaid) {
  const testing::TemporaryFolder folder;
  Random random(5);
  const std::string file = folder.file("practice.sqlite");
  testing::writeText(file, "this is no database, but it is long enough to be taken for one: " +
                               std::string(4096, '?'));
  EXPECT_FALSE(PracticeLog::read(file));
  Result<OpenedLog> first = PracticeLog::open(file);
  ASSERT_TRUE(first);
  EXPECT_NE(first->told.find("damaged-1"), std::string::npos);
  EXPECT_EQ(testing::readText(file + ".damaged-1").substr(0, 10), "this is no");
  const std::int64_t verse = *first->log->groove(kVerse);
  for (int i = 0; i < 400; ++i) ASSERT_TRUE(first->log->begin(verse, randomTime(random)));
  first->log.reset();
  EXPECT_TRUE(PracticeLog::open(file)->told.empty());
  // Bytes overwritten in the middle.
  std::string bytes = testing::readText(file);
  for (std::size_t at = 4096; at + 4096 < bytes.size(); at += 4096)
    bytes.replace(at, 700, std::string(700, '\x5a'));
  testing::writeText(file, bytes);
  Result<OpenedLog> second = PracticeLog::open(file);
  ASSERT_TRUE(second);
  EXPECT_NE(second->told.find("damaged-2"), std::string::npos) << second->told;
  EXPECT_TRUE(second->log->all()->empty());
  // Where nothing can be written it is said, and nothing crashes.
  EXPECT_FALSE(PracticeLog::open("/proc/practice.sqlite"));
  EXPECT_FALSE(PracticeLog::read(folder.file("none.sqlite")));
}

TEST(PracticeLog, AnOlderSchemaIsCopiedBeforeItChanges) {
  const testing::TemporaryFolder folder;
  Random random(6);
  const std::string file = folder.file("practice.sqlite");
  {
    const auto log = opened(file);
    ASSERT_TRUE(log->begin(*log->groove(kVerse), randomTime(random)));
  }
  std::vector<std::string> later = PracticeLog::schema();
  later.emplace_back("ALTER TABLE times ADD COLUMN place TEXT");
  Result<OpenedLog> newer = PracticeLog::open(file, later);
  ASSERT_TRUE(newer);
  EXPECT_NE(newer->told.find("version-1"), std::string::npos);
  EXPECT_EQ(newer->log->all()->size(), 1U);
  newer->log.reset();
  // The copy is whole and of the old schema; a program that knows only that leaves the new one.
  EXPECT_EQ((*PracticeLog::read(file + ".version-1"))->all()->size(), 1U);
  const Result<OpenedLog> old = PracticeLog::open(file);
  ASSERT_FALSE(old);
  EXPECT_EQ(old.error().code, ErrorCode::kVersion);
  EXPECT_TRUE(PracticeLog::open(file, later)->told.empty());
  // A step that fails changes nothing.
  std::vector<std::string> broken = later;
  broken.emplace_back("CREATE TABLE more (x); NONSENSE");
  EXPECT_FALSE(PracticeLog::open(file, broken));
  EXPECT_EQ(PracticeLog::open(file, later)->log->all()->size(), 1U);
}

// What the command line plans goes by the log.
TEST(PracticeLog, ThePlanBeginsWhereItWasClean) {
  const testing::TemporaryFolder folder;
  const std::string file = folder.file("practice.sqlite");
  const Song song = testing::songOfLanes(
      {{"hat", "x.x.x.x."}, {"snare", "..X...X."}, {"kick", "X...X..."}}, Beat(1, 2), 98);
  testing::writeText(folder.file("song.ustick"), writeSong(song));
  {
    const auto log = opened(file);
    TimeThrough t = begun(newUid());
    t.day = "2026-11-28";
    t.bpm = 83;
    t.result = Through::kClean;
    const std::int64_t key = *log->groove(loggedGroove(song, "/gone.ustick", *song.grooves[0]));
    ASSERT_TRUE(log->begin(key, t));
  }
  const auto plan = [&](const std::string& log) {
    return testing::runProcess({USTICK_PROGRAM, "plan", folder.file("song.ustick"), "--from",
                                "2026-12-01", "--format", "json", "--log", log});
  };
  const testing::ProcessResult made = plan(file);
  EXPECT_EQ(made.exitCode, 0) << made.err;
  EXPECT_NE(made.out.find("\"bpm_from\": 83"), std::string::npos) << made.out.substr(0, 400);
  EXPECT_EQ(plan(folder.file("none.sqlite")).exitCode, 2);
  EXPECT_EQ(plan(folder.file("song.ustick")).exitCode, 2);
}

// Killed while it writes, a thousand times: what had been written when it died is there, but for
// the stroke in flight.
TEST(PracticeLog, KilledAtAnyMomentItKeepsAllButTheLastStroke) {
  const testing::TemporaryFolder folder;
  std::string file;
  std::int64_t verse = 0;
  // The time through, times 100, and how many of its strokes are written: one number, so that both
  // are of one moment.
  using Told = std::atomic<std::int64_t>;
  auto* told = static_cast<Told*>(
      mmap(nullptr, sizeof(Told), PROT_READ | PROT_WRITE, MAP_SHARED | MAP_ANONYMOUS, -1, 0));
  ASSERT_NE(told, MAP_FAILED);
  Random random(7);
  int withStrokes = 0;
  for (int kill = 0; kill < testing::rounds(1000); ++kill) {
    if (kill % 20 == 0) {  // a short file opens faster
      file = folder.file(std::to_string(kill) + ".sqlite");
      verse = *opened(file)->groove(kVerse);
    }
    *told = 0;
    const pid_t child = fork();
    ASSERT_GE(child, 0);
    if (child == 0) {
      Result<OpenedLog> log = PracticeLog::open(file);
      if (!log) _exit(1);
      // A fork's dice fall as its parent's.
      for (int n = 0;; ++n) {
        const TimeThrough through = begun(std::to_string(kill) + "-" + std::to_string(n));
        const Result<std::int64_t> time = log->log->begin(verse, through);
        if (!time) _exit(2);
        *told = *time * 100;
        for (int i = 0; i < 50; ++i) {
          if (!log->log->stroke(*time, {1.0 * i, "snare", 90, 0})) _exit(3);
          *told = *time * 100 + i + 1;
        }
        if (!log->log->end(*time, through)) _exit(4);
      }
    }
    for (int wait = 0; wait < 10'000 && *told == 0; ++wait) usleep(50);
    usleep(static_cast<useconds_t>(whole(random, 0, 800)));
    ::kill(child, SIGKILL);
    int status = 0;
    waitpid(child, &status, 0);
    ASSERT_TRUE(WIFSIGNALED(status)) << WEXITSTATUS(status);
    ASSERT_NE(*told, 0);
    const auto written = static_cast<int>(*told % 100);
    const Result<OpenedLog> log = PracticeLog::open(file);
    ASSERT_TRUE(log);
    ASSERT_EQ(log->told, "");
    const auto kept = static_cast<int>(log->log->strokes(*told / 100)->size());
    EXPECT_GE(kept, written);
    EXPECT_LE(kept, written + 1);
    withStrokes += written > 0 ? 1 : 0;
  }
  EXPECT_GT(withStrokes, testing::rounds(1000) / 2);
  munmap(told, sizeof(Told));
}

}  // namespace
}  // namespace uneven
