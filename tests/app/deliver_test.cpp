// SPDX-License-Identifier: GPL-3.0-or-later
// The Deliver stage.
#include "app/deliver/deliver_stage.h"

#include <QClipboard>
#include <QComboBox>
#include <QGuiApplication>
#include <QLabel>
#include <QLineEdit>
#include <QMimeData>
#include <QPushButton>
#include <QTableView>
#include <QTimer>
#include <QUrl>

#include "app/deliver/audio_form.h"
#include "app/deliver/midi_tile.h"
#include "app/edit/editing.h"
#include "core/midi/smf.h"
#include "core/song/edit.h"
#include "tests/app/window_fixture.h"

namespace uneven::testing {
namespace {

class Deliver : public WindowTest {
 protected:
  void showDeliver() {
    QTest::keyClick(window.get(), Qt::Key_9, Qt::AltModifier);
    QCoreApplication::processEvents();
  }
  QString cell(int row, int column) {
    return child<QTableView>("event-list").model()->index(row, column).data().toString();
  }
};

TEST_F(Deliver, ListsTheFirstNotesAsTheyWillBeWritten) {
  openDemo();
  showDeliver();
  EXPECT_EQ(child<QTableView>("event-list").model()->rowCount(), 468);
  QStringList row;
  for (int c = 0; c < 7; ++c) row << cell(7, c);
  // The backbeat on 2: 652.174 ms + 11 ms late; 976 ticks at 92 bpm.
  EXPECT_EQ(row.join('|'), "1|2|38|Acoustic Snare|111|976|663.174");
  type(child<QLineEdit>("ppq"), "480");
  EXPECT_EQ(cell(7, 5), "488");
  type(child<QLineEdit>("lead-in"), "1");
  EXPECT_EQ(cell(7, 5), "2408");
}

TEST_F(Deliver, WritesTheSameBytesAsTheCommandLine) {
  openDemo();
  prompts.save = path("demo.ustick");
  ASSERT_TRUE(window->fileDesk().saveAs());
  showDeliver();
  type(child<QLineEdit>("ppq"), "480");
  prompts.save = path("app");
  QTest::mouseClick(&child<QPushButton>("write"), Qt::LeftButton);
  EXPECT_EQ(status(), "Wrote " + path("app.mid"));
  const auto cli = runProcess({USTICK_PROGRAM, "render", folder.file("demo.ustick"), "-o",
                               folder.file("cli.mid"), "--ppq", "480"});
  ASSERT_EQ(cli.exitCode, 0) << cli.err;
  EXPECT_EQ(readText(folder.file("app.mid")), readText(folder.file("cli.mid")));
}

TEST_F(Deliver, TheTileCarriesARealFile) {
  openDemo();
  showDeliver();
  auto& stage = *window->findChild<DeliverStage*>();
  const std::unique_ptr<QMimeData> data(stage.tile().dragData());
  ASSERT_NE(data, nullptr);
  ASSERT_EQ(data->urls().size(), 1);
  const QString file = data->urls().first().toLocalFile();
  EXPECT_TRUE(file.endsWith("Lock Gate Nine.mid")) << file.toStdString();
  const auto read = readSmf(readText(file.toStdString()), "dragged");
  ASSERT_TRUE(read) << read.error().line();
  EXPECT_EQ(read->tracks.size(), 2U);
}

TEST_F(Deliver, AnotherKitMapIsPartOfTheSong) {
  openDemo();
  showDeliver();
  choose(child<QComboBox>("map-choice"), "House keys");
  EXPECT_EQ(song().map, "house-keys");
  EXPECT_EQ(cell(0, 2), "62");
  QTest::keyClick(window.get(), Qt::Key_Z, Qt::ControlModifier);
  EXPECT_EQ(song().map, "general-midi");
  EXPECT_EQ(cell(0, 2), "42");
}

TEST_F(Deliver, AMapFileIsReadAndABadOneRefused) {
  openDemo();
  showDeliver();
  auto& map = child<QComboBox>("map-choice");
  const int fromFile = map.count() - 1;
  writeText(folder.file("mine.json"),
            R"({"format": "uneven-stick-kit-map", "version": 1, "id": "mine", "name": "Mine",
                "notes": [{"piece": "kick", "note": 35}]})");
  prompts.open = path("mine.json");
  map.setCurrentIndex(fromFile);
  Q_EMIT map.activated(fromFile);
  EXPECT_EQ(song().map, "mine");
  EXPECT_EQ(cell(0, 2), "35");
  EXPECT_NE(child<QLabel>("notices").text().indexOf("no note for Snare: 128 strokes left out"), -1)
      << child<QLabel>("notices").text().toStdString();
  writeText(folder.file("bad.json"), "{}");
  prompts.open = path("bad.json");
  Q_EMIT map.activated(map.count() - 1);
  EXPECT_EQ(song().map, "mine");
  EXPECT_NE(status().indexOf("bad.json:1:1"), -1) << status().toStdString();
}

TEST_F(Deliver, AMissingMapIsToldAndNothingIsWritten) {
  Song stray = blankSong();
  stray.map = "someone-elses";
  window->document().replace(stray, {});
  showDeliver();
  EXPECT_FALSE(child<QPushButton>("write").isEnabled());
  EXPECT_NE(child<QLabel>("notices").text().indexOf("someone-elses"), -1);
}

TEST_F(Deliver, AFullDeviceLeavesNoFile) {
  openDemo();
  showDeliver();
  prompts.save = path("out.mid");
  files.full = true;
  QTest::mouseClick(&child<QPushButton>("write"), Qt::LeftButton);
  EXPECT_NE(status().indexOf("Not written."), -1);
  EXPECT_FALSE(std::filesystem::exists(folder.file("out.mid")));
}

TEST_F(Deliver, TheListIsCopiedAsText) {
  openDemo();
  showDeliver();
  QTest::keyClick(window.get(), Qt::Key_C, Qt::ControlModifier);
  const QString text = QGuiApplication::clipboard()->text();
  EXPECT_EQ(text.section('\n', 0, 0), "Bar\tCount\tNote\tName\tVelocity\tTick\tms");
  EXPECT_EQ(text.count('\n'), 469);
}

Song songOf128000Strokes() {
  Song longSong = blankSong();
  longSong.grooves[0].edit([](Groove& g) {
    for (int i = 0; i < 32; ++i) {
      Hit hit;
      hit.at = Beat(i, 4);
      g.hits.push_back(hit);
    }
  });
  longSong.arrangement[0].repeat = 4000;
  return longSong;
}

TEST_F(Deliver, ALongSongIsRenderedAsideAndCanBeWritten) {
  window->document().replace(songOf128000Strokes(), {});
  showDeliver();
  EXPECT_TRUE(soon([&] { return child<QTableView>("event-list").model()->rowCount() == 500; }));
  auto& stage = *window->findChild<DeliverStage*>();
  stage.writeTo(path("long.mid"));
  const auto read = readSmf(readText(folder.file("long.mid")), "long");
  ASSERT_TRUE(read);
  EXPECT_EQ(read->tracks[1].events.size(), 2U * 32 * 4000);
}

TEST_F(Deliver, RenderingIsCancelledAndTheWritingThatWaitsForIt) {
  window->document().replace(songOf128000Strokes(), {});
  showDeliver();
  auto& cancel = child<QPushButton>("cancel-rendering");
  ASSERT_TRUE(cancel.isVisible()) << "a long song shows that it is at work";
  QTest::mouseClick(&cancel, Qt::LeftButton);
  EXPECT_FALSE(cancel.isVisible());
  // Writing begins anew, and is cancelled while it waits: nothing is left on the disk.
  auto& stage = *window->findChild<DeliverStage*>();
  stage.writeTo(path("never.mid"));
  QTest::mouseClick(&cancel, Qt::LeftButton);
  EXPECT_FALSE(files.read(path("never.mid").toStdString()));
  EXPECT_TRUE(status().contains("cancelled")) << status().toStdString();
  stage.writeTo(path("long.mid"));
  ASSERT_TRUE(soon([&] { return QFile::exists(path("long.mid")); }))
      << "and it can be written after that";
  EXPECT_FALSE(files.read(path("never.mid").toStdString()));
}

// Nothing waits inside a call: the window can be left while a file waits to be written.
TEST_F(Deliver, TheProgramEndsWhileALongFileWaits) {
  window->document().replace(songOf128000Strokes(), {});
  window->document().undoStack().setClean();
  showDeliver();
  window->findChild<DeliverStage*>()->writeTo(path("long.mid"));
  ASSERT_FALSE(QFile::exists(path("long.mid"))) << "it is still being made";
  EXPECT_TRUE(window->close());
  window.reset();
  EXPECT_FALSE(QFile::exists(path("long.mid")));
}

// What MIDI and the command line refuse is not sounded by another map.
TEST_F(Deliver, AudioIsRefusedWhereTheSongsMapIsNotHere) {
  openDemo();
  Song unknown = song();
  unknown.map = "nowhere";
  window->document().apply("map", unknown);
  showDeliver();
  (*window->findChild<AudioForm*>()).writeTo(path("x.wav"));
  EXPECT_NE(status().indexOf("\"nowhere\" is not here"), -1) << status().toStdString();
  EXPECT_FALSE(QFile::exists(path("x.wav")));
}

TEST_F(Deliver, AudioIsTheCommandLines) {
  openDemo();
  Song song = window->document().song();
  song.arrangement.resize(1);
  song.arrangement[0].repeat = 1;
  writeText(folder.file("short.ustick"), writeSong(song));
  ASSERT_TRUE(window->fileDesk().openPath(path("short.ustick")));
  showDeliver();
  choose(child<QComboBox>("audio-rate"), "44.1 kHz");
  choose(child<QComboBox>("audio-bits"), "16 bits");
  choose(child<QComboBox>("audio-stems"), "and one for each limb");
  prompts.save = path("song.flac");
  QTest::mouseClick(&child<QPushButton>("write-audio"), Qt::LeftButton);
  auto& form = *window->findChild<AudioForm*>();
  EXPECT_TRUE(child<QPushButton>("cancel-audio").isVisible()) << "it shows that it is at work";
  ASSERT_TRUE(soon([&] { return !form.writing(); }));
  QApplication::processEvents();
  EXPECT_FALSE(child<QPushButton>("cancel-audio").isVisible());
  EXPECT_TRUE(child<QLabel>("audio-written").text().contains("dBFS"));
  const auto other = runProcess({USTICK_PROGRAM, "render", folder.file("short.ustick"), "-o",
                                 path("cli.flac").toStdString(), "--rate", "44100", "--bits", "16",
                                 "--stems", "limb"});
  ASSERT_EQ(other.exitCode, 0) << other.err;
  EXPECT_EQ(readText(path("song.flac").toStdString()), readText(path("cli.flac").toStdString()));
  EXPECT_EQ(readText(path("song-left-foot.flac").toStdString()),
            readText(path("cli-left-foot.flac").toStdString()));
}

TEST_F(Deliver, AudioCanBeGivenUpAndLeavesNothing) {
  openDemo();
  showDeliver();
  choose(child<QComboBox>("audio-stems"), "and one for each piece");
  auto& form = *window->findChild<AudioForm*>();
  form.writeTo(path("never.wav"));
  QTest::mouseClick(&child<QPushButton>("cancel-audio"), Qt::LeftButton);
  ASSERT_TRUE(soon([&] { return !form.writing(); }));
  QApplication::processEvents();
  EXPECT_TRUE(child<QLabel>("audio-written").text().contains("Given up"));
  EXPECT_FALSE(files.read(path("never.wav").toStdString()));
}

TEST_F(Deliver, AudioThatCannotBeIsSaid) {
  openDemo();
  showDeliver();
  choose(child<QComboBox>("audio-bits"), "float (WAV)");
  auto& form = *window->findChild<AudioForm*>();
  form.writeTo(path("x.flac"));
  ASSERT_TRUE(soon([&] { return !form.writing(); }));
  QApplication::processEvents();
  EXPECT_TRUE(status().contains("FLAC has 16 or 24 bits")) << status().toStdString();
  files.full = true;
  form.writeTo(path("x.wav"));
  ASSERT_TRUE(soon([&] { return !form.writing(); }));
  QApplication::processEvents();
  EXPECT_TRUE(status().contains("no space left")) << status().toStdString();
}

}  // namespace
}  // namespace uneven::testing
