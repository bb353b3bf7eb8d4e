// SPDX-License-Identifier: GPL-3.0-or-later
// The Lean stage under mouse and keys.
#include <QApplication>
#include <QClipboard>
#include <QLabel>
#include <QListWidget>
#include <QPushButton>
#include <QTableView>
#include <QUndoStack>

#include "app/controls/word_tabs.h"
#include "app/lean/drift_strip.h"
#include "app/lean/lean_stage.h"
#include "app/lean/lean_view.h"
#include "app/lean/seams_card.h"
#include "core/io/song_json.h"
#include "core/measure/unison.h"
#include "core/perform/swing.h"
#include "tests/app/window_fixture.h"

namespace uneven::testing {
namespace {

class LeanTest : public WindowTest {
 protected:
  void SetUp() override {
    openDemo();
    press(Qt::Key_4, Qt::AltModifier);
    QApplication::processEvents();
  }
  LeanView& view() { return child<LeanView>("lean-view"); }
  LeanStage& lean() { return stage<LeanStage>("lean"); }
  void side(LeanStage::Side side) {
    lean().showSide(side);
    QApplication::processEvents();
  }
  const Feel& feel() { return window->document().feel(); }
  const LeanStick& stick(Beat at, PieceId piece) {
    for (const LeanStick& s : view().scene().sticks) {
      if (s.ref == HitRef{at, piece}) return s;
    }
    ADD_FAILURE() << "no stick at " << at.toString();
    return view().scene().sticks.front();
  }
  static QPoint rounded(Point p) {
    return {static_cast<int>(std::lround(p.x)), static_cast<int>(std::lround(p.y))};
  }
  void move(QPoint p) {
    QMouseEvent event(QEvent::MouseMove, p, view().mapToGlobal(p), Qt::NoButton, Qt::LeftButton,
                      Qt::NoModifier);
    QApplication::sendEvent(&view(), &event);
  }
  void dragView(QPoint from, QPoint way) {
    QTest::mousePress(&view(), Qt::LeftButton, Qt::NoModifier, from);
    for (int i = 1; i <= 5; ++i) move(from + way * i / 5);
    QTest::mouseRelease(&view(), Qt::LeftButton, Qt::NoModifier, from + way);
  }
  void key(Qt::Key key, Qt::KeyboardModifiers modifiers = Qt::NoModifier) {
    view().setFocus();
    QTest::keyClick(&view(), key, modifiers);
  }
  void enter(const char* name, const char* text) {
    type(child<QLineEdit>(name), text);
    QTest::keyClick(&child<QLineEdit>(name), Qt::Key_Return);
    QApplication::processEvents();
  }
  void clickOn(const char* name) {
    QTest::mouseClick(&child<QPushButton>(name), Qt::LeftButton);
    QApplication::processEvents();
  }
  int steps() { return window->document().undoStack().index(); }
};

TEST_F(LeanTest, AStickIsDraggedInOneStepAndEscapeGivesItUp) {
  view().setPxPerMs(2);
  const int before = steps();
  const double nudge = hitAt(Beat(1), piece::kSnare).nudge.count();
  dragView(rounded(stick(Beat(1), piece::kSnare).head), {20, 3});
  EXPECT_NEAR(hitAt(Beat(1), piece::kSnare).nudge.count(), nudge + 10, 0.6);
  EXPECT_EQ(steps(), before + 1);
  const double after = hitAt(Beat(1), piece::kSnare).nudge.count();
  const QPoint from = rounded(stick(Beat(1), piece::kSnare).head);
  QTest::mousePress(&view(), Qt::LeftButton, Qt::NoModifier, from);
  move(from + QPoint(-40, 0));
  EXPECT_LT(hitAt(Beat(1), piece::kSnare).nudge.count(), after);
  key(Qt::Key_Escape);
  EXPECT_EQ(hitAt(Beat(1), piece::kSnare).nudge.count(), after);
  EXPECT_EQ(steps(), before + 1);
}

TEST_F(LeanTest, ANameDragsThePieceAndAPointTheSlot) {
  view().setPxPerMs(2);
  const LeanScene& scene = view().scene();
  const auto row = std::find_if(scene.rows.begin(), scene.rows.end(),
                                [](const LeanRow& r) { return r.piece == piece::kSnare; });
  const double before = feel().displacement.at(piece::kSnare).count();
  dragView({40, static_cast<int>(row->baseline) - 6}, {-16, 0});
  EXPECT_NEAR(feel().displacement.at(piece::kSnare).count(), before - 8, 0.6);
  const LeanSlot slot = view().scene().slots[4];
  const double way = 6 * view().scene().stripPxPerMs;
  dragView(rounded({slot.x, slot.y}), {0, -static_cast<int>(std::lround(way))});
  ASSERT_FALSE(feel().slots.empty());
  EXPECT_EQ(feel().slots.back().at, slot.inBar);
  EXPECT_NEAR(feel().slots.back().shift.count(), 6, 1);
  EXPECT_NE(status().indexOf("Slot 2"), -1) << status().toStdString();
}

TEST_F(LeanTest, SHeldShowsStraight) {
  view().setFocus();
  const QImage swung = view().grab().toImage();
  QTest::keyPress(&view(), Qt::Key_S);
  EXPECT_TRUE(view().straight());
  const QImage straight = view().grab().toImage();
  EXPECT_NE(swung, straight);
  QTest::keyRelease(&view(), Qt::Key_S);
  EXPECT_FALSE(view().straight());
  EXPECT_EQ(swung, view().grab().toImage());
}

TEST_F(LeanTest, KeysWalkNudgeAndTurnBars) {
  window->editing().moveCursor(Beat(1), piece::kSnare);
  key(Qt::Key_Right);
  EXPECT_EQ(window->editing().cursorAt(), Beat(3, 2));
  key(Qt::Key_Left);
  key(Qt::Key_Up);
  EXPECT_EQ(window->editing().cursorPiece(), piece::kHat);
  key(Qt::Key_Down);
  EXPECT_EQ(window->editing().cursorPiece(), piece::kSnare);
  const double nudge = hitAt(Beat(1), piece::kSnare).nudge.count();
  key(Qt::Key_Period);
  key(Qt::Key_Period, Qt::ShiftModifier);
  key(Qt::Key_Comma);
  EXPECT_EQ(hitAt(Beat(1), piece::kSnare).nudge.count(), nudge + 10);
  EXPECT_EQ(view().firstBar(), 0);
  key(Qt::Key_PageDown);
  EXPECT_EQ(view().firstBar(), 1);
  const double scale = view().pxPerMs();
  wheel(view(), 1, Qt::ControlModifier);
  EXPECT_GT(view().pxPerMs(), scale);
  press(Qt::Key_Left, Qt::ControlModifier | Qt::AltModifier);
  EXPECT_NEAR(view().pxPerMs(), scale, 1e-9);
}

TEST_F(LeanTest, SwingIsTypedInEveryUnit) {
  enter("swing-ratio", "2");
  EXPECT_EQ(feel().swing.ratio, 2);
  EXPECT_EQ(child<QLineEdit>("swing-percent").text().left(5), "66.67");
  EXPECT_NE(child<QLabel>("swing-lengths").text().indexOf("triplet"), -1);
  enter("swing-percent", "60");
  EXPECT_NEAR(feel().swing.ratio, 1.5, 1e-9);
  // A pair of sixteenths at 92 bpm lasts 326.1 ms.
  enter("swing-short", "100");
  EXPECT_NEAR(feel().swing.ratio, 2.2609, 0.0005);
  const double before = feel().swing.ratio;
  enter("swing-short", "200");
  EXPECT_EQ(feel().swing.ratio, before);
  EXPECT_NE(status().indexOf("at this tempo"), -1) << status().toStdString();
  choose(child<QComboBox>("swing-kind"), "By the tempo");
  EXPECT_TRUE(feel().swing.linked);
  EXPECT_NEAR(ratioAt(feel().swing, window->document().tempo()), 2.261, 0.001);
  enter("swing-ratio", "1.8");
  EXPECT_FALSE(feel().swing.linked) << "a typed ratio is fixed";
  enter("depth-left-hand", "50");
  EXPECT_EQ(feel().swing.limbDepth.at(Limb::kLeftHand), 0.5);
  // Written straight, told to be in triplets: the guess offers the way back.
  choose(child<QComboBox>("swing-written"), "In triplets");
  EXPECT_EQ(feel().swing.written, Written::kTriplet);
  ASSERT_TRUE(child<QPushButton>("take-guess").isVisible());
  clickOn("take-guess");
  EXPECT_EQ(feel().swing.written, Written::kStraight);
  EXPECT_FALSE(child<QPushButton>("take-guess").isVisible());
}

TEST_F(LeanTest, DisplacementIsTypedPerPieceLimbAndSlot) {
  side(LeanStage::Side::kDisplace);
  enter("lean-displace-hat", "-7.5");
  EXPECT_EQ(feel().displacement.at(piece::kHat), Milliseconds(-7.5));
  enter("lean-displace-left-hand", "3");
  EXPECT_EQ(feel().limbDisplacement.at(Limb::kLeftHand), Milliseconds(3));
  window->editing().moveCursor(Beat(1), piece::kSnare);
  enter("lean-slot", "4");
  enter("lean-piece-slot", "1");
  const ShiftParts parts = stick(Beat(1), piece::kSnare).timing.parts;
  EXPECT_EQ(parts.slot, Milliseconds(5));
  EXPECT_NE(child<QLabel>("lean-chosen").text().indexOf("slot +5.0"), -1)
      << child<QLabel>("lean-chosen").text().toStdString();
  enter("lean-limit-accent", "6");
  EXPECT_EQ(feel().limits.at(Role::kAccent), Milliseconds(6));
  EXPECT_EQ(stick(Beat(1), piece::kSnare).timing.parts.sum(), Milliseconds(6));
  enter("lean-limit-accent", "200");
  EXPECT_FALSE(feel().limits.contains(Role::kAccent));
  choose(child<QComboBox>("lean-keep"), "its share of the beat");
  ASSERT_TRUE(feel().shareOf);
  EXPECT_NEAR(feel().shareOf->value, 92, 0.001);
}

TEST_F(LeanTest, TheWidestUnisonIsPulledTogether) {
  side(LeanStage::Side::kDisplace);
  const auto worst = [&] {
    Milliseconds widest{0};
    for (const Unison& u : unisons(window->document().take().performance())) {
      widest = std::max(widest, u.plain);
    }
    return widest;
  };
  const auto below = [&] {
    int count = 0;
    for (const Unison& u : unisons(window->document().take().performance())) {
      count += u.plain.count() < 0.01 ? 1 : 0;
    }
    return count;
  };
  ASSERT_GT(worst().count(), 10);
  EXPECT_NE(child<QLabel>("lean-unison").text().indexOf("Widest"), -1);
  const int together = below();
  clickOn("pull-together");
  EXPECT_EQ(below(), together + 1);
  press(Qt::Key_A, Qt::ControlModifier);
  clickOn("pull-together");
  EXPECT_LT(worst().count(), 0.01);
}

TEST_F(LeanTest, TakesComeAndComeBack) {
  side(LeanStage::Side::kDrift);
  choose(child<QComboBox>("drift-preset"), "Settled");
  ASSERT_TRUE(feel().drift);
  EXPECT_EQ(feel().drift->clock, Milliseconds(4));
  const Performance first = window->document().take().performance();
  clickOn("another-take");
  const Performance second = window->document().take().performance();
  EXPECT_NE(first, second);
  ASSERT_TRUE(child<QPushButton>("back-to-take").isVisible());
  clickOn("back-to-take");
  EXPECT_EQ(window->document().take().performance(), first);
  EXPECT_FALSE(child<QPushButton>("back-to-take").isVisible());
  enter("drift-clock", "9");
  EXPECT_EQ(feel().drift->clock, Milliseconds(9));
  EXPECT_EQ(child<QComboBox>("drift-preset").currentIndex(), -1) << "no preset's sizes any more";
  enter("drift-limb-left-hand", "2");
  EXPECT_EQ(feel().drift->limbs.at(Limb::kLeftHand), 2);
  auto& strip = child<DriftStrip>("drift-strip");
  EXPECT_TRUE(soon([&] { return std::abs(strip.deviation() - 9.5) < 4; })) << strip.deviation();
  EXPECT_TRUE(
      soon([&] { return child<QLabel>("drift-unisons").text().indexOf("with drift") != -1; }));
}

TEST_F(LeanTest, ALongSongsDriftIsShownOnceItHasBeenPerformedAside) {
  Song song = blankSong();
  song.grooves[0].edit([](Groove& g) {
    g.bars = 1;
    for (int i = 0; i < 16; ++i) {
      Hit hit;
      hit.at = Beat(i, 4);
      hit.piece = i % 4 == 0 ? piece::kKick : piece::kHat;
      g.hits.push_back(hit);
    }
  });
  song.arrangement[0].repeat = 20'000;  // 320 000 strokes
  window->document().replace(song, {});
  side(LeanStage::Side::kDrift);
  const auto says = [&](const char* text) {
    return child<QLabel>("drift-unisons").text().contains(QString::fromUtf8(text));
  };
  EXPECT_TRUE(soon([&] { return says("performed aside"); }));
  EXPECT_TRUE(soon([&] { return says("Widest unison of the song"); }));
}

TEST_F(LeanTest, FeelsAreDuplicatedRenamedComparedAndDeleted) {
  side(LeanStage::Side::kFeels);
  auto& list = child<QListWidget>("feel-list");
  const auto count = song().feels.size();
  clickOn("feel-duplicate");
  ASSERT_EQ(song().feels.size(), count + 1);
  EXPECT_EQ(song().feels.back().name, "Loose rope 2");
  prompts.typed = "Tighter rope";
  clickOn("feel-rename");
  EXPECT_EQ(song().feels.back().name, "Tighter rope");
  clickOn("feel-use");
  EXPECT_EQ(feel().name, "Tighter rope");
  list.setCurrentRow(1);
  clickOn("feel-compare");
  EXPECT_EQ(view().compared(), song().feels[1].id);
  EXPECT_TRUE(view().scene().sticks.front().other);
  clickOn("feel-compare");
  EXPECT_FALSE(view().scene().sticks.front().other);
  list.setCurrentRow(static_cast<int>(count));
  clickOn("feel-delete");
  EXPECT_EQ(song().feels.size(), count);
  EXPECT_EQ(feel().id, "");
  window->document().undoStack().undo();
  EXPECT_EQ(feel().name, "Tighter rope");
}

TEST_F(LeanTest, AFeelGoesIntoAFileAndIntoAnotherSong) {
  side(LeanStage::Side::kFeels);
  prompts.save = path("rope.feel.json");
  clickOn("feel-save");
  prompts.open = prompts.save;
  const auto count = song().feels.size();
  const Feel before = feel();
  clickOn("feel-load");
  ASSERT_EQ(song().feels.size(), count + 1);
  Feel read = song().feels.back();
  EXPECT_EQ(read.name, "Loose rope 2");
  read.name = before.name;
  read.id = before.id;
  EXPECT_EQ(read, before);
  // Another song on the disk.
  const std::string other = folder.file("other.ustick");
  writeText(other, writeSong(blankSong()));
  prompts.open = QString::fromStdString(other);
  clickOn("feel-copy");
  const Result<Song> with = readSong(*files.read(other), other);
  ASSERT_TRUE(with);
  EXPECT_EQ(with->feels.back().name, "Loose rope 2");
  // A file that is none says so and changes nothing.
  writeText(folder.file("bad.feel.json"), "{\"format\": 1}");
  prompts.open = path("bad.feel.json");
  clickOn("feel-load");
  EXPECT_EQ(song().feels.size(), count + 1);
  EXPECT_NE(status().indexOf("bad.feel.json:1"), -1) << status().toStdString();
  files.full = true;
  prompts.save = path("full.feel.json");
  clickOn("feel-save");
  EXPECT_NE(status().indexOf("no space"), -1) << status().toStdString();
}

TEST_F(LeanTest, ASeamIsSmoothedAndItsBoundRemembered) {
  side(LeanStage::Side::kSeams);
  auto& jump = child<QLabel>("seam-jump-0");
  EXPECT_NE(jump.text().indexOf("above the bound"), -1) << jump.text().toStdString();
  enter("seam-beats-0", "16");
  const auto at = std::find_if(song().arrangement.begin(), song().arrangement.end(),
                               [](const Section& s) { return s.morph == Beat(16); });
  EXPECT_NE(at, song().arrangement.end());
  const QString longer = jump.text();
  enter("seam-beats-0", "0");
  EXPECT_NE(jump.text(), longer);
  enter("seam-bound", "190");
  EXPECT_EQ(jump.text().indexOf("above the bound"), -1);
  prompts.saveAnswer = SaveAnswer::kDiscard;
  window->close();
  window = makeWindow();
  EXPECT_EQ(stage<LeanStage>("lean").seams().bound(), 190);
}

TEST_F(LeanTest, TheTableFollowsAndIsCopied) {
  auto& table = child<QTableView>("timing-table");
  const int rows = table.model()->rowCount();
  EXPECT_EQ(static_cast<std::size_t>(rows), view().scene().sticks.size());
  table.setFocus();
  table.selectRow(4);
  const HitRef fifth = timingRows(window->document().take(), 0)[4].ref;
  ASSERT_NE(fifth, (HitRef{Beat(0), piece::kHat})) << "not what is chosen at first";
  EXPECT_EQ(window->editing().selection(), Selection{fifth});
  clickOn("copy-csv");
  const QString csv = QApplication::clipboard()->text();
  EXPECT_EQ(csv.count('\n'), static_cast<int>(groove().hits.size()) + 1);
  EXPECT_EQ(csv.left(10), "bar,count,");
  clickOn("copy-text");
  EXPECT_EQ(QApplication::clipboard()->text().left(10), "bar\tcount\t");
  key(Qt::Key_PageDown);
  EXPECT_EQ(static_cast<std::size_t>(table.model()->rowCount()), view().scene().sticks.size());
}

TEST_F(LeanTest, TheTemplateOfTheBarIsTypedInItsTable) {
  auto& tabs = child<WordTabs>("table-tabs");
  QTest::mouseClick(&tabs, Qt::LeftButton, Qt::NoModifier, tabs.wordRect(1).center());
  auto& table = child<QTableView>("slot-table");
  ASSERT_TRUE(table.isVisible());
  EXPECT_FALSE(child<QTableView>("timing-table").isVisible());
  const QAbstractItemModel& model = *table.model();
  const auto columnOf = [&](const QString& name) {
    for (int i = 0; i < model.columnCount(); ++i) {
      if (model.headerData(i, Qt::Horizontal).toString() == name) return i;
    }
    return -1;
  };
  ASSERT_EQ(model.rowCount(), 16) << "sixteenths";
  EXPECT_EQ(model.index(3, 0).data().toString(), "1 a");
  EXPECT_EQ(model.index(3, columnOf("Hats")).data().toString(), "+3.0") << "as the demo has it";
  // Typed into the cell as into any table: the first key begins, Enter ends.
  const auto typeInto = [&](int row, int column, const char* text) {
    table.setFocus();
    table.setCurrentIndex(model.index(row, column));
    QTest::keyClick(&table, Qt::Key_7);
    auto* editor = qobject_cast<QLineEdit*>(QApplication::focusWidget());
    ASSERT_NE(editor, nullptr);
    editor->selectAll();
    QTest::keyClicks(editor, QString::fromLatin1(text));
    QTest::keyClick(editor, Qt::Key_Return);
    QApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
    QApplication::processEvents();
  };
  const int steps = window->document().undoStack().count();
  typeInto(4, columnOf("Every piece"), "-6,5");
  typeInto(4, columnOf("Louder by"), "+9");
  typeInto(4, columnOf("Snare"), "4 ms");
  EXPECT_EQ(window->document().undoStack().count(), steps + 3);
  EXPECT_EQ(model.index(4, columnOf("Every piece")).data().toString(), QStringLiteral("−6.5"));
  const auto slot = [&](std::optional<PieceId> piece) -> const Slot* {
    for (const Slot& s : feel().slots) {
      if (s.at == Beat(1) && s.piece == piece) return &s;
    }
    return nullptr;
  };
  ASSERT_NE(slot(std::nullopt), nullptr);
  EXPECT_EQ(slot(std::nullopt)->shift, Milliseconds(-6.5));
  EXPECT_EQ(slot(std::nullopt)->velocity, 9);
  ASSERT_NE(slot(piece::kSnare), nullptr);
  EXPECT_EQ(slot(piece::kSnare)->shift, Milliseconds(4));
  // The snare on 2: its 11 ms, the slot's -6.5 and its own 4; nine steps louder.
  for (const Stroke& s : window->document().take().strokes()) {
    if (s.bar != 0 || s.at != Beat(1) || s.piece != piece::kSnare) continue;
    EXPECT_NEAR(toMilliseconds(s.time - s.grid).count(), 8.5, 1e-5);
    EXPECT_EQ(s.velocity.value(), 120);
  }
  for (const char* bad : {"abc", "201", "-200.5"}) {
    typeInto(4, columnOf("Every piece"), bad);
    EXPECT_TRUE(status().contains("not taken")) << bad;
    EXPECT_EQ(slot(std::nullopt)->shift, Milliseconds(-6.5));
  }
  typeInto(4, columnOf("Louder by"), "127");
  EXPECT_EQ(slot(std::nullopt)->velocity, 9);
  // Emptied: nothing is added any more, and the slot goes.
  typeInto(4, columnOf("Snare"), "0");
  EXPECT_EQ(slot(piece::kSnare), nullptr);
  EXPECT_EQ(model.index(4, columnOf("Snare")).data().toString(), QStringLiteral("·"));
  lean().copyTable(true);
  const QStringList lines = QApplication::clipboard()->text().split('\n');
  EXPECT_TRUE(lines[0].startsWith("Count,Every piece,Louder by,")) << lines[0].toStdString();
  EXPECT_TRUE(lines[5].startsWith("2,-6.5,+9,")) << lines[5].toStdString();
}

TEST_F(LeanTest, AnEmptyGrooveSaysSo) {
  window->document().replace(blankSong(), {});
  QApplication::processEvents();
  EXPECT_TRUE(view().scene().rows.empty());
  for (const auto each :
       {LeanStage::Side::kSwing, LeanStage::Side::kDisplace, LeanStage::Side::kDrift,
        LeanStage::Side::kFeels, LeanStage::Side::kSeams}) {
    side(each);
    key(Qt::Key_Right);
    key(Qt::Key_Down);
    key(Qt::Key_Period);
  }
  EXPECT_NE(child<QLabel>("no-seams").text().indexOf("No section"), -1);
  EXPECT_EQ(song(), blankSong());
}

}  // namespace
}  // namespace uneven::testing
