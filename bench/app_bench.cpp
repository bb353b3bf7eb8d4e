// SPDX-License-Identifier: GPL-3.0-or-later
// How long a person waits: an edit to the end of the repaint, a step of the playhead, the start.
#include <benchmark/benchmark.h>
#include <malloc.h>

#include <QApplication>
#include <QComboBox>
#include <QDir>
#include <QElapsedTimer>
#include <QKeyEvent>
#include <QLineEdit>
#include <QMouseEvent>
#include <QSettings>
#include <QTemporaryDir>
#include <QThread>
#include <QWheelEvent>
#include <algorithm>
#include <chrono>
#include <cstdio>

#include "app/arrange/arrange_stage.h"
#include "app/arrange/strip_view.h"
#include "app/controls/prompts.h"
#include "app/edit/argument_form.h"
#include "app/edit/editing.h"
#include "app/frame/main_window.h"
#include "app/lean/lean_stage.h"
#include "app/rehearse/rehearse_stage.h"
#include "app/strike/lanes_view.h"
#include "app/strike/strike_stage.h"
#include "app/vary/vary_stage.h"
#include "app/vary/wall_view.h"
#include "bench/per_item.h"
#include "bench/songs.h"
#include "core/io/atomic_save.h"
#include "core/io/song_json.h"
#include "core/perform/drift.h"

namespace uneven {
namespace {

struct Room {
  QTemporaryDir folder;
  QSettings settings{folder.filePath("settings.ini"), QSettings::IniFormat};
  PosixFileSystem files;
  DesktopPrompts prompts;

  std::unique_ptr<MainWindow> window() {
    // What a stroke that sounds costs is sound_bench.cpp's.
    settings.setValue("sound/by-ear", false);
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

// A key, to the end of all repaints.
double keyMs(QWidget& widget, int key) {
  QElapsedTimer timer;
  timer.start();
  QKeyEvent press(QEvent::KeyPress, key, Qt::NoModifier, QString(QChar(key)));
  QApplication::sendEvent(&widget, &press);
  QApplication::processEvents();
  return static_cast<double>(timer.nsecsElapsed()) / 1e6;
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
  auto* lanes = window->findChild<LanesView*>();
  int digit = 0;
  const Song before = window->document().song();
  for (auto _ : state) {
    ms.push_back(keyMs(*lanes, Qt::Key_1 + ++digit % 9));
    if (ms.size() == 1 && window->document().song() == before) {
      return state.SkipWithError("nothing changed");
    }
  }
  percentiles(state, ms);
  state.counters["strokes"] = static_cast<double>(arrange(window->document().song())->hits);
}
BENCHMARK(editToRepaint)->Iterations(400)->Unit(benchmark::kMillisecond);

// 20 000 bars in 100 sections on the strip: an edge is dragged, then the strip is scrolled; each
// move of the hand to the end of all repaints.
void arrangeDrag(benchmark::State& state) {
  Room room;
  const auto window = room.window();
  Song song = blankSong();
  song.grooves.clear();
  song.arrangement.clear();
  for (int g = 0; g < 4; ++g)
    song.grooves.emplace_back(bench::denseGroove("groove-" + std::to_string(g), 1));
  for (int s = 0; s < 100; ++s) {
    Section section;
    section.name = "Section " + std::to_string(s);
    section.groove = "groove-" + std::to_string(s % 4);
    section.repeat = s == 50 ? 120 : 200;
    section.levelDb = s % 5 - 2;
    section.fill = SectionFill{"groove-0", Beat(2), 4, {}};
    song.arrangement.push_back(std::move(section));
  }
  window->document().replace(std::move(song), {});
  window->show();
  auto& stage = static_cast<ArrangeStage&>(window->showStage("arrange"));
  StripView& strip = stage.strip();
  QApplication::processEvents();
  stage.arranging().choose(50);
  strip.zoom(40);
  QApplication::processEvents();
  std::vector<double> ms, scrolled;
  const auto timed = [&](auto move) {
    QElapsedTimer timer;
    timer.start();
    move();
    QApplication::processEvents();
    return static_cast<double>(timer.nsecsElapsed()) / 1e6;
  };
  const auto mouse = [&](QEvent::Type type, QPointF at) {
    QMouseEvent event(type, at, strip.mapToGlobal(at), Qt::LeftButton, Qt::LeftButton, {});
    QApplication::sendEvent(&strip, &event);
  };
  for (auto _ : state) {
    QPointF edge;
    for (const StripSection& s : strip.strip().sections) {
      if (s.section == 50) edge = {s.right, strip.strip().shapes.bottom - 6};
    }
    mouse(QEvent::MouseButtonPress, edge);
    for (int i = 1; i <= 60; ++i)
      ms.push_back(timed([&] { mouse(QEvent::MouseMove, edge + QPointF(2.0 * i, 0)); }));
    if (window->document().song().arrangement[50].repeat == 120)
      return state.SkipWithError("nothing was dragged");
    mouse(QEvent::MouseButtonRelease, edge + QPointF(120, 0));
    for (int i = 0; i < 60; ++i) {
      const QPointF at(300, 200);
      scrolled.push_back(timed([&] {
        QWheelEvent event(at, strip.mapToGlobal(at), {}, QPoint(0, i < 30 ? -120 : 120),
                          Qt::NoButton, {}, Qt::NoScrollPhase, false);
        QApplication::sendEvent(&strip, &event);
      }));
    }
  }
  percentiles(state, ms);
  std::sort(scrolled.begin(), scrolled.end());
  state.counters["worst_ms"] = ms.back();
  state.counters["scroll_ms"] = scrolled.back();
}
BENCHMARK(arrangeDrag)->Iterations(1)->Unit(benchmark::kMillisecond);

// Rehearse with 100 000 times through in the log: until the stage is painted, and until what the
// log has of the groove is there.
void practiceOpens(benchmark::State& state) {
  Room room;
  const auto window = room.window();
  window->fileDesk().openDemo();
  room.settings.setValue("rehearse/caution-read", true);
  {
    Result<OpenedLog> log =
        PracticeLog::open(room.folder.filePath("practice.sqlite").toStdString());
    if (!log) return state.SkipWithError("no log");
    const Song& song = window->document().song();
    std::vector<LoggedTime> times(100'000);
    for (std::size_t i = 0; i < times.size(); ++i) {
      times[i].groove = loggedGroove(song, {}, *song.grooves[i % 5 == 0 ? 1 : 0]);
      TimeThrough& t = times[i].through;
      t.uid = std::to_string(i);
      t.begun = static_cast<std::int64_t>(i) * 20'000;
      t.day = dateText(std::chrono::sys_days(*readDate("2020-01-01")) + std::chrono::days(i / 60));
      t.step = "all of it";
      t.whole = true;
      t.bpm = 60 + static_cast<double>(i % 40);
      t.seconds = 12;
      t.result = i % 3 == 0 ? Through::kNotYet : Through::kClean;
    }
    if (!log->log->take(times)) return state.SkipWithError("not written");
  }
  window->show();
  QApplication::processEvents();
  double painted = 0, read = 0;
  for (auto _ : state) {
    QElapsedTimer timer;
    timer.start();
    auto& stage = static_cast<RehearseStage&>(window->showStage("rehearse"));
    QApplication::processEvents();
    painted = static_cast<double>(timer.nsecsElapsed()) / 1e6;
    while (stage.rehearsing().log().summary().days.empty())
      QApplication::processEvents(QEventLoop::WaitForMoreEvents);
    read = static_cast<double>(timer.nsecsElapsed()) / 1e6;
  }
  state.counters["painted_ms"] = painted;
  state.counters["read_ms"] = read;
}
BENCHMARK(practiceOpens)->Iterations(1)->Unit(benchmark::kMillisecond);

// What one played stroke costs: placed, held against all that is behind it, told. A groove of 16
// dense bars at a time.
void practiceStroke(benchmark::State& state) {
  Song song = blankSong();
  song.grooves = {bench::denseGroove("dense", 16)};
  song.arrangement[0].groove = "dense";
  const SharedTake part = *Take::ofGroove(song, "dense");
  Skill skill;
  skill.spread = Milliseconds(6);
  const SimulatedTake played = playedBy(*part, skill, 1);
  std::vector<double> ms;
  for (auto _ : state) {
    Ear ear(part, 1);
    for (const Onset& onset : played.onsets) {
      QElapsedTimer timer;
      timer.start();
      ear.hear(onset);
      benchmark::DoNotOptimize(ear.soFar(Milliseconds(onset.seconds * 1000)));
      ms.push_back(static_cast<double>(timer.nsecsElapsed()) / 1e6);
    }
  }
  percentiles(state, ms);
  state.counters["worst_ms"] = ms.back();
}
BENCHMARK(practiceStroke)->Iterations(1)->Unit(benchmark::kMillisecond);

// Typing in a song of 100 000 hits while it is kept aside: how many keys of 364 took more than 33
// ms.
void typingWhileKeptAside(benchmark::State& state) {
  Room room;
  const auto window = room.window();
  window->document().replace(bench::songOfDistinctHits(100'000), {});
  window->show();
  window->editing().moveCursor(Beat(1), piece::kHat);
  QApplication::processEvents();
  auto* lanes = window->findChild<LanesView*>();
  std::vector<double> ms;
  for (auto _ : state) {
    for (int i = 0; i < 364; ++i) {
      ms.push_back(keyMs(*lanes, Qt::Key_1 + i % 9));
      QThread::msleep(12);
    }
  }
  const QDir kept(room.folder.filePath("unsaved"));
  if (kept.entryList({"unsaved-*.ustick"}).isEmpty()) {
    return state.SkipWithError("nothing was kept aside");
  }
  state.counters["slow"] =
      static_cast<double>(std::count_if(ms.begin(), ms.end(), [](double m) { return m > 33; }));
  percentiles(state, ms);
}
BENCHMARK(typingWhileKeptAside)->Iterations(1)->Unit(benchmark::kMillisecond);

// Opening a song of a million written hits: the longest that the window stands still.
void openingStandsStill(benchmark::State& state) {
  Room room;
  const auto window = room.window();
  window->show();
  QApplication::processEvents();
  const QString path = room.folder.filePath("million.ustick");
  const Song song = bench::songOfDistinctHits(1'000'000);
  if (!saveAtomically(room.files, path.toStdString(), writeSong(song))) {
    return state.SkipWithError("not written");
  }
  double longest = 0;
  QElapsedTimer whole;
  for (auto _ : state) {
    whole.start();
    window->fileDesk().openPath(path);
    while (window->fileDesk().reading()) {
      QElapsedTimer timer;
      timer.start();
      QApplication::processEvents(QEventLoop::AllEvents, 5);
      longest = std::max(longest, static_cast<double>(timer.nsecsElapsed()) / 1e6);
    }
    QApplication::processEvents();
  }
  if (window->document().song().grooves.size() != song.grooves.size()) {
    return state.SkipWithError("not opened");
  }
  state.counters["longest_ms"] = longest;
  state.counters["whole_ms"] = static_cast<double>(whole.nsecsElapsed()) / 1e6;
}
BENCHMARK(openingStandsStill)->Iterations(1)->Unit(benchmark::kMillisecond);

// What 728 edits of single hits in a groove of 64 bars keep for undo.
void undoMemory(benchmark::State& state) {
  Room room;
  const auto window = room.window();
  Song song = blankSong();
  song.grooves = {bench::richGroove("long", kBarsMax)};
  song.arrangement[0].groove = "long";
  window->document().replace(std::move(song), {});
  window->show();
  QApplication::processEvents();
  const std::size_t before = mallinfo2().uordblks;
  for (auto _ : state) {
    for (int i = 0; i < 728; ++i) {
      const Groove& groove = window->document().groove();
      const std::size_t hit = static_cast<std::size_t>(i) * 31 % groove.hits.size();
      window->editing().select({refOf(groove, hit)});
      window->editing().hits().setVelocity(1 + (i * 7) % 126);
    }
  }
  QApplication::processEvents();
  state.counters["megabytes"] = static_cast<double>(mallinfo2().uordblks - before) / 1e6;
  state.counters["steps"] = window->document().undoStack().count();
}
BENCHMARK(undoMemory)->Iterations(1)->Unit(benchmark::kMillisecond);

// What the window holds of a song of 100 000 written hits: opened, then with Check and edits.
void windowMemory(benchmark::State& state) {
  Room room;
  const auto window = room.window();
  window->show();
  for (auto _ : state) {
    window->document().replace(bench::songOfDistinctHits(100'000), {});
    QElapsedTimer rest;
    const auto settled = [&](int ms) {
      for (rest.start(); rest.elapsed() < ms;) QApplication::processEvents();
      return bench::residentMegabytes();
    };
    state.counters["opened_mb"] = settled(3'000);
    window->showStage(QStringLiteral("check"));
    for (int i = 0; i < 10; ++i) {
      const Groove& groove = window->document().groove();
      window->editing().select({refOf(groove, static_cast<std::size_t>(i) * 31)});
      window->editing().hits().setVelocity(1 + i);
      settled(200);
    }
    state.counters["checked_mb"] = settled(5'000);
  }
}
BENCHMARK(windowMemory)->Iterations(1)->Unit(benchmark::kMillisecond);

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

// Every number of the Lean stage stepped by a key, in the same song with a body in it: the map with
// all repetitions, the table and the card are painted anew.
void leanToRepaint(benchmark::State& state, const std::string& field, LeanStage::Side side) {
  Room room;
  const auto window = room.window();
  Song song = bench::songOf500Bars();
  song.feels[0].drift = withPreset(Drift{}, driftPresets().back());
  window->document().replace(std::move(song), {});
  window->show();
  window->showStage("lean");
  dynamic_cast<LeanStage&>(window->stage("lean")).showSide(side);
  window->editing().moveCursor(Beat(1), piece::kHat);
  QApplication::processEvents();
  auto* number = window->findChild<QWidget*>(QString::fromStdString(field));
  if (number == nullptr) return state.SkipWithError("no such field");
  std::vector<double> ms;
  bool up = field.find("depth") != 0;  // depths stand at their most
  const Song before = window->document().song();
  for (auto _ : state) {
    QElapsedTimer timer;
    timer.start();
    QKeyEvent key(QEvent::KeyPress, up ? Qt::Key_Up : Qt::Key_Down, Qt::NoModifier);
    QApplication::sendEvent(number, &key);
    QApplication::processEvents();
    ms.push_back(static_cast<double>(timer.nsecsElapsed()) / 1e6);
    if (ms.size() == 1 && window->document().song() == before) {
      return state.SkipWithError("nothing changed");
    }
    up = !up;
  }
  percentiles(state, ms);
}
const int kFieldsRegistered = [] {
  using Side = LeanStage::Side;
  const std::pair<const char*, Side> fields[] = {
      {"swing-ratio", Side::kSwing},      {"swing-short", Side::kSwing},
      {"depth-right-foot", Side::kSwing}, {"lean-displace-hat", Side::kDisplace},
      {"lean-slot", Side::kDisplace},     {"drift-clock", Side::kDrift},
      {"drift-exponent", Side::kDrift},   {"drift-limb-left-hand", Side::kDrift}};
  for (const auto& [name, side] : fields) {
    benchmark::RegisterBenchmark((std::string("leanToRepaint/") + name).c_str(), leanToRepaint,
                                 std::string(name), side)
        ->Iterations(100)
        ->Unit(benchmark::kMillisecond);
  }
  return 0;
}();

// A wall of over a hundred thousand, page by page.
void scrollWall(benchmark::State& state) {
  Room room;
  const auto window = room.window();
  Song song = blankSong();
  song.grooves.front().edit([](Groove& g) {
    g.bars = 4;
    for (int i = 0; i < 32; ++i) {
      Hit hit;
      hit.at = Beat(i, 2);
      hit.piece = piece::kHat;
      g.hits.push_back(hit);
    }
  });
  window->document().replace(std::move(song), {});
  window->show();
  auto& vary = static_cast<VaryStage&>(window->showStage(QStringLiteral("vary")));
  vary.panel().form().set("strokes", QStringLiteral("3"));
  vary.panel().form().set("grid", QStringLiteral("1/32"));
  QApplication::processEvents();
  if (vary.walker().count() < 100'000) return state.SkipWithError("too few");
  std::vector<double> ms;
  for (auto _ : state) {
    QElapsedTimer timer;
    timer.start();
    QKeyEvent page(QEvent::KeyPress, Qt::Key_PageDown, Qt::NoModifier);
    QApplication::sendEvent(&vary.wall(), &page);
    vary.wall().repaint();
    ms.push_back(static_cast<double>(timer.nsecsElapsed()) / 1e6);
  }
  percentiles(state, ms);
}
BENCHMARK(scrollWall)->Iterations(200)->Unit(benchmark::kMillisecond);

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
    lanes->setPlayhead(Quarters(quarters));
    QApplication::processEvents();
    ms.push_back(static_cast<double>(timer.nsecsElapsed()) / 1e6);
  }
  percentiles(state, ms);
}
BENCHMARK(playheadStep)->Iterations(1000)->Unit(benchmark::kMillisecond);

// A groove of 64 bars of dense sixteenths, about 3 000 hits.
Groove longGroove() {
  Groove groove = bench::denseGroove("long", kBarsMax);
  for (int i = 0; i < 16 * kBarsMax; ++i) {
    Hit hit;
    hit.at = Beat(i, 4);
    hit.piece = i % 2 == 0 ? piece::kRide : piece::kTomFloor;
    hit.velocity = Velocity(70 + i % 30);
    hit.role = i % 4 == 0 ? Role::kAccent : Role::kGhost;
    groove.hits.push_back(hit);
    hit.piece = piece::kHatFoot;
    if (i % 4 == 0) groove.hits.push_back(hit);
  }
  // The hats open once a bar.
  for (Hit& hit : groove.hits) {
    const bool barLine = hit.at.den() == 1 && hit.at.num() % 4 == 0;
    if (hit.piece == piece::kHat && barLine) hit.open = 0.5;
  }
  std::stable_sort(groove.hits.begin(), groove.hits.end(), writtenBefore);
  return groove;
}

// So that every tool has something to do.
Arguments neededBy(const std::string& tool) {
  if (tool == "sticking") return {{"text", "RLRR LRLL"}, {"repeat", "yes"}};
  if (tool == "fill-gaps") return {{"piece", "cowbell"}, {"around", "right-foot"}};
  if (tool == "rebound") return {{"piece", "any"}, {"grid", "1/32"}};
  if (tool == "copy-span") return {{"to", "16"}, {"onto", "64"}};
  if (tool == "hand-and-foot") return {{"to_limb", "hand"}};
  if (tool == "meter") return {{"meter", "7/8"}};
  return {};
}

void fillFields(MainWindow& window, const Arguments& arguments) {
  for (const auto& [name, value] : arguments) {
    auto* field = window.findChild<QWidget*>(QString::fromStdString("tool-" + name));
    if (auto* edit = qobject_cast<QLineEdit*>(field)) edit->setText(QString::fromStdString(value));
    if (auto* choice = qobject_cast<QComboBox*>(field)) {
      choice->setCurrentIndex(choice->findData(QString::fromStdString(value)));
    }
  }
}

// Enter in the tool panel, which then shows what the tool would do next, to the end of all
// repaints.
void toolToRepaint(benchmark::State& state, const std::string& tool) {
  Room room;
  const auto window = room.window();
  Song song = blankSong();
  song.grooves = {longGroove()};
  song.arrangement[0].groove = "long";
  // Room for one bar more and for twice the length.
  if (tool == "insert-bars" || tool == "stretch") {
    song.grooves[0].edit([&](Groove& g) {
      const Meter meter = g.meter;
      g = withMeter(std::move(g), meter, tool == "stretch" ? kBarsMax / 2 : kBarsMax - 1);
    });
  }
  window->document().replace(std::move(song), {});
  window->show();
  dynamic_cast<StrikeStage&>(window->showStage("strike")).openTool(tool);
  fillFields(*window, neededBy(tool));
  QApplication::processEvents();
  auto* panel = window->findChild<QWidget*>("tool-panel");
  std::vector<double> ms;
  const Song before = window->document().song();
  for (auto _ : state) {
    QElapsedTimer timer;
    timer.start();
    QKeyEvent enter(QEvent::KeyPress, Qt::Key_Return, Qt::NoModifier);
    QApplication::sendEvent(panel, &enter);
    QApplication::processEvents();
    ms.push_back(static_cast<double>(timer.nsecsElapsed()) / 1e6);
    if (window->document().song() == before) return state.SkipWithError("nothing was changed");
    window->document().replace(before, {});
    QApplication::processEvents();
  }
  percentiles(state, ms);
  state.counters["hits"] = static_cast<double>(before.grooves[0]->hits.size());
}
const int kToolsRegistered = [] {
  for (const Tool& tool : tools()) {
    benchmark::RegisterBenchmark(("toolToRepaint/" + tool.name).c_str(), toolToRepaint, tool.name)
        ->Iterations(40)
        ->Unit(benchmark::kMillisecond);
  }
  return 0;
}();

// From the start of a process to the first paint, whose moment the process tells; nothing: it
// failed.
std::optional<double> startMs(const std::string& command) {
  const auto begin = std::chrono::steady_clock::now().time_since_epoch().count();
  std::FILE* told = ::popen(("exec " + command + " 2>/dev/null").c_str(), "r");
  long long painted = 0;
  const bool ok = told != nullptr && std::fscanf(told, "%lld", &painted) == 1;
  if (told == nullptr || ::pclose(told) != 0 || !ok) return std::nullopt;
  return static_cast<double>(painted - begin) / 1e6;
}

// The empty window and ours by turns, so that a slow minute of the machine falls on both.
void startToPaint(benchmark::State& state) {
  const QTemporaryDir home;
  qputenv("XDG_CONFIG_HOME", home.path().toUtf8());
  qputenv("XDG_DATA_HOME", home.path().toUtf8());
  std::vector<double> empty;
  std::vector<double> ours;
  for (auto _ : state) {
    const auto yardstick = startMs(std::string(PROGRAMS) + "/empty_window");
    const auto measured = startMs(std::string(PROGRAMS) + "/uneven-stick --first-paint");
    if (!yardstick || !measured) return state.SkipWithError("it failed");
    empty.push_back(*yardstick);
    ours.push_back(*measured);
  }
  percentiles(state, empty);
  state.counters["empty_ms"] = double(state.counters["median_ms"]);
  percentiles(state, ours);
}
BENCHMARK(startToPaint)->Iterations(40)->Unit(benchmark::kMillisecond);

}  // namespace
}  // namespace uneven
