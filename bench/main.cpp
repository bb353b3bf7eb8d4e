// SPDX-License-Identifier: GPL-3.0-or-later
// Benchmarks. Times are of this machine; read the ratios that bench/ratios prints.
#include <benchmark/benchmark.h>

#include <QApplication>

#include "app/shell/theme.h"

int main(int argc, char** argv) {
  if (qEnvironmentVariableIsEmpty("QT_QPA_PLATFORM")) qputenv("QT_QPA_PLATFORM", "offscreen");
  QApplication app(argc, argv);
  uneven::theme::install(app);
  benchmark::Initialize(&argc, argv);
  if (benchmark::ReportUnrecognizedArguments(argc, argv)) return 1;
  benchmark::RunSpecifiedBenchmarks();
  return 0;
}
