// SPDX-License-Identifier: GPL-3.0-or-later
// The lanes under the mouse.
#include <QLabel>
#include <QLineEdit>
#include <QUndoStack>

#include "app/edit/editing.h"
#include "core/io/song_json.h"
#include "core/midi/smf.h"
#include "tests/app/window_fixture.h"

namespace uneven::testing {
namespace {

using StrikeMouse = WindowTest;

TEST_F(StrikeMouse, AClickPutsAHitAndASecondTakesItOff) {
  const QPoint snare = slotPoint(Beat(1), piece::kSnare);
  click(snare);
  EXPECT_EQ(hitAt(Beat(1), piece::kSnare).velocity, Velocity(kNormalVelocity));
  EXPECT_EQ(status(), "Snare on 2");
  click(slotPoint(Beat(1), piece::kSnare));
  EXPECT_FALSE(hasHit(Beat(1), piece::kSnare));
  EXPECT_EQ(status(), "Snare taken off 2");
}

TEST_F(StrikeMouse, AClickSnapsToTheNearestSwungSlot) {
  type(child<QLineEdit>("ratio"), "3");
  const QPoint e = slotPoint(Beat(1, 4), piece::kHat);
  const QPoint beat = slotPoint(Beat(0), piece::kHat);
  // Just past where the straight e would be, but nearer to the swung one.
  click({(beat.x() + e.x()) / 2 + 2, e.y()});
  EXPECT_TRUE(hasHit(Beat(1, 4), piece::kHat));
}

TEST_F(StrikeMouse, DraggingUpIsLouderInOneUndoStep) {
  click(slotPoint(Beat(0), piece::kKick));
  const int steps = window->document().undoStack().count();
  const QPoint head = headPoint(Beat(0), piece::kKick);
  drag(head, head - QPoint(0, 15));
  const int louder = hitAt(Beat(0), piece::kKick).velocity.value();
  EXPECT_GT(louder, kNormalVelocity + 10);
  EXPECT_EQ(window->document().undoStack().count(), steps + 1);
  // The head is where the mouse left it.
  EXPECT_LE(std::abs(headPoint(Beat(0), piece::kKick).y() - (head.y() - 15)), 1);
  window->document().undoStack().undo();
  EXPECT_EQ(hitAt(Beat(0), piece::kKick).velocity.value(), kNormalVelocity);
}

TEST_F(StrikeMouse, ADragAgainstTheEndComesBack) {
  click(slotPoint(Beat(0), piece::kKick));
  const QPoint head = headPoint(Beat(0), piece::kKick);
  QTest::mousePress(&lanes(), Qt::LeftButton, {}, head);
  const auto move = [&](int dy) {
    QMouseEvent event(QEvent::MouseMove, head + QPoint(0, dy), lanes().mapToGlobal(head),
                      Qt::NoButton, Qt::LeftButton, Qt::NoModifier);
    QCoreApplication::sendEvent(&lanes(), &event);
  };
  move(-400);
  EXPECT_EQ(hitAt(Beat(0), piece::kKick).velocity.value(), 127);
  move(0);
  QTest::mouseRelease(&lanes(), Qt::LeftButton, {}, head);
  EXPECT_EQ(hitAt(Beat(0), piece::kKick).velocity.value(), kNormalVelocity);
  EXPECT_EQ(window->document().undoStack().count(), 1) << "nothing was changed in the end";
}

TEST_F(StrikeMouse, CtrlDragSidewaysNudges) {
  click(slotPoint(Beat(1), piece::kSnare));
  const QPoint head = headPoint(Beat(1), piece::kSnare);
  drag(head, head + QPoint(12, 0), Qt::ControlModifier);
  EXPECT_EQ(hitAt(Beat(1), piece::kSnare).nudge, Milliseconds(12)) << "1 px is 1 ms";
  EXPECT_EQ(headPoint(Beat(1), piece::kSnare).x(), head.x() + 12) << "the stick leans";
}

TEST_F(StrikeMouse, EscapeGivesADragUp) {
  click(slotPoint(Beat(0), piece::kKick));
  const int steps = window->document().undoStack().count();
  const QPoint head = headPoint(Beat(0), piece::kKick);
  QTest::mousePress(&lanes(), Qt::LeftButton, {}, head);
  QMouseEvent move(QEvent::MouseMove, head - QPoint(0, 20), lanes().mapToGlobal(head), Qt::NoButton,
                   Qt::LeftButton, Qt::NoModifier);
  QCoreApplication::sendEvent(&lanes(), &move);
  EXPECT_NE(hitAt(Beat(0), piece::kKick).velocity.value(), kNormalVelocity);
  QTest::keyClick(&lanes(), Qt::Key_Escape);
  EXPECT_EQ(hitAt(Beat(0), piece::kKick).velocity.value(), kNormalVelocity);
  EXPECT_EQ(window->document().undoStack().count(), steps);
  EXPECT_FALSE(window->document().undoStack().canRedo());
}

TEST_F(StrikeMouse, SelectsWithBandShiftAndCtrl) {
  openDemo();
  const auto& selection = [this]() -> const Selection& { return window->editing().selection(); };
  const auto& scene = lanes().scene();
  // A band over the whole of beat 2, from above the lanes of the kit's first bar.
  const QPoint from(slotPoint(Beat(1), piece::kHat).x() - 3, 4);
  const QPoint to(slotPoint(Beat(2), piece::kHat).x() - 10,
                  static_cast<int>(scene.area.bottom) - 2);
  drag(from, to);
  std::size_t inBeatTwo = 0;
  for (const Hit& hit : groove().hits) inBeatTwo += hit.at >= Beat(1) && hit.at < Beat(2) ? 1 : 0;
  EXPECT_EQ(selection().size(), inBeatTwo);
  click(headPoint(Beat(0), piece::kKick), Qt::ShiftModifier);
  EXPECT_EQ(selection().size(), inBeatTwo + 1);
  click(headPoint(Beat(0), piece::kKick), Qt::ControlModifier);
  EXPECT_EQ(selection().size(), inBeatTwo);
  click(headPoint(Beat(0), piece::kKick));
  EXPECT_EQ(selection(), (Selection{{Beat(0), piece::kKick}}));
  EXPECT_TRUE(hasHit(Beat(0), piece::kKick)) << "the first click on a stick only chooses it";
}

TEST_F(StrikeMouse, TheWheelMovesThroughTheBars) {
  openDemo();
  press(Qt::Key_1, Qt::ControlModifier);
  lanes().setVisibleBars(1);
  EXPECT_EQ(lanes().scene().begin, Beat(0));
  wheel(lanes(), -1);
  EXPECT_EQ(lanes().scene().begin, Beat(4));
  wheel(lanes(), -1);
  EXPECT_EQ(lanes().scene().begin, Beat(4)) << "no further than the last bar";
}

// One whole piece of work, by hand: the file on disk is what was done.
TEST_F(StrikeMouse, PlaceDragGhostAccentNudgeSaveReopenRender) {
  click(slotPoint(Beat(0), piece::kKick));
  click(slotPoint(Beat(1), piece::kSnare));
  press(Qt::Key_A);
  click(slotPoint(Beat(7, 4), piece::kSnare));
  press(Qt::Key_G);
  const QPoint ghost = headPoint(Beat(7, 4), piece::kSnare);
  drag(ghost, ghost + QPoint(9, 0), Qt::ControlModifier);
  click(slotPoint(Beat(7, 2), piece::kHat));
  press(Qt::Key_O);
  click(slotPoint(Beat(2), piece::kKick));
  window->document().undoStack().undo();
  prompts.save = path("song");
  press(Qt::Key_S, Qt::ControlModifier);
  EXPECT_FALSE(window->document().modified());

  const Result<Song> saved = readSong(readText(folder.file("song.ustick")), "saved");
  ASSERT_TRUE(saved) << saved.error().line();
  const Groove& written = *saved->grooves[0];
  ASSERT_EQ(written.hits.size(), 4U);
  EXPECT_EQ(written.hits[1].role, Role::kAccent);
  EXPECT_EQ(written.hits[1].velocity, Velocity(kAccentVelocity));
  EXPECT_EQ(written.hits[2].role, Role::kGhost);
  EXPECT_EQ(written.hits[2].nudge, Milliseconds(9));
  EXPECT_GT(written.hits[3].open, 0);
  EXPECT_EQ(written.hits[3].openFor, Beat(1, 4));

  window = makeWindow();
  ASSERT_TRUE(window->fileDesk().openPath(path("song.ustick")));
  EXPECT_EQ(song(), *saved);
  prompts.save = path("song.mid");
  press(Qt::Key_E, Qt::ControlModifier);
  const Result<MidiSequence> midi = readSmf(readText(folder.file("song.mid")), "song.mid");
  ASSERT_TRUE(midi) << midi.error().line();
  std::string notes;
  for (const MidiEvent& e : midi->tracks[1].events) {
    if (e.isNoteOn()) {
      notes += std::to_string(e.tick) + ":" + std::to_string(e.data1) + ":" +
               std::to_string(e.data2) + " ";
    }
  }
  // 120 bpm, 960 ticks: the ghost on the a of 2 is 9 ms (17 ticks) late; the hat opens on the & of
  // 4 and the foot shuts it a sixteenth later.
  EXPECT_EQ(notes, "0:36:84 960:38:112 1697:38:30 3360:46:84 3600:44:69 ");
}

}  // namespace
}  // namespace uneven::testing
