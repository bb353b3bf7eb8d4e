// SPDX-License-Identifier: GPL-3.0-or-later
// Sound: rendering against real time, many strokes at once, and how long a person waits for it.
#include <benchmark/benchmark.h>
#include <unistd.h>

#include <QApplication>
#include <QElapsedTimer>
#include <QKeyEvent>
#include <QSettings>
#include <QTemporaryDir>
#include <cstdio>

#include "app/controls/prompts.h"
#include "app/frame/main_window.h"
#include "app/strike/lanes_view.h"
#include "bench/per_item.h"
#include "bench/songs.h"
#include "sound/file/render_audio.h"
#include "sound/play/player.h"
#include "sound/synth/load_instrument.h"

namespace uneven {
namespace {

// The whole way to a WAV file, of about a minute: how long for a second of it.
void renderAudioFile(benchmark::State& state) {
  const QTemporaryDir folder;
  PosixFileSystem files;
  const Result<SharedTake> take = Take::ofSong(bench::songOfHits(500, true));
  AudioCall call;
  call.out = folder.filePath("song.wav").toStdString();
  double seconds = 0;
  QElapsedTimer timer;
  timer.start();
  for (auto _ : state) {
    const auto report = renderAudio(files, **take, houseSounds(), call);
    if (!report) return state.SkipWithError(report.error().message.c_str());
    seconds += report->seconds;
  }
  state.counters["share"] = static_cast<double>(timer.nsecsElapsed()) / 1e9 / seconds;
}
BENCHMARK(renderAudioFile)->Iterations(3)->Unit(benchmark::kMillisecond);

// 300 strokes a second on every piece: the share of a core that it takes.
void denseStrokes(benchmark::State& state) {
  PosixFileSystem files;
  auto instrument = loadInstrument(files, {});
  if (!instrument) return state.SkipWithError(instrument.error().message.c_str());
  Programme programme;
  for (int i = 0; i < 3'000; ++i) {
    SoundEvent e;
    e.time = Moment(std::int64_t{10'000'000'000} / 3'000 * i);
    e.note = static_cast<std::uint8_t>(houseSounds().rows[static_cast<std::size_t>(i) % 30].note);
    e.velocity = static_cast<std::uint8_t>(20 + i % 100);
    programme.events.push_back(e);
  }
  Sequencer sequencer(**instrument);
  float left[kBlock], right[kBlock];
  QElapsedTimer timer;
  timer.start();
  double seconds = 0;
  for (auto _ : state) {
    sequencer.play(programme, Moment(0), 1);
    for (int i = 0; i < 10 * kSoundRate / kBlock; ++i) sequencer.render(left, right);
    seconds += 10;
  }
  state.counters["share"] = static_cast<double>(timer.nsecsElapsed()) / 1e9 / seconds;
}
BENCHMARK(denseStrokes)->Iterations(2)->Unit(benchmark::kMillisecond);

// Ten minutes of a loop, with an edit each second: what is held after them against after one.
void loopedMinutes(benchmark::State& state) {
  PosixFileSystem files;
  auto instrument = loadInstrument(files, {});
  if (!instrument) return state.SkipWithError(instrument.error().message.c_str());
  Player player(*std::move(instrument));
  const Result<SharedTake> take = Take::ofSong(bench::songOfHits(500, true));
  Wish wish;
  wish.start = 1;
  std::vector<float> left(kSoundRate), right(kSoundRate);
  double early = 0;
  for (auto _ : state) {
    for (int second = 0; second < 600; ++second) {
      wish.programme = std::make_shared<const Programme>(programmeOf(
          **take, houseSounds(), {}, {}, Span{Moment(0), Moment(7'300'000'000 + second)}));
      player.wish(wish);
      player.pull(left.data(), right.data(), kSoundRate);
      if (second == 60) early = bench::residentMegabytes();
    }
  }
  state.counters["grown_mb"] = bench::residentMegabytes() - early;
  state.counters["rounds"] = static_cast<double>(player.state().rounds);
}
BENCHMARK(loopedMinutes)->Iterations(1)->Unit(benchmark::kMillisecond);

struct NoDevices final : Outputs {
  std::vector<std::string> drivers() override { return {}; }
  std::vector<AudioCard> cards() override { return {}; }
  Result<std::unique_ptr<AudioOutput>> open(Player&, const std::string&) override {
    return Error{ErrorCode::kNotFound, "none", {}};
  }
};

struct PlayingRoom {
  QTemporaryDir folder;
  QSettings settings{folder.filePath("settings.ini"), QSettings::IniFormat};
  PosixFileSystem files;
  DesktopPrompts prompts;
  NoDevices devices;
  std::unique_ptr<MainWindow> window() {
    settings.setValue("sound/cautioned", true);
    auto made = std::make_unique<MainWindow>(
        Surroundings{files, prompts, settings, folder.filePath("unsaved"),
                     [] { return Milliseconds(0); }, Autosave::kDelayMs, stages(), devices});
    made->resize(1280, 800);
    made->show();
    made->fileDesk().openDemo();
    QApplication::processEvents();
    return made;
  }
};

double msToSound(MainWindow& window) {
  QElapsedTimer timer;
  timer.start();
  QKeyEvent space(QEvent::KeyPress, Qt::Key_Space, Qt::NoModifier, " ");
  QApplication::sendEvent(&window, &space);
  while (window.transport().sound().takePeak() == 0 && timer.elapsed() < 2'000)
    QApplication::processEvents();
  const double ms = static_cast<double>(timer.nsecsElapsed()) / 1e6;
  window.transport().stop();
  return ms;
}

// Space to the first sound on the silent clock: the first time, with the bank to be loaded, and
// again.
void firstSound(benchmark::State& state) {
  std::vector<double> first, again;
  for (auto _ : state) {
    PlayingRoom room;
    const auto window = room.window();
    first.push_back(msToSound(*window));
    QElapsedTimer rest;
    rest.start();
    while (rest.elapsed() < 100) QApplication::processEvents();
    (void)window->transport().sound().takePeak();
    again.push_back(msToSound(*window));
  }
  std::sort(first.begin(), first.end());
  std::sort(again.begin(), again.end());
  state.counters["first_ms"] = first[first.size() / 2];
  state.counters["again_ms"] = again[again.size() / 2];
}
BENCHMARK(firstSound)->Iterations(9)->Unit(benchmark::kMillisecond);

// Notes when a widget is painted.
class PaintedAt : public QObject {
 public:
  explicit PaintedAt(QWidget& widget) {
    clock_.start();
    widget.installEventFilter(this);
  }
  std::vector<double> ms;

 protected:
  bool eventFilter(QObject*, QEvent* event) override {
    if (event->type() == QEvent::Paint) {
      ms.push_back(static_cast<double>(clock_.nsecsElapsed()) / 1e6);
    }
    return false;
  }

 private:
  QElapsedTimer clock_;
};

// The interface while a song of 500 bars plays: the time from one repaint of the lanes to the next.
void playingFrames(benchmark::State& state) {
  PlayingRoom room;
  const auto window = room.window();
  window->document().replace(bench::songOf500Bars(), {});
  window->transport().setRange(Transport::Range::kSong);
  for (auto _ : state) {
    while (window->document().songTake() == nullptr) QApplication::processEvents();
    PaintedAt painted(*window->findChild<LanesView*>());
    window->transport().play();
    QElapsedTimer all;
    all.start();
    while (all.elapsed() < 6'000) QApplication::processEvents(QEventLoop::WaitForMoreEvents, 4);
    if (!window->transport().playing()) return state.SkipWithError("it does not play");
    window->transport().stop();
    // The first second is the start: the bank is loaded in it.
    std::vector<double> gaps;
    for (std::size_t i = 1; i < painted.ms.size(); ++i) {
      if (painted.ms[i - 1] > 1'000) gaps.push_back(painted.ms[i] - painted.ms[i - 1]);
    }
    if (gaps.size() < 100) return state.SkipWithError("it is hardly painted");
    std::sort(gaps.begin(), gaps.end());
    state.counters["median_ms"] = gaps[gaps.size() / 2];
    state.counters["p99_ms"] = gaps[gaps.size() * 99 / 100];
  }
}
BENCHMARK(playingFrames)->Iterations(1)->Unit(benchmark::kMillisecond);

}  // namespace
}  // namespace uneven
