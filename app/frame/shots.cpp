// SPDX-License-Identifier: GPL-3.0-or-later
// Pictures for the documentation.
#include "app/frame/shots.h"

#include <QApplication>
#include <QDir>
#include <QEventLoop>
#include <QSettings>
#include <QTemporaryDir>
#include <QTimer>
#include <QUndoStack>
#include <cstdio>

#include "app/controls/prompts.h"
#include "app/edit/editing.h"
#include "app/frame/main_window.h"
#include "app/lean/lean_stage.h"
#include "app/lean/lean_view.h"
#include "app/open/open_stage.h"
#include "app/open/walk_card.h"
#include "app/strike/lanes_view.h"
#include "app/strike/strike_stage.h"
#include "core/perform/drift.h"

namespace uneven {
namespace {

class Photographer {
 public:
  Photographer(MainWindow& window, const QDir& folder) : window_(window), folder_(folder) {}

  bool take(const QString& name) {
    QApplication::processEvents();
    const QString path = folder_.filePath(name + QStringLiteral(".png"));
    const bool saved = window_.grab().save(path, "PNG");
    if (!saved) std::fprintf(stderr, "uneven-stick: cannot write %s\n", qPrintable(path));
    return saved;
  }

 private:
  MainWindow& window_;
  QDir folder_;
};

}  // namespace

int takeShots(const QString& folder) {
  const QTemporaryDir scratch;
  QSettings settings(scratch.filePath(QStringLiteral("settings.ini")), QSettings::IniFormat);
  PosixFileSystem files;
  DesktopPrompts prompts;
  MainWindow window({files, prompts, settings, scratch.filePath(QStringLiteral("autosave")),
                     [] { return Milliseconds(0); }});
  window.setFixedSize(1280, 800);
  if (!QDir().mkpath(folder)) {
    std::fprintf(stderr, "uneven-stick: cannot make the folder %s\n", qPrintable(folder));
    return 2;
  }
  window.show();
  StrikeStage& strike = window.strike();
  Photographer photographer(window, QDir(folder));
  bool ok = photographer.take(QStringLiteral("strike-empty"));
  window.fileDesk().openDemo();
  window.editing().moveCursor(Beat(1), piece::kSnare);
  ok = photographer.take(QStringLiteral("strike")) && ok;
  window.openTool("tom-fill");
  ok = photographer.take(QStringLiteral("strike-tool")) && ok;
  strike.showSide(StrikeStage::Side::kKit);
  strike.lanes().setShowLimbs(true);
  ok = photographer.take(QStringLiteral("strike-kit")) && ok;
  strike.lanes().setShowLimbs(false);
  strike.showSide(StrikeStage::Side::kGrooves);
  window.editing().embellishGroove();
  window.editing().runTool("echo", {{"piece", "kick"}});
  window.editing().runTool("rebound", {});
  ok = photographer.take(QStringLiteral("strike-grooves")) && ok;
  window.document().undoStack().setIndex(0);
  strike.showSide(StrikeStage::Side::kHit);
  window.editing().moveCursor(Beat(2), piece::kSnare);
  window.editing().setBeatGrid({8, 3});
  window.editing().moveCursor(Beat(6), piece::kSnare);
  window.editing().setBeatGrid({16, 5});
  strike.lanes().setStepEntry(true);
  ok = photographer.take(QStringLiteral("strike-steps")) && ok;
  strike.lanes().setStepEntry(false);
  window.document().undoStack().setIndex(0);
  Q_EMIT window.editing().said({});
  window.document().chooseGroove("fog");
  window.editing().moveCursor(Beat(23, 3), piece::kHat);
  ok = photographer.take(QStringLiteral("strike-triplets")) && ok;
  window.document().chooseGroove("paddles");
  window.editing().moveCursor(Beat(3, 4), piece::kSnare);
  window.editing().select({{Beat(3, 4), piece::kSnare}, {Beat(5, 4), piece::kSnare}});
  ok = photographer.take(QStringLiteral("strike-seven")) && ok;
  window.document().chooseGroove("towpath");
  window.showStage(Stage::kOpen);
  window.editing().moveCursor(Beat(15, 2), piece::kHat);
  ok = photographer.take(QStringLiteral("open")) && ok;
  window.open().showSide(OpenStage::Side::kWalk);
  for (int i = 0; i < 3; ++i) window.open().walk().key(Qt::Key_Right);
  window.open().walk().key(Qt::Key_1);
  ok = photographer.take(QStringLiteral("open-walk")) && ok;
  window.open().walk().key(Qt::Key_Escape);
  window.editing().changePedal(QStringLiteral("Pump"), [](Pedal& pedal) {
    pedal.pump = Pump{{8, 0}, PumpPhase::kOff, "", 0.5, {}};
  });
  ok = photographer.take(QStringLiteral("open-pump")) && ok;
  window.editing().changePedal(QStringLiteral("A slow foot"), [](Pedal& pedal) {
    pedal.pump.reset();
    pedal.travel = Milliseconds(480);
  });
  window.open().showSide(OpenStage::Side::kFindings);
  ok = photographer.take(QStringLiteral("open-findings")) && ok;
  window.document().undoStack().setIndex(0);
  Q_EMIT window.editing().said({});
  window.showStage(Stage::kLean);
  LeanStage& lean = window.lean();
  window.editing().moveCursor(Beat(3), piece::kSnare);
  ok = photographer.take(QStringLiteral("lean")) && ok;
  lean.showSide(LeanStage::Side::kDisplace);
  lean.showTable(LeanStage::Table::kSlots);
  window.editing().moveCursor(Beat(1), piece::kSnare);
  ok = photographer.take(QStringLiteral("lean-shift")) && ok;
  lean.showTable(LeanStage::Table::kStrokes);
  lean.showSide(LeanStage::Side::kDrift);
  window.document().apply(QStringLiteral("Settled"),
                          withFeelChanged(window.document().song(), "towpath", [](Feel& f) {
                            f.drift = withPreset(Drift{}, driftPresets()[2]);
                          }));
  // The strip is drawn when the hand rests.
  QEventLoop rest;
  QTimer::singleShot(300, &rest, &QEventLoop::quit);
  rest.exec();
  ok = photographer.take(QStringLiteral("lean-drift")) && ok;
  lean.showSide(LeanStage::Side::kSeams);
  ok = photographer.take(QStringLiteral("lean-seams")) && ok;
  lean.showSide(LeanStage::Side::kFeels);
  lean.view().setCompared("night-water");
  ok = photographer.take(QStringLiteral("lean-feels")) && ok;
  lean.view().setCompared({});
  window.document().undoStack().setIndex(0);
  Q_EMIT window.editing().said({});
  window.showStage(Stage::kDeliver);
  ok = photographer.take(QStringLiteral("deliver")) && ok;
  return ok ? 0 : 2;
}

}  // namespace uneven
