// SPDX-License-Identifier: GPL-3.0-or-later
// How long a person waits: an edit to the end of the repaint, a step of the playhead, the start.
#include <benchmark/benchmark.h>

#include <QApplication>
#include <QElapsedTimer>
#include <QSettings>
#include <QTemporaryDir>
#include <algorithm>
#include <chrono>
#include <cstdio>

#include "app/shell/main_window.h"
#include "app/shell/prompts.h"
#include "app/strike/editing.h"
#include "app/strike/lanes_view.h"
#include "bench/songs.h"

namespace uneven {
namespace {

struct Room {
  QTemporaryDir folder;
  QSettings settings{folder.filePath("settings.ini"), QSettings::IniFormat};
  PosixFileSystem files;
  DesktopPrompts prompts;

  std::unique_ptr<MainWindow> window() {
    auto made = std::make_unique<MainWindow>(Surroundings{
        files, prompts, settings, folder.filePath("unsaved"), [] { return Milliseconds(0); }});
    made->resize(1280, 800);
    return made;
  }
};

void percentiles(benchmark::State& state, std::vector<double>& ms) {
  std::sort(ms.begin(), ms.end());
  state.counters["median_ms"] = ms[ms.size() / 2];
  state.counters["p99_ms"] = ms[ms.size() * 99 / 100];
}

// One key press in a song of 500 bars and about 15 000 strokes, to the end of all repaints.
void editToRepaint(benchmark::State& state) {
  Room room;
  const auto window = room.window();
  window->document().replace(bench::songOf500Bars(), {});
  window->show();
  window->editing().moveCursor(Beat(1), piece::kHat);
  QApplication::processEvents();
  std::vector<double> ms;
  int velocity = 40;
  for (auto _ : state) {
    QElapsedTimer timer;
    timer.start();
    window->editing().setVelocity(40 + ++velocity % 80);
    QApplication::processEvents();
    ms.push_back(static_cast<double>(timer.nsecsElapsed()) / 1e6);
  }
  percentiles(state, ms);
  state.counters["strokes"] = static_cast<double>(arrange(window->document().song())->hits);
}
BENCHMARK(editToRepaint)->Iterations(400)->Unit(benchmark::kMillisecond);

// A swing ratio dragged, in the same song.
void swingToRepaint(benchmark::State& state) {
  Room room;
  const auto window = room.window();
  window->document().replace(bench::songOf500Bars(), {});
  window->show();
  QApplication::processEvents();
  std::vector<double> ms;
  int step = 0;
  for (auto _ : state) {
    QElapsedTimer timer;
    timer.start();
    Song song = window->document().song();
    song.feels[0].swing.ratio = 1 + 0.01 * (++step % 100);
    window->document().apply("swing", std::move(song), {1'000'000, true});
    QApplication::processEvents();
    ms.push_back(static_cast<double>(timer.nsecsElapsed()) / 1e6);
  }
  percentiles(state, ms);
}
BENCHMARK(swingToRepaint)->Iterations(400)->Unit(benchmark::kMillisecond);

void playheadStep(benchmark::State& state) {
  Room room;
  const auto window = room.window();
  window->document().replace(bench::songOf500Bars(), {});
  window->show();
  QApplication::processEvents();
  auto* lanes = window->findChild<LanesView*>();
  std::vector<double> ms;
  double quarters = 0;
  for (auto _ : state) {
    QElapsedTimer timer;
    timer.start();
    quarters = quarters > 7.9 ? 0 : quarters + 0.02;
    lanes->setPlayhead(quarters);
    QApplication::processEvents();
    ms.push_back(static_cast<double>(timer.nsecsElapsed()) / 1e6);
  }
  percentiles(state, ms);
}
BENCHMARK(playheadStep)->Iterations(1000)->Unit(benchmark::kMillisecond);

// From the start of the process to the first paint, whose moment the process tells.
void startProcess(benchmark::State& state, const std::string& command) {
  const QTemporaryDir home;
  qputenv("XDG_CONFIG_HOME", home.path().toUtf8());
  qputenv("XDG_DATA_HOME", home.path().toUtf8());
  std::vector<double> ms;
  for (auto _ : state) {
    const auto begin = std::chrono::steady_clock::now().time_since_epoch().count();
    std::FILE* told = ::popen(("exec " + command + " 2>/dev/null").c_str(), "r");
    long long painted = 0;
    const bool ok = told != nullptr && std::fscanf(told, "%lld", &painted) == 1;
    if (told == nullptr || ::pclose(told) != 0 || !ok) return state.SkipWithError("it failed");
    ms.push_back(static_cast<double>(painted - begin) / 1e6);
  }
  percentiles(state, ms);
}

void startEmptyWindow(benchmark::State& state) {
  startProcess(state, std::string(PROGRAMS) + "/empty_window");
}
BENCHMARK(startEmptyWindow)->Iterations(30)->Unit(benchmark::kMillisecond);

void startOurs(benchmark::State& state) {
  startProcess(state, std::string(PROGRAMS) + "/uneven-stick --first-paint");
}
BENCHMARK(startOurs)->Iterations(30)->Unit(benchmark::kMillisecond);

}  // namespace
}  // namespace uneven
