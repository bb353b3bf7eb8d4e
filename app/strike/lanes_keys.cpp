// SPDX-License-Identifier: GPL-3.0-or-later
// The keys of the lanes. What stands here stands in the key list (MainWindow::showKeys) too.
#include <QKeyEvent>
#include <algorithm>

#include "app/strike/lanes_view.h"
#include "core/song/slots.h"

namespace uneven {

void LanesView::step(int slots, int lanes, bool extend) {
  const StrikeScene& shown = scene();
  const Groove& groove = editing_.groove();
  Beat at = editing_.cursorAt();
  for (int i = 0; i < std::abs(slots); ++i) {
    at = slots > 0 ? slotAfter(groove, at) : slotBefore(groove, at);
  }
  if (at >= groove.length()) return;
  const auto here = std::find_if(shown.lanes.begin(), shown.lanes.end(), [&](const LaneShape& l) {
    return viewport_.byLimb ? l.limb == editing_.cursorLimb() : l.piece == editing_.cursorPiece();
  });
  const auto lane = std::clamp<std::ptrdiff_t>(
      (here == shown.lanes.end() ? 0 : here - shown.lanes.begin()) + lanes, 0,
      std::ssize(shown.lanes) - 1);
  const LaneShape shape = shown.lanes[static_cast<std::size_t>(lane)];
  const PieceId piece = editing_.struckBy(shape.limb, at, shape.piece);
  if (extend) {
    editing_.extendCursor(at, piece, shape.limb);
  } else {
    editing_.moveCursor(at, piece, shape.limb);
  }
}

bool LanesView::moveKey(QKeyEvent* event) {
  const bool extend = (event->modifiers() & Qt::ShiftModifier) != 0;
  const bool byCount = (event->modifiers() & Qt::ControlModifier) != 0;
  const Groove& groove = editing_.groove();
  const int perCount = static_cast<int>(std::max<std::int64_t>(
      1, groove.meter.countUnit().floorDiv(slotLength(groove, editing_.cursorAt()))));
  const int stride = byCount ? perCount : 1;
  switch (event->key()) {
    case Qt::Key_Left:
      step(-stride, 0, extend);
      return true;
    case Qt::Key_Right:
      step(stride, 0, extend);
      return true;
    case Qt::Key_Up:
      step(0, -1, extend);
      return true;
    case Qt::Key_Down:
      step(0, 1, extend);
      return true;
    case Qt::Key_Home:
      editing_.moveCursor(Beat(0), editing_.cursorPiece(), editing_.cursorLimb());
      return true;
    case Qt::Key_End:
      editing_.moveCursor(Beat(groove.bars - 1) * groove.meter.barLength(), editing_.cursorPiece(),
                          editing_.cursorLimb());
      return true;
    default:
      return pageKey(*event);
  }
}

bool LanesView::editKey(QKeyEvent* event) {
  static const int velocityKey = Document::newMergeKey();
  static const int nudgeKey = Document::newMergeKey();
  if ((event->modifiers() & (Qt::ControlModifier | Qt::AltModifier | Qt::MetaModifier)) != 0) {
    return false;
  }
  const int key = event->key();
  if (key >= Qt::Key_0 && key <= Qt::Key_9) {
    editing_.hits().setVelocity(key == Qt::Key_0 ? Velocity::kMax : 14 * (key - Qt::Key_0));
    return true;
  }
  const int ten = (event->modifiers() & Qt::ShiftModifier) != 0 ? 10 : 1;
  switch (key) {
    case Qt::Key_Return:
    case Qt::Key_Enter:
      editing_.hits().toggleAt(editing_.cursorAt(), editing_.cursorPiece(), editing_.cursorLimb());
      return true;
    case Qt::Key_Delete:
    case Qt::Key_Backspace:
      editing_.hits().removeSelected();
      return true;
    case Qt::Key_Plus:
    case Qt::Key_Equal:
      editing_.hits().addVelocity(1, {velocityKey, true});
      return true;
    case Qt::Key_Minus:
      editing_.hits().addVelocity(-1, {velocityKey, true});
      return true;
    case Qt::Key_Comma:
    case Qt::Key_Less:
    case Qt::Key_Semicolon:
      editing_.hits().addNudge(Milliseconds(-ten), {nudgeKey, true});
      return true;
    case Qt::Key_Period:
    case Qt::Key_Greater:
    case Qt::Key_Colon:
      editing_.hits().addNudge(Milliseconds(ten), {nudgeKey, true});
      return true;
    case Qt::Key_G:
      editing_.hits().setRole(Role::kGhost);
      return true;
    case Qt::Key_A:
      editing_.hits().setRole(Role::kAccent);
      return true;
    case Qt::Key_N:
      editing_.hits().setRole(Role::kNormal);
      return true;
    case Qt::Key_O:
      editing_.pedal().toggleOpen();
      return true;
    case Qt::Key_R:
      editing_.hits().setSide(Side::kRight);
      return true;
    case Qt::Key_L:
      editing_.hits().setSide(Side::kLeft);
      return true;
    case Qt::Key_I:
      setStepEntry(true);
      return true;
    case Qt::Key_BraceLeft:
      editing_.grooves().stepBeatGrid(-1);
      return true;
    case Qt::Key_BraceRight:
      editing_.grooves().stepBeatGrid(1);
      return true;
    case Qt::Key_BracketLeft:
      editing_.grooves().stepGrid(-1);
      return true;
    case Qt::Key_BracketRight:
      editing_.grooves().stepGrid(1);
      return true;
    default:
      return false;
  }
}

void LanesView::keyPressEvent(QKeyEvent* event) {
  if (event->key() == Qt::Key_Escape) {
    if (gesture_ != nullptr) {
      const std::unique_ptr<Gesture> given = std::move(gesture_);
      given->cancel();
      invalidate();
    } else if (stepEntry_) {
      setStepEntry(false);
    } else {
      editing_.select({});
    }
    return;
  }
  if (stepEntry_ && gesture_ == nullptr) {
    if (stepEntry_->key(*event) || moveKey(event)) return;
    return QWidget::keyPressEvent(event);
  }
  if (gesture_ != nullptr || moveKey(event) || editKey(event)) return;
  QWidget::keyPressEvent(event);
}

}  // namespace uneven
