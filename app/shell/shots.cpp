// SPDX-License-Identifier: GPL-3.0-or-later
// Pictures for the documentation.
#include "app/shell/shots.h"

#include <QApplication>
#include <QDir>
#include <QSettings>
#include <QTemporaryDir>
#include <cstdio>

#include "app/shell/main_window.h"
#include "app/shell/prompts.h"
#include "app/strike/editing.h"

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
  Photographer photographer(window, QDir(folder));
  bool ok = photographer.take(QStringLiteral("strike-empty"));
  window.fileDesk().openDemo();
  window.editing().moveCursor(Beat(1), piece::kSnare);
  ok = photographer.take(QStringLiteral("strike")) && ok;
  window.openTool("fill-gaps");
  ok = photographer.take(QStringLiteral("strike-tool")) && ok;
  window.closeTool();
  window.document().chooseGroove("fog");
  window.editing().moveCursor(Beat(23, 3), piece::kHat);
  ok = photographer.take(QStringLiteral("strike-triplets")) && ok;
  window.document().chooseGroove("paddles");
  window.editing().moveCursor(Beat(3, 4), piece::kSnare);
  window.editing().select({{Beat(3, 4), piece::kSnare, 0}, {Beat(5, 4), piece::kSnare, 0}});
  ok = photographer.take(QStringLiteral("strike-seven")) && ok;
  window.showStage(Stage::kDeliver);
  ok = photographer.take(QStringLiteral("deliver")) && ok;
  return ok ? 0 : 2;
}

}  // namespace uneven
