// SPDX-License-Identifier: GPL-3.0-or-later
// Peak memory of rendering, as bytes a stroke beyond the start.
#include <benchmark/benchmark.h>
#include <malloc.h>
#include <sys/wait.h>
#include <unistd.h>

#include <cstdio>
#include <cstring>

#include "bench/songs.h"
#include "core/midi/render.h"
#include "core/midi/smf.h"

namespace uneven {
namespace {

// The kernel's own count of the most this process ever held, in bytes.
std::int64_t peakBytes() {
  std::FILE* status = std::fopen("/proc/self/status", "r");
  char line[256];
  std::int64_t kilobytes = 0;
  while (status != nullptr && std::fgets(line, sizeof line, status) != nullptr) {
    if (std::strncmp(line, "VmHWM:", 6) == 0) kilobytes = std::strtoll(line + 6, nullptr, 10);
  }
  if (status != nullptr) std::fclose(status);
  return kilobytes * 1024;
}

// In a child of its own, whose peak starts from what it has.
void memoryPerStroke(benchmark::State& state) {
  double perStroke = 0;
  for (auto _ : state) {
    int ends[2];
    if (::pipe(ends) != 0) return state.SkipWithError("no pipe");
    const pid_t child = ::fork();
    if (child == 0) {
      malloc_trim(0);  // gives back what earlier benchmarks freed, which would hide what is used
      std::FILE* clear = std::fopen("/proc/self/clear_refs", "w");
      if (clear != nullptr) {
        std::fputs("5", clear);  // sets the peak back to what is held now
        std::fclose(clear);
      }
      const std::int64_t before = peakBytes();
      const Song song = bench::songOfHits(state.range(0));
      const Result<Rendering> rendering = render(song, builtInKitMaps().front(), {});
      const Result<std::string> bytes = writeSmf(rendering->sequence);
      const double result =
          static_cast<double>(peakBytes() - before) / static_cast<double>(arrange(song)->hits);
      const bool told = ::write(ends[1], &result, sizeof result) == sizeof result && bytes;
      ::_exit(told ? 0 : 1);
    }
    if (::read(ends[0], &perStroke, sizeof perStroke) != sizeof perStroke) perStroke = -1;
    ::waitpid(child, nullptr, 0);
    ::close(ends[0]);
    ::close(ends[1]);
  }
  state.counters["bytes_per_stroke"] = perStroke;
}
BENCHMARK(memoryPerStroke)->Arg(1'000'000)->Iterations(1)->Unit(benchmark::kMillisecond);

}  // namespace
}  // namespace uneven
