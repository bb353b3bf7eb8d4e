// SPDX-License-Identifier: GPL-3.0-or-later
// The Vary stage under mouse and keys: the wall, the map, verdicts, versions, what is heard.
#include <QClipboard>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSignalSpy>
#include <QTest>
#include <QUndoStack>
#include <cmath>

#include "app/controls/choice_field.h"
#include "app/controls/labels.h"
#include "app/edit/argument_form.h"
#include "app/vary/map_view.h"
#include "app/vary/pulse_strip.h"
#include "app/vary/vary_stage.h"
#include "app/vary/wall_view.h"
#include "core/song/edit.h"
#include "tests/app/window_fixture.h"

namespace uneven::testing {
namespace {

class VaryStageTest : public WindowTest {
 protected:
  void SetUp() override {
    outputs.device = true;
    openDemo();
    showStage("vary");
    QApplication::processEvents();
  }
  VaryStage& vary() { return stage<VaryStage>("vary"); }
  Walker& walker() { return vary().walker(); }
  void key(Qt::Key k, Qt::KeyboardModifiers with = Qt::NoModifier) {
    QTest::keyClick(&vary().wall(), k, with);
    QApplication::processEvents();
  }
  void set(const char* name, const char* value) {
    vary().panel().form().set(name, QString::fromLatin1(value));
    QApplication::processEvents();
  }
  void waitJudged(std::uint64_t index) {
    ASSERT_TRUE(soon([&] { return walker().judged(index) != nullptr; }));
  }
  QString label(const char* name) { return child<QLabel>(name).text(); }
  void button(const char* name) {
    QTest::mouseClick(&child<QPushButton>(name), Qt::LeftButton);
    QApplication::processEvents();
  }
  const Variant& current() { return walker().variant(vary().wall().current()); }
};

TEST_F(VaryStageTest, TheWallHasEveryPlaceInOrder) {
  set("to", "4");
  ASSERT_EQ(walker().count(), 13U) << "one more kick in the first bar";
  EXPECT_EQ(label("variant-name"), QStringLiteral("kick on 4 a"));
  EXPECT_EQ(label("variant-number"), QStringLiteral("1 of 13"));
  key(Qt::Key_Right);
  EXPECT_EQ(label("variant-name"), QStringLiteral("kick on 4 &"));
  key(Qt::Key_Down);
  EXPECT_EQ(vary().wall().current(), 1U + static_cast<std::uint64_t>(vary().wall().wall().columns));
  key(Qt::Key_End);
  EXPECT_EQ(vary().wall().current(), 12U);
  QTest::mouseClick(&vary().wall(), Qt::LeftButton, {},
                    vary().wall().cardRect(2).center().toPoint());
  EXPECT_EQ(vary().wall().current(), 2U);
  button("variant-before");
  EXPECT_EQ(vary().wall().current(), 1U);
  waitJudged(1);
  EXPECT_EQ(label("variant-changed"), QStringLiteral("1 added"));
  EXPECT_TRUE(label("variant-syncopation").contains(QStringLiteral("was")));
  ASSERT_TRUE(soon([&] { return label("variant-findings").contains(QStringLiteral("Check")); }));
}

TEST_F(VaryStageTest, FewStandWiderAndTheLastWordGoesWithTheWalk) {
  const WallView& wall = vary().wall();
  const double narrow = wall.cardRect(0).width();
  key(Qt::Key_1);
  EXPECT_TRUE(status().endsWith(QStringLiteral("good"))) << status().toStdString();
  vary().showTab(WalkPanel::Tab::kAgainst);
  QApplication::processEvents();
  ASSERT_EQ(walker().count(), 1U);
  EXPECT_EQ(wall.wall().columns, 1);
  EXPECT_GT(wall.cardRect(0).width(), 2.5 * narrow);
  EXPECT_TRUE(wall.rect().toRectF().contains(wall.cardRect(0)));
  EXPECT_TRUE(status().isEmpty()) << status().toStdString();
  vary().showTab(WalkPanel::Tab::kGrid);
  set("from_grid", "1/16");
  set("to_grid", "1/8T");
  set("lay", "all");
  ASSERT_EQ(walker().count(), 4U);
  for (std::uint64_t i = 0; i < 4; ++i) {
    EXPECT_TRUE(wall.rect().toRectF().contains(wall.cardRect(i))) << i;
    EXPECT_TRUE(i == 0 || !wall.cardRect(i).intersects(wall.cardRect(i - 1)));
  }
  // A long name is told whole.
  key(Qt::Key_End);
  EXPECT_EQ(label("variant-name"), qs(current().name));
}

TEST_F(VaryStageTest, EveryWalkOfTheTableCanBeShown) {
  for (const WalkKind& kind : walks()) {
    vary().panel().setKind(kind.name);
    QApplication::processEvents();
    ASSERT_TRUE(soon([&] { return !walker().making(); }));
    EXPECT_GT(walker().count(), 0U) << kind.name << walker().problem().toStdString();
    EXPECT_FALSE(vary().wall().grab().isNull());
  }
  set("bars", "99999");
  EXPECT_EQ(walker().count(), 0U);
  EXPECT_TRUE(walker().problem().contains(QStringLiteral("bars"))) << "said in place of the wall";
}

TEST_F(VaryStageTest, VerdictsStayWithTheSongAndAreFoundAgain) {
  set("to", "4");
  const Song before = song();
  const std::string good = current().key;
  key(Qt::Key_1);
  ASSERT_EQ(groove().walk.size(), before.findGroove(groove().id)->walk.size() + 1);
  EXPECT_EQ(verdictOf(groove(), good)->mark, WalkMark::kGood);
  EXPECT_EQ(vary().wall().current(), 0U) << "nothing else is chosen by it";
  type(child<QLineEdit>("variant-note"), "sits");
  EXPECT_EQ(verdictOf(groove(), good)->note, "sits");
  key(Qt::Key_Right);
  button("verdict-3");
  EXPECT_TRUE(label("variant-tally").startsWith(QStringLiteral("1 good")));
  // In another walk as well.
  vary().panel().setKind("add");
  set("piece", "kick");
  set("to", "4");
  int found = 0;
  for (std::uint64_t i = 0; i < walker().count(); ++i)
    found += walker().verdict(i) != nullptr ? 1 : 0;
  EXPECT_EQ(found, 2);
  EXPECT_TRUE(vary().copy());
  EXPECT_TRUE(
      QGuiApplication::clipboard()->text().contains(QStringLiteral("+15/4 kick: good, sits")))
      << QGuiApplication::clipboard()->text().toStdString();
  window->document().undo();
  window->document().undo();
  window->document().undo();
  EXPECT_TRUE(song() == before);
}

TEST_F(VaryStageTest, AVerdictIsTakenBack) {
  key(Qt::Key_2);
  ASSERT_NE(walker().verdict(0), nullptr);
  key(Qt::Key_0);
  EXPECT_EQ(walker().verdict(0), nullptr);
}

TEST_F(VaryStageTest, AVariantBecomesAVersionAndSeveralSections) {
  const Song before = song();
  const std::string core = groove().id;
  key(Qt::Key_Return);
  ASSERT_EQ(song().grooves.size(), before.grooves.size() + 1);
  EXPECT_EQ(song().grooves.back()->core, core);
  EXPECT_EQ(song().grooves.back()->hits.size(), groove().hits.size() + 1);
  EXPECT_TRUE(song().arrangement == before.arrangement);
  EXPECT_EQ(groove().id, core) << "the walk goes on";
  window->document().undo();
  key(Qt::Key_X);
  key(Qt::Key_Right);
  key(Qt::Key_Right);
  key(Qt::Key_X);
  const std::size_t sections = song().sections().size();
  button("arrange-variants");
  EXPECT_EQ(song().grooves.size(), before.grooves.size() + 2);
  EXPECT_EQ(song().arrangement.size(), sections + 2);
  EXPECT_TRUE(vary().wall().gathered().empty());
  window->document().undo();
  EXPECT_TRUE(song() == before);
}

TEST_F(VaryStageTest, SteppingIsHeardInPlaceOfTheGrooveWithoutAGap) {
  set("to", "4");
  Transport& transport = window->transport();
  transport.play();
  outputs.output->pull(kSoundRate / 4);
  ASSERT_TRUE(soon([&] { return transport.heard().groove.has_value(); }));
  EXPECT_TRUE(**transport.heard().groove == current().groove);
  key(Qt::Key_Right);
  EXPECT_TRUE(**transport.heard().groove == current().groove);
  EXPECT_TRUE(transport.playing());
  EXPECT_GT(outputs.output->pull(kSoundRate), 1e-4);
  key(Qt::Key_C);
  EXPECT_FALSE(transport.heard().groove) << "the groove itself";
  key(Qt::Key_C);
  EXPECT_TRUE(transport.heard().groove);
  showStage("strike");
  EXPECT_FALSE(transport.heard().groove) << "only here";
  EXPECT_TRUE(transport.playing());
}

TEST_F(VaryStageTest, TheMapGoesThere) {
  vary().panel().setKind("move");
  set("to_where", "anywhere");
  ASSERT_TRUE(soon([&] { return walker().judgedCount() == walker().count(); }));
  // One that lies by itself.
  for (std::uint64_t i = 1; i < walker().count(); ++i) {
    const QPointF at = *vary().map().pointOf(i);
    bool alone = true;
    for (std::uint64_t k = 0; k < walker().count(); ++k) {
      const QPointF other = *vary().map().pointOf(k);
      alone = alone && (k == i || QLineF(at, other).length() > 4);
    }
    if (!alone) continue;
    QTest::mouseClick(&vary().map(), Qt::LeftButton, {}, at.toPoint());
    EXPECT_EQ(vary().wall().current(), i);
    return;
  }
  FAIL() << "all lie over each other";
}

TEST_F(VaryStageTest, AnotherGridShowsBothPulses) {
  vary().showTab(WalkPanel::Tab::kGrid);
  QApplication::processEvents();
  set("from_grid", "1/8T");
  set("to_grid", "1/16");
  EXPECT_TRUE(vary().pulses().isVisible());
  EXPECT_TRUE(
      vary().pulses().words().contains(QStringLiteral("lasts 6 quarters, seems 122.7 BPM, "
                                                      "meets the bar after 3 bars")))
      << vary().pulses().words().toStdString();
  EXPECT_EQ(current().groove.bars, 3);
  window->transport().play();
  EXPECT_TRUE(**window->transport().heard().groove == current().groove);
  vary().showTab(WalkPanel::Tab::kAgainst);
  QApplication::processEvents();
  EXPECT_TRUE(vary().pulses().words().contains(QStringLiteral("2 over 3")));
  vary().showTab(WalkPanel::Tab::kWalk);
  QApplication::processEvents();
  EXPECT_FALSE(vary().pulses().isVisible());
}

// Only what is seen is made; what is far down is measured once it is seen.
TEST_F(VaryStageTest, AHundredThousandVariantsScroll) {
  set("strokes", "4");
  ASSERT_GT(walker().count(), 10'000U);
  key(Qt::Key_End);
  const auto [from, to] = vary().wall().seen();
  EXPECT_EQ(to, walker().count());
  waitJudged(walker().count() - 1);
  EXPECT_GT(walker().judgedCount(), 0U);
  key(Qt::Key_PageUp);
  EXPECT_LT(vary().wall().current(), walker().count() - 4);
}

TEST_F(VaryStageTest, AnOrderThatLooksAtAllIsMadeAside) {
  set("to", "4");
  set("order", "easiest");
  ASSERT_TRUE(soon([&] { return !walker().making() && walker().count() > 0; }));
  EXPECT_EQ(walker().count(), 13U);
  waitJudged(0);
  waitJudged(12);
  EXPECT_GE(walker().judged(0)->ceiling.playable, walker().judged(12)->ceiling.playable);
}

TEST_F(VaryStageTest, AnEditElsewhereMakesTheWalkAnew) {
  set("to", "4");
  const std::uint64_t before = walker().count();
  key(Qt::Key_Right);
  const std::string chosen = current().key;
  Groove more = groove();
  Hit kick;
  kick.at = Beat(1, 4);
  kick.piece = piece::kKick;
  window->editing().grooves().replaceGroove(QStringLiteral("more"), withHit(std::move(more), kick));
  EXPECT_EQ(walker().count(), before - 1);
  EXPECT_EQ(current().key, chosen) << "the same one is chosen still";
  window->document().chooseGroove(song().grooves.back()->id);
  EXPECT_EQ(walker().walk()->core->id, song().grooves.back()->id);
}

// The map takes two measures in which the variants differ, or those that are chosen; none lies on
// another, and a verdict can be looked at alone.
TEST_F(VaryStageTest, TheMapsAxesAreChosen) {
  set("to", "4");
  ASSERT_TRUE(soon([&] { return walker().judgedCount() == walker().count(); }));
  auto& map = child<MapView>("vary-map");
  EXPECT_NE(map.across(), map.up());
  const auto apart = [&] {
    double least = 1e9;
    for (std::uint64_t i = 0; i < walker().count(); ++i) {
      for (std::uint64_t k = 0; k < i; ++k) {
        if (!map.pointOf(i) || !map.pointOf(k)) continue;
        const QPointF d = *map.pointOf(i) - *map.pointOf(k);
        least = std::min(least, std::hypot(d.x(), d.y()));
      }
    }
    return least;
  };
  EXPECT_GT(apart(), 5);
  choose(child<QComboBox>("map-across"), QStringLiteral("across: distance from the groove"));
  EXPECT_EQ(map.across(), MapView::Measure::kDistance);
  EXPECT_GT(apart(), 5);
  key(Qt::Key_2);
  map.setFilter(static_cast<int>(WalkMark::kAwkward));
  int drawn = 0;
  for (std::uint64_t i = 0; i < walker().count(); ++i) drawn += map.pointOf(i) ? 1 : 0;
  EXPECT_EQ(drawn, 1);
}

TEST_F(VaryStageTest, SpansAreCountsAndAWalkKeepsToThem) {
  set("to", "4");
  auto& to = child<QLineEdit>("walk-to");
  EXPECT_EQ(to.text(), "1 of bar 2");
  type(to, "2");
  EXPECT_EQ(vary().panel().arguments().at("to"), "1");
  type(to, "1 of bar 2");
  type(child<QLineEdit>("walk-counts"), "a");
  ASSERT_GT(walker().count(), 0U);
  for (std::uint64_t i = 0; i < walker().count(); ++i)
    EXPECT_EQ(walker().variant(i).name.back(), 'a') << walker().variant(i).name;
  button("gather-variant");
  EXPECT_EQ(vary().wall().gathered().size(), 1U);
  EXPECT_TRUE(child<QPushButton>("arrange-variants").isVisible());
  button("gather-variant");
  EXPECT_TRUE(vary().wall().gathered().empty());
}

}  // namespace
}  // namespace uneven::testing
