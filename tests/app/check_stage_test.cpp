// SPDX-License-Identifier: GPL-3.0-or-later
// The Check stage under mouse and keys.
#include <QLabel>
#include <QPushButton>
#include <QTest>
#include <QUndoStack>

#include "app/check/check_stage.h"
#include "app/check/check_view.h"
#include "app/check/found_card.h"
#include "app/check/part_card.h"
#include "app/check/plan_view.h"
#include "app/check/ways_card.h"
#include "app/controls/choice_field.h"
#include "app/controls/labels.h"
#include "app/controls/number_field.h"
#include "app/drawing/stick_painter.h"
#include "app/frame/stage_rail.h"
#include "app/strike/lanes_view.h"
#include "core/io/atomic_save.h"
#include "core/io/profile_json.h"
#include "core/song/names.h"
#include "tests/app/window_fixture.h"

namespace uneven::testing {
namespace {

class CheckStageTest : public WindowTest {
 protected:
  void SetUp() override {
    openDemo();
    showStage("check");
    wait();
  }
  CheckStage& check() { return stage<CheckStage>("check"); }
  CheckView& view() { return check().view(); }
  FoundCard& found() { return check().found(); }
  void wait() {
    ASSERT_TRUE(soon([&] { return check().checker().now() != nullptr; }));
    QApplication::processEvents();
  }
  void key(Qt::Key k, Qt::KeyboardModifiers with = Qt::NoModifier) {
    QTest::keyClick(&view(), k, with);
    QApplication::processEvents();
  }
  int countOf(FindingKind kind) {
    int out = 0;
    for (const Finding& f : found().findings())
      out += f.kind == kind && f.groove == "towpath" ? 1 : 0;
    return out;
  }
  // Accents of the snare that lie off the hats by a nudge: one finding a place.
  void nudgeTheBackbeats() {
    Song nudged = song();
    for (auto& groove : nudged.grooves) {
      if (groove->id != "towpath") continue;
      groove.edit([](Groove& g) {
        for (Hit& h : g.hits) {
          if (h.piece == piece::kSnare && h.role == Role::kAccent) h.nudge = Milliseconds(15);
        }
      });
    }
    window->document().replace(nudged, {});
    wait();
  }
  void chooseFirst(FindingKind kind) {
    const auto& all = found().findings();
    for (std::size_t i = 0; i < all.size(); ++i) {
      if (all[i].kind == kind && all[i].groove == "towpath") return found().choose(i);
    }
    FAIL() << findingWord(kind);
  }
};

TEST_F(CheckStageTest, ListsTheGrooveAtHandFirstAndWalksIt) {
  const auto& all = found().findings();
  ASSERT_GT(all.size(), 5U);
  EXPECT_EQ(all.front().groove, "towpath");
  EXPECT_NE(all.back().groove, "towpath");
  EXPECT_FALSE(found().chosen());
  key(Qt::Key_Down);
  key(Qt::Key_Down);
  EXPECT_EQ(found().chosen(), 1U);
  EXPECT_EQ(window->editing().cursorAt(), all[1].inGroove);
  key(Qt::Key_Up);
  EXPECT_EQ(found().chosen(), 0U);
  // One of another groove brings that groove to the front.
  const std::string other = all.back().groove;
  found().choose(all.size() - 1);
  wait();
  EXPECT_EQ(window->document().grooveId(), other);
  EXPECT_EQ(found().findings().front().groove, other);
}

TEST_F(CheckStageTest, EnterMendsAndUndoBringsItBack) {
  nudgeTheBackbeats();
  const int before = countOf(FindingKind::kUnisonSpread);
  ASSERT_GT(before, 2);
  for (std::size_t i = 0; i < found().findings().size(); ++i) {
    if (found().findings()[i].kind != FindingKind::kUnisonSpread) continue;
    found().choose(i);
    break;
  }
  key(Qt::Key_Return);
  EXPECT_EQ(check().checker().now(), nullptr) << "nothing stale is shown as fresh";
  EXPECT_FALSE(found().fresh());
  key(Qt::Key_Return);
  EXPECT_EQ(window->document().undoStack().count(), 1) << "nothing is mended twice";
  wait();
  EXPECT_EQ(countOf(FindingKind::kUnisonSpread), before - 1);
  window->document().undo();
  wait();
  EXPECT_EQ(countOf(FindingKind::kUnisonSpread), before);
}

TEST_F(CheckStageTest, AFeelsSpreadIsOneFindingThatIsMeantOrPulled) {
  chooseFirst(FindingKind::kUnisonSpread);
  const Finding lean = found().findings()[*found().chosen()];
  EXPECT_EQ(lean.severity, Severity::kNote) << "up to 20 ms it is meant";
  EXPECT_EQ(lean.text, "Loose rope lays Snare 15 ms behind Hats: meant?");
  EXPECT_GT(lean.times, 20);
  ASSERT_EQ(lean.mends.size(), 1U);
  EXPECT_EQ(lean.fix(), "pull to 10 ms");
  const Song pulled = withMend(song(), lean.mends.front());
  for (const Finding& f :
       uneven::check(**Take::ofSong(pulled), {}, builtInKitMaps().front()).findings)
    EXPECT_NE(f.text.substr(0, 10), "Loose rope") << f.text;
}

TEST_F(CheckStageTest, AButtonWithShiftMendsAllOfItsKind) {
  nudgeTheBackbeats();
  for (std::size_t i = 0; i < found().findings().size(); ++i) {
    if (found().findings()[i].kind != FindingKind::kUnisonSpread) continue;
    if (found().findings()[i].severity == Severity::kNote) continue;
    found().mendKind(i);
    break;
  }
  wait();
  EXPECT_EQ(countOf(FindingKind::kUnisonSpread), 1) << "what the feel does is left";
}

TEST_F(CheckStageTest, AMendingStandsOnTheSticksBeforeItIsDone) {
  EXPECT_FALSE(view().previewScene());
  chooseFirst(FindingKind::kHard);
  ASSERT_TRUE(view().previewScene());
  const StrikeScene shown = *view().previewScene();
  chooseFirst(FindingKind::kBeforeStart);
  EXPECT_FALSE(view().previewScene()) << "nothing is offered for it";
  chooseFirst(FindingKind::kHard);
  const Finding hard = found().findings()[*found().chosen()];
  ASSERT_GT(hard.mends.size(), 1U);
  const Song before = song();
  const QString index = QString::number(*found().chosen());
  auto* slower = found().findChild<QPushButton*>(QStringLiteral("other-mend-") + index);
  ASSERT_NE(slower, nullptr);
  EXPECT_EQ(slower->text(), QStringLiteral("slow down to 79 BPM"));
  QTest::mouseClick(slower, Qt::LeftButton);
  wait();
  EXPECT_EQ(song().tempo.front().bpm.value, 79);
  window->document().undo();
  wait();
  EXPECT_TRUE(song() == before);
  chooseFirst(FindingKind::kHard);
  auto* mend = found().findChild<QPushButton*>(QStringLiteral("mend-") + index);
  ASSERT_NE(mend, nullptr);
  QTest::mouseClick(mend, Qt::LeftButton);
  wait();
  const Groove& mended = *song().findGroove("towpath");
  EXPECT_LT(mended.hits.size(), before.findGroove("towpath")->hits.size());
  for (const StickShape& stick : shown.sticks) {
    EXPECT_TRUE(indexOf(mended, stick.ref)) << "as it was shown";
  }
}

TEST_F(CheckStageTest, LongListsGoByPages) {
  nudgeTheBackbeats();
  Song many = song();
  const Groove towpath = *many.findGroove("towpath");
  for (int i = 0; i < 20; ++i) {
    std::string id;
    many = withNewGroove(std::move(many), towpath, "copy", id);
  }
  many.arrangement.clear();
  window->document().apply(QStringLiteral("many"), many);
  wait();
  ASSERT_GT(found().causes(), 40U);
  const std::size_t last = found().findings().size() - 1;
  const auto row = [&] {
    return found().findChild<QWidget*>(QStringLiteral("finding-%1").arg(last));
  };
  found().choose(1);
  EXPECT_EQ(row(), nullptr);
  QTest::mouseClick(&found().findChild<QPushButton*>(QStringLiteral("more-findings"))[0],
                    Qt::LeftButton);
  EXPECT_NE(found().findChild<QPushButton*>(QStringLiteral("findings-before")), nullptr);
  found().choose(1);
  found().choose(last);
  EXPECT_NE(row(), nullptr);
}

TEST_F(CheckStageTest, OtherWaysAreHeardByTheirNumberAndKept) {
  const Looked* looked = check().checker().now();
  ASSERT_GE(looked->ways.size(), 2U);
  const OtherWay way = looked->ways[0];
  std::size_t at = 0;
  while (way.plan.hands[at] == looked->report->plan.hands[at]) ++at;
  const Stroke s = looked->report->take->strokes()[looked->report->part.hands[at].stroke];
  const HitRef ref = refOf(groove(), s.hit);
  const QString before = view().letterAt(ref.at, ref.piece);
  key(Qt::Key_1);
  EXPECT_EQ(check().ways().heard(), 0U);
  EXPECT_TRUE(soon([&] { return window->transport().playing(); }));
  ASSERT_TRUE(window->transport().heard().groove);
  EXPECT_TRUE(**window->transport().heard().groove == way.groove);
  EXPECT_NE(view().letterAt(ref.at, ref.piece), before);
  EXPECT_TRUE(status().contains(QStringLiteral("Heard"))) << status().toStdString();
  key(Qt::Key_9);
  EXPECT_EQ(check().ways().heard(), 0U) << "there are not so many";
  key(Qt::Key_0);
  EXPECT_FALSE(check().ways().heard());
  EXPECT_FALSE(window->transport().heard().groove);
  EXPECT_EQ(view().letterAt(ref.at, ref.piece), before);
  window->transport().stop();
  QTest::mouseClick(check().ways().findChild<QPushButton*>(QStringLiteral("keep-way-0")),
                    Qt::LeftButton);
  EXPECT_TRUE(groove() == way.groove);
  wait();
  key(Qt::Key_1);
  check().showSide(CheckStage::Side::kFound);
  EXPECT_FALSE(window->transport().heard().groove) << "what is not shown is not heard";
}

TEST_F(CheckStageTest, ThePartInFiguresFollowsTheRuler) {
  check().showSide(CheckStage::Side::kPart);
  const auto says = [&](const QString& text) {
    for (QLabel* label :
         check().findChild<QWidget*>(QStringLiteral("part-card"))->findChildren<QLabel*>()) {
      if (label->text() == text) return true;
    }
    return false;
  };
  EXPECT_TRUE(says(QStringLiteral("Notes at 92 BPM")));
  EXPECT_TRUE(says(QStringLiteral("163.04 ms")));  // a sixteenth at 92
  view().setTrial(74);
  EXPECT_TRUE(says(QStringLiteral("thirty-seconds at 74 are sixteenths at 148")));
  EXPECT_FALSE(says(QStringLiteral("Notes at 92 BPM")));
}

TEST_F(CheckStageTest, APlayerOfOnesOwnIsAFileThatTheSongNames) {
  check().showSide(CheckStage::Side::kPlayer);
  auto& run = child<NumberField>("hand-run-easy");
  EXPECT_FALSE(run.isEnabled()) << "what is from memory stays as it is";
  prompts.typed = QStringLiteral("My Hands");
  QTest::mouseClick(&child<QPushButton>("own-player"), Qt::LeftButton);
  EXPECT_EQ(song().check.profile, "my-hands");
  EXPECT_TRUE(run.isEnabled());
  wait();
  const double before = check().checker().now()->report->plan.cost;
  auto& most = child<NumberField>("hand-second-most");
  most.setFocus();
  most.selectAll();
  QTest::keyClicks(&most, QStringLiteral("70"));
  QTest::keyClick(&most, Qt::Key_Return);
  wait();
  EXPECT_GT(check().checker().now()->report->plan.cost, before);
  EXPECT_EQ(check().checker().profile().hand.second.playable.count(), 70);
  choose(child<ChoiceField>("hand-to-hand"), QStringLiteral("in turn"));
  choose(child<ChoiceField>("cymbal"), QStringLiteral("by side"));
  choose(child<ChoiceField>("ruff"), QStringLiteral("bounce"));
  child<NumberField>("one-hand-up-to").setFocus();
  child<NumberField>("one-hand-up-to").selectAll();
  QTest::keyClicks(&child<NumberField>("one-hand-up-to"), QStringLiteral("20"));
  QTest::keyClick(&child<NumberField>("one-hand-up-to"), Qt::Key_Return);
  wait();
  const Profile& taught = check().checker().profile();
  EXPECT_FALSE(taught.bySlot || taught.leadTakesCymbal || taught.ruffInTurn);
  EXPECT_EQ(taught.oneHandUpTo, 0.2);
  // The plan: the ride is dragged away.
  auto& plan = child<PlanView>("kit-plan");
  const PlanPlace ride = check().checker().profile().plan.at("ride");
  const QPoint from = plan.pointOf(ride).toPoint(), to = from - QPoint(20, 30);
  QTest::mousePress(&plan, Qt::LeftButton, {}, from);
  QTest::mouseMove(&plan, to);
  QTest::mouseRelease(&plan, Qt::LeftButton, {}, to);
  const PlanPlace moved = check().checker().profile().plan.at("ride");
  EXPECT_LT(moved.x, ride.x);
  EXPECT_GT(moved.y, ride.y);
  QTest::keyClick(&plan, Qt::Key_Right, Qt::ShiftModifier);
  EXPECT_NEAR(check().checker().profile().plan.at("ride").x, moved.x + 0.1, 1e-9);
  const std::string file = path("players/my-hands.json").toStdString();
  const Result<Profile> kept = readProfile(*files.read(file), file);
  ASSERT_TRUE(kept);
  EXPECT_TRUE(*kept == check().checker().profile());
  // Undo takes the choice back, not the player.
  window->document().undo();
  EXPECT_FALSE(run.isEnabled());
  window->document().undoStack().redo();
  QTest::mouseClick(&child<QPushButton>("player-back"), Qt::LeftButton);
  EXPECT_EQ(check().checker().profile().hand.second.playable.count(), 50);
  // Somewhere else nobody knows them.
  Song strange = song();
  strange.check.profile = "somebody";
  window->document().apply(QStringLiteral("strange"), strange);
  EXPECT_TRUE(child<QLabel>("player-note").text().contains(QStringLiteral("somebody")));
}

TEST_F(CheckStageTest, AFileThatIsNoPlayerChangesNothing) {
  const std::string file = path("bad.json").toStdString();
  ASSERT_TRUE(saveAtomically(files, file, "{\"format\": 3}"));
  check().showSide(CheckStage::Side::kPlayer);
  prompts.open = QString::fromStdString(file);
  const Song before = song();
  QTest::mouseClick(&child<QPushButton>("bring-player"), Qt::LeftButton);
  EXPECT_TRUE(status().contains(QStringLiteral("bad.json:1:"))) << status().toStdString();
  EXPECT_TRUE(song() == before);
}

TEST_F(CheckStageTest, TheRailCountsAndStrikeShowsTheHands) {
  const auto index = static_cast<int>(
      std::find_if(window->stages().begin(), window->stages().end(),
                   [](const StageEntry& e) { return e.id == QStringLiteral("check"); }) -
      window->stages().begin());
  auto& rail = child<StageRail>("rail");
  EXPECT_EQ(rail.count(index), static_cast<int>(found().findings().size()));
  showStage("strike");
  const auto& hands = check().checker().now()->hands;
  int told = 0;
  for (const auto& [ref, limb] : hands) {
    const Hit& hit = hitAt(ref.at, ref.piece);
    const QString set = hit.limb == Limb::kAutomatic ? QString() : QStringLiteral(" set");
    EXPECT_EQ(lanes().letterAt(ref.at, ref.piece), qs(limbLetter(limb)) + set);
    told += isHand(limb) ? 1 : 0;
    EXPECT_TRUE(lanes().whoPlays(ref).contains(qs(spokenName(limb)).toLower()));
  }
  EXPECT_GT(told, 20);
  window->editing().selectAll();
  press(Qt::Key_Delete);
  EXPECT_FALSE(rail.count(index)) << "not known at the moment";
  ASSERT_TRUE(soon([&] { return rail.count(index).has_value(); }));
}

TEST_F(CheckStageTest, WhatIsLeftIsRememberedByTheSong) {
  const int before = countOf(FindingKind::kHard);
  chooseFirst(FindingKind::kHard);
  key(Qt::Key_L);
  wait();
  EXPECT_EQ(countOf(FindingKind::kHard), before - 1);
  ASSERT_EQ(song().check.ignored.size(), 1U);
  EXPECT_EQ(song().check.ignored.front().kind, "hard");
  bool told = false;
  for (QLabel* label : found().findChildren<QLabel*>()) {
    told = told || label->text().contains(QStringLiteral("1 left as they are"));
  }
  EXPECT_TRUE(told);
}

// Places of one cause stand as one, open, and are mended or left together, each in one step.
TEST_F(CheckStageTest, ACauseOpensToItsPlaces) {
  nudgeTheBackbeats();
  const auto button = [&](const QString& name) { return found().findChild<QPushButton*>(name); };
  const std::vector<std::vector<std::size_t>> causes = byCause(found().findings());
  ASSERT_EQ(causes.size(), found().causes());
  std::size_t cause = 0;
  while (cause < causes.size() && causes[cause].size() < 2) ++cause;
  ASSERT_LT(cause, causes.size());
  const QString number = QString::number(cause);
  const auto places = static_cast<int>(causes[cause].size());
  const FindingKind kind = found().findings()[causes[cause][0]].kind;
  const QString row = QStringLiteral("finding-%1").arg(causes[cause][1]);
  EXPECT_EQ(found().findChild<QWidget*>(row), nullptr);
  QTest::mouseClick(button("places-" + number), Qt::LeftButton);
  QApplication::processEvents();
  EXPECT_NE(found().findChild<QWidget*>(row), nullptr);
  const int before = countOf(kind);
  const Song then = song();
  QTest::mouseClick(button("leave-cause-" + number), Qt::LeftButton);
  wait();
  EXPECT_EQ(countOf(kind), before - places);
  EXPECT_EQ(song().check.ignored.size(), static_cast<std::size_t>(places));
  // What is left can be seen, and looked at again.
  QTest::mouseClick(button("show-done"), Qt::LeftButton);
  QApplication::processEvents();
  QTest::mouseClick(button("take-up-0"), Qt::LeftButton);
  wait();
  EXPECT_EQ(countOf(kind), before - places + 1);
  window->document().undo();
  window->document().undo();
  wait();
  EXPECT_EQ(song(), then);
  QTest::mouseClick(button("mend-cause-" + number), Qt::LeftButton);
  wait();
  EXPECT_EQ(countOf(kind), before - places);
  const auto told = [&] {
    int out = 0;
    for (QLabel* label : found().findChildren<QLabel*>())
      out += label->text().startsWith(QStringLiteral("Mended: ")) ? 1 : 0;
    return out;
  };
  EXPECT_EQ(told(), places);
  window->document().undo();
  wait();
  EXPECT_EQ(song(), then);
  EXPECT_EQ(told(), 0) << "it is no longer mended";
}

TEST_F(CheckStageTest, TheRulerShowsStrainAtAnotherTempoAndKeepsTheSong) {
  const Song before = song();
  const double here = view().strainOf(Limb::kRightHand);
  EXPECT_GT(here, 0.5);
  const QRectF ruler = qr(view().rooms().ruler);
  QTest::mouseClick(&view(), Qt::LeftButton, {}, ruler.center().toPoint());
  ASSERT_TRUE(view().trial());
  EXPECT_NEAR(*view().trial(), 140, 2);
  EXPECT_NEAR(view().strainOf(Limb::kRightHand), here * *view().trial() / 92, 0.25);
  EXPECT_GT(view().strainOf(Limb::kRightHand), 1);
  key(Qt::Key_Plus);
  EXPECT_NEAR(*view().trial(), 141, 2);
  key(Qt::Key_Escape);
  EXPECT_FALSE(view().trial());
  EXPECT_EQ(view().strainOf(Limb::kRightHand), here);
  EXPECT_TRUE(song() == before);
}

TEST_F(CheckStageTest, HandsArePaleUntilTheyAreSet) {
  EXPECT_EQ(view().letterAt(Beat(1), piece::kHat), QStringLiteral("R"));
  press(Qt::Key_H, Qt::ControlModifier | Qt::ShiftModifier);
  wait();
  EXPECT_EQ(view().letterAt(Beat(1), piece::kHat), QStringLiteral("R set"));
  EXPECT_EQ(hitAt(Beat(1), piece::kHat).limb, Limb::kRightHand);
  window->document().undo();
  EXPECT_EQ(hitAt(Beat(1), piece::kHat).limb, Limb::kAutomatic);
}

TEST_F(CheckStageTest, AnEmptyGrooveHasNothingToFind) {
  window->editing().selectAll();
  showStage("strike");
  press(Qt::Key_Delete);
  Song alone = song();
  alone.arrangement.clear();
  alone.grooves = {alone.grooves.front()};
  alone.grooves.front().edit([](Groove& g) { g.hits.clear(); });
  window->document().apply(QStringLiteral("empty"), alone);
  showStage("check");
  wait();
  EXPECT_TRUE(found().findings().empty());
  EXPECT_EQ(view().strainOf(Limb::kRightHand), 0);
  key(Qt::Key_Down);
  key(Qt::Key_Return);
  key(Qt::Key_L);
  EXPECT_FALSE(found().chosen());
}

// What a card has too much of scrolls: no line of it is squeezed, and none stands on another.
TEST_F(CheckStageTest, ThePartsFiguresHaveRoom) {
  for (const QSize size : {QSize(1280, 800), QSize(1024, 700)}) {
    window->resize(size);
    check().showSide(CheckStage::Side::kPart);
    wait();
    QApplication::processEvents();
    const auto* card = check().findChild<PartCard*>();
    ASSERT_NE(card, nullptr);
    std::vector<QRect> taken;
    for (const QLabel* label : card->findChildren<QLabel*>()) {
      if (!label->isVisible() || label->text().isEmpty()) continue;
      EXPECT_GE(label->height(), label->fontMetrics().height() - 1) << label->text().toStdString();
      const QRect here(label->mapTo(card, QPoint(0, 0)), label->size());
      for (const QRect& other : taken)
        EXPECT_FALSE(here.intersects(other)) << label->text().toStdString();
      taken.push_back(here);
    }
    EXPECT_GT(taken.size(), 30U);
  }
}

}  // namespace
}  // namespace uneven::testing
