// SPDX-License-Identifier: GPL-3.0-or-later
// The gestures.
#include "app/strike/gestures.h"

#include <cmath>

namespace uneven {
namespace {

bool isClick(Point a, Point b) {
  return std::hypot(a.x - b.x, a.y - b.y) <= kClickSlack;
}

class PlaceOrBand final : public Gesture {
 public:
  PlaceOrBand(Editing& editing, const StrikeScene& scene, Point start, bool add)
      : editing_(editing),
        scene_(scene),
        start_(start),
        now_(start),
        before_(editing.selection()),
        kept_(add ? editing.selection() : Selection{}) {}

  void move(Point p) override {
    now_ = p;
    if (!banding_ && isClick(start_, p)) return;
    banding_ = true;
    Selection selection = kept_;
    selection.merge(sticksIn(scene_, Rect::spanning(start_, now_)));
    editing_.select(std::move(selection));
  }
  void release(Point p) override {
    move(p);
    if (banding_) return;
    const auto lane = laneAt(scene_, start_.y);
    if (!lane || start_.x < scene_.area.left) return;
    editing_.toggleAt(slotAt(scene_, start_.x), scene_.lanes[*lane].piece);
  }
  void cancel() override { editing_.select(before_); }
  std::optional<Rect> band() const override {
    return banding_ ? std::optional(Rect::spanning(start_, now_)) : std::nullopt;
  }

 private:
  Editing& editing_;
  StrikeScene scene_;
  Point start_;
  Point now_;
  Selection before_;
  Selection kept_;
  bool banding_ = false;
};

// A press on a stick; what a drag changes is up to the derived gesture.
class StickGesture : public Gesture {
 public:
  StickGesture(Editing& editing, StickShape stick, Point start, bool addsOnClick)
      : editing_(editing),
        stick_(stick),
        start_(start),
        addsOnClick_(addsOnClick),
        wasSelected_(editing.selection().contains(stick.ref)) {}

  void move(Point p) override {
    if (!dragging_ && isClick(start_, p)) return;
    if (!dragging_) {
      dragging_ = true;
      if (!editing_.selection().contains(stick_.ref)) editing_.select({stick_.ref});
    }
    const int wanted = stepsTo(p);
    if (wanted == done_) return;
    changeBy(wanted - done_);
    done_ = wanted;
    edited_ = true;
  }
  void release(Point p) override {
    move(p);
    if (edited_ && done_ == 0) editing_.document().cancelLast();  // back where it began
    if (dragging_) return;
    Selection selection = editing_.selection();
    if (addsOnClick_) {
      if (wasSelected_) {
        selection.erase(stick_.ref);
      } else {
        selection.insert(stick_.ref);
      }
      editing_.select(std::move(selection));
    } else if (wasSelected_ && selection.size() == 1) {
      editing_.toggleAt(stick_.ref.at, stick_.ref.piece);
    } else {
      editing_.moveCursor(stick_.ref.at, stick_.ref.piece);
    }
  }
  void cancel() override {
    if (edited_) editing_.document().cancelLast();
  }

 protected:
  virtual int stepsTo(Point p) const = 0;
  virtual void changeBy(int steps) = 0;

  Editing& editing_;
  StickShape stick_;
  Point start_;
  Merge merge_{Document::newMergeKey(), false};

 private:
  bool addsOnClick_;
  bool wasSelected_;
  bool dragging_ = false;
  bool edited_ = false;
  int done_ = 0;
};

class DragVelocity final : public StickGesture {
 public:
  DragVelocity(Editing& editing, StickShape stick, Point start, bool adds, double room)
      : StickGesture(editing, stick, start, adds), room_(room), groove_(editing.groove()) {}

 protected:
  int stepsTo(Point p) const override {
    return static_cast<int>(std::lround((start_.y - p.y) * Velocity::kMax / room_));
  }
  // From the groove as it was at the press: a velocity that the drag pushed against 1 or 127 comes
  // back to its own when the mouse does.
  void changeBy(int steps) override {
    total_ += steps;
    editing_.change(
        Editing::tr("Velocity %1%2").arg(total_ > 0 ? QStringLiteral("+") : QString()).arg(total_),
        [&](Hit& hit) {
          const auto index = indexOf(groove_, {hit.at, hit.piece, 0});
          const int before = index ? groove_.hits[*index].velocity.value() : hit.velocity.value();
          hit.velocity = Velocity(before + total_);
        },
        merge_);
  }

 private:
  double room_;
  Groove groove_;
  int total_ = 0;
};

class DragNudge final : public StickGesture {
 public:
  DragNudge(Editing& editing, StickShape stick, Point start, double pxPerMs)
      : StickGesture(editing, stick, start, true), pxPerMs_(pxPerMs) {}

 protected:
  // In half milliseconds.
  int stepsTo(Point p) const override {
    return static_cast<int>(std::lround(2 * (p.x - start_.x) / pxPerMs_));
  }
  void changeBy(int steps) override { editing_.addNudge(Milliseconds(steps / 2.0), merge_); }

 private:
  double pxPerMs_;
};

}  // namespace

std::unique_ptr<Gesture> beginGesture(Editing& editing, const StrikeScene& scene, double pxPerMs,
                                      Point p, Qt::KeyboardModifiers modifiers) {
  const bool shift = (modifiers & Qt::ShiftModifier) != 0;
  const auto stick = stickAt(scene, p);
  if (!stick) return std::make_unique<PlaceOrBand>(editing, scene, p, shift);
  const StickShape& shape = scene.sticks[*stick];
  if ((modifiers & Qt::ControlModifier) != 0) {
    return std::make_unique<DragNudge>(editing, shape, p, pxPerMs);
  }
  const auto lane = laneAt(scene, shape.foot.y);
  const double room = lane ? scene.lanes[*lane].room : 60;
  return std::make_unique<DragVelocity>(editing, shape, p, shift, room);
}

}  // namespace uneven
