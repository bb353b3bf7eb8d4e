// SPDX-License-Identifier: GPL-3.0-or-later
// Our files read by others: python3-mido and midicsv, general-purpose readers from Debian. They are
// references for valid files only.
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <sstream>

#include "core/io/song_json.h"
#include "core/midi/render.h"
#include "core/midi/smf.h"
#include "core/song/edit.h"
#include "tests/support/process.h"
#include "tests/support/random_song.h"

namespace uneven {
namespace {

using testing::runProcess;
using testing::TemporaryFolder;
using testing::writeText;

struct Note {
  std::int64_t tick;
  int note;
  int velocity;
  double ms;
};

std::vector<Note> ours(const Rendering& r, const Performance& p) {
  std::vector<Note> out;
  for (const MidiTrack& track : r.sequence.tracks) {
    for (const MidiEvent& e : track.events) {
      if (!e.isNoteOn()) continue;
      const bool struck = e.stroke != MidiEvent::kNoStroke;
      const double ms = struck ? toMilliseconds(p.strokes[e.stroke].time).count() : NAN;
      out.push_back({e.tick, e.data1, e.data2, ms});
    }
  }
  return out;
}

// Prints "tick note velocity ms" for each note; ms is mido's own sum over the tempo events.
constexpr const char* kMidoScript = R"(
import mido, sys
f = mido.MidiFile(sys.argv[1])
tick, ms, tempo = 0, 0.0, 500000
for m in mido.merge_tracks(f.tracks):
    tick += m.time
    ms += 1000 * mido.tick2second(m.time, f.ticks_per_beat, tempo)
    if m.type == 'set_tempo': tempo = m.tempo
    if m.type == 'note_on' and m.velocity > 0:
        assert m.channel == 9
        print(tick, m.note, m.velocity, repr(ms))
)";

std::vector<Note> byMido(const std::string& file) {
  const auto result = runProcess({"/usr/bin/python3", "-c", kMidoScript, file});
  EXPECT_EQ(result.exitCode, 0) << result.err;
  std::vector<Note> out;
  std::istringstream in(result.out);
  for (Note n{}; in >> n.tick >> n.note >> n.velocity >> n.ms;) out.push_back(n);
  return out;
}

// Lines "track, tick, Note_on_c, channel, note, velocity".
std::vector<Note> byMidicsv(const std::string& file) {
  const auto result = runProcess({"midicsv", file});
  EXPECT_EQ(result.exitCode, 0) << result.err;
  std::vector<Note> out;
  std::istringstream in(result.out);
  for (std::string line; std::getline(in, line);) {
    if (line.find("Note_on_c") == std::string::npos) continue;
    std::replace(line.begin(), line.end(), ',', ' ');
    std::istringstream words(line);
    std::string word;
    int track = 0, channel = 0;
    Note n{0, 0, 0, NAN};
    words >> track >> n.tick >> word >> channel >> n.note >> n.velocity;
    EXPECT_EQ(channel, 9);
    if (n.velocity > 0) out.push_back(n);
  }
  return out;
}

void expectSameEverywhere(const Song& song, const RenderOptions& options) {
  const TemporaryFolder folder;
  const std::string file = folder.file("song.mid");
  const auto rendering = render(song, builtInKitMaps().front(), options);
  ASSERT_TRUE(rendering);
  writeText(file, *writeSmf(rendering->sequence));
  const std::vector<Note> written = ours(*rendering, (*Take::ofSong(song))->performance());
  const std::vector<Note> mido = byMido(file);
  const std::vector<Note> csv = byMidicsv(file);
  ASSERT_EQ(mido.size(), written.size());
  ASSERT_EQ(csv.size(), written.size());
  double tickMost = 60'000.0 / kBpmMin / options.ppq;
  for (std::size_t i = 0; i < written.size(); ++i) {
    for (const Note& read : {mido[i], csv[i]}) {
      ASSERT_EQ(read.tick, written[i].tick);
      ASSERT_EQ(read.note, written[i].note);
      ASSERT_EQ(read.velocity, written[i].velocity);
    }
    if (!std::isnan(written[i].ms)) {
      ASSERT_NEAR(mido[i].ms, std::max(0.0, written[i].ms), 0.5 * tickMost + 1e-3);
    }
  }
}

TEST(OtherReaders, AgreeOnTheDemo) {
  const auto song = readSong(
      testing::readText(std::string(SOURCE_DIR) + "/data/demo/lock-gate-nine.ustick"), "demo");
  ASSERT_TRUE(song);
  expectSameEverywhere(*song, {});
  RenderOptions single;
  single.type = 0;
  single.ppq = 480;
  expectSameEverywhere(*song, single);
}

TEST(OtherReaders, AgreeOnRandomSongs) {
  testing::Random random(41);
  for (int i = 0; i < 25; ++i) {
    RenderOptions options;
    options.ppq = testing::pick(random, 96, 15'360);
    expectSameEverywhere(testing::randomSong(random), options);
  }
}

// Controller 4 read by mido, with straight lines between its events, gives the pedal's path back.
constexpr const char* kPedalScript = R"(
import mido, sys
f = mido.MidiFile(sys.argv[1])
tick, ms, tempo = 0, 0.0, 500000
for m in mido.merge_tracks(f.tracks):
    tick += m.time
    ms += 1000 * mido.tick2second(m.time, f.ticks_per_beat, tempo)
    if m.type == 'set_tempo': tempo = m.tempo
    if m.type == 'control_change' and m.control == 4: print(repr(ms), m.value)
)";

// Corners of the path within a millisecond of each other cannot all be sent.
bool crowded(const HatPedal& pedal, double fromMs, double toMs) {
  for (std::size_t k = 1; k < pedal.path.size(); ++k) {
    const double a = toMilliseconds(pedal.path[k - 1].time).count();
    const double b = toMilliseconds(pedal.path[k].time).count();
    if (b - a < 1.01 && b >= fromMs - 2 && a <= toMs + 2) return true;
  }
  return false;
}

TEST(OtherReaders, GiveThePedalsPathBack) {
  testing::Random random(43);
  int compared = 0;
  int left = 0;
  for (int round = 0; round < 12; ++round) {
    Song song = blankSong();
    song.tempo[0].bpm = Bpm{testing::pickReal(random, 60, 190)};
    song.grooves[0].edit([&](Groove& g) {
      g.pedal.emplace();
      g.pedal->travel = Milliseconds(testing::pickReal(random, 20, 90));
      if (round % 3 != 0) {
        const PumpPhase phase = round % 2 == 0 ? PumpPhase::kOff : PumpPhase::kOn;
        g.pedal->pump = Pump{{8, 0}, phase, "", testing::pickReal(random, 0.1, 0.8), {}};
      }
      for (int i = 0; i < 32; ++i) {
        Hit hit;
        hit.at = Beat(i, 4);
        hit.piece = piece::kHat;
        if (testing::pick(random, 0, 4) == 0) {
          hit.open = testing::pickReal(random, 0.05, 1);
          hit.openFor = Beat(testing::pick(random, 0, 3), 4);
        }
        g.hits.push_back(hit);
      }
    });
    const TemporaryFolder folder;
    RenderOptions options;
    options.ppq = 9600;  // so that rounding to ticks adds next to nothing
    const auto rendering = render(song, builtInKitMaps().front(), options);
    ASSERT_TRUE(rendering);
    writeText(folder.file("pedal.mid"), *writeSmf(rendering->sequence));
    const auto result =
        runProcess({"/usr/bin/python3", "-c", kPedalScript, folder.file("pedal.mid")});
    ASSERT_EQ(result.exitCode, 0) << result.err;
    std::vector<std::pair<double, double>> read;
    std::istringstream in(result.out);
    for (std::pair<double, double> p; in >> p.first >> p.second;) read.push_back(p);
    const HatPedal pedal = (*Take::ofSong(song))->performance().pedal;
    ASSERT_GT(read.size(), 4U);
    ASSERT_LE(read.size(), pedal.path.size() + 1);
    for (std::size_t i = 1; i < read.size(); ++i) {
      ASSERT_GE(read[i].first - read[i - 1].first, 0.99);
      if (crowded(pedal, read[i - 1].first, read[i].first)) {
        ++left;
        continue;
      }
      for (double along = 0; along <= 1; along += 0.125) {
        const double ms = std::lerp(read[i - 1].first, read[i].first, along);
        const double value = std::lerp(read[i - 1].second, read[i].second, along);
        ASSERT_NEAR(value, 127 * (1 - pedal.openingAt(toMoment(Milliseconds(ms)))), 2.0) << ms;
        ++compared;
      }
    }
  }
  EXPECT_GT(compared, 2000);
  EXPECT_LT(9 * left, compared / 8) << "little is left out";
}

}  // namespace
}  // namespace uneven
