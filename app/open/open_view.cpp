// SPDX-License-Identifier: GPL-3.0-or-later
// The gap between the hats.
#include "app/open/open_view.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

#include "app/controls/labels.h"
#include "app/controls/theme.h"
#include "app/drawing/bar_painter.h"
#include "app/drawing/stick_painter.h"
#include "core/base/number.h"
#include "core/song/slots.h"
#include "core/time/count.h"
#include "core/voice/kit_map.h"

namespace uneven {

namespace {

constexpr double kStep = 0.05;
constexpr double kHandle = 8;  // reach of a round handle

// A stroke of the foot, or none any more; what is chosen on the hats stays chosen.
void toggleFoot(Editing& editing, Beat at) {
  const Beat here = editing.cursorAt();
  editing.hits().toggleAt(at, piece::kHatFoot);
  editing.moveCursor(here, piece::kHat);
}

bool onFeet(const OpenScene& scene, Point p) {
  return p.y >= scene.feet.top - 8 && p.y <= scene.feet.bottom && p.x >= scene.feet.left - 8;
}

}  // namespace

OpenView::OpenView(Editing& editing, QWidget* parent)
    : BarView(editing, tr("The gap between the hats"), 2, parent) {
  setObjectName(QStringLiteral("open-view"));
  setMinimumSize(480, 300);
}

void OpenView::setPreview(std::optional<Groove> preview) {
  preview_ = std::move(preview);
  refresh();
}

const OpenScene& OpenView::scene() {
  if (!stale()) return scene_;
  const Document& document = editing_.document();
  viewport_.size = {static_cast<double>(width()), static_cast<double>(height())};
  viewport_.firstBar = firstBar();
  viewport_.bars = visibleBars();
  if (preview_) {
    if (const auto take =
            Take::ofGroove(withGroove(document.song(), *preview_), preview_->id, document.at())) {
      scene_ = openScene(**take, viewport_);
      return scene_;
    }
  }
  scene_ = openScene(document.take(), viewport_);
  return scene_;
}

std::vector<BarRow> OpenView::rows() {
  const OpenScene& shown = scene();
  return {{piece::kHat, Limb::kAutomatic, shown.strokes.top, shown.band.bottom},
          {piece::kHatFoot, Limb::kAutomatic, shown.feet.top, shown.feet.bottom}};
}

const KitMap& OpenView::kitMap() const {
  const Document& document = editing_.document();
  return document.kitMaps().orDefault(document.song().map);
}

// The zones of the kit map: what each degree of opening is called.
void OpenView::paintZones(QPainter& p) const {
  const Rect& band = scene_.band;
  p.setFont(theme::font(12));
  for (const HatDegree& degree : hatDegrees(kitMap())) {
    const double y = scene_.yOf(degree.to);
    p.setPen(QPen(theme::kLine, 1, Qt::DashLine));
    if (degree.to < 1) p.drawLine(QPointF(band.left, y), QPointF(band.right, y));
    p.setPen(theme::kQuiet);
    const double middle = scene_.yOf((degree.above + degree.to) / 2);
    p.drawText(QRectF(0, middle - 9, kLaneNameWidth - 12, 18), Qt::AlignRight | Qt::AlignVCenter,
               QString::fromStdString(degree.name));
  }
}

void OpenView::paintBand(QPainter& p) const {
  const Rect& band = scene_.band;
  QPainterPath gap(QPointF(band.left, band.bottom));
  for (const Point& point : scene_.edge) gap.lineTo(qp(point));
  gap.lineTo(QPointF(band.right, band.bottom));
  gap.closeSubpath();
  QColor fill = theme::kBrass;
  fill.setAlpha(70);
  p.fillPath(gap, fill);
  // The cymbals' edges: the lower one lies still, the upper one goes with the foot.
  p.setBrush(Qt::NoBrush);
  p.setPen(QPen(theme::kBrassEdge, 4, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
  p.drawLine(QPointF(band.left, band.bottom + 4), QPointF(band.right, band.bottom + 4));
  QPolygonF upper;
  for (const Point& point : scene_.edge) upper << qp(point) - QPointF(0, 1);
  p.drawPolyline(upper);
  for (const OpeningGrip& grip : scene_.grips) {
    const bool chosen = grip.move
                            ? editing_.groove().pedal && !preview_ &&
                                  editing_.drawn() == editing_.groove().pedal->moves[*grip.move].at
                            : editing_.selection().contains(grip.hit);
    p.setPen(QPen(chosen ? theme::kInk : theme::kBrassEdge, chosen ? 2 : 1.2));
    p.setBrush(theme::kCard);
    p.drawEllipse(QPointF(grip.from, grip.y), 4.5, 4.5);
    p.drawRect(QRectF(grip.to - 4, band.bottom - 4, 8, 8));
    p.setPen(theme::kInk);
    p.setFont(theme::font(12, theme::Weight::kSemiBold));
    p.drawText(QRectF(grip.from - 30, grip.y - 22, 60, 14), Qt::AlignCenter,
               tr("%1 %").arg(roundToInt(100 * scene_.openingAt(grip.y))));
  }
}

void OpenView::paintStrokes(QPainter& p) const {
  const Rect& room = scene_.strokes;
  p.setPen(QPen(theme::kLine, 1.4));
  p.drawLine(QPointF(room.left, room.bottom), QPointF(room.right, room.bottom));
  paintLaneName(p, QRectF(0, room.bottom - 17, kLaneNameWidth - 12, 18), tr("Hand"));
  for (const HatStrokeShape& hit : scene_.hits) {
    if (!hit.part && editing_.selection().contains(hit.ref)) {
      paintChosen(p, QRectF(hit.x - 8, room.bottom - hit.height - 10, 16, hit.height + 14));
    }
    StickShape stick;
    stick.foot = {hit.x, room.bottom};
    stick.head = {hit.x, room.bottom - hit.height};
    stick.role = hit.part ? Role::kGrace : hit.role;
    stick.limb = hit.limb;
    paintStick(p, stick);
    if (hit.part || hit.opening < 0.005) continue;
    p.setPen(QPen(hit.loose ? theme::kAttention : theme::kQuiet, 1));
    p.setFont(theme::font(12, hit.loose ? theme::Weight::kSemiBold : theme::Weight::kRegular));
    p.drawText(QRectF(hit.x - 20, room.bottom + 4, 40, 14), Qt::AlignCenter,
               QString::number(roundToInt(100 * hit.opening)));
  }
}

void OpenView::paintFeet(QPainter& p) const {
  const Rect& room = scene_.feet;
  p.setPen(QPen(theme::kLine, 1.4));
  p.drawLine(QPointF(room.left, room.top), QPointF(room.right, room.top));
  paintLaneName(p, QRectF(0, room.top - 9, kLaneNameWidth - 12, 18), tr("Foot"));
  const QColor foot = theme::limbColor(editing_.document().song().kit->usualLimb(piece::kHatFoot));
  for (const FootMark& mark : scene_.marks) {
    // Feet hang from their line. What a stroke of the hand covers is only an outline.
    const QPointF end(mark.x, room.top + mark.depth);
    p.setPen(QPen(foot, mark.masked ? 1 : 2.2, mark.masked ? Qt::DotLine : Qt::SolidLine));
    p.drawLine(QPointF(mark.x, room.top), end);
    p.setPen(QPen(foot, 1.5));
    p.setBrush(mark.masked ? theme::kPaper : foot);
    p.drawPolygon(QPolygonF({end + QPointF(-5, 0), end + QPointF(5, 0), end + QPointF(0, 7)}));
    if (mark.sound == FootSoundKind::kSplash) {
      p.drawPolyline(QPolygonF({end + QPointF(-8, 12), end + QPointF(0, 9), end + QPointF(8, 12)}));
    }
  }
}

// Where the heel presses: filled. A click sets or takes a press, in every bar.
void OpenView::paintPump(QPainter& p) const {
  paintLaneName(p, QRectF(0, scene_.pumpY - 9, kLaneNameWidth - 12, 18), tr("Pump"));
  const QColor foot = theme::limbColor(editing_.document().song().kit->usualLimb(piece::kHatFoot));
  for (const PumpSlot& slot : scene_.pump) {
    p.setPen(QPen(slot.pressed ? foot : theme::kQuiet, 1.4));
    p.setBrush(slot.pressed ? foot : theme::kPaper);
    p.drawRoundedRect(QRectF(slot.x - 5, scene_.pumpY - 5, 10, 10), 3, 3);
  }
}

void OpenView::togglePress(std::size_t slot) {
  std::string cell;
  for (const PumpSlot& s : scene().pump) {
    if (s.inBar < static_cast<int>(cell.size())) break;  // the next bar is the same
    const bool flip = s.inBar == scene_.pump[slot].inBar;
    cell += s.pressed != flip ? 'x' : '.';
  }
  if (cell.find('x') == std::string::npos) {
    return editing_.pedal().changePedal(tr("The heel is still"), [](Pedal& p) { p.pump.reset(); });
  }
  if (cell.size() > kCellMax) return;
  editing_.pedal().changePedal(tr("Pump %1").arg(QString::fromStdString(cell)), [&](Pedal& pedal) {
    if (!pedal.pump) pedal.pump = Pump{{8, 0}, PumpPhase::kOn, "", 0.3, {}};
    pedal.pump->cell = cell;
  });
}

void OpenView::lift(Point p) {
  const double open = roundedTo(scene().openingAt(p.y), 100);
  editing_.pedal().changePedal(
      tr("Lifts to %1 %").arg(roundToInt(100 * open)),
      [&](Pedal& pedal) {
        if (pedal.pump) pedal.pump->lift = open;
      },
      gesture_->merge());
}

void OpenView::paintEvent(QPaintEvent* /*event*/) {
  scene();
  QPainter p(this);
  p.fillRect(rect(), theme::kPaper);
  p.setRenderHint(QPainter::Antialiasing);
  paintBars(p, scene_);
  paintZones(p);
  paintBand(p);
  paintStrokes(p);
  paintFeet(p);
  paintPump(p);
  if (hasFocus()) {
    const Rect& band = scene_.band;
    paintFocus(p, QRectF(band.left - 3, band.top - 3, band.width() + 6, band.height() + 12));
  }
  drawPlayhead(p);
  if (!scene_.hits.empty()) return;
  p.setPen(theme::kQuiet);
  p.setFont(theme::font(13));
  p.drawText(QRectF(scene_.strokes.left, scene_.strokes.top, scene_.strokes.width(),
                    scene_.strokes.height()),
             Qt::AlignCenter,
             tr("No hat is struck here. Write some in Strike, or press W to walk."));
}

void OpenView::mousePressEvent(QMouseEvent* event) {
  if (event->button() != Qt::LeftButton || preview_) return;
  const Point p = pointOf(event->position());
  const OpenScene& shown = scene();
  gesture_.reset();  // of a press whose release went elsewhere
  if (const auto slot = pumpSlotAt(shown, p)) return togglePress(*slot);
  if (onFeet(shown, p)) {
    const Beat last = slotBefore(editing_.groove(), shown.end);
    return toggleFoot(editing_, std::min(slotNear(shown, p.x), last));
  }
  const bool pumped = editing_.groove().pedal && editing_.groove().pedal->pump;
  const bool onBand = p.y >= shown.strokes.top && p.y <= shown.band.bottom + 12;
  if ((event->modifiers() & Qt::AltModifier) != 0 && onBand && pumped) {
    lifting_ = true;
    gesture_.emplace(editing_.document());
    return lift(p);
  }
  if ((event->modifiers() & Qt::ControlModifier) != 0 && onBand) {
    drawing_ = std::min(slotNear(shown, p.x), slotBefore(editing_.groove(), shown.end));
    gesture_.emplace(editing_.document());
    return drawMove(p);
  }
  if (const auto hit = gripAt(shown, p)) {
    const OpeningGrip grip = shown.grips[hit->grip];
    if (grip.move) {
      editing_.chooseDrawn(editing_.groove().pedal->moves[*grip.move].at);
    } else {
      editing_.moveCursor(grip.hit.at, grip.hit.piece);
    }
    const bool start = grip.move && !hit->end && std::abs(p.x - grip.from) <= kHandle;
    gesture_.emplace(editing_.document());
    drag_ = Drag{grip, hit->end, start};
    return;
  }
  const auto stroke = hatStrokeAt(shown, p.x);
  if (!onBand || !stroke) return;
  const HitRef ref = shown.hits[*stroke].ref;
  editing_.moveCursor(ref.at, ref.piece);
  if (p.y < shown.band.top) return;
  OpeningGrip grip;
  grip.hit = ref;
  gesture_.emplace(editing_.document());
  drag_ = Drag{grip, false, false};
}

void OpenView::drawMove(Point p) {
  const double open = std::max(0.05, scene_.openingAt(p.y));
  const Beat end = std::max(slotNear(scene_, p.x), slotAfter(editing_.groove(), *drawing_));
  // Where the hand strikes, what is drawn is that stroke's own opening.
  if (indexOf(editing_.groove(), {*drawing_, piece::kHat})) {
    editing_.moveCursor(*drawing_, piece::kHat);
    editing_.pedal().openTo(open, gesture_->merge());
    return editing_.pedal().openFor(end - *drawing_, gesture_->merge());
  }
  editing_.pedal().setMove({*drawing_, open, end - *drawing_, {}}, gesture_->merge());
  if (editing_.drawn() != drawing_) editing_.chooseDrawn(*drawing_);
}

void OpenView::dragTo(Point p) {
  const OpenScene& shown = scene();
  const PedalMove* drawn = editing_.drawnMove();
  if (drag_->end) {
    const Beat at = drawn != nullptr ? drawn->at : drag_->grip.hit.at;
    const Beat end = std::max(slotNear(shown, p.x), slotAfter(editing_.groove(), at));
    return editing_.pedal().openFor(end - at, gesture_->merge());
  }
  if (drag_->start && drawn != nullptr) {
    const Beat last = slotBefore(editing_.groove(), shown.end);
    editing_.pedal().startDrawn(std::min(slotNear(shown, p.x), last), gesture_->merge());
  }
  // Not to nothing, which would take a drawn one away from under the hand.
  const double least = drag_->grip.move ? 0.01 : 0;
  editing_.pedal().openTo(std::max(least, roundedTo(scene().openingAt(p.y), 100)),
                          gesture_->merge());
}

void OpenView::mouseMoveEvent(QMouseEvent* event) {
  const Point p = pointOf(event->position());
  if (drawing_) return drawMove(p);
  if (lifting_) return lift(p);
  if (drag_) return dragTo(p);
  const auto grip = gripAt(scene(), p);
  setCursor(!grip ? Qt::ArrowCursor : grip->end ? Qt::SizeHorCursor : Qt::SizeVerCursor);
}

void OpenView::mouseReleaseEvent(QMouseEvent* /*event*/) {
  gesture_.reset();
  drag_.reset();
  drawing_.reset();
  lifting_ = false;
}

// To the next stroke of the hand on the hats, or the next drawn opening.
void OpenView::walk(int by) {
  using Place = std::pair<Beat, bool>;  // drawn
  std::vector<Place> places;
  for (const Hit& hit : editing_.groove().hits) {
    if (hit.piece == piece::kHat) places.emplace_back(hit.at, false);
  }
  if (const auto& pedal = editing_.groove().pedal) {
    for (const PedalMove& move : pedal->moves) places.emplace_back(move.at, true);
  }
  std::sort(places.begin(), places.end());
  const Place here(editing_.cursorAt(), editing_.drawn().has_value());
  auto next = by > 0 ? std::upper_bound(places.begin(), places.end(), here)
                     : std::lower_bound(places.begin(), places.end(), here);
  if (by < 0) {
    if (next == places.begin()) return;
    --next;
  }
  if (next == places.end()) return;
  if (next->second) {
    editing_.chooseDrawn(next->first);
  } else {
    editing_.moveCursor(next->first, piece::kHat);
  }
}

// What the keys work on: the chosen drawn opening, or the stroke at the cursor.
std::optional<PedalMove> OpenView::chosen() const {
  if (const PedalMove* move = editing_.drawnMove()) return *move;
  const auto index = indexOf(editing_.groove(), {editing_.cursorAt(), piece::kHat});
  if (!index) return std::nullopt;
  const Hit& hit = editing_.groove().hits[*index];
  return PedalMove{hit.at, hit.open, hit.openFor, {}};
}

void OpenView::openBy(double by) {
  static const int key = Document::newMergeKey();
  const auto opening = chosen();
  if (!opening) return;
  const double least = editing_.drawn() ? 0.01 : 0;  // Delete takes a drawn one away
  editing_.pedal().openTo(std::clamp(roundedTo(opening->open + by, 100), least, 1.0), {key, true});
}

void OpenView::endBy(int slots) {
  static const int key = Document::newMergeKey();
  const auto opening = chosen();
  if (!opening || opening->open <= 0) return;
  const Groove& groove = editing_.groove();
  const Beat first = slotAfter(groove, opening->at);
  Beat end = opening->at + opening->length;
  end = slots > 0 ? slotAfter(groove, std::max(end, opening->at)) : slotBefore(groove, end);
  editing_.pedal().openFor(std::max(end, first) - opening->at, {key, true});
}

// Gives up the gesture at hand; what it has changed is taken back.
bool OpenView::giveUp() {
  if (!drag_ && !drawing_ && !lifting_) return false;
  gesture_->cancel();
  gesture_.reset();
  drag_.reset();
  drawing_.reset();
  lifting_ = false;
  return true;
}

void OpenView::keyPressEvent(QKeyEvent* event) {
  if (event->key() == Qt::Key_Escape && giveUp()) return;
  const bool shift = (event->modifiers() & Qt::ShiftModifier) != 0;
  // While it walks the keys are the walk's; Space plays.
  const bool plays = event->key() == Qt::Key_Space;
  if ((preview_ && !plays) || event->key() == Qt::Key_W) return Q_EMIT walkKey(event->key());
  switch (event->key()) {
    case Qt::Key_Left:
    case Qt::Key_Right: {
      const int by = event->key() == Qt::Key_Left ? -1 : 1;
      return shift ? endBy(by) : walk(by);
    }
    case Qt::Key_Up:
      return openBy(shift ? 0.01 : kStep);
    case Qt::Key_Down:
      return openBy(shift ? -0.01 : -kStep);
    case Qt::Key_O:
      return editing_.pedal().toggleOpen();
    case Qt::Key_F:
      return toggleFoot(editing_, editing_.cursorAt());
    case Qt::Key_Delete:
    case Qt::Key_Backspace:
      return editing_.pedal().openTo(0, {});
    default:
      break;
  }
  if (!pageKey(*event)) QWidget::keyPressEvent(event);
}

QString OpenView::tipAt(QPointF point) {
  const Point p = pointOf(point);
  const auto grip = gripAt(scene(), p);
  return onFeet(scene(), p)
             ? tr("Click for a stroke of the foot, and again to take it off. Key: F, at the cursor")
         : !grip     ? tr("Drag up from shut hats to open a stroke; Ctrl and drag draws an opening "
                              "without one")
         : grip->end ? tr("When the hats are shut: drag to the grid or a stroke, or Shift and an "
                          "arrow key")
                     : tr("How far they open, in percent: drag, or Up and Down");
}

}  // namespace uneven
