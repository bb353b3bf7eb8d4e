// SPDX-License-Identifier: GPL-3.0-or-later
// Grooves in and out as text.
#include <QClipboard>
#include <QGuiApplication>

#include "app/edit/editing.h"
#include "core/io/drum_tab.h"
#include "tests/app/window_fixture.h"

namespace uneven::testing {
namespace {

using ExchangeTest = WindowTest;

TEST_F(ExchangeTest, AGrooveGoesOutAndComesBack) {
  openDemo();
  const Groove before = groove();
  prompts.save = path("towpath.csv");
  press(Qt::Key_E, Qt::ControlModifier | Qt::ShiftModifier);
  EXPECT_EQ(status(), "Written to " + prompts.save);
  prompts.open = prompts.save;
  press(Qt::Key_I, Qt::ControlModifier);
  EXPECT_EQ(groove().name, "towpath");
  EXPECT_EQ(groove().hits, before.hits);
  EXPECT_EQ(groove().feel, before.feel);

  prompts.save = path("towpath");
  press(Qt::Key_E, Qt::ControlModifier | Qt::ShiftModifier);
  const Result<std::string> text = files.read(path("towpath.txt").toStdString());
  ASSERT_TRUE(text);
  EXPECT_EQ(*text, writeDrumTab(before, houseKit()).text);
}

TEST_F(ExchangeTest, UnknownLanesAreAskedAbout) {
  writeText(folder.file("odd.txt"), "HH|x-x-|\nzz|x---|\n");
  prompts.open = path("odd.txt");
  const std::size_t grooves = song().grooves.size();
  press(Qt::Key_I, Qt::ControlModifier);
  EXPECT_EQ(song().grooves.size(), grooves) << "nobody answered";
  EXPECT_TRUE(status().contains("no lane \"zz\"")) << status().toStdString();
  EXPECT_EQ(prompts.titles, QStringList{"What is struck in the lane “zz”?"});

  const char* tab = "HH|x-x-x-x-|\nzz|x---x---|\n";
  QGuiApplication::clipboard()->setText(tab);
  prompts.chosen = {"Kick"};
  press(Qt::Key_V, Qt::ControlModifier);
  EXPECT_TRUE(hasHit(Beat(2), piece::kKick));
}

TEST_F(ExchangeTest, AFullDiskIsToldAndNothingIsLeft) {
  files.full = true;
  prompts.save = path("full.txt");
  press(Qt::Key_E, Qt::ControlModifier | Qt::ShiftModifier);
  EXPECT_TRUE(status().contains("no space left")) << status().toStdString();
  EXPECT_FALSE(files.read(path("full.txt").toStdString()));
}

}  // namespace
}  // namespace uneven::testing
