// SPDX-License-Identifier: GPL-3.0-or-later
// What one of many items costs, and what the process holds: numbers that bench/ratios reads.
#pragma once

#include <benchmark/benchmark.h>
#include <unistd.h>

#include <cstddef>
#include <cstdio>

namespace uneven::bench {

inline void perItem(benchmark::State& state, std::size_t items) {
  state.counters["items"] = static_cast<double>(items);
  state.counters["time_per_item"] =
      benchmark::Counter(static_cast<double>(items) * static_cast<double>(state.iterations()),
                         benchmark::Counter::kIsRate | benchmark::Counter::kInvert);
}

inline double residentMegabytes() {
  std::FILE* file = std::fopen("/proc/self/statm", "r");
  long all = 0, resident = 0;
  const bool read = file != nullptr && std::fscanf(file, "%ld %ld", &all, &resident) == 2;
  if (file != nullptr) std::fclose(file);
  return read ? static_cast<double>(resident) * static_cast<double>(::sysconf(_SC_PAGESIZE)) / 1e6
              : -1;
}

}  // namespace uneven::bench
