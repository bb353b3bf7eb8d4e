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
#include <algorithm>
#include <cstdio>

#include "app/controls/prompts.h"
#include "app/edit/editing.h"
#include "app/frame/main_window.h"

namespace uneven {
namespace {

class WindowPhotographer final : public Photographer {
 public:
  WindowPhotographer(MainWindow& window, const QDir& folder) : window_(window), folder_(folder) {}

  Editing& editing() override { return window_.editing(); }
  Stage& stage(const QString& id) override {
    window_.document().undoStack().setIndex(0);
    Q_EMIT editing().said({});
    Stage& shown = window_.showStage(id);
    settle();
    return shown;
  }
  void openDemo() override { window_.fileDesk().openDemo(); }
  void openPiece() override { window_.fileDesk().openPiece(); }
  void take(const QString& name, bool shows) override {
    settle();
    if (!shows) return fail(name, "does not show what it is for");
    const QImage image = window_.grab().toImage();
    for (const auto& [other, taken] : taken_) {
      if (image == taken) return fail(name, qPrintable("is the same as " + other));
    }
    taken_.emplace_back(name, image);
    const QString path = folder_.filePath(name + QStringLiteral(".png"));
    if (!image.save(path, "PNG")) fail(path, "cannot be written");
  }
  bool failed() const { return failed_; }

 private:
  void fail(const QString& name, const char* why) {
    std::fprintf(stderr, "uneven-stick: the picture %s %s\n", qPrintable(name), why);
    failed_ = true;
  }
  // What is looked for aside is there.
  void settle() {
    Checker& checker = window_.checker();
    checker.begin();
    while (checker.busy()) QApplication::processEvents(QEventLoop::WaitForMoreEvents);
    QApplication::processEvents();
  }

  MainWindow& window_;
  QDir folder_;
  std::vector<std::pair<QString, QImage>> taken_;
  bool failed_ = false;
};

}  // namespace

int takeShots(const QString& folder) {
  const QTemporaryDir scratch;
  QSettings settings(scratch.filePath(QStringLiteral("settings.ini")), QSettings::IniFormat);
  // Pictures make no sound.
  settings.setValue(QStringLiteral("sound/by-ear"), false);
  settings.setValue(QStringLiteral("sound/driver"), QStringLiteral("silent"));
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
  WindowPhotographer photographer(window, QDir(folder));
  // The stage that the work begins with opens the demo; then in their order, so that the take of
  // the first is there for the others.
  std::vector<StageEntry> entries = window.stages();
  std::stable_partition(entries.begin(), entries.end(),
                        [](const StageEntry& e) { return e.id == QStringLiteral("strike"); });
  for (const StageEntry& entry : entries) {
    if (entry.pictures) entry.pictures(photographer);
  }
  photographer.stage(QStringLiteral("strike"));
  window.showSound(true);
  const auto* sound = window.findChild<QWidget*>(QStringLiteral("sound-card"));
  photographer.take(QStringLiteral("sound"), sound != nullptr && sound->isVisible());
  return photographer.failed() ? 2 : 0;
}

}  // namespace uneven
