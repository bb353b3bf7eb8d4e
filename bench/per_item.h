// SPDX-License-Identifier: GPL-3.0-or-later
// What one of many items costs: the number that bench/ratios reads.
#pragma once

#include <benchmark/benchmark.h>

#include <cstddef>

namespace uneven::bench {

inline void perItem(benchmark::State& state, std::size_t items) {
  state.counters["items"] = static_cast<double>(items);
  state.counters["time_per_item"] =
      benchmark::Counter(static_cast<double>(items) * static_cast<double>(state.iterations()),
                         benchmark::Counter::kIsRate | benchmark::Counter::kInvert);
}

}  // namespace uneven::bench
