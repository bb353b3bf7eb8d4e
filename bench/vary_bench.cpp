// SPDX-License-Identifier: GPL-3.0-or-later
// Walks over a groove of four bars: the first variants, ten thousand measured, their ceilings.
#include <benchmark/benchmark.h>

#include <future>

#include "core/vary/measures.h"
#include "core/vary/walks.h"

namespace uneven {
namespace {

Song fourBars() {
  Song song = blankSong();
  Groove groove = *song.grooves.front();
  groove.bars = 4;
  for (int i = 0; i < 64; ++i) {
    const auto put = [&](PieceId piece, int velocity, Role role) {
      Hit hit;
      hit.at = Beat(i, 4);
      hit.piece = piece;
      hit.velocity = Velocity(velocity);
      hit.role = role;
      groove.hits.push_back(hit);
    };
    put(piece::kHat, i % 4 == 0 ? 84 : 62, Role::kNormal);
    if (i % 8 == 4) put(piece::kSnare, 112, Role::kAccent);
    if (i % 16 == 7 || i % 16 == 9) put(piece::kSnare, 30, Role::kGhost);
    if (i % 16 == 0 || i % 16 == 10) put(piece::kKick, 100, Role::kNormal);
  }
  std::sort(groove.hits.begin(), groove.hits.end(), writtenBefore);
  song.grooves = {SharedValue<Groove>(groove)};
  song.arrangement.front().groove = groove.id;
  return song;
}

// The slowest of all walks.
void firstFifty(benchmark::State& state) {
  const Song song = fourBars();
  double worst = 0;
  for (auto _ : state) {
    for (const WalkKind& kind : walks()) {
      const auto begun = std::chrono::steady_clock::now();
      const Result<Walk> walk = makeWalk(kind.name, song, song.grooves.front()->id, {}, Profile{});
      for (std::uint64_t i = 0; walk && i < std::min<std::uint64_t>(50, walk->count); ++i)
        benchmark::DoNotOptimize(walk->at(i).groove.hits.size());
      const std::chrono::duration<double, std::milli> took =
          std::chrono::steady_clock::now() - begun;
      worst = std::max(worst, took.count());
    }
  }
  state.counters["worst_ms"] = worst;
}
BENCHMARK(firstFifty)->Iterations(5)->Unit(benchmark::kMillisecond);

Walk tenThousand(const Song& song) {
  return *makeWalk("placement", song, song.grooves.front()->id,
                   {{"piece", "kick"}, {"strokes", "3"}, {"first", "10000"}}, Profile{});
}

void measureVariants(benchmark::State& state) {
  const Song song = fourBars();
  const Walk walk = tenThousand(song);
  for (auto _ : state) {
    const Measurer measurer(*walk.core, walk.voice);
    for (std::uint64_t i = 0; i < walk.count; ++i)
      benchmark::DoNotOptimize(measurer.of(walk.at(i).groove).distance);
  }
}
BENCHMARK(measureVariants)->Iterations(2)->Unit(benchmark::kMillisecond);

// On two threads; a tenth of them, told as all.
void ceilingsOfVariants(benchmark::State& state) {
  const Song song = fourBars();
  const Walk walk = tenThousand(song);
  double seconds = 0;
  for (auto _ : state) {
    const auto begun = std::chrono::steady_clock::now();
    const auto half = [&](std::uint64_t from) {
      for (std::uint64_t i = from; i < walk.count / 10; i += 2)
        benchmark::DoNotOptimize(ceilingOf(song, walk.at(i).groove, Profile{})->playable);
    };
    std::future<void> other = std::async(std::launch::async, half, 1);
    half(0);
    other.get();
    seconds += std::chrono::duration<double>(std::chrono::steady_clock::now() - begun).count();
  }
  state.counters["seconds"] = 10 * seconds / static_cast<double>(state.iterations());
}
BENCHMARK(ceilingsOfVariants)->Iterations(2)->Unit(benchmark::kMillisecond);

}  // namespace
}  // namespace uneven
