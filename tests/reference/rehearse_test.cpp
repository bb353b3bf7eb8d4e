// SPDX-License-Identifier: GPL-3.0-or-later
// `ustick score` against takes that python3-mido has written with known faults, and the calendar of
// `ustick plan` read by python3-icalendar: general-purpose libraries from Debian.
#include <gtest/gtest.h>

#include <nlohmann/json.hpp>
#include <sstream>

#include "tests/support/process.h"
#include "tests/support/random_song.h"

namespace uneven {
namespace {

using testing::ProcessResult;
using testing::runProcess;
using testing::TemporaryFolder;

const std::string kDemoToLearn = std::string(SOURCE_DIR) + "/data/demo/lock-gate-nine.ustick";

ProcessResult ustickIn(std::vector<std::string> words) {
  words.insert(words.begin(), USTICK_PROGRAM);
  return runProcess(words);
}

// The song rendered, then damaged by the script: argv is the file, a folder for takes and how many
// of them. A line a take: how many notes it left out, how many it put in, by how many ms all is
// late.
constexpr const char* kDamage = R"(
import mido, random, sys
source, folder, takes = sys.argv[1], sys.argv[2], int(sys.argv[3])
song = mido.MidiFile(source)
tempo = 500000
for track in song.tracks:
    for m in track:
        if m.type == 'set_tempo':
            tempo = m.tempo
            break
notes, now = [], 0.0
for m in song:
    now += m.time
    if m.type == 'note_on' and m.velocity > 0:
        notes.append((now, m.note, m.velocity))
for seed in range(1, takes + 1):
  dice = random.Random(seed)
  bias = (seed % 5) * 6 - 12
  # Only strokes with no neighbour of their key near, so that what is left out is not ambiguous.
  left = dice.sample(range(4, len(notes) - 4), 3)
  out = [(t + bias / 1000, n, v) for i, (t, n, v) in enumerate(notes) if i not in left]
  added = 0
  for t, n, v in list(out):
      if added < 2 and dice.random() < 0.1 and all(abs(t + 0.09 - notes[i][0]) > 0.06 for i in left):
          out.append((t + 0.09, 56, 70))
          added += 1
  out.sort()
  file = mido.MidiFile(ticks_per_beat=960)
  track = mido.MidiTrack()
  file.tracks.append(track)
  track.append(mido.MetaMessage('set_tempo', tempo=tempo))
  events = []
  for t, n, v in out:
      tick = round(mido.second2tick(max(0, t), 960, tempo))
      events += [(tick, 1, n, v), (tick + 40, 0, n, 0)]
  events.sort()
  before = 0
  for tick, on, n, v in events:
      track.append(mido.Message('note_on', channel=9, note=n, velocity=v, time=tick - before))
      before = tick
  file.save(f'{folder}/{seed}.mid')
  print(len(left), added, bias)
)";

TEST(Score, FindsWhatAnotherProgramHasDamaged) {
  const TemporaryFolder folder;
  // One groove, straight to the point: no drift, one tempo.
  const std::string song = folder.file("song.ustick"), clean = folder.file("clean.mid");
  ASSERT_EQ(ustickIn({"edit", kDemoToLearn, "form", "text=Towpath at dawn 8", "-o", song}).exitCode,
            0);
  ASSERT_EQ(ustickIn({"render", song, "-o", clean}).exitCode, 0);
  const int takes = testing::rounds(100);
  const ProcessResult damage = runProcess(
      {"/usr/bin/python3", "-c", kDamage, clean, folder.file("."), std::to_string(takes)});
  ASSERT_EQ(damage.exitCode, 0) << damage.err;
  std::istringstream lines(damage.out);
  for (int seed = 1; seed <= takes; ++seed) {
    const std::string take = folder.file(std::to_string(seed) + ".mid");
    int left = 0, added = 0;
    double bias = 0;
    ASSERT_TRUE(lines >> left >> added >> bias);
    const ProcessResult scored =
        ustickIn({"score", song, "--groove", "towpath", take, "--format", "json"});
    ASSERT_EQ(scored.exitCode, 0) << scored.err;
    const auto json = nlohmann::json::parse(scored.out);
    EXPECT_EQ(json["missing"].get<int>() + json["wrong_piece"].get<int>(), left) << seed;
    EXPECT_EQ(json["extra"].get<int>() + json["wrong_piece"].get<int>(), added) << seed;
    EXPECT_NEAR(json["mean_ms"].get<double>(), bias, 1) << seed;
    EXPECT_FALSE(json["clean"].get<bool>());
  }
  const ProcessResult whole = ustickIn({"score", song, "--groove", "towpath", clean});
  EXPECT_NE(whole.out.find("\nclean\n"), std::string::npos) << whole.out;
  EXPECT_EQ(ustickIn({"score", song, "--groove", "nobody", clean}).exitCode, 2);
  EXPECT_EQ(ustickIn({"score", song, "--groove", "towpath", song}).exitCode, 2);
}

TEST(Plan, TheCalendarIsReadByAnother) {
  const TemporaryFolder folder;
  const std::string file = folder.file("plan.ics");
  const ProcessResult calendar = ustickIn({"plan", kDemoToLearn, "--minutes", "20", "--days", "30",
                                           "--from", "2026-12-20", "--format", "ics"});
  ASSERT_EQ(calendar.exitCode, 0) << calendar.err;
  testing::writeText(file, calendar.out);
  const ProcessResult read = runProcess({"/usr/bin/python3", "-c", R"(
import icalendar, sys
calendar = icalendar.Calendar.from_ical(open(sys.argv[1], 'rb').read())
events = [c for c in calendar.walk() if c.name == 'VEVENT']
print(len(events), events[0]['dtstart'].dt, events[-1]['dtstart'].dt,
      len({str(e['uid']) for e in events}), all('BPM' in str(e['description']) for e in events))
)",
                                         file});
  EXPECT_EQ(read.out, "26 2026-12-20 2027-01-18 26 True\n") << read.err;
  const ProcessResult json = ustickIn({"plan", kDemoToLearn, "--groove", "towpath", "--goal", "98",
                                       "--from", "2026-12-20", "--format", "json"});
  const auto days = nlohmann::json::parse(json.out);
  ASSERT_EQ(days.size(), 30U);
  EXPECT_EQ(days[29]["items"][0]["bpm_to"].get<double>(), 98);
  EXPECT_EQ(ustickIn({"plan", kDemoToLearn, "--from", "soon"}).exitCode, 2);
  EXPECT_EQ(ustickIn({"plan", kDemoToLearn, "--days", "0"}).exitCode, 2);
}

}  // namespace
}  // namespace uneven
