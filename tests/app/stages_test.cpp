// SPDX-License-Identifier: GPL-3.0-or-later
// Stages and actions: one table, from which rail, menus, keys and finder are made.
#include <QMenu>
#include <QMenuBar>
#include <QTreeWidget>

#include "app/frame/finder.h"
#include "app/lean/lean_stage.h"
#include "app/lean/lean_view.h"
#include "core/tools/tool.h"
#include "tests/app/window_fixture.h"

namespace uneven::testing {
namespace {

// What a newcomer writes first: nothing but its entry.
class EmptyStage final : public Stage {
 public:
  using Stage::Stage;
  void zoom(double by) override { zoomed *= by; }
  bool copy() override {
    ++copied;
    return true;
  }
  void readSettings(const QSettings& settings) override {
    remembered = settings.value(QStringLiteral("empty/rows")).toInt();
  }
  void writeSettings(QSettings& settings) const override {
    settings.setValue(QStringLiteral("empty/rows"), remembered + 1);
  }
  double zoomed = 1;
  int copied = 0;
  int remembered = 0;
};

StageEntry emptyEntry() {
  StageEntry entry;
  entry.id = QStringLiteral("empty");
  entry.title = QStringLiteral("&Rehearse");
  entry.purpose = QStringLiteral("Nothing yet");
  entry.make = [](const Workplace&, QWidget* parent) -> Stage* { return new EmptyStage(parent); };
  entry.keys = {{QStringLiteral("B"), QStringLiteral("begins")}};
  entry.actions = [](ActionTable& table, StageDoor& door) {
    table.add(QStringLiteral("&Nothing"), QStringLiteral("Begin nothing"),
              {QKeySequence(Qt::Key_F12)}, [&door] { door.showStage(QStringLiteral("empty")); });
  };
  return entry;
}

class Stages : public WindowTest {
 protected:
  Stages() {
    window.reset();
    window = withEmptyStage();
    openDemo();
  }
  std::unique_ptr<MainWindow> withEmptyStage() {
    std::vector<StageEntry> entries = stages();
    entries.push_back(emptyEntry());
    return makeWindow(std::move(entries));
  }
  EmptyStage& empty() { return stage<EmptyStage>("empty"); }
  QMenu* menu(const QString& title) {
    for (QAction* action : window->menuBar()->actions()) {
      if (action->text() == title) return action->menu();
    }
    return nullptr;
  }
  QStringList listed() {
    QStringList out;
    const auto& list = child<QTreeWidget>("finder-list");
    for (int i = 0; i < list.topLevelItemCount(); ++i) out << list.topLevelItem(i)->text(0);
    return out;
  }
  void find(const char* typed) {
    window->activateWindow();  // no window manager brings it back here
    QApplication::processEvents();
    QTest::keyClick(window.get(), Qt::Key_F, Qt::ControlModifier);
    QTest::keyClicks(&child<QLineEdit>("finder-search"), QString::fromUtf8(typed));
  }
  void enter() {
    QTest::keyClick(&child<QLineEdit>("finder-search"), Qt::Key_Return);
    QTest::qWait(1);  // what was chosen runs when the dialog has gone
  }
};

TEST_F(Stages, AnotherStageIsEverywhereByItsEntryAlone) {
  QTest::keyClick(window.get(), Qt::Key_0, Qt::AltModifier);
  EXPECT_TRUE(empty().isVisible()) << "its key";
  QTest::keyClick(window.get(), Qt::Key_1, Qt::AltModifier);
  EXPECT_FALSE(empty().isVisible());
  QTest::mouseClick(window->findChild<QWidget*>("rail"), Qt::LeftButton, Qt::NoModifier,
                    {30, 22 + 9 * 44 + 10});
  EXPECT_TRUE(empty().isVisible()) << "the rail";
  QTest::keyClick(window.get(), Qt::Key_1, Qt::AltModifier);
  QTest::keyClick(window.get(), Qt::Key_F12);
  EXPECT_TRUE(empty().isVisible()) << "its action";
  ASSERT_NE(menu("&Nothing"), nullptr) << "with a menu of its own";
  EXPECT_EQ(window->menuBar()->actions().last()->text(), "Hel&p") << "before Help";
  QTest::keyClick(window.get(), Qt::Key_Right, Qt::ControlModifier | Qt::AltModifier);
  EXPECT_EQ(empty().zoomed, 1.25);
  QTest::keyClick(window.get(), Qt::Key_C, Qt::ControlModifier);
  EXPECT_EQ(empty().copied, 1);
  find("begin nothing");
  EXPECT_EQ(listed(), QStringList{"Begin nothing"});
  QTest::keyClick(&child<QLineEdit>("finder-search"), Qt::Key_Escape);
  QTest::keyClick(window.get(), Qt::Key_F1);
  QTest::keyClicks(&child<QLineEdit>("keys-search"), "begins");
  const auto labels = window->findChild<QDialog*>("keys")->findChildren<QLabel*>();
  EXPECT_TRUE(std::any_of(labels.begin(), labels.end(), [](const QLabel* label) {
    return label->isVisible() && label->text() == "begins";
  }));
}

TEST_F(Stages, EachRemembersItsSettings) {
  EXPECT_EQ(empty().remembered, 0);
  window->close();
  window.reset();
  window = withEmptyStage();
  EXPECT_EQ(empty().remembered, 1);
}

TEST_F(Stages, EveryBuiltInStageHasPicturesAndATitle) {
  const auto all = stages();
  ASSERT_EQ(all.size(), 9U);
  for (const StageEntry& entry : all) {
    EXPECT_TRUE(entry.pictures) << entry.id.toStdString();
    EXPECT_FALSE(entry.purpose.isEmpty()) << entry.id.toStdString();
    EXPECT_TRUE(entry.title.contains('&')) << "a letter for the menu";
  }
}

TEST_F(Stages, FindRunsAnActionOnWhatIsChosen) {
  const Hit before = groove().hits[0];
  window->editing().moveCursor(before.at, before.piece);
  find("ghost");
  ASSERT_FALSE(listed().isEmpty());
  EXPECT_EQ(listed().front(), "Ghost") << "what is so called comes first";
  enter();
  EXPECT_EQ(hitAt(before.at, before.piece).role, Role::kGhost);
  find("undo");
  EXPECT_TRUE(listed().front().startsWith("Undo")) << listed().front().toStdString();
  enter();
  EXPECT_EQ(hitAt(before.at, before.piece), before);
}

TEST_F(Stages, FindKnowsToolsGroovesFeelsAndSections) {
  for (const Tool& tool : tools()) {
    find(tool.title.c_str());
    EXPECT_TRUE(listed().contains(QString::fromStdString(tool.title))) << tool.title;
    QTest::keyClick(&child<QLineEdit>("finder-search"), Qt::Key_Escape);
  }
  find("echo");
  enter();
  EXPECT_EQ(child<QComboBox>("tool-choice").currentData().toString(), "echo");
  const Groove& last = *song().grooves.back();
  find(last.name.c_str());
  enter();
  EXPECT_EQ(groove().id, last.id);
  find((song().feels.back().name + " feel").c_str());
  enter();
  EXPECT_TRUE(stage<LeanStage>("lean").isVisible());
  const Section& section = song().arrangement.front();
  find((section.name + " section").c_str());
  enter();
  EXPECT_EQ(groove().id, section.groove);
}

TEST_F(Stages, FindSaysWhenNothingIsCalledThat) {
  const Song before = song();
  find("zyx");
  EXPECT_TRUE(listed().isEmpty());
  enter();
  ASSERT_NE(window->findChild<QDialog*>("finder"), nullptr) << "it stays open";
  EXPECT_TRUE(window->findChild<QDialog*>("finder")->isVisible());
  QTest::keyClick(&child<QLineEdit>("finder-search"), Qt::Key_Escape);
  EXPECT_EQ(song(), before);
}

TEST_F(Stages, UpAndDownChooseInTheFinder) {
  find("lean");
  ASSERT_GT(listed().size(), 2);
  auto& list = child<QTreeWidget>("finder-list");
  auto& field = child<QLineEdit>("finder-search");
  QTest::keyClick(&field, Qt::Key_Down);
  EXPECT_EQ(list.indexOfTopLevelItem(list.currentItem()), 1);
  QTest::keyClick(&field, Qt::Key_Up);
  QTest::keyClick(&field, Qt::Key_Up);
  EXPECT_EQ(list.indexOfTopLevelItem(list.currentItem()), 0);
  QTest::keyClick(&field, Qt::Key_PageDown);
  EXPECT_GT(list.indexOfTopLevelItem(list.currentItem()), 1);
}

TEST(FinderRanks, WordsBeginWordsAndTheNearestComesFirst) {
  const std::vector<Found> all = {{"Reghost", "tool", {}, {}},
                                  {"Ghosts deeper", "tool", {}, {}},
                                  {"Ghost", "Hit", "G", {}},
                                  {"Save as", "File", "Ctrl+Shift+S", {}}};
  const auto titles = [&](const char* typed) {
    QStringList out;
    for (const Found* f : matching(all, QString::fromUtf8(typed))) out << f->title;
    return out;
  };
  EXPECT_EQ(titles("ghost"), (QStringList{"Ghost", "Ghosts deeper"}));
  EXPECT_EQ(titles("deep tool"), QStringList{"Ghosts deeper"});
  EXPECT_EQ(titles("ctrl+shift"), QStringList{"Save as"});
  EXPECT_EQ(titles("").size(), 4);
  EXPECT_EQ(titles("(").size(), 0) << "signs are taken as they stand";
}

}  // namespace
}  // namespace uneven::testing
