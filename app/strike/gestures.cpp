// SPDX-License-Identifier: GPL-3.0-or-later
// The gestures.
#include "app/strike/gestures.h"

#include <algorithm>
#include <cmath>
#include <map>

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
    const LaneShape& shape = scene_.lanes[*lane];
    const Beat slot = slotAt(scene_, start_.x);
    editing_.hits().toggleAt(slot, editing_.struckBy(shape.limb, slot, shape.piece), shape.limb);
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

// Draws velocities over one lane: each stick that the mouse passes takes the mouse's height. Where
// hits of the lane are selected, only those.
class DrawShape final : public Gesture {
 public:
  DrawShape(Editing& editing, const StrikeScene& scene, std::size_t lane, Point start)
      : editing_(editing),
        before_(editing.selection()),
        lane_(scene.lanes[lane]),
        last_(start),
        gesture_(editing.document()) {
    const double bottom =
        lane + 1 < scene.lanes.size() ? scene.lanes[lane + 1].top : scene.area.bottom;
    for (const StickShape& stick : scene.sticks) {
      if (stick.part == 0 && stick.foot.y >= lane_.top && stick.foot.y < bottom) {
        sticks_.push_back(stick);
      }
    }
    const auto chosen = [&](const StickShape& s) { return before_.contains(s.ref); };
    if (std::any_of(sticks_.begin(), sticks_.end(), chosen)) {
      std::erase_if(sticks_, [&](const StickShape& s) { return !chosen(s); });
    }
    move(start);
  }

  void move(Point p) override {
    const double left = std::min(last_.x, p.x) - kReach;
    const double right = std::max(last_.x, p.x) + kReach;
    for (const StickShape& stick : sticks_) {
      if (stick.foot.x < left || stick.foot.x > right) continue;
      const double along =
          last_.x == p.x ? 1 : std::clamp((stick.foot.x - last_.x) / (p.x - last_.x), 0.0, 1.0);
      const double y = std::lerp(last_.y, p.y, along);
      drawn_[stick.ref] = Velocity(
          static_cast<int>(roundToInt((lane_.baseline - y) * Velocity::kMax / lane_.room)));
    }
    last_ = p;
    if (drawn_.empty()) return;
    Selection selection;
    for (const auto& [ref, velocity] : drawn_) selection.insert(ref);
    editing_.select(std::move(selection));
    editing_.hits().change(
        Editing::tr("Shape drawn"),
        [&](Hit& hit) {
          hit.velocity = drawn_.at({hit.at, hit.piece});
        },
        gesture_.merge());
  }
  void release(Point p) override {
    move(p);
    gesture_.commit();
    editing_.select(before_);
  }
  void cancel() override {
    gesture_.cancel();
    editing_.select(before_);
  }

 private:
  static constexpr double kReach = 4;

  Editing& editing_;
  Selection before_;
  LaneShape lane_;
  std::vector<StickShape> sticks_;
  std::map<HitRef, Velocity> drawn_;
  Point last_;
  SongGesture gesture_;
};

// A press on a stick; what a drag changes is up to the derived gesture.
class StickGesture : public Gesture {
 public:
  StickGesture(Editing& editing, StickShape stick, Limb lane, Point start, bool addsOnClick)
      : editing_(editing),
        stick_(stick),
        lane_(lane),
        start_(start),
        gesture_(editing.document()),
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
  }
  void release(Point p) override {
    move(p);
    gesture_.commit();
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
      editing_.hits().toggleAt(stick_.ref.at, stick_.ref.piece, lane_);
    } else {
      editing_.moveCursor(stick_.ref.at, stick_.ref.piece, lane_);
    }
  }
  void cancel() override { gesture_.cancel(); }

 protected:
  virtual int stepsTo(Point p) const = 0;
  virtual void changeBy(int steps) = 0;

  Editing& editing_;
  StickShape stick_;
  Limb lane_;
  Point start_;
  SongGesture gesture_;

 private:
  bool addsOnClick_;
  bool wasSelected_;
  bool dragging_ = false;
  int done_ = 0;
};

class DragVelocity final : public StickGesture {
 public:
  DragVelocity(Editing& editing, StickShape stick, const LaneShape& lane, Point start, bool adds)
      : StickGesture(editing, stick, lane.limb, start, adds),
        room_(lane.room),
        groove_(editing.groove()) {}

 protected:
  int stepsTo(Point p) const override {
    return static_cast<int>(roundToInt((start_.y - p.y) * Velocity::kMax / room_));
  }
  // From the groove as it was at the press: a velocity that the drag pushed against 1 or 127 comes
  // back to its own when the mouse does.
  void changeBy(int steps) override {
    total_ += steps;
    editing_.hits().change(
        Editing::tr("Velocity %1%2").arg(total_ > 0 ? QStringLiteral("+") : QString()).arg(total_),
        [&](Hit& hit) {
          const auto index = indexOf(groove_, {hit.at, hit.piece});
          const int before = index ? groove_.hits[*index].velocity.value() : hit.velocity.value();
          hit.velocity = Velocity(before + total_);
        },
        gesture_.merge());
  }

 private:
  double room_;
  Groove groove_;
  int total_ = 0;
};

class DragNudge final : public StickGesture {
 public:
  DragNudge(Editing& editing, StickShape stick, Limb lane, Point start, double pxPerMs)
      : StickGesture(editing, stick, lane, start, true), pxPerMs_(pxPerMs) {}

 protected:
  // In half milliseconds.
  int stepsTo(Point p) const override {
    return static_cast<int>(roundToInt(2 * (p.x - start_.x) / pxPerMs_));
  }
  void changeBy(int steps) override {
    editing_.hits().addNudge(Milliseconds(steps / 2.0), gesture_.merge());
  }

 private:
  double pxPerMs_;
};

}  // namespace

std::unique_ptr<Gesture> beginGesture(Editing& editing, const StrikeScene& scene, double pxPerMs,
                                      Point p, Qt::KeyboardModifiers modifiers) {
  const bool shift = (modifiers & Qt::ShiftModifier) != 0;
  const auto drawn = laneAt(scene, p.y);
  if ((modifiers & Qt::AltModifier) != 0 && drawn) {
    return std::make_unique<DrawShape>(editing, scene, *drawn, p);
  }
  const auto stick = stickAt(scene, p);
  if (!stick) return std::make_unique<PlaceOrBand>(editing, scene, p, shift);
  const StickShape& shape = scene.sticks[*stick];
  // A stick stands on a lane.
  const LaneShape& lane = scene.lanes[laneAt(scene, shape.foot.y).value_or(0)];
  if ((modifiers & Qt::ControlModifier) != 0) {
    return std::make_unique<DragNudge>(editing, shape, lane.limb, p, pxPerMs);
  }
  return std::make_unique<DragVelocity>(editing, shape, lane, p, shift);
}

}  // namespace uneven
