// SPDX-License-Identifier: GPL-3.0-or-later
// The way from a song to a file, beside the plainest code that could do the last step.
#include <benchmark/benchmark.h>

#include <cstring>

#include "bench/per_item.h"
#include "bench/songs.h"
#include "core/midi/render.h"
#include "core/midi/smf.h"
#include "core/perform/drift.h"
#include "core/voice/pedal_knots.h"

namespace uneven {
namespace {

const KitMap& map() {
  return builtInKitMaps().front();
}

struct Prepared {
  Song song;
  SharedTake take;
  Rendering rendering;
  std::string bytes;
};

// Made once for each size: making it takes longer than what is measured.
const Prepared& prepared(std::int64_t hits) {
  static std::map<std::int64_t, Prepared> made;
  auto found = made.find(hits);
  if (found != made.end()) return found->second;
  Prepared p;
  p.song = bench::songOfHits(hits);
  p.take = *Take::ofSong(p.song);
  p.rendering = *render(*p.take, map(), {});
  p.bytes = *writeSmf(p.rendering.sequence);
  return made.emplace(hits, std::move(p)).first->second;
}

// The floor of writing: a minimal encoder over a sorted array, nothing checked.
void writeFloor(benchmark::State& state) {
  const Prepared& p = prepared(state.range(0));
  const std::vector<MidiEvent>& events = p.rendering.sequence.tracks[1].events;
  for (auto _ : state) {
    std::string out(events.size() * 7, '\0');
    char* at = out.data();
    std::int64_t now = 0;
    for (const MidiEvent& e : events) {
      auto delta = static_cast<std::uint32_t>(e.tick - now);
      now = e.tick;
      if (delta >= 0x4000) *at++ = static_cast<char>(0x80 | (delta >> 14));
      if (delta >= 0x80) *at++ = static_cast<char>(0x80 | ((delta >> 7) & 0x7F));
      *at++ = static_cast<char>(delta & 0x7F);
      *at++ = static_cast<char>(e.status);
      *at++ = static_cast<char>(e.data1);
      *at++ = static_cast<char>(e.data2);
    }
    out.resize(static_cast<std::size_t>(at - out.data()));
    benchmark::DoNotOptimize(out);
  }
  bench::perItem(state, events.size());
}
BENCHMARK(writeFloor)->Arg(1'000'000)->Unit(benchmark::kMillisecond);

void writeOurs(benchmark::State& state) {
  const Prepared& p = prepared(state.range(0));
  for (auto _ : state) {
    auto out = writeSmf(p.rendering.sequence);
    benchmark::DoNotOptimize(out);
  }
  bench::perItem(state, p.rendering.sequence.tracks[1].events.size());
}
BENCHMARK(writeOurs)->Arg(10'000)->Arg(1'000'000)->Unit(benchmark::kMillisecond);

// The floor of reading: our own bytes, trusted blindly.
void readFloor(benchmark::State& state) {
  const Prepared& p = prepared(state.range(0));
  const std::size_t count = p.rendering.sequence.tracks[1].events.size();
  // The drums' track is the last chunk; its name comes first.
  const std::size_t track = p.bytes.rfind("MTrk") + 8;
  for (auto _ : state) {
    std::vector<MidiEvent> events;
    events.reserve(count);
    const auto* at = reinterpret_cast<const unsigned char*>(p.bytes.data()) + track;
    std::int64_t now = 0;
    for (;;) {
      std::uint32_t delta = 0;
      do delta = (delta << 7) | (*at & 0x7F);
      while ((*at++ & 0x80) != 0);
      now += delta;
      if (*at == 0xFF) {
        if (at[1] == kMetaEnd) break;
        at += 3 + at[2];
        continue;
      }
      events.push_back({now, MidiEvent::kNoStroke, at[0], at[1], at[2]});
      at += 3;
    }
    benchmark::DoNotOptimize(events);
  }
  bench::perItem(state, count);
}
BENCHMARK(readFloor)->Arg(1'000'000)->Unit(benchmark::kMillisecond);

void readOurs(benchmark::State& state) {
  const Prepared& p = prepared(state.range(0));
  for (auto _ : state) {
    auto sequence = readSmf(p.bytes, "bench.mid");
    benchmark::DoNotOptimize(sequence);
  }
  bench::perItem(state, p.rendering.sequence.tracks[1].events.size());
}
BENCHMARK(readOurs)->Arg(1'000'000)->Unit(benchmark::kMillisecond);

void performOnly(benchmark::State& state) {
  const Prepared& p = prepared(state.range(0));
  for (auto _ : state) {
    auto performance = perform(p.take->score());
    benchmark::DoNotOptimize(performance);
  }
  bench::perItem(state, p.take->strokes().size());
}
BENCHMARK(performOnly)->Arg(10'000)->Arg(1'000'000)->Unit(benchmark::kMillisecond);

// Four grooves by turns, beside one repeated: what a turn costs a stroke.
void performInTurn(benchmark::State& state) {
  Song song = bench::songOfHits(state.range(0));
  Section& section = song.arrangement[0];
  section.grooves = {section.groove};
  for (const char* id : {"b", "c", "d"}) {
    Groove groove = *song.grooves[0];
    groove.id = id;
    song.grooves.emplace_back(std::move(groove));
    section.grooves.emplace_back(id);
  }
  section.repeat = (section.repeat + 3) / 4;
  const Score score = *arrange(song);
  for (auto _ : state) {
    auto performance = perform(score);
    benchmark::DoNotOptimize(performance);
  }
  bench::perItem(state, static_cast<std::size_t>(score.hits));
}
BENCHMARK(performInTurn)->Arg(1'000'000)->Unit(benchmark::kMillisecond);

// perform with a body in it, beside the same without: what drift costs a stroke.
void performWithDrift(benchmark::State& state) {
  Song song = bench::songOfHits(state.range(0));
  song.feels[0].drift = withPreset(Drift{}, driftPresets().back());
  const Score score = *arrange(song);
  for (auto _ : state) {
    auto performance = perform(score);
    benchmark::DoNotOptimize(performance);
  }
  bench::perItem(state, static_cast<std::size_t>(score.hits));
}
BENCHMARK(performWithDrift)->Arg(1'000'000)->Unit(benchmark::kMillisecond);

void renderOnly(benchmark::State& state) {
  const Prepared& p = prepared(state.range(0));
  for (auto _ : state) {
    auto rendering = render(*p.take, map(), {});
    benchmark::DoNotOptimize(rendering);
  }
  bench::perItem(state, p.take->strokes().size());
}
BENCHMARK(renderOnly)->Arg(10'000)->Arg(1'000'000)->Unit(benchmark::kMillisecond);

// perform + voice + order + write.
void songToBytes(benchmark::State& state) {
  const Prepared& p = prepared(state.range(0));
  for (auto _ : state) {
    const Result<Rendering> rendering = render(p.song, map(), {});
    auto out = writeSmf(rendering->sequence);
    benchmark::DoNotOptimize(out);
  }
  bench::perItem(state, p.take->strokes().size());
}
BENCHMARK(songToBytes)->Arg(10'000)->Arg(100'000)->Arg(1'000'000)->Unit(benchmark::kMillisecond);

// The same of a song that has everything: openings, flams, nudges, slots, a pump.
void richToBytes(benchmark::State& state) {
  const Song song = bench::songOfHits(state.range(0), true);
  const std::int64_t hits = arrange(song)->hits;
  for (auto _ : state) {
    const Result<Rendering> rendering = render(song, map(), {});
    auto out = writeSmf(rendering->sequence);
    benchmark::DoNotOptimize(out);
  }
  bench::perItem(state, static_cast<std::size_t>(hits));
}
// Several rounds of each: the first of a large one pays for its memory.
BENCHMARK(richToBytes)->Arg(10'000)->Arg(1'000'000)->MinTime(1.5)->Unit(benchmark::kMillisecond);

// Sixteenths on the hats for so many bars, every fourth opened, under a pumping heel.
Score hatSong(std::int64_t bars) {
  Song song = blankSong();
  song.grooves[0].edit([](Groove& g) {
    g.bars = 1;
    for (int i = 0; i < 16; ++i) {
      Hit hit;
      hit.at = Beat(i, 4);
      hit.piece = piece::kHat;
      hit.open = i % 4 == 2 ? 0.6 : 0;
      hit.openFor = i % 4 == 2 ? Beat(1, 4) : Beat(0);
      g.hits.push_back(hit);
    }
    g.pedal.emplace();
    g.pedal->pump = Pump{{4, 0}, PumpPhase::kOn, "", 0.2, {}};
  });
  song.arrangement[0].repeat = static_cast<int>(bars);
  return *arrange(song);
}

// The whole of perform with path and openings, and the thinning of the controller.
void hatsToController(benchmark::State& state) {
  const Score score = hatSong(state.range(0));
  for (auto _ : state) {
    const Performance performance = perform(score);
    auto knots = pedalKnots(performance.pedal, 127, Moment(0));
    benchmark::DoNotOptimize(knots);
  }
  bench::perItem(state, static_cast<std::size_t>(16 * state.range(0)));
}
BENCHMARK(hatsToController)->Arg(500)->Arg(20'000)->Unit(benchmark::kMillisecond);

}  // namespace
}  // namespace uneven
