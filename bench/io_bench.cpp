// SPDX-License-Identifier: GPL-3.0-or-later
// Songs and rows as text, beside the plainest code that could do it.
#include <benchmark/benchmark.h>
#include <simdjson.h>

#include <charconv>
#include <cstring>

#include "bench/per_item.h"
#include "bench/songs.h"
#include "core/io/performance_text.h"
#include "core/io/song_json.h"
#include "core/perform/performance.h"
#include "core/song/names.h"

namespace uneven {
namespace {

constexpr std::int64_t kHits = 100'000;

const Song& song() {
  static const Song made = bench::songOfDistinctHits(kHits);
  return made;
}
const std::string& text() {
  static const std::string made = writeSong(song());
  return made;
}
std::size_t hitsOf(const Song& s) {
  std::size_t out = 0;
  for (const auto& groove : s.grooves) out += groove->hits.size();
  return out;
}

// What a hit holds, without a check.
struct FloorHit {
  std::int64_t num = 0, den = 1;
  double open = 0, nudge = 0;
  int velocity = 0;
  char piece[4] = {}, role = 0, ornament = 0;
};

std::int64_t numberAt(const char*& at, const char* end) {
  std::int64_t out = 0;
  at = std::from_chars(at, end, out).ptr;
  return out;
}

// The floor of reading: simdjson on demand, every hit into a struct.
void readSongFloor(benchmark::State& state) {
  const simdjson::padded_string padded(text());
  simdjson::ondemand::parser parser;
  std::size_t count = 0;
  for (auto _ : state) {
    std::vector<FloorHit> hits;
    simdjson::ondemand::document doc = parser.iterate(padded);
    for (auto groove : doc["grooves"].get_array()) {
      for (auto hit : groove["hits"].get_array()) {
        FloorHit& out = hits.emplace_back();
        for (auto field : hit.get_object()) {
          const std::string_view key = field.unescaped_key();
          if (key == "at") {
            const std::string_view beat = field.value().get_string();
            const char* at = beat.data();
            const char* end = at + beat.size();
            out.num = numberAt(at, end);
            if (at != end) out.den = numberAt(++at, end);
          } else if (key == "piece") {
            const std::string_view piece = field.value().get_string();
            std::memcpy(out.piece, piece.data(), std::min<std::size_t>(4, piece.size()));
          } else if (key == "velocity") {
            out.velocity = static_cast<int>(std::int64_t(field.value().get_int64()));
          } else if (key == "open") {
            out.open = field.value().get_double();
          } else if (key == "nudge") {
            out.nudge = field.value().get_double();
          } else {
            const std::string_view word = field.value().get_string();
            (key == "role" ? out.role : out.ornament) = word.empty() ? ' ' : word.front();
          }
        }
      }
    }
    count = hits.size();
    benchmark::DoNotOptimize(hits);
  }
  bench::perItem(state, count);
}
BENCHMARK(readSongFloor)->Unit(benchmark::kMillisecond);

void readSongOurs(benchmark::State& state) {
  for (auto _ : state) {
    auto read = readSong(text(), "bench");
    benchmark::DoNotOptimize(read);
  }
  bench::perItem(state, hitsOf(song()));
}
BENCHMARK(readSongOurs)->Unit(benchmark::kMillisecond);

char* put(char* at, std::string_view text) {
  std::memcpy(at, text.data(), text.size());
  return at + text.size();
}
template <typename T>
char* putNumber(char* at, T number) {
  return std::to_chars(at, at + 32, number).ptr;
}
char* putBeat(char* at, Beat beat) {
  at = putNumber(at, beat.num());
  if (beat.den() == 1) return at;
  return putNumber(put(at, "/"), beat.den());
}

// The floor of writing: the same lines of hits, by to_chars into room enough.
void writeSongFloor(benchmark::State& state) {
  const Kit& kit = *song().kit;
  for (auto _ : state) {
    std::string out(hitsOf(song()) * 240, '\0');
    char* at = out.data();
    for (const auto& groove : song().grooves) {
      for (const Hit& hit : groove->hits) {
        at = putBeat(put(at, "        {\"at\": \""), hit.at);
        at = put(put(put(at, "\", \"piece\": \""), kit[hit.piece].id), "\", \"velocity\": ");
        at = putNumber(at, hit.velocity.value());
        if (hit.role != Role::kNormal) {
          at = put(put(put(at, ", \"role\": \""), textOf(hit.role)), "\"");
        }
        if (hit.ornament != Ornament::kNone) {
          at = put(put(put(at, ", \"ornament\": \""), textOf(hit.ornament)), "\"");
        }
        if (hit.open != 0) at = putNumber(put(at, ", \"open\": "), hit.open);
        if (hit.openFor != Beat(0)) {
          at = put(putBeat(put(at, ", \"open_for\": \""), hit.openFor), "\"");
        }
        if (hit.nudge.count() != 0) at = putNumber(put(at, ", \"nudge\": "), hit.nudge.count());
        at = put(at, "},\n");
      }
    }
    out.resize(static_cast<std::size_t>(at - out.data()));
    benchmark::DoNotOptimize(out);
  }
  bench::perItem(state, hitsOf(song()));
}
BENCHMARK(writeSongFloor)->Unit(benchmark::kMillisecond);

void writeSongOurs(benchmark::State& state) {
  for (auto _ : state) {
    auto out = writeSong(song());
    benchmark::DoNotOptimize(out);
  }
  bench::perItem(state, hitsOf(song()));
}
BENCHMARK(writeSongOurs)->Unit(benchmark::kMillisecond);

const Take& taken() {
  static const SharedTake made = *Take::ofSong(song());
  return *made;
}
const Performance& performed() {
  return taken().performance();
}

char* putMs(char* at, Moment moment) {
  std::int64_t ns = moment.count();
  if (ns < 0) *at++ = '-';
  ns = std::abs(ns);
  at = putNumber(at, ns / 1'000'000);
  *at++ = '.';
  std::int64_t rest = ns % 1'000'000;
  for (int digit = 5; digit >= 0; --digit, rest /= 10)
    at[digit] = static_cast<char>('0' + rest % 10);
  return at + 6;
}

// The floor of rows: the strokes alone, in the order they stand.
void rowsFloor(benchmark::State& state) {
  const Kit& kit = *song().kit;
  for (auto _ : state) {
    std::string out(performed().strokes.size() * 200, '\0');
    char* at = out.data();
    for (const Stroke& s : performed().strokes) {
      at = put(putBeat(put(putNumber(at, s.bar + 1), ","), s.at), ",");
      for (const std::string_view word :
           {std::string_view(kit[s.piece].id), textOf(s.stroke), textOf(s.role), textOf(s.limb)}) {
        at = put(put(at, word), ",");
      }
      at = put(putNumber(at, s.velocity.value()), ",");
      at = putNumber(at, s.opening.value());
      for (const Moment m : {s.grid, s.time, s.time - s.grid - s.drift, s.drift}) {
        at = putMs(put(at, ","), m);
      }
      *at++ = '\n';
    }
    out.resize(static_cast<std::size_t>(at - out.data()));
    benchmark::DoNotOptimize(out);
  }
  bench::perItem(state, performed().strokes.size());
}
BENCHMARK(rowsFloor)->Unit(benchmark::kMillisecond);

void rowsOurs(benchmark::State& state) {
  for (auto _ : state) {
    TextOut out;
    performanceCsv(out, taken());
    benchmark::DoNotOptimize(out.take());
  }
  bench::perItem(state, performed().strokes.size());
}
BENCHMARK(rowsOurs)->Unit(benchmark::kMillisecond);

}  // namespace
}  // namespace uneven
