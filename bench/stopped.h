// SPDX-License-Identifier: GPL-3.0-or-later
// How long work goes on once it has been told to stop.
#pragma once

#include <benchmark/benchmark.h>

#include <algorithm>
#include <atomic>
#include <chrono>
#include <random>
#include <stop_token>
#include <thread>

namespace uneven::bench {

// Tells it at random moments of the `lasts` that it takes by itself; the time is that from there to
// its end, `worst_ms` the longest.
template <typename Work>
void stopped(benchmark::State& state, std::chrono::duration<double> lasts, Work work) {
  using Clock = std::chrono::steady_clock;
  std::mt19937 random(11);
  double worst = 0;
  for (auto _ : state) {
    std::stop_source source;
    std::thread worker([&] { work(source.get_token()); });
    std::this_thread::sleep_for(lasts * std::uniform_real_distribution<>(0, 1)(random));
    const auto told = Clock::now();
    source.request_stop();
    worker.join();
    const std::chrono::duration<double> after = Clock::now() - told;
    state.SetIterationTime(after.count());
    worst = std::max(worst, after.count());
  }
  state.counters["worst_ms"] = 1'000 * worst;
}

}  // namespace uneven::bench
