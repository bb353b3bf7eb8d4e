// SPDX-License-Identifier: GPL-3.0-or-later
// The window keeps its size, and the stage has the keys. Run a second time with text at 150 %.
#include <QAbstractButton>
#include <QAbstractItemView>
#include <QApplication>
#include <QLineEdit>
#include <QPushButton>
#include <QTableView>

#include "app/controls/word_tabs.h"
#include "app/edit/editing.h"
#include "app/frame/finder.h"
#include "app/frame/sound_card.h"
#include "core/song/edit.h"
#include "tests/app/window_fixture.h"

namespace uneven::testing {
namespace {

class WindowSize : public WindowTest {
 protected:
  void settle() {
    for (int i = 0; i < 3; ++i) QApplication::processEvents();
  }
  // Calls for every card of every stage, as it is brought up by its tab.
  void everywhere(const std::function<void(const std::string&)>& look) {
    for (const StageEntry& entry : window->stages()) {
      window->showStage(entry.id);
      settle();
      look(entry.id.toStdString());
      for (WordTabs* tabs : window->stage(entry.id).findChildren<WordTabs*>()) {
        for (int i = 0; i < tabs->count(); ++i) {
          QTest::mouseClick(tabs, Qt::LeftButton, {}, tabs->wordRect(i).center());
          settle();
          look(entry.id.toStdString() + ", card " + std::to_string(i + 1));
        }
      }
    }
  }
};

TEST_F(WindowSize, NothingThatIsShownMakesItGrow) {
  for (const QSize size :
       {QSize(1280, 800), QSize(1280, 720), QSize(1024, 700), MainWindow::kLeast}) {
    openDemo();
    window->resize(size);
    settle();
    ASSERT_EQ(window->size(), size);
    const auto same = [&](const std::string& where) { EXPECT_EQ(window->size(), size) << where; };
    EXPECT_LE(window->minimumSizeHint().width(), MainWindow::kLeast.width());
    EXPECT_LE(window->minimumSizeHint().height(), MainWindow::kLeast.height());
    everywhere(same);
    window->fileDesk().openPath(path("not there.ustick"));
    settle();
    everywhere(same);
    for (const bool shown : {true, false}) {
      window->showSound(shown);
      settle();
      same("sound");
    }
  }
}

// Nothing stands over something else or outside of the window: each card and view has a part of it.
TEST_F(WindowSize, EveryViewFitsIntoASmallOne) {
  openDemo();
  window->resize(1024, 700);
  settle();
  everywhere([&](const std::string& where) {
    for (QWidget* widget : window->findChildren<QWidget*>()) {
      const bool control = qobject_cast<QAbstractButton*>(widget) != nullptr ||
                           qobject_cast<QLineEdit*>(widget) != nullptr;
      if (!control || !widget->isVisible() || widget->visibleRegion().isEmpty()) continue;
      // What stands in a scrolled card is reached by scrolling; across nothing is cut.
      const QRect here(widget->mapTo(window.get(), QPoint(0, 0)), widget->size());
      EXPECT_GE(here.left(), 0) << where << " " << widget->objectName().toStdString();
      EXPECT_LE(here.right(), window->width())
          << where << " " << widget->objectName().toStdString();
      const QRect seen = widget->visibleRegion().boundingRect();
      EXPECT_EQ(seen.width(), widget->width()) << where << " " << widget->objectName().toStdString()
                                               << " " << widget->accessibleName().toStdString();
    }
  });
}

// After every button of every card Space plays and Ctrl+Z undoes.
TEST_F(WindowSize, AfterEveryButtonTheStageHasTheKeys) {
  outputs.device = true;
  openDemo();
  const Song demo = song();
  std::set<std::string> done;
  everywhere([&](const std::string& where) {
    for (int i = 0;; ++i) {
      QList<QAbstractButton*> buttons;
      for (QAbstractButton* b : window->findChildren<QAbstractButton*>()) {
        if (b->isVisible() && b->isEnabled() && b->window() == window.get()) buttons << b;
      }
      if (i >= buttons.size()) break;
      QAbstractButton* button = buttons[i];
      const std::string name = button->objectName().toStdString() + "/" +
                               button->text().toStdString() + "/" +
                               button->accessibleName().toStdString();
      if (!done.insert(name).second) continue;
      button->setFocus(Qt::MouseFocusReason);
      QTest::mouseClick(button, Qt::LeftButton);
      settle();
      QWidget* keys = QApplication::focusWidget();
      ASSERT_NE(keys, nullptr) << where << ": " << name;
      if (qobject_cast<QAbstractButton*>(keys) != nullptr) {
        ADD_FAILURE() << where << ": " << name << " keeps the keys";
        continue;
      }
      // A field that the button has opened is there to be typed in.
      if (qobject_cast<QLineEdit*>(keys) != nullptr) continue;
      window->transport().stop();
      QTest::keyClick(keys, Qt::Key_Space);
      settle();
      EXPECT_TRUE(window->transport().playing()) << where << ": " << name;
      window->transport().stop();
      window->editing().moveCursor(Beat(1, 2), piece::kCowbell);
      window->editing().hits().toggleAt(Beat(1, 2), piece::kCowbell);
      const std::size_t hits = groove().hits.size();
      QTest::keyClick(QApplication::focusWidget(), Qt::Key_Z, Qt::ControlModifier);
      settle();
      EXPECT_NE(groove().hits.size(), hits) << where << ": " << name << ", Ctrl+Z";
    }
    window->document().replace(demo, {});
    settle();
  });
  EXPECT_GT(done.size(), 30U);
}

TEST_F(WindowSize, EnterInAFieldGivesTheKeysBack) {
  openDemo();
  for (const char* name : {"tempo", "ratio", "bars", "meter"}) {
    auto& field = child<QLineEdit>(name);
    field.setFocus();
    QTest::keyClick(&field, Qt::Key_Return);
    settle();
    EXPECT_EQ(QApplication::focusWidget(), &lanes()) << name;
  }
  // Undo is the song's wherever the keys are.
  press(Qt::Key_Return);
  const Song after = song();
  auto& tempo = child<QLineEdit>("tempo");
  tempo.setFocus();
  QTest::keyClicks(&tempo, "12");
  QTest::keyClick(&tempo, Qt::Key_Z, Qt::ControlModifier);
  EXPECT_NE(song(), after);
  // The title is not typed into by accident.
  auto& title = child<QLineEdit>("title");
  const QString before = title.text();
  title.setFocus();
  QTest::keyClicks(&title, "abc");
  EXPECT_EQ(title.text(), before);
  QTest::keyClick(&title, Qt::Key_F2);
  QTest::keyClicks(&title, "New name");
  QTest::keyClick(&title, Qt::Key_Escape);
  EXPECT_EQ(title.text(), before);
  QTest::mouseDClick(&title, Qt::LeftButton);
  QTest::keyClicks(&title, "New name");
  QTest::keyClick(&title, Qt::Key_Return);
  settle();
  EXPECT_EQ(song().title, "New name");
  EXPECT_EQ(QApplication::focusWidget(), &lanes());
}

TEST_F(WindowSize, TabLeavesEveryTable) {
  openDemo();
  int tables = 0;
  for (const StageEntry& entry : window->stages()) {
    window->showStage(entry.id);
    settle();
    for (QTableView* table : window->stage(entry.id).findChildren<QTableView*>()) {
      if (!table->isVisible()) continue;
      ++tables;
      table->setFocus();
      QTest::keyClick(table, Qt::Key_Tab);
      EXPECT_NE(QApplication::focusWidget(), table) << entry.id.toStdString();
    }
  }
  EXPECT_GE(tables, 2);
}

class WindowWords : public WindowTest {
 protected:
  // The best of what is found for some words.
  const Found* found(const char* words) {
    all = window->everything();
    const auto best = matching(all, QString::fromLatin1(words));
    return best.empty() ? nullptr : best.front();
  }
  std::vector<Found> all;
};

TEST_F(WindowWords, WordsThatPeopleUseLeadToFieldsCardsAndRudiments) {
  openDemo();
  struct Wanted {
    const char* words;
    const char* title;  // that is among what is found
    const char* kind;
  };
  for (const Wanted& w : {Wanted{"swing", "Swing ratio", "field"},
                          {"tempo", "Tempo, BPM", "field"},
                          {"velocity", "Velocity", "field"},
                          {"laid back", "Shift", "card"},
                          {"paradiddle", "Single paradiddle", "rudiment"},
                          {"half time", "Half time shuffle rll", "pattern"},
                          {"metronome", "", ""},
                          {"loop", "", ""},
                          {"left-handed", "", ""}}) {
    all = window->everything();
    const auto hits = matching(all, QString::fromLatin1(w.words));
    ASSERT_FALSE(hits.empty()) << w.words;
    const bool there = std::any_of(hits.begin(), hits.end(), [&](const Found* f) {
      return f->title.startsWith(QLatin1String(w.title)) &&
             f->kind.startsWith(QLatin1String(w.kind));
    });
    EXPECT_TRUE(there) << w.words;
  }
  // A field is brought up with its card and has the keys.
  for (const auto& [words, name] :
       {std::pair{"swung note", "swing-percent"}, {"swing ratio", "ratio"}}) {
    const Found* field = found(words);
    ASSERT_NE(field, nullptr) << words;
    field->run();
    QApplication::processEvents();
    ASSERT_NE(QApplication::focusWidget(), nullptr);
    EXPECT_EQ(QApplication::focusWidget()->objectName(), QString::fromLatin1(name)) << words;
  }
  found("single paradiddle")->run();
  QApplication::processEvents();
  EXPECT_TRUE(lanes().previewScene().has_value()) << "its preview is there";
}

TEST_F(WindowWords, UndoShowsWhereItHappened) {
  openDemo();
  const std::string first = window->document().grooveId();
  window->editing().moveCursor(Beat(3, 4), piece::kCowbell);
  press(Qt::Key_Return);
  press(Qt::Key_PageDown, Qt::ControlModifier);
  ASSERT_NE(window->document().grooveId(), first);
  press(Qt::Key_Z, Qt::ControlModifier);
  EXPECT_EQ(window->document().grooveId(), first);
  EXPECT_EQ(window->editing().cursorAt(), Beat(3, 4));
  EXPECT_EQ(window->editing().cursorPiece(), piece::kCowbell);
  window->editing().moveCursor(Beat(0), piece::kHat);
  press(Qt::Key_Y, Qt::ControlModifier);
  EXPECT_EQ(window->editing().cursorAt(), Beat(3, 4));
}

TEST_F(WindowWords, AFeelThatSwingsIsOfferedItsOwnName) {
  auto& feel = child<QComboBox>("feel-choice");
  const int before = feel.count();
  feel.showPopup();
  QTest::keyClick(feel.view(), Qt::Key_End);
  QTest::keyClick(feel.view(), Qt::Key_Return);
  QApplication::processEvents();
  EXPECT_EQ(feel.count(), before + 1);
  EXPECT_NE(feel.currentText(), QStringLiteral("Straight"));
  window->document().undo();
  EXPECT_EQ(feel.count(), before);
  Song straight = song();
  straight.feels.front().name = "Straight";
  straight = withFeelInForce(straight, window->document().grooveId(), straight.feels.front().id);
  window->document().replace(straight, {});
  type(child<QLineEdit>("ratio"), "5:3");
  auto& name = child<QPushButton>("notice-yes");
  ASSERT_TRUE(name.isVisible());
  QTest::mouseClick(&name, Qt::LeftButton);
  EXPECT_NE(window->document().feel().name.find("1.67 : 1"), std::string::npos)
      << window->document().feel().name;
  window->document().undo();
  EXPECT_EQ(window->document().feel().name, "Straight");
  EXPECT_FALSE(name.isVisible()) << "asked once";
}

}  // namespace
}  // namespace uneven::testing
