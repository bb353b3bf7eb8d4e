// SPDX-License-Identifier: GPL-3.0-or-later
// Nothing of the user's is lost: dialogs, saving, files that others change, leaving while at work.
#include <QApplication>
#include <QCheckBox>
#include <QComboBox>
#include <QFileDialog>
#include <QLabel>
#include <QListView>
#include <QMessageBox>
#include <QPushButton>
#include <QTimer>

#include "app/edit/editing.h"
#include "app/frame/sound_card.h"
#include "app/vary/vary_stage.h"
#include "core/io/song_json.h"
#include "core/song/edit.h"
#include "tests/app/window_fixture.h"
#include "tests/support/made.h"
#include "tests/support/random_song.h"

namespace uneven::testing {
namespace {

// Qt's own dialog, in a folder of its own, by hands that say yes to everything.
class DialogHands : public QObject {
 public:
  DialogHands(QString name, int& asked) : name_(std::move(name)), asked_(asked) {
    look_.setInterval(20);
    connect(&look_, &QTimer::timeout, this, &DialogHands::look);
    look_.start();
  }
  bool deleted = false;  // the key was pressed

 private:
  void look() {
    QWidget* modal = QApplication::activeModalWidget();
    if (auto* box = qobject_cast<QMessageBox*>(modal)) {
      ++asked_;
      for (QAbstractButton* button : box->buttons()) {
        if (box->buttonRole(button) == QMessageBox::YesRole) return button->click();
      }
      return box->reject();
    }
    auto* dialog = qobject_cast<QFileDialog*>(modal);
    if (dialog == nullptr) return;
    if (deleted || ++turns_ > 250) return dialog->reject();
    auto* list = dialog->findChild<QListView*>(QStringLiteral("listView"));
    for (int i = 0; list != nullptr && i < list->model()->rowCount(list->rootIndex()); ++i) {
      const QModelIndex row = list->model()->index(i, 0, list->rootIndex());
      if (row.data().toString() != name_) continue;
      list->setCurrentIndex(row);
      list->setFocus();
      deleted = true;
      QTest::keyClick(list, Qt::Key_Delete);
    }
  }
  QString name_;
  int& asked_;
  int turns_ = 0;
  QTimer look_;
};

TEST(FileDialogs, DeleteDeletesNothing) {
  const TemporaryFolder folder;
  const std::string kept = folder.file("takes");
  std::filesystem::create_directories(kept + "/deep");
  writeText(kept + "/deep/take.wav", "what the filter hides");
  DesktopPrompts prompts;
  const QString where = QString::fromStdString(folder.file(""));
  const QString filter = QStringLiteral("Songs (*.ustick)");
  for (const bool open : {true, false}) {
    int asked = 0;
    DialogHands hands(QStringLiteral("takes"), asked);
    const QString got = open ? prompts.fileToOpen(nullptr, QStringLiteral("Open"), where, filter)
                             : prompts.fileToSave(nullptr, QStringLiteral("Save"), where, filter);
    EXPECT_TRUE(hands.deleted) << "the folder was there to be chosen";
    EXPECT_TRUE(got.isEmpty());
    EXPECT_EQ(asked, 0);
    EXPECT_EQ(readText(kept + "/deep/take.wav"), "what the filter hides");
  }
}

using Trust = WindowTest;

Song longDemo(const Song& demo, int times) {
  Song song = demo;
  const std::vector<Section> once = song.sections();
  song.arrangement.clear();
  for (int i = 0; i < times; ++i)
    song.arrangement.insert(song.arrangement.end(), once.begin(), once.end());
  return song;
}

// Any change of what is played, in any order and at any moment, in a song that is performed aside.
TEST_F(Trust, AnyChangeWhileALongSongPlays) {
  outputs.device = true;
  openDemo();
  const Song demo = song();
  const Song many = longDemo(demo, 40);
  ASSERT_GT(arrange(many)->strokes, Document::kStrokesAtOnce);
  Random random(71);
  Transport& transport = window->transport();
  const std::vector<std::string> ids = [&] {
    std::vector<std::string> out;
    for (const auto& g : demo.grooves) out.push_back(g->id);
    return out;
  }();
  const int turns = rounds(400);
  for (int i = 0; i < turns; ++i) {
    switch (pick(random, 0, 11)) {
      case 0:
        window->document().replace(many, {});
        break;
      case 1:
        window->document().replace(demo, {});
        break;
      case 2:
      case 3:
      case 4:
        transport.setRange(static_cast<Transport::Range>(pick(random, 0, 4)));
        break;
      case 5: {
        Heard heard;
        heard.straight = pick(random, 0, 1) == 1;
        heard.noDrift = pick(random, 0, 1) == 1;
        transport.setHeard(heard);
        break;
      }
      case 6:
        window->document().chooseGroove(
            ids[static_cast<std::size_t>(pick(random, 0, static_cast<int>(ids.size()) - 1))]);
        break;
      case 7:
        transport.setPercent(pick(random, 25, 150));
        transport.setLoops(pick(random, 0, 1) == 1);
        break;
      case 8:
        transport.sound().setDriver(pick(random, 0, 1) == 1 ? QStringLiteral("silent") : QString());
        break;
      case 9:
        window->editing().selectAll();
        window->editing().hits().setVelocity(pick(random, 1, 127));
        break;
      case 10:
        transport.toggle();
        break;
      default:
        if (!transport.playing()) transport.play();
        break;
    }
    if (outputs.output != nullptr) outputs.output->pull(480 * pick(random, 1, 40));
    if (pick(random, 0, 3) == 0) QTest::qWait(pick(random, 0, 30));
    QApplication::processEvents();
  }
  window->document().replace(many, {});
  transport.setHeard({});
  transport.setRange(Transport::Range::kSong);
  transport.play();
  EXPECT_TRUE(soon([&] { return transport.playing(); }));
}

// What a range cannot have yet goes on as it was until it is there.
TEST_F(Trust, TheRangeBecomesTheSongWhilePlaying) {
  outputs.device = true;
  openDemo();
  window->document().replace(longDemo(song(), 40), {});
  Transport& transport = window->transport();
  transport.setRange(Transport::Range::kGroove);
  transport.play();
  ASSERT_TRUE(transport.playing());
  transport.setRange(Transport::Range::kSong);
  EXPECT_TRUE(transport.playing());
  outputs.output->pull(4'800);
  QApplication::processEvents();
  EXPECT_TRUE(soon([&] { return window->document().songTake() != nullptr; }));
  QApplication::processEvents();
  EXPECT_TRUE(transport.playing());
}

TEST_F(Trust, AFailedSaveAsLeavesTheRecordingWhereItIs) {
  std::filesystem::create_directory(folder.file("here"));
  std::filesystem::create_directory(folder.file("elsewhere"));
  Song with = song();
  with.audio = Guide{"take.wav", Milliseconds(0), {}};
  window->document().replace(with, path("here/song.ustick"));
  for (int i = 0; i < 3; ++i) {
    files.full = true;
    prompts.save = path("elsewhere/song.ustick");
    EXPECT_FALSE(window->fileDesk().saveAs());
    EXPECT_EQ(song().audio->file, "take.wav");
    EXPECT_FALSE(window->document().modified());
    files.full = false;
    EXPECT_TRUE(window->fileDesk().save());
    EXPECT_EQ(readSong(readText(folder.file("here/song.ustick")), "s")->audio->file, "take.wav");
  }
  prompts.save = path("elsewhere/song.ustick");
  EXPECT_TRUE(window->fileDesk().saveAs());
  EXPECT_EQ(song().audio->file, "../here/take.wav");
  EXPECT_FALSE(window->document().modified());
  EXPECT_EQ(readSong(readText(folder.file("elsewhere/song.ustick")), "s")->audio->file,
            "../here/take.wav");
}

TEST_F(Trust, TheKeysAreThereAfterALargeSongWasOpened) {
  Song large = blankSong();
  large.grooves[0].edit([](Groove& g) {
    g.bars = 64;
    for (int i = 0; i < 16'384; ++i)
      g.hits.push_back(testing::hitAt(Beat(i, 64), piece::kSnare, 101));
  });
  writeText(folder.file("large.ustick"), writeSong(large));
  ASSERT_GT(std::filesystem::file_size(folder.file("large.ustick")), 1'000'000U);
  showStage("strike");
  ASSERT_TRUE(window->fileDesk().openPath(path("large.ustick")));
  ASSERT_TRUE(soon([&] { return !window->fileDesk().reading(); }));
  QApplication::processEvents();
  ASSERT_EQ(QApplication::focusWidget(), &lanes());
  const Beat before = window->editing().cursorAt();
  QTest::keyClick(QApplication::focusWidget(), Qt::Key_Right);
  EXPECT_NE(window->editing().cursorAt(), before);
}

TEST_F(Trust, AKeptVariantIsNoPartOfWhatIsPlayed) {
  Song plain = song();
  plain.arrangement.clear();
  window->document().replace(plain, {});
  const std::int32_t bars = window->document().songScore()->bars;
  showStage("vary");
  auto& vary = stage<VaryStage>("vary");
  ASSERT_TRUE(soon([&] { return vary.walker().count() > 0; }));
  const std::size_t grooves = song().grooves.size();
  vary.keep();
  EXPECT_EQ(song().grooves.size(), grooves + 1);
  EXPECT_EQ(window->document().songScore()->bars, bars);
}

TEST_F(Trust, WhatWasSaidOfASongGoesWithIt) {
  writeText(folder.file("broken.ustick"), "{");
  EXPECT_FALSE(window->fileDesk().openPath(path("broken.ustick")));
  auto& close = child<QPushButton>("notice-yes");
  EXPECT_TRUE(close.isVisible());
  window->fileDesk().openDemo();
  EXPECT_FALSE(close.isVisible());
}

// --- Others write the file too ---

class Shared : public WindowTest {
 protected:
  void SetUp() override {
    prompts.save = path("song.ustick");
    ASSERT_TRUE(window->fileDesk().saveAs());
    file = folder.file("song.ustick");
  }
  // As another program does it: a file that takes the other's place.
  void theyWrite(const char* title) {
    Song theirs = *readSong(readText(file), "theirs");
    theirs.title = title;
    writeText(file + ".new", writeSong(theirs));
    std::filesystem::rename(file + ".new", file);
  }
  void weChange(const char* title) {
    Song mine = song();
    mine.title = title;
    window->document().apply(QStringLiteral("title"), mine);
  }
  bool noticed() {
    return soon([&] { return status().contains("another program"); });
  }
  std::string onDisk() { return readSong(readText(file), "disk")->title; }
  std::string file;
};

TEST_F(Shared, AFileThatOthersChangeIsReadAgainInOneStep) {
  const Song before = song();
  const int first = window->document().undoStack().index();
  for (int i = 0; i < 3; ++i) {
    const std::string title = "Theirs " + std::to_string(i);
    theyWrite(title.c_str());
    ASSERT_TRUE(soon([&] { return song().title == title; })) << title;
    EXPECT_FALSE(window->document().modified());
  }
  const int steps = window->document().undoStack().index() - first;
  EXPECT_EQ(steps, 3);
  for (int i = 0; i < steps; ++i) window->document().undo();
  EXPECT_EQ(song(), before);
  EXPECT_TRUE(window->document().modified());
  // Our own saving is nobody else's.
  ASSERT_TRUE(window->fileDesk().save());
  QTest::qWait(200);
  EXPECT_FALSE(child<QPushButton>("notice-yes").isVisible());
  EXPECT_EQ(song(), before);
}

TEST_F(Shared, ChangedOnBothSidesSavingAsks) {
  weChange("Mine");
  theyWrite("Theirs");
  ASSERT_TRUE(noticed());
  EXPECT_EQ(song().title, "Mine") << "nothing of mine is taken";
  EXPECT_FALSE(window->fileDesk().save()) << "nobody answered";
  EXPECT_EQ(onDisk(), "Theirs");
  prompts.chosen = {"Keep both: save mine beside it"};
  EXPECT_TRUE(window->fileDesk().save());
  EXPECT_EQ(onDisk(), "Theirs");
  EXPECT_EQ(readSong(readText(folder.file("song (2).ustick")), "s")->title, "Mine");
  EXPECT_EQ(window->document().path(), path("song (2).ustick"));
}

TEST_F(Shared, MineOrTheirsIsKeptAsChosen) {
  weChange("Mine");
  theyWrite("Theirs");
  ASSERT_TRUE(noticed());
  prompts.chosen = {"Keep mine: write over the other"};
  EXPECT_TRUE(window->fileDesk().save());
  EXPECT_EQ(onDisk(), "Mine");
  EXPECT_TRUE(window->fileDesk().save()) << "and is not asked again";
  weChange("Mine too");
  theyWrite("Theirs too");
  prompts.chosen = {"Keep the other: read it again"};
  EXPECT_TRUE(window->fileDesk().save()) << "asked also where it had not been noticed yet";
  EXPECT_EQ(song().title, "Theirs too");
  EXPECT_FALSE(window->document().modified());
  window->document().undo();
  EXPECT_EQ(song().title, "Mine too");
}

TEST_F(Shared, WhatTheyBreakIsSaidAndNothingIsLost) {
  const Song before = song();
  writeText(file, "{");
  ASSERT_TRUE(noticed());
  EXPECT_EQ(song(), before);
  weChange("Mine");
  prompts.chosen = {"Keep the other: read it again"};
  EXPECT_FALSE(window->fileDesk().save()) << "there is nothing to be read";
  EXPECT_EQ(song().title, "Mine");
  prompts.chosen = {"Keep mine: write over the other"};
  EXPECT_TRUE(window->fileDesk().save());
  EXPECT_TRUE(readSong(readText(file), "s"));
}

TEST_F(Shared, ASecondWindowOfTheSameFileOpensTheFirst) {
  int knocks = 0;
  QObject::connect(&window->fileDesk(), &FileDesk::wanted, window.get(), [&] { ++knocks; });
  std::filesystem::create_symlink(file, folder.file("link.ustick"));
  const auto second = makeWindow();
  for (const char* name : {"song.ustick", "link.ustick"}) {
    EXPECT_FALSE(second->fileDesk().openPath(path(name)));
    EXPECT_TRUE(second->document().path().isEmpty());
  }
  EXPECT_TRUE(soon([&] { return knocks > 0; }));
  EXPECT_NE(second->findChild<QLabel*>("status")->text().indexOf("another window"), -1);
  // It is free again once the first has let it go.
  window->fileDesk().newSong();
  EXPECT_TRUE(second->fileDesk().openPath(path("song.ustick")));
  EXPECT_FALSE(window->fileDesk().openPath(path("song.ustick")));
}

}  // namespace
}  // namespace uneven::testing
