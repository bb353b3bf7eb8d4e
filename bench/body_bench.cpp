// SPDX-License-Identifier: GPL-3.0-or-later
// Hands of a million strokes, and all findings of a long song.
#include <benchmark/benchmark.h>

#include "bench/per_item.h"
#include "bench/songs.h"
#include "bench/stopped.h"
#include "core/body/song_hands.h"
#include "core/check/check.h"
#include "core/playing/ways.h"

namespace uneven {
namespace {

// Hands of a whole song, as Check and perform ask for them: each groove once.
void songHandsOf(benchmark::State& state) {
  const Result<SharedTake> take = Take::ofSong(bench::songOfDistinctHits(state.range(0)));
  const BodyPart part = bodyPart(**take);
  const Body body(houseKit(), {});
  for (auto _ : state) benchmark::DoNotOptimize(songHands(body, **take, part).size());
  bench::perItem(state, static_cast<std::int64_t>(part.hands.size()));
}
BENCHMARK(songHandsOf)->Arg(10'000)->Arg(1'000'000)->Unit(benchmark::kMillisecond);

// Sixteenths of hats and snare at 100 BPM, some of them together.
std::vector<BodyStroke> handStrokes(std::int64_t count) {
  std::vector<BodyStroke> out;
  std::uint32_t place = 0;
  for (std::int64_t i = 0; i < count; ++place) {
    const auto put = [&](PieceId piece, int velocity, Role role) {
      BodyStroke s;
      s.grid = Milliseconds(150.0 * place);
      s.written = s.inBar = 0.25 * place;
      s.place = place;
      s.hit = static_cast<std::uint32_t>(i);
      s.across = !out.empty() && out.back().place == place;
      s.piece = piece;
      s.usual = houseKit().usualLimb(piece);
      s.velocity = Velocity(velocity);
      s.role = role;
      s.ostinato = piece == piece::kHat;
      out.push_back(s);
      ++i;
    };
    put(place % 7 == 3 ? piece::kTomHigh : piece::kHat, 80, Role::kNormal);
    if (place % 8 == 4) put(piece::kSnare, 110, Role::kAccent);
    if (place % 5 == 1) put(piece::kSnare, 30, Role::kGhost);
  }
  return out;
}

void solveHands(benchmark::State& state) {
  const Body body(houseKit(), {});
  const auto hands = handStrokes(state.range(0));
  for (auto _ : state) benchmark::DoNotOptimize(solve(body, hands).cost);
  bench::perItem(state, static_cast<std::int64_t>(hands.size()));
}
BENCHMARK(solveHands)->Arg(10'000)->Arg(1'000'000)->Unit(benchmark::kMillisecond);

// What `ustick sticking` does with a groove of so many bars.
void stickingCommand(benchmark::State& state) {
  Song song = blankSong();
  song.grooves = {bench::richGroove("long", static_cast<int>(state.range(0)))};
  song.arrangement[0].groove = "long";
  std::size_t strokes = 0;
  for (auto _ : state) {
    const Result<HandReport> report = handReport(song, "long", {});
    if (!report) return state.SkipWithError(report.error().message.c_str());
    strokes = report->part.hands.size();
    benchmark::DoNotOptimize(otherWays(*report, {}, 5).size());
  }
  bench::perItem(state, strokes);
}
BENCHMARK(stickingCommand)->Arg(8)->Arg(64)->Unit(benchmark::kMillisecond);

void checkLongSong(benchmark::State& state) {
  const Result<SharedTake> take = Take::ofSong(bench::songOf500Bars());
  (*take)->prepare();
  for (auto _ : state) {
    benchmark::DoNotOptimize(check(**take, {}, builtInKitMaps().front()).findings.size());
  }
}
BENCHMARK(checkLongSong)->Unit(benchmark::kMillisecond);

void stoppedCheck(benchmark::State& state) {
  const Song song = bench::songOfDistinctHits(state.range(0));
  const KitMap& map = builtInKitMaps().front();
  bench::stopped(state, std::chrono::milliseconds(700), [&](const std::stop_token& stop) {
    if (const Result<SharedTake> take = Take::ofSong(song, stop))
      (void)check(**take, {}, map, stop);
  });
}
BENCHMARK(stoppedCheck)
    ->Arg(200'000)
    ->Iterations(60)
    ->UseManualTime()
    ->Unit(benchmark::kMillisecond);

}  // namespace
}  // namespace uneven
