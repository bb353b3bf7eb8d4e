// SPDX-License-Identifier: GPL-3.0-or-later
// Tempo, meter, swing, feel and groove; what the lanes show of them.
#include <QAbstractButton>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QUndoStack>

#include "app/controls/flat_edit.h"
#include "app/edit/editing.h"
#include "tests/app/window_fixture.h"

namespace uneven::testing {
namespace {

using TopBarTest = WindowTest;

TEST_F(TopBarTest, TempoIsTypedWheeledAndTapped) {
  auto& tempo = child<QLineEdit>("tempo");
  type(tempo, "92.4");
  EXPECT_EQ(song().tempo[0].bpm.value, 92.4);
  wheel(tempo, 1);
  EXPECT_EQ(song().tempo[0].bpm.value, 93);
  wheel(tempo, 1);
  wheel(tempo, 1, Qt::ShiftModifier);
  EXPECT_EQ(song().tempo[0].bpm.value, 104);
  window->document().undoStack().undo();
  EXPECT_EQ(song().tempo[0].bpm.value, 92.4) << "a turn of the wheel is one step";
  wheel(tempo, 1);
  now += Milliseconds(1500);
  wheel(tempo, 1);
  window->document().undoStack().undo();
  EXPECT_EQ(song().tempo[0].bpm.value, 93) << "another turn, after a while, is another";
  for (int i = 0; i < 4; ++i) {
    now = Milliseconds(1000 + 750.0 * i);
    press(Qt::Key_T);
  }
  EXPECT_EQ(song().tempo[0].bpm.value, 80);
  type(tempo, "500");
  EXPECT_EQ(song().tempo[0].bpm.value, 80);
  EXPECT_TRUE(child<FlatEdit>("tempo").wrong());
}

TEST_F(TopBarTest, SwingIsShownInEveryUnit) {
  openDemo();
  // 92 bpm in whole microseconds: a pair of sixteenths lasts 326.087 ms; 1.45 : 1.
  EXPECT_EQ(child<QLabel>("swing-units").text(), "59.2 % · long 193 ms · short 133 ms");
  type(child<QLineEdit>("ratio"), "2");
  EXPECT_EQ(child<QLabel>("swing-units").text(), "66.7 % · long 217 ms · short 109 ms");
  EXPECT_EQ(song().feels[0].swing.ratio, 2);
}

TEST_F(TopBarTest, SwingBendsTheGridAtOnce) {
  const double straight = lanes().scene().lines[1].x;
  type(child<QLineEdit>("feel-ratio"), "3");
  const StrikeScene& scene = lanes().scene();
  EXPECT_NEAR(scene.lines[1].x, scene.axis.xFromQuarters(0.375), 1e-6);
  EXPECT_NEAR(scene.lines[1].straightX, straight, 1e-6);
  choose(child<QComboBox>("feel-unit"), "Eighths");
  EXPECT_NEAR(lanes().scene().lines[2].x, lanes().scene().axis.xFromQuarters(0.75), 1e-6);
  choose(child<QComboBox>("feel-written"), "In triplets");
  EXPECT_EQ(song().feels[0].swing.written, Written::kTriplet);
}

TEST_F(TopBarTest, DisplacementLeansTheSticksAtOnce) {
  openDemo();
  type(child<QLineEdit>("displace-snare"), "-20");
  for (const StickShape& stick : lanes().scene().sticks) {
    if (stick.ref == HitRef{Beat(1), piece::kSnare}) {
      EXPECT_NEAR(stick.head.x - stick.foot.x, -20, 1e-6);
    }
  }
  EXPECT_EQ(window->document().feel().displacement.at(piece::kSnare), Milliseconds(-20));
}

TEST_F(TopBarTest, MeterDropsWhatNoLongerFitsAndSaysSo) {
  openDemo();
  const std::size_t before = groove().hits.size();
  type(child<QLineEdit>("meter"), "7/8");
  EXPECT_EQ(groove().meter, (Meter{7, 8}));
  EXPECT_LT(groove().hits.size(), before);
  EXPECT_NE(status().indexOf("hits fell off the end"), -1);
  window->document().undoStack().undo();
  EXPECT_EQ(groove().hits.size(), before);
  type(child<QLineEdit>("meter"), "4/3");
  EXPECT_EQ(groove().meter, (Meter{4, 4}));
  EXPECT_NE(status().indexOf("4/3 is no meter"), -1) << status().toStdString();
  type(child<QLineEdit>("bars"), "3");
  EXPECT_EQ(groove().bars, 3);
}

TEST_F(TopBarTest, ChoosesGrooveAndFeel) {
  openDemo();
  choose(child<QComboBox>("groove-choice"), "Seven paddles");
  EXPECT_EQ(groove().id, "paddles");
  EXPECT_EQ(child<QLineEdit>("tempo").text(), "154.0") << "the tempo where it is first played";
  type(child<QLineEdit>("tempo"), "160");
  EXPECT_EQ(song().tempo[2].bpm.value, 160);
  EXPECT_EQ(song().tempo[0].bpm.value, 92);
  choose(child<QComboBox>("feel-choice"), "Night water");
  EXPECT_EQ(groove().feel, "night-water");
  QTest::keyClick(&lanes(), Qt::Key_PageUp, Qt::ControlModifier);
  EXPECT_EQ(groove().id, "fog");
}

TEST_F(TopBarTest, GroovesAreMadeDuplicatedRenamedAndDeleted) {
  openDemo();
  const Song before = song();
  press(Qt::Key_D, Qt::ControlModifier);
  EXPECT_EQ(groove().id, "groove");
  EXPECT_EQ(groove().name, "Towpath copy");
  EXPECT_EQ(groove().hits, before.grooves[0]->hits);
  EXPECT_EQ(song().arrangement.back().groove, "groove") << "it is heard";
  prompts.typed = "Mooring";
  press(Qt::Key_F2);
  EXPECT_EQ(groove().name, "Mooring");
  press(Qt::Key_N, Qt::ControlModifier | Qt::ShiftModifier);
  EXPECT_EQ(groove().id, "groove-2");
  EXPECT_TRUE(groove().hits.empty());
  window->editing().grooves().deleteGroove();
  EXPECT_EQ(song().findGroove("groove-2"), nullptr);
  EXPECT_EQ(song().arrangement.back().groove, "groove");
  for (int i = 0; i < 4; ++i) press(Qt::Key_Z, Qt::ControlModifier);
  EXPECT_EQ(song(), before);
}

TEST_F(TopBarTest, AChangeOfAGrooveWithoutFeelBeginsOne) {
  choose(child<QComboBox>("feel-choice"), "None");
  EXPECT_EQ(groove().feel, "");
  type(child<QLineEdit>("feel-ratio"), "1.5");
  EXPECT_EQ(groove().feel, "feel");
  EXPECT_EQ(window->document().feel().swing.ratio, 1.5);
}

TEST_F(TopBarTest, TheTitleIsTyped) {
  type(child<QLineEdit>("title"), "Second lock");
  EXPECT_EQ(song().title, "Second lock");
}

TEST_F(TopBarTest, EveryControlExplainsItself) {
  openDemo();
  window->editing().moveCursor(Beat(0), piece::kHat);
  for (QWidget* widget : window->findChildren<QWidget*>()) {
    const bool control = qobject_cast<QLineEdit*>(widget) != nullptr ||
                         qobject_cast<QComboBox*>(widget) != nullptr ||
                         qobject_cast<QAbstractButton*>(widget) != nullptr;
    if (control && widget->isVisible()) {
      EXPECT_FALSE(widget->toolTip().isEmpty()) << widget->objectName().toStdString();
    }
  }
}

TEST_F(TopBarTest, NothingOverlapsOrIsCutAt1280By800) {
  openDemo();
  window->editing().moveCursor(Beat(11, 4), piece::kHat);
  QCoreApplication::processEvents();
  for (QLabel* label : window->findChildren<QLabel*>()) {
    if (!label->isVisible() || label->wordWrap() || label->text().isEmpty()) continue;
    EXPECT_GE(label->width() + 1, label->fontMetrics().horizontalAdvance(label->text()))
        << label->text().toStdString();
    EXPECT_GE(label->height() + 2, label->fontMetrics().height()) << label->text().toStdString();
  }
}

TEST_F(TopBarTest, APlayheadTouchesOnlyItsStrip) {
  openDemo();
  const QImage before = lanes().grab().toImage();
  lanes().setPlayhead(Quarters(1));
  const QImage with = lanes().grab().toImage();
  const int x = static_cast<int>(lanes().scene().axis.xFromQuarters(1.0));
  int changed = 0;
  for (int column = 0; column < before.width(); ++column) {
    bool differs = false;
    for (int row = 0; row < before.height() && !differs; ++row) {
      differs = before.pixel(column, row) != with.pixel(column, row);
    }
    if (!differs) continue;
    ++changed;
    EXPECT_NEAR(column, x, 3);
  }
  EXPECT_GT(changed, 0);
  lanes().setPlayhead(std::nullopt);
  EXPECT_EQ(lanes().grab().toImage(), before);
}

}  // namespace
}  // namespace uneven::testing
