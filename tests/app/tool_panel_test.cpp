// SPDX-License-Identifier: GPL-3.0-or-later
// The tools beside the lanes.
#include "app/strike/tool_panel.h"

#include <QComboBox>
#include <QLineEdit>
#include <QPushButton>
#include <QUndoStack>

#include "app/edit/editing.h"
#include "tests/app/window_fixture.h"

namespace uneven::testing {
namespace {

class ToolPanelTest : public WindowTest {
 protected:
  ToolPanel& panel() { return child<ToolPanel>("tool-panel"); }
};

TEST_F(ToolPanelTest, AStickingLineIsTypedAndLaidFromTheCursor) {
  press(Qt::Key_End);
  press(Qt::Key_K, Qt::ControlModifier);
  auto& text = child<QLineEdit>("tool-text");
  EXPECT_TRUE(text.hasFocus());
  QTest::keyClicks(&text, "R>Ll(R+K)");
  EXPECT_EQ(panel().outcomeText(), "5 hits laid") << "told while it is typed";
  EXPECT_TRUE(groove().hits.empty()) << "and not done yet";
  QTest::keyClick(&text, Qt::Key_Return);
  ASSERT_EQ(groove().hits.size(), 5U);
  EXPECT_EQ(hitAt(Beat(17, 4), piece::kSnare).role, Role::kAccent);
  EXPECT_EQ(hitAt(Beat(9, 2), piece::kSnare).role, Role::kGhost);
  EXPECT_TRUE(hasHit(Beat(19, 4), piece::kKick));
  EXPECT_EQ(window->document().undoStack().undoText(), "Sticking line");
  EXPECT_EQ(status(), "Sticking line: 5 hits laid");
  QTest::keyClick(&text, Qt::Key_Escape);
  EXPECT_FALSE(panel().isVisible());
  EXPECT_TRUE(lanes().hasFocus());
  press(Qt::Key_Z, Qt::ControlModifier);
  EXPECT_TRUE(groove().hits.empty());
}

TEST_F(ToolPanelTest, AnErrorPointsAtTheLetterAndNothingIsDone) {
  press(Qt::Key_K, Qt::ControlModifier);
  auto& text = child<QLineEdit>("tool-text");
  QTest::keyClicks(&text, "RLX");
  EXPECT_EQ(panel().outcomeText(), "sticking: letter 3: \"X\" is none of R, L, K and F");
  EXPECT_FALSE(child<QPushButton>("tool-do").isEnabled());
  QTest::keyClick(&text, Qt::Key_Return);
  EXPECT_TRUE(groove().hits.empty());
}

TEST_F(ToolPanelTest, BuildsAPartFromNothingByKeyboard) {
  const auto runFromPanel = [&](const char* tool) {
    openTool(tool);
    QTest::keyClick(&panel(), Qt::Key_Return);
  };
  openTool("ostinato");
  choose(child<QComboBox>("tool-kind"), "Sixteenths");
  QTest::keyClick(&panel(), Qt::Key_Return);
  runFromPanel("backbeat");
  runFromPanel("echo");
  EXPECT_EQ(groove().hits.size(), 32U + 4U + 4U);
  EXPECT_EQ(hitAt(Beat(5, 4), piece::kSnare).role, Role::kGhost);
  EXPECT_EQ(status(), "Echo: 4 hits added");
}

TEST_F(ToolPanelTest, ThePreviewGoesWithItsGrooveAndWhenRecordingBegins) {
  openDemo();
  const auto previewed = [&] { return lanes().previewScene().has_value(); };
  openTool("ostinato");
  ASSERT_TRUE(soon(previewed));
  window->document().chooseGroove(window->document().song().grooves.back()->id);
  EXPECT_FALSE(lanes().previewScene().has_value()) << "another groove";
  openTool("ostinato");
  ASSERT_TRUE(soon(previewed));
  window->playIn().setRecording(true);
  EXPECT_FALSE(lanes().previewScene().has_value()) << "what is played is written";
  window->playIn().setRecording(false);
}

TEST_F(ToolPanelTest, WhatIsSelectedIsTheSpan) {
  openDemo();
  openTool("mirror");
  window->editing().select({{Beat(1), piece::kHat}, {Beat(7, 4), piece::kHat}});
  EXPECT_EQ(child<QLineEdit>("tool-from").text(), "1");
  EXPECT_EQ(child<QLineEdit>("tool-to").text(), "2");
  choose(child<QComboBox>("tool-piece"), "Hats");
  EXPECT_EQ(panel().outcomeText(), "4 hits mirrored");
}

TEST_F(ToolPanelTest, EveryToolOpensAndItsFieldsExplainThemselves) {
  openDemo();
  for (const Tool& tool : tools()) {
    openTool(tool.name);
    EXPECT_FALSE(panel().outcomeText().isEmpty()) << tool.name;
    for (const ToolParameter& parameter : tool.parameters) {
      EXPECT_FALSE(child<QWidget>(("tool-" + parameter.name).c_str()).toolTip().isEmpty());
    }
  }
}

}  // namespace
}  // namespace uneven::testing
