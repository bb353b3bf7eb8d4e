// SPDX-License-Identifier: GPL-3.0-or-later
// Parts written by keyboard alone.
#include <QComboBox>
#include <QLineEdit>

#include "app/edit/editing.h"
#include "core/io/drum_tab.h"
#include "tests/app/window_fixture.h"

namespace uneven::testing {
namespace {

class StepEntryTest : public WindowTest {
 protected:
  // Keys as they are pressed: capitals with Shift, ^ before a letter for Alt.
  void typeSteps(const char* keys) {
    for (const char* c = keys; *c != 0; ++c) {
      Qt::KeyboardModifiers modifiers = Qt::NoModifier;
      if (*c == '^') {
        modifiers = Qt::AltModifier;
        ++c;
      }
      const char upper = static_cast<char>(std::toupper(*c));
      if (*c == upper && std::isalpha(*c) != 0) modifiers |= Qt::ShiftModifier;
      QTest::keyClick(&lanes(), static_cast<Qt::Key>(upper), modifiers);
    }
  }
};

TEST_F(StepEntryTest, LettersStrikeAndMoveOn) {
  press(Qt::Key_I);
  EXPECT_TRUE(lanes().stepEntry());
  typeSteps("k.h^sS+ko");
  ASSERT_EQ(groove().hits.size(), 6U);
  EXPECT_TRUE(hasHit(Beat(0), piece::kKick));
  EXPECT_TRUE(hasHit(Beat(1, 2), piece::kHat));
  EXPECT_EQ(hitAt(Beat(3, 4), piece::kSnare).role, Role::kGhost);
  EXPECT_EQ(hitAt(Beat(1), piece::kSnare).role, Role::kAccent);
  EXPECT_TRUE(hasHit(Beat(1), piece::kKick)) << "+ joins the slot just left";
  EXPECT_EQ(hitAt(Beat(5, 4), piece::kHat).open, 0.6);
  EXPECT_EQ(window->editing().cursorAt(), Beat(3, 2));
  // Back up and write over.
  QTest::keyClick(&lanes(), Qt::Key_Backspace);
  EXPECT_FALSE(hasHit(Beat(5, 4), piece::kHat));
  typeSteps("H");
  EXPECT_EQ(hitAt(Beat(5, 4), piece::kHat).role, Role::kAccent);
  QTest::keyClick(&lanes(), Qt::Key_Escape);
  EXPECT_FALSE(lanes().stepEntry());
  press(Qt::Key_G);  // a role again, of what stands under the cursor
  EXPECT_EQ(groove().hits.size(), 6U);
}

TEST_F(StepEntryTest, TheLastSlotIsTheEnd) {
  press(Qt::Key_End);
  for (int i = 0; i < 15; ++i) press(Qt::Key_Right);
  press(Qt::Key_I);
  typeSteps("k+h");
  EXPECT_TRUE(hasHit(Beat(31, 4), piece::kKick));
  EXPECT_TRUE(hasHit(Beat(31, 4), piece::kHat));
  EXPECT_EQ(window->editing().cursorAt(), Beat(31, 4));
}

// A two-bar part with a triplet beat, ghosts, an open hat and a flam, from nothing and without the
// mouse, against the same part as tab text.
TEST_F(StepEntryTest, ATwoBarPartFromNothingByKeyboardAlone) {
  press(Qt::Key_K, Qt::ControlModifier);
  choose(child<QComboBox>("tool-choice"), "Ostinato");
  QTest::keyClick(&child<QWidget>("tool-panel"), Qt::Key_Return);
  choose(child<QComboBox>("tool-choice"), "Backbeat");
  QTest::keyClick(&child<QWidget>("tool-panel"), Qt::Key_Return);
  QTest::keyClick(&child<QWidget>("tool-panel"), Qt::Key_Escape);
  press(Qt::Key_Home);
  press(Qt::Key_I);
  // Kicks on 1, the & of 2 and the a of 3; ghosts around the backbeat; the hat opens on the & of 4.
  typeSteps("k..^s..k^s...k...");
  press(Qt::Key_Escape);
  press(Qt::Key_R, Qt::ControlModifier);
  press(Qt::Key_End);
  for (int i = 0; i < 14; ++i) press(Qt::Key_Right);
  while (window->editing().cursorPiece() != piece::kHat) press(Qt::Key_Up);
  press(Qt::Key_O);
  // What the part is: x and X as the tools write them, g for ghosts.
  const char* tab =
      "HH|x-x-x-x-x-x-x-x-|x-x-x-x-x-x-x-o-|\n"
      "S |---gX--g----X---|---gX--g----X---|\n"
      "B |x-----x----x----|x-----x----x----|\n";
  const Result<TabReading> expected = readDrumTab(tab, houseKit(), "expected");
  ASSERT_TRUE(expected);
  ASSERT_EQ(groove().hits.size(), expected->groove.hits.size());
  for (std::size_t i = 0; i < groove().hits.size(); ++i) {
    const Hit& made = groove().hits[i];
    const Hit& wanted = expected->groove.hits[i];
    EXPECT_EQ(made.at, wanted.at);
    EXPECT_EQ(made.piece, wanted.piece);
    EXPECT_EQ(made.role, wanted.role) << made.at.toString();
    EXPECT_EQ(made.open, wanted.open) << made.at.toString();
  }
}

}  // namespace
}  // namespace uneven::testing
