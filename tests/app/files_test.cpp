// SPDX-License-Identifier: GPL-3.0-or-later
// Files: saving, opening, unsaved work, crashes.
#include <sys/wait.h>
#include <unistd.h>

#include <QDropEvent>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QMimeData>
#include <QPushButton>
#include <QUrl>

#include "app/edit/editing.h"
#include "core/io/song_json.h"
#include "core/song/edit.h"
#include "tests/app/window_fixture.h"

namespace uneven::testing {
namespace {

using Files = WindowTest;

TEST_F(Files, ClosingAsksAboutUnsavedChanges) {
  EXPECT_TRUE(window->close()) << "nothing to lose";
  EXPECT_EQ(prompts.asked, 0);
  window->show();
  press(Qt::Key_Return);
  prompts.saveAnswer = SaveAnswer::kCancel;
  EXPECT_FALSE(window->close());
  prompts.saveAnswer = SaveAnswer::kSave;
  prompts.save = "";
  EXPECT_FALSE(window->close()) << "the choice of a file was cancelled";
  prompts.save = path("kept");
  EXPECT_TRUE(window->close());
  EXPECT_TRUE(readSong(readText(folder.file("kept.ustick")), "kept"));
  EXPECT_EQ(prompts.asked, 3);
}

TEST_F(Files, WhatIsBeingTypedIsSavedToo) {
  auto& tempo = child<QLineEdit>("tempo");
  tempo.setFocus();
  tempo.selectAll();
  QTest::keyClicks(&tempo, "77");
  prompts.save = path("typed");
  QTest::keyClick(&tempo, Qt::Key_S, Qt::ControlModifier);
  const Result<Song> saved = readSong(readText(folder.file("typed.ustick")), "typed");
  ASSERT_TRUE(saved);
  EXPECT_EQ(saved->tempo[0].bpm.value, 77);
}

TEST_F(Files, AFieldThatStillHoldsNonsenseDoesNotOutliveTheWindow) {
  auto& tempo = child<QLineEdit>("tempo");
  tempo.setFocus();
  QTest::keyClicks(&tempo, "9999");
  window.reset();  // under the sanitizers this once was a call into a window that was gone
  window = makeWindow();
}

TEST_F(Files, OpeningAsksAndKeepsTheWorkWhenCancelled) {
  writeText(folder.file("other.ustick"), writeSong(blankSong()));
  press(Qt::Key_Return);
  EXPECT_FALSE(window->fileDesk().openPath(path("other.ustick")));
  EXPECT_EQ(groove().hits.size(), 1U);
  prompts.saveAnswer = SaveAnswer::kDiscard;
  EXPECT_TRUE(window->fileDesk().openPath(path("other.ustick")));
  EXPECT_TRUE(groove().hits.empty());
  EXPECT_EQ(window->windowTitle(), "other.ustick[*] – Uneven Stick");
}

TEST_F(Files, ABrokenFileIsRefusedWithItsPlaceAndNothingIsLost) {
  writeText(folder.file("bad.ustick"), "{\n  \"format\": 7\n}");
  prompts.open = path("bad.ustick");
  window->document().apply("title", [&] {
    Song changed = song();
    changed.title = "Mine";
    return changed;
  }());
  prompts.saveAnswer = SaveAnswer::kDiscard;
  press(Qt::Key_O, Qt::ControlModifier);
  EXPECT_EQ(song().title, "Mine");
  EXPECT_EQ(status(), "Not opened. bad.ustick:2:13: format: expected text in quotes");
  EXPECT_TRUE(child<QPushButton>("notice-yes").isVisible());
}

TEST_F(Files, AFullDeviceIsToldAndTheWorkStaysUnsaved) {
  press(Qt::Key_Return);
  prompts.save = path("song.ustick");
  files.full = true;
  press(Qt::Key_S, Qt::ControlModifier);
  EXPECT_NE(status().indexOf("no space left on device"), -1) << status().toStdString();
  EXPECT_TRUE(window->document().modified());
  files.full = false;
  press(Qt::Key_S, Qt::ControlModifier);
  EXPECT_FALSE(window->document().modified());
  EXPECT_FALSE(window->isWindowModified());
}

TEST_F(Files, ADroppedSongIsOpened) {
  Song other = blankSong();
  other.title = "Dropped";
  writeText(folder.file("drop.ustick"), writeSong(other));
  QMimeData data;
  data.setUrls({QUrl::fromLocalFile(path("drop.ustick"))});
  QDragEnterEvent enter({100, 100}, Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
  QCoreApplication::sendEvent(window.get(), &enter);
  EXPECT_TRUE(enter.isAccepted());
  QDropEvent drop({100, 100}, Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
  QCoreApplication::sendEvent(window.get(), &drop);
  EXPECT_EQ(song().title, "Dropped");
  data.setUrls({QUrl::fromLocalFile(path("picture.png"))});
  QDragEnterEvent foreign({100, 100}, Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
  QCoreApplication::sendEvent(window.get(), &foreign);
  EXPECT_FALSE(foreign.isAccepted());
}

TEST_F(Files, RecentFilesAndTheWindowAreRemembered) {
  for (const char* name : {"a.ustick", "b.ustick"}) {
    writeText(folder.file(name), writeSong(blankSong()));
    ASSERT_TRUE(window->fileDesk().openPath(path(name)));
  }
  lanes().setVisibleBars(4);
  window->close();
  window = makeWindow();
  EXPECT_EQ(window->fileDesk().recent(), (QStringList{path("b.ustick"), path("a.ustick")}));
  EXPECT_EQ(lanes().visibleBars(), 4);
}

// The number of a process that has just ended.
qint64 endedProcess() {
  const pid_t child = ::fork();
  if (child == 0) ::_exit(0);
  ::waitpid(child, nullptr, 0);
  return child;
}

TEST_F(Files, WorkLeftByACrashIsOfferedBack) {
  Song lost = blankSong();
  lost.title = "Lost work";
  std::filesystem::create_directory(folder.file("unsaved"));
  const std::string left =
      folder.file("unsaved/unsaved-" + std::to_string(endedProcess()) + ".ustick");
  writeText(left, writeSong(lost));
  writeText(left + ".path", folder.file("song.ustick"));
  window->offerUnsavedWork();
  auto& yes = child<QPushButton>("notice-yes");
  ASSERT_TRUE(yes.isVisible());
  QTest::mouseClick(&yes, Qt::LeftButton);
  EXPECT_EQ(song().title, "Lost work");
  EXPECT_TRUE(window->document().modified()) << "it still has to be saved";
  EXPECT_EQ(window->document().path(), path("song.ustick"));
  EXPECT_FALSE(std::filesystem::exists(left));
  // A crash now would not lose it either.
  EXPECT_TRUE(std::filesystem::exists(
      folder.file("unsaved/unsaved-" + std::to_string(::getpid()) + ".ustick")));
}

TEST_F(Files, UnsavedWorkIsKeptAsideAndClearedWhenSaved) {
  const std::string kept = folder.file("unsaved/unsaved-" + std::to_string(::getpid()) + ".ustick");
  press(Qt::Key_Return);
  EXPECT_FALSE(std::filesystem::exists(kept));
  ASSERT_TRUE(soon([&] { return std::filesystem::exists(kept); }));
  const Result<Song> song = readSong(readText(kept), "kept");
  ASSERT_TRUE(song);
  EXPECT_EQ(song->grooves[0]->hits.size(), 1U);
  window->offerUnsavedWork();
  EXPECT_FALSE(child<QPushButton>("notice-yes").isVisible()) << "our own is not offered";
  prompts.save = path("song");
  press(Qt::Key_S, Qt::ControlModifier);
  EXPECT_TRUE(soon([&] { return !std::filesystem::exists(kept); })) << "once its write has ended";
}

TEST_F(Files, ALongSongIsRefusedByAnEditNotBroken) {
  Song huge = blankSong();
  huge.arrangement[0].repeat = 10'000;
  window->document().replace(huge, {});
  type(child<QLineEdit>("bars"), "64");
  EXPECT_EQ(groove().bars, 2);
  EXPECT_NE(status().indexOf("at most 20000"), -1) << status().toStdString();
}

}  // namespace
}  // namespace uneven::testing
