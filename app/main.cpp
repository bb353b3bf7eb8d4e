// SPDX-License-Identifier: GPL-3.0-or-later
// `uneven-stick`: the application.
#include <fontconfig/fontconfig.h>

#include <QApplication>
#include <QCommandLineParser>
#include <QElapsedTimer>
#include <QSettings>
#include <QStandardPaths>
#include <QTimer>
#include <cstdio>
#include <cstring>
#include <thread>

#include "app/controls/prompts.h"
#include "app/controls/theme.h"
#include "app/frame/application.h"
#include "app/frame/first_paint.h"
#include "app/frame/main_window.h"
#include "app/frame/shots.h"

namespace {

// Pictures need no screen.
void chooseOffscreenForShots(int argc, char** argv) {
  for (int i = 1; i < argc; ++i) {
    const bool shots = std::strncmp(argv[i], "--shots", 7) == 0;
    if (shots && qEnvironmentVariableIsEmpty("QT_QPA_PLATFORM")) {
      qputenv("QT_QPA_PLATFORM", "offscreen");
    }
  }
}

}  // namespace

int main(int argc, char** argv) {
  uneven::removeUnfinishedWhenKilled();
  chooseOffscreenForShots(argc, argv);
  // The system's font rules take as long to read as the display takes to answer: both at once.
  std::jthread fontRules([] { FcInit(); });
  uneven::Application app(argc, argv);
  fontRules.join();
  QApplication::setApplicationName(QStringLiteral("uneven-stick"));
  QApplication::setApplicationDisplayName(QStringLiteral("Uneven Stick"));
  QApplication::setApplicationVersion(QStringLiteral(USTICK_VERSION));
  uneven::theme::install(app);

  QCommandLineParser parser;
  parser.setApplicationDescription(
      QApplication::translate("main", "For drummers who program their parts hit by hit."));
  parser.addHelpOption();
  parser.addVersionOption();
  const QCommandLineOption demo(QStringLiteral("demo"),
                                QApplication::translate("main", "Open the demo song."));
  const QCommandLineOption shots(
      QStringLiteral("shots"),
      QApplication::translate("main", "Write pictures of the main views and end."),
      QStringLiteral("folder"));
  const QCommandLineOption firstPaint(
      QStringLiteral("first-paint"),
      QApplication::translate(
          "main", "Tell the moment of the first paint (ns of the steady clock) and end."));
  parser.addOptions({demo, shots, firstPaint});
  parser.addPositionalArgument(QStringLiteral("song"),
                               QApplication::translate("main", "A .ustick song to open."),
                               QStringLiteral("[song]"));
  parser.process(app);
  if (parser.isSet(shots)) return uneven::takeShots(parser.value(shots));

  QSettings settings(QStringLiteral("uneven-stick"), QStringLiteral("uneven-stick"));
  uneven::PosixFileSystem files;
  uneven::DesktopPrompts prompts;
  QElapsedTimer clock;
  clock.start();
  const QString data = QStandardPaths::writableLocation(QStandardPaths::GenericDataLocation);
  uneven::MainWindow window(
      {files, prompts, settings, data + QStringLiteral("/uneven-stick/unsaved"),
       [&clock] { return uneven::Milliseconds(static_cast<double>(clock.nsecsElapsed()) / 1e6); }});
  app.setFailureHandler([&window](const QString& what) { window.tellBroken(what); });
  if (parser.isSet(firstPaint)) {
    std::printf("%lld\n", uneven::paintedAt(window));
    return 0;
  }
  window.show();
  if (!parser.positionalArguments().isEmpty()) {
    window.fileDesk().openPath(parser.positionalArguments().first());
  } else if (parser.isSet(demo)) {
    window.fileDesk().openDemo();
  }
  QTimer::singleShot(0, &window, &uneven::MainWindow::offerUnsavedWork);
  return QApplication::exec();
}
