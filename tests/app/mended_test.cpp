// SPDX-License-Identifier: GPL-3.0-or-later
// Faults that have been found and mended in the window, each by the way a hand comes to it.
#include <sys/stat.h>

#include <QClipboard>
#include <QComboBox>
#include <QElapsedTimer>
#include <QLabel>
#include <QMenuBar>
#include <QMimeData>
#include <QProgressBar>
#include <QPushButton>
#include <QTimer>
#include <QUndoStack>

#include "app/controls/labels.h"
#include "app/deliver/deliver_stage.h"
#include "app/edit/editing.h"
#include "app/frame/application.h"
#include "app/frame/autosave.h"
#include "app/lean/lean_stage.h"
#include "app/lean/lean_view.h"
#include "app/open/open_stage.h"
#include "app/open/open_view.h"
#include "app/strike/strike_stage.h"
#include "core/io/song_json.h"
#include "core/song/edit.h"
#include "layout/hit_test.h"
#include "tests/app/window_fixture.h"
#include "tests/support/random_song.h"

namespace uneven::testing {
namespace {

class Mended : public WindowTest {
 protected:
  QUndoStack& undo() { return window->document().undoStack(); }
  // Presses, drags and gives up, the button still down.
  void dragAndGiveUp(QPoint from, QPoint to, Qt::KeyboardModifiers with = Qt::NoModifier) {
    dragOn(lanes(), from, to, with, true);
  }
  static void dragOn(QWidget& view, QPoint from, QPoint to, Qt::KeyboardModifiers with,
                     bool giveUp) {
    QTest::mousePress(&view, Qt::LeftButton, with, from);
    for (int i = 1; i <= 4; ++i) {
      const QPoint p = from + (to - from) * i / 4;
      QMouseEvent move(QEvent::MouseMove, p, view.mapToGlobal(p), Qt::NoButton, Qt::LeftButton,
                       with);
      QApplication::sendEvent(&view, &move);
    }
    if (giveUp) QTest::keyClick(&view, Qt::Key_Escape);
    QTest::mouseRelease(&view, Qt::LeftButton, with, to);
  }
  Song songWithOwnPiece() {
    Song song = blankSong();
    Piece gong;
    gong.id = gong.name = "gong";
    song.kit.edit([&](Kit& kit) {
      kit.order.push_back({static_cast<std::uint8_t>(kit.pieces.size())});
      kit.pieces.push_back(gong);
    });
    song.grooves[0].edit([](Groove& g) {
      Hit hit;
      hit.piece = {static_cast<std::uint8_t>(houseKit().pieces.size())};
      g.hits = {hit};
    });
    return song;
  }
};

TEST_F(Mended, AGestureThatChangedNothingTakesNothingBack) {
  press(Qt::Key_Return);
  press(Qt::Key_0);
  ASSERT_EQ(hitAt(Beat(0), piece::kHat).velocity.value(), 127);
  press(Qt::Key_A);
  press(Qt::Key_Z, Qt::ControlModifier);
  const Song before = song();
  const int index = undo().index();
  const QPoint head = headPoint(Beat(0), piece::kHat);
  dragAndGiveUp(head, head - QPoint(0, 40));
  EXPECT_EQ(song(), before);
  EXPECT_EQ(undo().index(), index);
  EXPECT_TRUE(undo().canRedo()) << "what was undone can still be done again";
}

TEST_F(Mended, AGestureThatIsGivenUpLeavesUndoAndRedoAsTheyWere) {
  press(Qt::Key_Return);
  press(Qt::Key_5);
  press(Qt::Key_A);
  press(Qt::Key_Z, Qt::ControlModifier);
  const Song before = song();
  const int index = undo().index();
  const QPoint head = headPoint(Beat(0), piece::kHat);
  dragAndGiveUp(head, head - QPoint(0, 30));
  EXPECT_EQ(song(), before);
  EXPECT_EQ(undo().index(), index);
  EXPECT_TRUE(undo().canRedo());
  // Undo in the middle of a drag gives the drag up.
  QTest::mousePress(&lanes(), Qt::LeftButton, Qt::NoModifier, head);
  QMouseEvent move(QEvent::MouseMove, head - QPoint(0, 30), lanes().mapToGlobal(head), Qt::NoButton,
                   Qt::LeftButton, Qt::NoModifier);
  QApplication::sendEvent(&lanes(), &move);
  EXPECT_NE(song(), before);
  EXPECT_TRUE(window->document().modified());
  press(Qt::Key_Z, Qt::ControlModifier);
  EXPECT_EQ(song(), before);
  QTest::mouseRelease(&lanes(), Qt::LeftButton, Qt::NoModifier, head);
  EXPECT_EQ(undo().index(), index);
}

TEST_F(Mended, EscapeGivesUpWhenTheUndoStackIsFull) {
  undo().clear();
  undo().setUndoLimit(3);
  press(Qt::Key_Return);
  for (const Qt::Key key : {Qt::Key_3, Qt::Key_4, Qt::Key_5, Qt::Key_6}) press(key);
  ASSERT_EQ(undo().count(), 3);
  Song before = song();
  showStage("lean");
  LeanView& lean = stage<LeanStage>("lean").view();
  const LeanStick stick = lean.scene().sticks.front();
  const QPoint from(static_cast<int>(stick.head.x), static_cast<int>(stick.head.y) + 2);
  dragOn(lean, from, from + QPoint(40, 0), Qt::NoModifier, true);
  EXPECT_EQ(song(), before);
  EXPECT_EQ(undo().count(), 3);
  showStage("open");
  OpenView& open = stage<OpenStage>("open").view();
  const OpenScene& scene = open.scene();
  const QPoint hat(static_cast<int>(scene.hits.front().x), static_cast<int>(scene.band.bottom) - 4);
  dragOn(open, hat, hat - QPoint(0, 60), Qt::NoModifier, true);
  EXPECT_EQ(song(), before);
  EXPECT_EQ(undo().count(), 3);
  dragOn(open, hat, hat - QPoint(0, 60), Qt::NoModifier, false);
  EXPECT_GT(hitAt(Beat(0), piece::kHat).open, 0) << "the same drag does something when it is kept";
}

TEST_F(Mended, DeliverNeverWritesASongThatIsAnotherByNow) {
  Song song = blankSong();
  song.grooves[0].edit([](Groove& g) {
    for (int i = 0; i < 32; ++i) {
      Hit hit;
      hit.at = Beat(i, 4);
      g.hits.push_back(hit);
    }
  });
  song.arrangement[0].repeat = 4000;
  window->document().replace(song, {});
  showStage("deliver");  // begins to render aside
  showStage("strike");
  window->editing().selectAll();
  window->editing().hits().setVelocity(33);
  QTest::qWait(1500);  // the old rendering comes in
  showStage("deliver");
  window->findChild<DeliverStage*>()->writeTo(path("out.mid"));
  ASSERT_TRUE(soon([&] { return QFile::exists(path("out.mid")); }));
  const ProcessResult read = runProcess({USTICK_PROGRAM, "info", folder.file("out.mid")});
  EXPECT_NE(read.out.find("128000 notes"), std::string::npos) << read.out << read.err;
  const std::string bytes = readText(folder.file("out.mid"));
  EXPECT_NE(bytes.find(std::string("\x99\x2A\x21", 3)), std::string::npos) << "velocity 33";
  EXPECT_EQ(bytes.find(std::string("\x99\x2A\x5A", 3)), std::string::npos) << "velocity 90";
}

TEST_F(Mended, HitsOnAnOwnPieceAreCopiedAndBringItAlong) {
  window->document().replace(songWithOwnPiece(), {});
  window->editing().selectAll();
  press(Qt::Key_C, Qt::ControlModifier);
  EXPECT_EQ(status(), "1 hits copied");
  window->document().replace(blankSong(), {});
  press(Qt::Key_V, Qt::ControlModifier);
  ASSERT_EQ(groove().hits.size(), 1U);
  EXPECT_EQ((*song().kit)[groove().hits[0].piece].id, "gong");
  EXPECT_EQ(status(), "1 hits pasted, with gong added to the kit");
  press(Qt::Key_Z, Qt::ControlModifier);
  EXPECT_EQ(*song().kit, houseKit()) << "hits and piece are one step";
  EXPECT_TRUE(groove().hits.empty());
}

TEST_F(Mended, AnExceptionKeepsTheWorkAsideAndSaysWhatHappened) {
  press(Qt::Key_Return);
  auto* app = qobject_cast<Application*>(qApp);
  ASSERT_NE(app, nullptr);
  app->setFailureHandler([this](const QString& what) { window->tellBroken(what); });
  QTimer::singleShot(0, window.get(), [] { throw std::out_of_range("beyond the vector"); });
  QApplication::processEvents();
  app->setFailureHandler({});
  EXPECT_NE(status().indexOf("beyond the vector"), -1) << status().toStdString();
  EXPECT_TRUE(child<QPushButton>("notice-yes").isVisible());
  const QStringList kept = QDir(path("unsaved")).entryList({"unsaved-*.ustick"});
  ASSERT_EQ(kept.size(), 1);
  const auto read = readSong(readText(folder.file("unsaved/" + kept[0].toStdString())), "kept");
  ASSERT_TRUE(read);
  EXPECT_EQ(*read, song());
}

TEST_F(Mended, APairOfHitsAtOnePlaceIsToldAndCanBeDrawnOver) {
  std::string text = writeSong(blankSong());
  const std::size_t at = text.find("\"hits\": [") + 9;
  text.insert(at, R"({"at": "1", "piece": "hat", "velocity": 30},)"
                  R"({"at": "1", "piece": "hat", "velocity": 90})");
  writeText(folder.file("pair.ustick"), text);
  ASSERT_TRUE(window->fileDesk().openPath(path("pair.ustick")));
  EXPECT_NE(status().indexOf("1 hit was left out"), -1) << status().toStdString();
  ASSERT_EQ(groove().hits.size(), 1U);
  EXPECT_EQ(groove().hits[0].velocity.value(), 90);
  window->editing().selectAll();
  const QPoint slot = slotPoint(Beat(1), piece::kHat);
  drag(slot - QPoint(30, 40), slot + QPoint(30, -40), Qt::AltModifier);
  EXPECT_NE(groove().hits[0].velocity.value(), 90);
}

TEST_F(Mended, ANewGrooveIsEmpty) {
  openDemo();
  window->editing().pedal().changePedal("draw", [](Pedal& pedal) {
    putMove(pedal, {Beat(1), 0.5, Beat(1), {}});
  });
  window->editing().grooves().embellishGroove();
  Groove noted = groove();
  noted.walk.push_back({"1 for 1", WalkMark::kGood, "", {}});
  window->editing().grooves().replaceGroove("note", noted);
  ASSERT_FALSE(groove().core.empty());
  const Groove like = groove();
  window->editing().grooves().newGroove();
  Groove wanted;
  wanted.id = groove().id;
  wanted.name = "New groove";
  wanted.meter = like.meter;
  wanted.bars = like.bars;
  wanted.grid = like.grid;
  wanted.feel = like.feel;
  EXPECT_EQ(groove(), wanted);
}

TEST_F(Mended, ADragOutAndBackLeavesNothing) {
  openDemo();
  showStage("lean");
  const Song before = song();
  LeanView& lean = stage<LeanStage>("lean").view();
  const auto there = [&](QPoint from, QPoint way) {
    QTest::mousePress(&lean, Qt::LeftButton, Qt::NoModifier, from);
    for (const QPoint p : {from + way, from}) {
      QMouseEvent move(QEvent::MouseMove, p, lean.mapToGlobal(p), Qt::NoButton, Qt::LeftButton,
                       Qt::NoModifier);
      QApplication::sendEvent(&lean, &move);
    }
    QTest::mouseRelease(&lean, Qt::LeftButton, Qt::NoModifier, from);
  };
  const std::vector<LeanRow> rows = lean.scene().rows;
  for (const LeanRow& row : rows) {
    there({40, static_cast<int>(row.baseline) - 6}, {25, 0});
    ASSERT_EQ(writeSong(song()), writeSong(before));
  }
  EXPECT_EQ(undo().count(), 0);
  EXPECT_FALSE(window->document().modified());
  // Typed back to zero, the key is gone too.
  showStage("strike");
  type(child<QLineEdit>("displace-kick"), "7");
  EXPECT_NE(writeSong(song()), writeSong(before));
  type(child<QLineEdit>("displace-kick"), "0");
  EXPECT_EQ(song().feels[0].displacement.count(piece::kKick), 0U);
}

TEST_F(Mended, QuickEditsOfTwoGroovesAreTwoSteps) {
  openDemo();
  window->editing().moveCursor(Beat(1), piece::kSnare);
  press(Qt::Key_Period);
  const int steps = undo().count();
  press(Qt::Key_PageDown, Qt::ControlModifier);
  window->editing().select({refOf(groove(), 0)});
  press(Qt::Key_Period);
  EXPECT_EQ(undo().count(), steps + 1);
  press(Qt::Key_Period);
  EXPECT_EQ(undo().count(), steps + 1) << "of one groove they are one";
  press(Qt::Key_Comma);
  press(Qt::Key_Comma);
  EXPECT_EQ(undo().count(), steps) << "and back where they began, none";
}

TEST_F(Mended, SwingInTheTopBarMakesAFeelWhereThereIsNone) {
  Song bare = blankSong();
  bare.feels.clear();
  bare.grooves[0].edit([](Groove& g) { g.feel.clear(); });
  window->document().replace(bare, {});
  type(child<QLineEdit>("ratio"), "1.8");
  ASSERT_EQ(song().feels.size(), 1U);
  EXPECT_EQ(song().feels[0].swing.ratio, 1.8);
  EXPECT_EQ(groove().feel, song().feels[0].id);
}

TEST_F(Mended, WorkOfACrashIsFoundThoughItsProcessNumberRunsAgain) {
  std::filesystem::create_directory(folder.file("unsaved"));
  Song lost = blankSong();
  lost.title = "Lost";
  // Our own number: the process that left it had it before us.
  writeText(folder.file("unsaved/unsaved-" + std::to_string(::getpid()) + ".ustick"),
            writeSong(lost));
  window->offerUnsavedWork();
  ASSERT_TRUE(child<QPushButton>("notice-yes").isVisible());
  // A second program does not offer it as well.
  auto second = makeWindow();
  second->offerUnsavedWork();
  EXPECT_FALSE(second->findChild<QPushButton*>("notice-yes")->isVisible());
  QTest::mouseClick(&child<QPushButton>("notice-yes"), Qt::LeftButton);
  EXPECT_EQ(song().title, "Lost");
  EXPECT_EQ(QDir(path("unsaved")).entryList({"*.ustick"}).size(), 1) << "under our own name";
}

TEST_F(Mended, ARestoreOnAFullDiskKeepsWhatThereIs) {
  std::filesystem::create_directory(folder.file("unsaved"));
  const std::string left = folder.file("unsaved/unsaved-1.ustick");
  writeText(left, writeSong(blankSong()));
  files.full = true;
  window->offerUnsavedWork();
  QTest::mouseClick(&child<QPushButton>("notice-yes"), Qt::LeftButton);
  EXPECT_TRUE(std::filesystem::exists(left)) << "the only copy there is";
  EXPECT_NE(status().indexOf("no space left"), -1) << status().toStdString();
  EXPECT_TRUE(window->document().modified());
}

// Work is kept aside on a thread of its own: what it writes late is neither left behind nor missed.
TEST_F(Mended, WhatIsKeptAsideWhileTheSongIsSavedGoes) {
  const auto kept = [&] { return QDir(path("unsaved")).entryList({"unsaved-*"}, QDir::Files); };
  const auto untilAWriteIsUnderWay = [&] {
    const int before = files.begun;
    press(Qt::Key_Return);
    ASSERT_TRUE(soon([&] { return files.begun > before; }));
  };
  autosaveMs = 100;
  window = makeWindow();
  files.slowMs = 250;
  untilAWriteIsUnderWay();
  EXPECT_LT(files.slept, files.begun) << "the window does not wait for it";
  prompts.save = path("song");
  press(Qt::Key_S, Qt::ControlModifier);
  EXPECT_FALSE(window->document().modified());
  EXPECT_TRUE(soon([&] { return files.slept == files.begun && kept().isEmpty(); }));
  EXPECT_EQ(*readSong(readText(folder.file("song.ustick")), "song"), song());

  // Edited while it is written: written again, as it is then.
  untilAWriteIsUnderWay();
  press(Qt::Key_Right);
  press(Qt::Key_Return);
  EXPECT_TRUE(soon([&] {
    const QStringList songs = QDir(path("unsaved")).entryList({"unsaved-*.ustick"});
    if (songs.size() != 1) return false;
    const auto read = readSong(readText(folder.file("unsaved/" + songs[0].toStdString())), "kept");
    return read && *read == song();
  }));

  // Closed while it is written.
  untilAWriteIsUnderWay();
  prompts.saveAnswer = SaveAnswer::kDiscard;
  EXPECT_TRUE(window->close());
  window.reset();
  EXPECT_EQ(kept(), QStringList());
}

TEST_F(Mended, AMapReadFromAFileIsTheOneOpenGoesBy) {
  press(Qt::Key_Return);
  writeText(folder.file("map.json"), R"({"format": "uneven-stick-kit-map", "version": 1,
    "id": "mine", "notes": [{"piece": "hat", "note": 42, "open_to": 0.5, "degree": "a crack"},
    {"piece": "hat", "note": 46, "degree": "gaping"}]})");
  showStage("deliver");
  prompts.open = path("map.json");
  choose(child<QComboBox>("map-choice"), "From a file…");
  ASSERT_EQ(song().map, "mine");
  const KitMapLibrary& maps = window->document().kitMaps();
  ASSERT_NE(maps.find("mine"), nullptr);
  EXPECT_TRUE(std::filesystem::exists(folder.file("maps/mine.json"))) << "for the next start";
  showStage("open");
  auto& degree = child<QComboBox>("open-degree");
  QStringList words;
  for (int i = 0; i < degree.count(); ++i) words << degree.itemText(i);
  EXPECT_TRUE(words.contains("gaping") || words.contains("Gaping"))
      << words.join(",").toStdString();
}

TEST_F(Mended, NamesFromFilesAreNeverRichText) {
  Song song = songWithOwnPiece();
  song.kit.edit([](Kit& kit) { kit.pieces.back().name = "<h1>Gong</h1>"; });
  song.title = "<b>bold</b>";
  window->document().replace(song, {});
  for (const QLabel* label : window->findChildren<QLabel*>()) {
    EXPECT_EQ(label->textFormat(), Qt::PlainText) << label->text().toStdString();
  }
  writeText(folder.file("bad.ustick"), "{\"<h1>\": 1}");
  window->fileDesk().openPath(path("bad.ustick"));
  for (const QLabel* label : window->findChildren<QLabel*>()) {
    EXPECT_EQ(label->textFormat(), Qt::PlainText) << label->text().toStdString();
  }
  EXPECT_EQ(plainText("plain"), "plain");
  EXPECT_TRUE(plainText("a <h1>Gong</h1>").contains("&lt;h1&gt;"));
}

TEST_F(Mended, APipeIsRefusedAndFreezesNothing) {
  ASSERT_EQ(::mkfifo(folder.file("pipe.ustick").c_str(), 0600), 0);
  QElapsedTimer timer;
  timer.start();
  EXPECT_FALSE(window->fileDesk().openPath(path("pipe.ustick")));
  EXPECT_LT(timer.elapsed(), 5000);
  EXPECT_NE(status().indexOf("a device, a pipe or a socket"), -1) << status().toStdString();
}

TEST_F(Mended, TheMidiFileIsNeverWrittenOverTheSong) {
  press(Qt::Key_Return);
  prompts.save = path("song");
  press(Qt::Key_S, Qt::ControlModifier);
  const std::string kept = readText(folder.file("song.ustick"));
  showStage("deliver");
  window->findChild<DeliverStage*>()->writeTo(path("song.ustick"));
  EXPECT_NE(status().indexOf("what is read"), -1) << status().toStdString();
  EXPECT_EQ(readText(folder.file("song.ustick")), kept);
}

TEST_F(Mended, AFeelIsNeverSavedOverTheSong) {
  press(Qt::Key_Return);
  prompts.save = path("song");
  press(Qt::Key_S, Qt::ControlModifier);
  const std::string kept = readText(folder.file("song.ustick"));
  showStage("lean");
  stage<LeanStage>("lean").showSide(LeanStage::Side::kFeels);
  prompts.save = path("song.ustick");
  QTest::mouseClick(&child<QPushButton>("feel-save"), Qt::LeftButton);
  EXPECT_EQ(readText(folder.file("song.ustick")), kept);
  EXPECT_NE(status().indexOf("is what is read"), -1) << status().toStdString();
}

TEST_F(Mended, ALargeSongIsReadAsideAndCanBeCancelled) {
  Song large = blankSong();
  large.title = "Large";
  for (int k = 0; k < 24; ++k) {
    Groove g;
    g.id = "g" + std::to_string(k);
    g.bars = kBarsMax;
    for (int i = 0; i < 1024; ++i) {
      Hit hit;
      hit.at = Beat(i, 4);
      hit.velocity = Velocity(i % 127 + 1);
      g.hits.push_back(hit);
    }
    large.grooves.emplace_back(g);
  }
  writeText(folder.file("large.ustick"), writeSong(large));
  ASSERT_GT(std::filesystem::file_size(folder.file("large.ustick")), 1'000'000U);
  FileDesk& desk = window->fileDesk();
  EXPECT_TRUE(desk.openPath(path("large.ustick")));
  EXPECT_TRUE(desk.reading());
  EXPECT_TRUE(window->findChild<QProgressBar*>()->isVisibleTo(window.get()));
  EXPECT_NE(song().title, "Large");
  QTest::mouseClick(&child<QPushButton>("notice-yes"), Qt::LeftButton);
  EXPECT_FALSE(desk.reading());
  QTest::qWait(600);
  EXPECT_NE(song().title, "Large") << "it was cancelled";
  EXPECT_TRUE(lanes().isEnabled());

  EXPECT_TRUE(desk.openPath(path("large.ustick")));
  EXPECT_FALSE(lanes().isEnabled());
  ASSERT_TRUE(soon([&] { return !desk.reading(); }));
  EXPECT_EQ(song(), large);
  EXPECT_TRUE(lanes().isEnabled());
  EXPECT_EQ(window->document().path(), path("large.ustick"));
}

TEST_F(Mended, ManyEditsOfALongGrooveShareWhatTheyLeaveAlone) {
  Random random(5);
  Song song = blankSong();
  song.grooves[0].edit([](Groove& g) {
    g.bars = kBarsMax;
    for (int i = 0; i < 2900; ++i) {
      Hit hit;
      hit.at = Beat(i, 12);
      g.hits.push_back(hit);
    }
  });
  window->document().replace(song, {});
  std::vector<Song> history{window->document().song()};
  for (int i = 0; i < 60; ++i) {
    window->editing().select({refOf(groove(), static_cast<std::size_t>(pick(random, 0, 2899)))});
    window->editing().hits().setVelocity(pick(random, 1, 127));
    history.push_back(window->document().song());
  }
  for (std::size_t i = history.size() - 1; i-- > 0;) {
    undo().undo();
    ASSERT_EQ(window->document().song(), history[i]);
  }
  for (std::size_t i = 1; i < history.size(); ++i) {
    undo().redo();
    ASSERT_EQ(window->document().song(), history[i]);
  }
}

TEST_F(Mended, ToolsStandInGroups) {
  QMenu* tools0 = nullptr;
  for (QAction* action : window->menuBar()->actions()) {
    if (action->text() == "&Tools") tools0 = action->menu();
  }
  ASSERT_NE(tools0, nullptr);
  Q_EMIT tools0->aboutToShow();
  ASSERT_EQ(tools0->actions().size(), 6);
  std::size_t count = 0;
  for (QAction* group : tools0->actions()) {
    ASSERT_NE(group->menu(), nullptr) << group->text().toStdString();
    count += static_cast<std::size_t>(group->menu()->actions().size());
  }
  EXPECT_EQ(count, tools().size());
  openTool("rotate");
  auto& choice = child<QComboBox>("tool-choice");
  EXPECT_EQ(choice.currentData().toString(), "rotate");
  EXPECT_EQ(choice.count(), static_cast<int>(tools().size()) + 6) << "with a heading each";
}

TEST_F(Mended, MenusHaveTheColourOfTheCardsNotWhite) {
  QMenu* menu = window->menuBar()->actions().first()->menu();
  ASSERT_NE(menu, nullptr);
  menu->popup(QPoint(0, 0));
  const QImage picture = menu->grab().toImage();
  menu->close();
  EXPECT_EQ(picture.pixelColor(picture.width() - 6, picture.height() - 6),
            QColor(0xff, 0xfa, 0xf0));
}

TEST_F(Mended, AGhostGetsTheMedianOfThePiecesOtherGhosts) {
  for (const auto& [at, velocity] : {std::pair{0, 20}, {1, 40}}) {
    window->editing().moveCursor(Beat(at), piece::kSnare);
    press(Qt::Key_Return);
    press(Qt::Key_G);
    window->editing().hits().setVelocity(velocity);
  }
  EXPECT_EQ(window->editing().hits().velocityFor(piece::kSnare, Role::kGhost).value(), 30);
}

TEST_F(Mended, TheMessageOfAnEmptyGrooveGivesWayToAPreview) {
  const QImage empty = lanes().grab().toImage();
  openTool("ostinato");
  ASSERT_TRUE(soon([&] { return lanes().previewScene().has_value(); }));
  const QImage preview = lanes().grab().toImage();
  // The middle of the lanes, where the message stands on a card.
  const auto cardPixels = [](const QImage& image) {
    int out = 0;
    for (int x = image.width() / 4; x < image.width() * 3 / 4; ++x) {
      for (int y = image.height() / 2 - 20; y < image.height() / 2 + 20; ++y) {
        out += image.pixelColor(x, y) == QColor(0xff, 0xfa, 0xf0) ? 1 : 0;
      }
    }
    return out;
  };
  EXPECT_GT(cardPixels(empty), 5000);
  EXPECT_LT(cardPixels(preview), 1000);
}

TEST_F(Mended, SticksGrowWithATallWindow) {
  openDemo();
  const double small = lanes().scene().lanes.front().room;
  window->resize(1280, 1500);
  QApplication::processEvents();
  double tallest = 0;
  for (const LaneShape& lane : lanes().scene().lanes) tallest = std::max(tallest, lane.room);
  EXPECT_GT(tallest, 1.5 * small);
}

}  // namespace
}  // namespace uneven::testing
