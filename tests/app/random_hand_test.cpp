// SPDX-License-Identifier: GPL-3.0-or-later
// A hand that presses, drags and types whatever it meets: nothing may break, every step can be
// undone, and what stands there can always be written to a file and read back.
#include <QAbstractButton>
#include <QComboBox>
#include <QDialog>
#include <QMenuBar>
#include <QPointer>
#include <QUndoStack>

#include "app/deliver/midi_tile.h"
#include "core/io/song_json.h"
#include "tests/app/window_fixture.h"
#include "tests/support/random_song.h"

namespace uneven::testing {
namespace {

class RandomHandTest : public WindowTest {
 protected:
  void act(Random& random) {
    switch (pick(random, 0, 10)) {
      case 0:
        return stage(random);
      case 10:
        return menu(random);
      case 1:
      case 2:
      case 3:
        return key(random);
      case 4:
      case 5:
      case 6:
        return mouse(random);
      case 7:
        return typeSomething(random);
      case 8:
        return chooseSomething(random);
      default:
        return wheelSomewhere(random);
    }
  }

  template <typename T>
  T* any(Random& random) {
    std::vector<T*> found;
    for (T* widget : window->findChildren<T*>()) {
      if (widget->isVisible() && widget->isEnabled()) found.push_back(widget);
    }
    if (found.empty()) return nullptr;
    return found[static_cast<std::size_t>(pick(random, 0, static_cast<int>(found.size()) - 1))];
  }

 private:
  static Qt::KeyboardModifiers modifiers(Random& random) {
    const Qt::KeyboardModifiers some[] = {Qt::NoModifier, Qt::NoModifier, Qt::ShiftModifier,
                                          Qt::ControlModifier,
                                          Qt::ControlModifier | Qt::ShiftModifier};
    return some[pick(random, 0, 4)];
  }

  void stage(Random& random) {
    QTest::keyClick(window.get(), static_cast<Qt::Key>(Qt::Key_1 + pick(random, 0, 6)),
                    Qt::AltModifier);
  }

  // Whatever a menu offers, but for what ends the program or waits for an answer. Another song ends
  // the history that is watched: seldom.
  void menu(Random& random) {
    std::vector<QAction*> offered;
    for (QAction* top : window->menuBar()->actions()) {
      if (top->text() == "&File" && pick(random, 0, 19) > 0) continue;
      Q_EMIT top->menu()->aboutToShow();
      for (QAction* action : top->menu()->actions()) {
        for (QAction* a :
             action->menu() == nullptr ? QList<QAction*>{action} : action->menu()->actions()) {
          const bool ends = a->text().contains("Quit") || a->text().contains("About");
          if (a->isEnabled() && !a->isSeparator() && !ends) offered.push_back(a);
        }
      }
    }
    offered[static_cast<std::size_t>(pick(random, 0, static_cast<int>(offered.size()) - 1))]
        ->trigger();
    if (auto* keys = window->findChild<QDialog*>(QStringLiteral("keys"))) keys->close();
  }

  void key(Random& random) {
    static const Qt::Key keys[] = {
        Qt::Key_Left,  Qt::Key_Right,  Qt::Key_Up,     Qt::Key_Down,   Qt::Key_Space,
        Qt::Key_Enter, Qt::Key_Escape, Qt::Key_Delete, Qt::Key_PageUp, Qt::Key_PageDown,
        Qt::Key_Tab,   Qt::Key_Plus,   Qt::Key_Minus,  Qt::Key_Comma,  Qt::Key_Period,
        Qt::Key_A,     Qt::Key_G,      Qt::Key_N,      Qt::Key_O,      Qt::Key_W,
        Qt::Key_R,     Qt::Key_L,      Qt::Key_T,      Qt::Key_S,      Qt::Key_Z,
        Qt::Key_Y,     Qt::Key_C,      Qt::Key_X,      Qt::Key_V,      Qt::Key_K,
        Qt::Key_D,     Qt::Key_1,      Qt::Key_5,      Qt::Key_9,      Qt::Key_Home,
        Qt::Key_End,   Qt::Key_F,      Qt::Key_B,      Qt::Key_E,      Qt::Key_Return};
    QWidget* focus = QApplication::focusWidget();
    if (focus == nullptr || focus->window() != window.get()) focus = window.get();
    QTest::keyClick(focus, keys[pick(random, 0, static_cast<int>(std::size(keys)) - 1)],
                    modifiers(random));
  }

  void mouse(Random& random) {
    // An edit in the middle can make it go away.
    const QPointer<QWidget> widget = any<QWidget>(random);
    // A drag out of the tile waits for the desktop; a choice opens a list that would take all keys.
    if (widget == nullptr || qobject_cast<MidiTile*>(widget.data()) != nullptr ||
        qobject_cast<QComboBox*>(widget.data()) != nullptr || widget->inherits("QMenuBar") ||
        widget->inherits("QMenu")) {
      return;
    }
    const auto somewhere = [&] {
      return QPoint(pick(random, 0, std::max(0, widget->width() - 1)),
                    pick(random, 0, std::max(0, widget->height() - 1)));
    };
    const Qt::KeyboardModifiers with = modifiers(random);
    const QPoint from = somewhere();
    const QPoint to = pick(random, 0, 1) == 0 ? from : somewhere();
    QTest::mousePress(widget.data(), Qt::LeftButton, with, from);
    for (int i = 1; i <= 3 && widget != nullptr; ++i) {
      const QPoint p = from + (to - from) * i / 3;
      QMouseEvent move(QEvent::MouseMove, p, widget->mapToGlobal(p), Qt::NoButton, Qt::LeftButton,
                       with);
      QApplication::sendEvent(widget, &move);
      const bool escape = pick(random, 0, 12) == 0, undo = pick(random, 0, 30) == 0;
      if (escape && widget != nullptr) QTest::keyClick(widget.data(), Qt::Key_Escape);
      if (undo && widget != nullptr) QTest::keyClick(widget.data(), Qt::Key_Z, Qt::ControlModifier);
      QApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
    }
    if (widget != nullptr) QTest::mouseRelease(widget.data(), Qt::LeftButton, with, to);
  }

  void typeSomething(Random& random) {
    auto* field = any<QLineEdit>(random);
    if (field == nullptr || field->isReadOnly()) return;
    static const char* words[] = {"",      "0",     "1",   "-5",       "12.5", "7/4",      "999999",
                                  "1/3",   "x..",   "4/4", "7/8",      "abc",  "1e9",      "50",
                                  "RLRRL", "0.001", "%",   "\xc3\xa9", "100",  "3/4 for 1"};
    field->setFocus();
    field->selectAll();
    for (const QChar c : QString::fromUtf8(words[pick(random, 0, 19)])) {
      QTest::sendKeyEvent(QTest::Click, field, Qt::Key_unknown, QString(c), Qt::NoModifier);
    }
    QTest::keyClick(field, pick(random, 0, 4) == 0 ? Qt::Key_Escape : Qt::Key_Return);
  }

  void chooseSomething(Random& random) {
    auto* field = any<QComboBox>(random);
    if (field == nullptr) return;
    field->setFocus();
    QTest::keyClick(field, pick(random, 0, 1) == 0 ? Qt::Key_Down : Qt::Key_Up);
  }

  void wheelSomewhere(Random& random) {
    auto* widget = any<QWidget>(random);
    if (widget != nullptr) wheel(*widget, pick(random, -2, 2), modifiers(random));
  }
};

TEST_F(RandomHandTest, BreaksNothingAndCanBeUndone) {
  int watchedToTheEnd = 0, stepsInAll = 0;
  for (unsigned seed = 1; seed <= 6; ++seed) {
    Random random(seed);
    prompts.saveAnswer = SaveAnswer::kDiscard;
    if (seed % 2 == 1) {
      openDemo();
    } else {
      window->document().replace(randomSong(random), {});
    }
    Document& document = window->document();
    // Some go to the end of what undo keeps, again and again.
    const int limit = seed % 3 == 0 ? 12 : 0;
    document.undoStack().setUndoLimit(limit);
    const Song before = document.song();
    bool replaced = false;
    // Undo as a list of songs: all that have been on the screen.
    std::vector<Song> shown{before};
    const auto watched =
        QObject::connect(&document, &Document::changed, [&] { shown.push_back(document.song()); });
    const auto seen = QObject::connect(&document, &Document::replaced, [&] { replaced = true; });
    for (int i = 0; i < 250; ++i) {
      act(random);
      QApplication::processEvents();
      if (QWidget* popup = QApplication::activePopupWidget()) popup->close();
      QApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
      if (i % 10 > 0) continue;
      const Result<Song> read = readSong(writeSong(document.song()), "song");
      ASSERT_TRUE(read) << "seed " << seed << ", action " << i << ": " << read.error().line();
      ASSERT_EQ(*read, document.song()) << "seed " << seed << ", action " << i;
    }
    QObject::disconnect(seen);
    QTest::keyClick(&lanes(), Qt::Key_Escape);
    window->playIn().setRecording(false);  // what is being played in is a step once it ends
    QObject::disconnect(watched);
    if (replaced) continue;
    ++watchedToTheEnd;
    const Song after = document.song();
    const int steps = document.undoStack().index();
    stepsInAll += steps;
    EXPECT_TRUE(limit == 0 || document.undoStack().count() <= limit);
    std::vector<Song> back{after};
    while (document.undoStack().canUndo()) {
      document.undo();
      ASSERT_NE(document.song(), back.back()) << "a step that changes nothing, seed " << seed;
      ASSERT_NE(std::find(shown.begin(), shown.end(), document.song()), shown.end())
          << "a song that never was, seed " << seed;
      back.push_back(document.song());
    }
    if (limit == 0) {
      ASSERT_EQ(document.song(), before) << "seed " << seed;
    }
    for (std::size_t i = back.size() - 1; i-- > 0;) {
      document.undoStack().redo();
      ASSERT_EQ(document.song(), back[i]) << "seed " << seed;
    }
    document.undoStack().setIndex(steps);
    ASSERT_EQ(document.song(), after) << "seed " << seed;
  }
  EXPECT_GE(watchedToTheEnd, 3);
  EXPECT_GT(stepsInAll, 5 * watchedToTheEnd) << "the hand has done something";
}

}  // namespace
}  // namespace uneven::testing
