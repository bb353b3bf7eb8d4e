// SPDX-License-Identifier: GPL-3.0-or-later
// A feel fitted to a long take; a recording heard through and stretched.
#include <benchmark/benchmark.h>

#include <cmath>
#include <random>

#include "bench/stopped.h"
#include "core/match/fit.h"
#include "core/match/strokes.h"
#include "sound/play/guide.h"

namespace uneven {
namespace {

// Hats in sixteenths, kicks, backbeats and ghosts at 92 BPM, four milliseconds uneven.
std::vector<Onset> onsetsOf(std::size_t count) {
  std::mt19937 random(1);
  std::normal_distribution<double> uneven(0, 0.004);
  std::vector<Onset> out;
  const double sixteenth = 15 / 92.0;
  for (int n = 1; out.size() < count; ++n) {
    const auto put = [&](PieceId piece, double velocity) {
      Onset o;
      o.seconds = n * sixteenth + uneven(random);
      o.piece = piece;
      o.velocity = velocity;
      out.push_back(o);
    };
    put(piece::kHat, n % 4 == 0 ? 80 : 60);
    if (n % 16 == 0 || n % 16 == 7 || n % 16 == 10) put(piece::kKick, 100);
    if (n % 8 == 4) put(piece::kSnare, 110);
    if (n % 16 == 3 || n % 16 == 9) put(piece::kSnare, 30);
  }
  std::sort(out.begin(), out.end(),
            [](const Onset& a, const Onset& b) { return a.seconds < b.seconds; });
  return out;
}

void fitStrokes(benchmark::State& state) {
  const std::vector<Onset> onsets = onsetsOf(static_cast<std::size_t>(state.range(0)));
  for (auto _ : state) benchmark::DoNotOptimize(fit(onsets, {})->bpm);
}
BENCHMARK(fitStrokes)->Arg(500)->Arg(100'000)->Unit(benchmark::kMillisecond);

// Another stroke is left out each time.
void refitStrokes(benchmark::State& state) {
  std::vector<Onset> onsets = onsetsOf(static_cast<std::size_t>(state.range(0)));
  KeptFit kept;
  benchmark::DoNotOptimize(fit(onsets, {}, &kept));
  std::size_t next = 0;
  for (auto _ : state) {
    onsets[next].used = !onsets[next].used;
    next = (next + 97) % onsets.size();
    benchmark::DoNotOptimize(fit(onsets, {}, &kept)->bpm);
  }
}
BENCHMARK(refitStrokes)->Arg(500)->Arg(100'000)->Unit(benchmark::kMillisecond);

void stoppedFit(benchmark::State& state) {
  const std::vector<Onset> onsets = onsetsOf(static_cast<std::size_t>(state.range(0)));
  bench::stopped(state, std::chrono::milliseconds(600),
                 [&](const std::stop_token& stop) { (void)fit(onsets, {}, nullptr, stop); });
}
BENCHMARK(stoppedFit)->Arg(100'000)->Iterations(60)->UseManualTime()->Unit(benchmark::kMillisecond);

std::vector<float> knocks(double seconds) {
  std::vector<float> out(static_cast<std::size_t>(seconds * kSoundRate), 0);
  for (std::size_t i = 0; i < out.size(); ++i) {
    const auto at = static_cast<float>(i % 7'800);
    out[i] = 0.6F * std::exp(-at / 400) * std::sin(at * 0.08F) + 0.02F * std::sin(0.007F * at);
  }
  return out;
}

// As a share of the time it lasts.
void hearThrough(benchmark::State& state) {
  const std::vector<float> sound = knocks(60);
  double seconds = 0;
  for (auto _ : state) {
    const auto begun = std::chrono::steady_clock::now();
    StrokeFinder finder(kSoundRate);
    finder.push(sound);
    benchmark::DoNotOptimize(finder.finish().size());
    seconds += std::chrono::duration<double>(std::chrono::steady_clock::now() - begun).count();
  }
  state.counters["share"] = seconds / 60 / static_cast<double>(state.iterations());
}
BENCHMARK(hearThrough)->Iterations(3)->Unit(benchmark::kMillisecond);

void stretchGuide(benchmark::State& state) {
  auto sound = std::make_shared<GuideSound>();
  for (const float s : knocks(60)) {
    sound->samples.push_back(static_cast<std::int16_t>(s * 30'000));
    sound->samples.push_back(static_cast<std::int16_t>(s * 20'000));
  }
  GuideVoice voice(sound);
  float left[kBlock] = {}, right[kBlock] = {};
  constexpr double kRate = 0.75;
  double seconds = 0;
  for (auto _ : state) {
    const auto begun = std::chrono::steady_clock::now();
    for (int i = 0; i < 60 * kSoundRate / kBlock; ++i)
      voice.add(toMoment(Milliseconds(kRate * 1'000.0 * i * kBlock / kSoundRate)), kRate, 1, left,
                right);
    seconds += std::chrono::duration<double>(std::chrono::steady_clock::now() - begun).count();
  }
  state.counters["share"] = seconds / 60 / static_cast<double>(state.iterations());
}
BENCHMARK(stretchGuide)->Iterations(2)->Unit(benchmark::kMillisecond);

}  // namespace
}  // namespace uneven
