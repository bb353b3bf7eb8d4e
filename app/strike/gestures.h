// SPDX-License-Identifier: GPL-3.0-or-later
// What the mouse does on the lanes: one small object a gesture.
//
// A gesture begins with a press and ends with release() or cancel(). It sees the scene as it was at
// the press; what it changes while it drags becomes one undo step at its end, and cancel() takes it
// back.
#pragma once

#include <Qt>
#include <memory>
#include <optional>

#include "app/edit/editing.h"
#include "layout/hit_test.h"

namespace uneven {

class Gesture {
 public:
  virtual ~Gesture() = default;
  virtual void move(Point p) = 0;
  virtual void release(Point p) = 0;
  virtual void cancel() = 0;
  // A rectangle to draw, for those that have one.
  virtual std::optional<Rect> band() const { return std::nullopt; }
};

// How far a press may wander and still be a click, in pixels.
inline constexpr double kClickSlack = 4;

// On a stick: click selects it, a click on the selected one takes it off, Shift or Ctrl click adds
// or removes it from the selection; drag changes velocity, Ctrl drag nudges. On an empty place:
// click puts a hit, drag selects what the band holds (Shift adds). Alt drag anywhere on a lane
// draws velocities.
std::unique_ptr<Gesture> beginGesture(Editing& editing, const StrikeScene& scene, double pxPerMs,
                                      Point p, Qt::KeyboardModifiers modifiers);

}  // namespace uneven
