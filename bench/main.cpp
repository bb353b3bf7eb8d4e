// SPDX-License-Identifier: GPL-3.0-or-later
// Benchmarks. Times are of this machine; read the ratios that bench/ratios prints.
#include <benchmark/benchmark.h>
#include <malloc.h>

#include <QApplication>
#include <limits>

#include "app/controls/theme.h"

int main(int argc, char** argv) {
  // Freed memory is kept whatever its size: else a large round pays for fresh pages each time and a
  // small one never, and their ratio would tell more of the kernel than of us.
  mallopt(M_MMAP_THRESHOLD, std::numeric_limits<int>::max());
  mallopt(M_TRIM_THRESHOLD, std::numeric_limits<int>::max());
  if (qEnvironmentVariableIsEmpty("QT_QPA_PLATFORM")) qputenv("QT_QPA_PLATFORM", "offscreen");
  QApplication app(argc, argv);
  uneven::theme::install(app);
  benchmark::Initialize(&argc, argv);
  if (benchmark::ReportUnrecognizedArguments(argc, argv)) return 1;
  benchmark::RunSpecifiedBenchmarks();
  return 0;
}
