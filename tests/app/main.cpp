// SPDX-License-Identifier: GPL-3.0-or-later
// Runs the interface's tests without a screen. The platform is set here, since test discovery runs
// the program while building.
#include <gtest/gtest.h>

#include <cstdio>

#include "app/controls/theme.h"
#include "app/frame/application.h"

namespace {

// The offscreen platform says this at every change of a least size; anything else is worth reading.
void withoutPlatformNoise(QtMsgType type, const QMessageLogContext& context, const QString& text) {
  if (text.contains(QStringLiteral("propagateSizeHints"))) return;
  std::fprintf(stderr, "%s\n", qPrintable(qFormatLogMessage(type, context, text)));
}

}  // namespace

int main(int argc, char** argv) {
  if (qEnvironmentVariableIsEmpty("QT_QPA_PLATFORM")) qputenv("QT_QPA_PLATFORM", "offscreen");
  qInstallMessageHandler(withoutPlatformNoise);
  ::testing::InitGoogleTest(&argc, argv);
  uneven::Application app(argc, argv);
  uneven::theme::install(app);
  return RUN_ALL_TESTS();
}
