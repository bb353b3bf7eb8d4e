// SPDX-License-Identifier: GPL-3.0-or-later
// What is told to those who cannot see the screen. tests/reference/at_spi.py reads the same from
// outside.
#include <QAbstractButton>
#include <QAccessible>

#include "app/lean/lean_stage.h"
#include "app/open/open_stage.h"
#include "app/stage/bar_view.h"
#include "app/strike/strike_stage.h"
#include "core/song/edit.h"
#include "tests/app/window_fixture.h"
#include "tests/support/random_song.h"

namespace uneven::testing {
namespace {

class Spoken : public WindowTest {
 protected:
  // Every control that can be reached by key has a name.
  void expectNames(const std::string& where) {
    QApplication::processEvents();
    for (QWidget* widget : window->findChildren<QWidget*>()) {
      if (!widget->isVisible() || widget->focusPolicy() == Qt::NoFocus) continue;
      if (widget->focusProxy() != nullptr) continue;
      const auto* told = QAccessible::queryAccessibleInterface(widget);
      ASSERT_NE(told, nullptr);
      // A choice without one would be called what is chosen.
      const QString name = qobject_cast<QComboBox*>(widget) != nullptr
                               ? widget->accessibleName()
                               : told->text(QAccessible::Name);
      EXPECT_FALSE(name.trimmed().isEmpty())
          << where << ": " << widget->metaObject()->className() << " "
          << widget->objectName().toStdString() << ", tool tip \""
          << widget->toolTip().toStdString() << "\"";
    }
  }
  QAccessibleTableInterface& table(QWidget& view) {
    return *QAccessible::queryAccessibleInterface(&view)->tableInterface();
  }
  QString cell(QWidget& view, const QString& row, const QString& column) {
    auto& all = table(view);
    for (int r = 0; r < all.rowCount(); ++r) {
      for (int c = 0; c < all.columnCount(); ++c) {
        if (all.rowDescription(r) != row || all.columnDescription(c) != column) continue;
        return all.cellAt(r, c)->text(QAccessible::Name);
      }
    }
    return QStringLiteral("no such cell");
  }
  static QWidget& wide(BarView& view) { return view; }
  BarView& view(const char* name) { return child<BarView>(name); }
};

TEST_F(Spoken, EveryControlHasAName) {
  openDemo();
  for (int i = 0; i < 4; ++i) {
    stage<StrikeStage>("strike").showSide(static_cast<StrikeStage::Side>(i));
    expectNames("Strike " + std::to_string(i));
  }
  showStage("open");
  for (int i = 0; i < 3; ++i) {
    stage<OpenStage>("open").showSide(static_cast<OpenStage::Side>(i));
    expectNames("Open " + std::to_string(i));
  }
  showStage("lean");
  for (int i = 0; i < 5; ++i) {
    auto& lean = stage<LeanStage>("lean");
    lean.showSide(static_cast<LeanStage::Side>(i));
    lean.showTable(i % 2 == 0 ? LeanStage::Table::kStrokes : LeanStage::Table::kSlots);
    expectNames("Lean " + std::to_string(i));
  }
  showStage("deliver");
  expectNames("Deliver");
}

// The snare's ghost on the a of 2, 27 under 127, 11 ms late: as one would say it.
TEST_F(Spoken, TheLanesAreATableOfWords) {
  auto& editing = window->editing();
  Song song = window->document().song();
  song.feels[0].displacement[piece::kSnare] = Milliseconds(11);
  window->document().replace(song, {});
  editing.moveCursor(Beat(7, 4), piece::kSnare);
  press(Qt::Key_Return);
  press(Qt::Key_G);
  editing.hits().setVelocity(27);
  EXPECT_EQ(cell(lanes(), "Snare", "bar 1, 2 a"), "Snare, 2 a, ghost, velocity 27, 11 ms late");
  EXPECT_EQ(cell(lanes(), "Snare", "bar 2, 2 a"), "Snare, 2 a, nothing");
  editing.hits().addNudge(Milliseconds(-11), {});
  EXPECT_EQ(cell(lanes(), "Snare", "bar 1, 2 a"), "Snare, 2 a, ghost, velocity 27, on the grid");
  editing.hits().addNudge(Milliseconds(-4.5), {});
  EXPECT_EQ(cell(lanes(), "Snare", "bar 1, 2 a"), "Snare, 2 a, ghost, velocity 27, 4.5 ms early");
  const auto* told = QAccessible::queryAccessibleInterface(&lanes());
  EXPECT_EQ(told->role(), QAccessible::Table);
  EXPECT_EQ(told->text(QAccessible::Name), "Lanes, bars 1 to 2 of 2");
  EXPECT_EQ(table(lanes()).columnCount(), 32) << "two bars of sixteenths";
}

TEST_F(Spoken, EachViewOfBarsReadsItsOwnRows) {
  openDemo();
  showStage("open");
  EXPECT_EQ(table(view("open-view")).rowCount(), 2);
  EXPECT_EQ(table(view("open-view")).rowDescription(1), "Foot hat");
  EXPECT_TRUE(cell(view("open-view"), "Hats", "bar 2, 4 &").contains(", open "))
      << cell(view("open-view"), "Hats", "bar 2, 4 &").toStdString();
  showStage("lean");
  auto& lean = table(view("lean-view"));
  EXPECT_EQ(lean.columnCount(), 16) << "one bar";
  EXPECT_EQ(lean.rowDescription(0), "Hats");
  showStage("strike");
  lanes().setShowLimbs(true);
  EXPECT_EQ(table(lanes()).rowCount(), 4);
  EXPECT_EQ(table(lanes()).rowDescription(0), "Right hand");
}

TEST_F(Spoken, ACellIsPressedAndFocusedFromOutside) {
  lanes().setFocus();
  auto* told = QAccessible::queryAccessibleInterface(&lanes());
  const int columns = table(lanes()).columnCount();
  QAccessibleInterface* second = told->child(columns + 5);
  ASSERT_NE(second, nullptr);
  EXPECT_EQ(told->indexOfChild(second), columns + 5);
  EXPECT_EQ(second->parent(), told);
  const std::size_t before = groove().hits.size();
  second->actionInterface()->doAction(QAccessibleActionInterface::pressAction());
  ASSERT_EQ(groove().hits.size(), before + 1);
  second = told->child(columns + 5);
  EXPECT_TRUE(second->state().selected);
  EXPECT_TRUE(second->state().focused);
  EXPECT_TRUE(second->text(QAccessible::Name).contains("velocity")) << "and says what it is now";
  second->actionInterface()->doAction(QAccessibleActionInterface::pressAction());
  EXPECT_EQ(groove().hits.size(), before);
  QAccessibleInterface* first = told->child(0);
  first->actionInterface()->doAction(QAccessibleActionInterface::setFocusAction());
  EXPECT_EQ(told->focusChild(), told->child(0));
  EXPECT_TRUE(told->rect().intersects(told->child(0)->rect()));
  const QPoint middle = second->rect().center();
  EXPECT_EQ(told->childAt(middle.x(), middle.y()), second);
}

// Whoever asked for a cell may ask it again when there are fewer.
TEST_F(Spoken, ACellOutlivesItsPlace) {
  auto* told = QAccessible::queryAccessibleInterface(&lanes());
  QAccessibleInterface* last = told->child(told->childCount() - 1);
  const int before = told->childCount();
  lanes().setVisibleBars(1);
  ASSERT_LT(told->childCount(), before);
  EXPECT_FALSE(last->isValid());
  EXPECT_TRUE(last->text(QAccessible::Name).isEmpty());
  EXPECT_TRUE(last->state().invalid);
  EXPECT_TRUE(last->rect().isNull());
  last->actionInterface()->doAction(QAccessibleActionInterface::pressAction());
  lanes().setVisibleBars(2);
  EXPECT_TRUE(last->isValid());
  EXPECT_EQ(told->child(told->childCount() - 1), last);
}

TEST_F(Spoken, WhatStandsOffTheGridHasAColumnToo) {
  auto& editing = window->editing();
  Groove changed = groove();
  Hit hit;
  hit.at = Beat(5, 24);
  hit.piece = piece::kSnare;
  changed.hits.push_back(hit);
  editing.grooves().replaceGroove("off the grid", changed);
  EXPECT_EQ(table(lanes()).columnCount(), 33);
  const BarTable words = lanes().table();
  ASSERT_TRUE(words.columnAt(Beat(5, 24)));
  EXPECT_TRUE(
      words.hit(*words.rowOf(piece::kSnare, Limb::kAutomatic), *words.columnAt(Beat(5, 24))));
}

// However songs look, the table holds each hit that is shown once, where its own words say.
TEST_F(Spoken, TheTableHoldsEveryHitOnce) {
  Random random(1107);
  for (int round = 0; round < 60; ++round) {
    window->document().replace(randomSong(random), {});
    lanes().setShowLimbs(round % 3 == 2);
    const BarTable words = lanes().table();
    std::vector<int> seen(groove().hits.size(), 0);
    for (std::size_t r = 0; r < words.rows.size(); ++r) {
      for (std::size_t c = 0; c < words.columns.size(); ++c) {
        const auto hit = words.hit(r, c);
        const QString spoken = spokenCell(window->document().take(), words, r, c);
        if (!hit) {
          ASSERT_TRUE(spoken.endsWith(", nothing"));
          continue;
        }
        ++seen[*hit];
        ASSERT_EQ(groove().hits[*hit].at, words.columns[c]);
        if (!lanes().showsLimbs()) {
          ASSERT_EQ(groove().hits[*hit].piece, words.rows[r].piece);
        }
        ASSERT_TRUE(spoken.contains(QStringLiteral(", velocity "))) << spoken.toStdString();
      }
    }
    const BarFrame& frame = lanes().frame();
    for (std::size_t i = 0; i < seen.size(); ++i) {
      const bool shown = frame.shows(groove().hits[i].at);
      // Of two hits that one limb strikes at once only one has a cell.
      if (lanes().showsLimbs()) {
        ASSERT_LE(seen[i], shown ? 1 : 0);
      } else {
        ASSERT_EQ(seen[i], shown ? 1 : 0) << round;
      }
    }
  }
}

}  // namespace
}  // namespace uneven::testing
