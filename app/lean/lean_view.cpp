// SPDX-License-Identifier: GPL-3.0-or-later
// The lean map under hand and key.
#include "app/lean/lean_view.h"

#include <QKeyEvent>
#include <QLocale>
#include <QMouseEvent>
#include <QPainter>
#include <QUndoStack>
#include <algorithm>
#include <cmath>

#include "app/controls/labels.h"
#include "app/controls/theme.h"
#include "app/drawing/bar_painter.h"
#include "app/drawing/stick_painter.h"
#include "core/song/names.h"

namespace uneven {
namespace {

constexpr double kSnapsInOne = 2;  // half milliseconds

Milliseconds snapped(double ms) {
  return Milliseconds(
      std::clamp(roundedTo(ms, kSnapsInOne), -kShiftMax.count(), kShiftMax.count()));
}

}  // namespace

LeanView::LeanView(Editing& editing, Listener& listener, QWidget* parent)
    : BarView(editing, tr("Lean map"), 1, parent), listener_(listener) {
  setObjectName(QStringLiteral("lean-view"));
  setMinimumSize(480, 260);
  connect(&editing_.document(), &Document::songTaken, this, &LeanView::refresh);
  connect(&listener_, &Listener::changed, this, &LeanView::refresh);
}

void LeanView::setPxPerMs(double pxPerMs) {
  viewport_.pxPerMs = std::clamp(pxPerMs, 0.25, 12.0);
  refresh();
}

void LeanView::setCompared(const std::string& feelId) {
  compared_ = feelId;
  refresh();
}

void LeanView::setBehind(bool shown) {
  behind_ = shown;
  refresh();
}

const LeanScene& LeanView::scene() {
  if (!stale()) return scene_;
  const Document& document = editing_.document();
  viewport_.size = {static_cast<double>(width()), static_cast<double>(height())};
  viewport_.bar = firstBar();
  const SharedTake whole = editing_.document().songTake();
  LeanSources sources{document.take(), whole.get(), nullptr, nullptr};
  std::vector<StrokeBehind> behind;
  const Fit* fit = listener_.found();
  if (behind_ && fit != nullptr && fit->confidence >= kWorthwhile) {
    behind = strokesBehind(document.take(), *fit, listener_.recording()->onsets);
    sources.behind = &behind;
  }
  SharedTake other;
  if (document.song().findFeel(compared_) != nullptr) {
    Song with = withFeelInForce(document.song(), document.grooveId(), compared_, document.at());
    if (auto take = Take::ofGroove(std::move(with), document.grooveId(), document.at()))
      other = *std::move(take);
    sources.other = other.get();
  }
  scene_ = leanScene(sources, viewport_);
  return scene_;
}

std::vector<BarRow> LeanView::rows() {
  const LeanScene& shown = scene();
  std::vector<BarRow> out;
  for (const LeanRow& row : shown.rows) {
    out.push_back({row.piece, Limb::kAutomatic, row.top, row.baseline + 14});
  }
  return out;
}

// The counts, and the bar's template: what each slot adds, late upwards.
void LeanView::paintHeader(QPainter& p) const {
  const Groove& groove = editing_.groove();
  paintLaneName(p, QRectF(0, 12, kLaneNameWidth - 12, 18),
                groove.bars == 1 ? tr("The bar")
                                 : tr("Bar %1 of %2").arg(viewport_.bar + 1).arg(groove.bars));
  const Rect& strip = scene_.strip;
  const double middle = (strip.top + strip.bottom) / 2;
  paintLaneName(p, QRectF(0, middle - 9, kLaneNameWidth - 12, 18), tr("Slots"));
  p.fillRect(QRectF(strip.left, middle - 0.7, strip.width(), 1.4), theme::kLine);
  QPolygonF curve;
  for (const LeanSlot& slot : scene_.slots) curve << QPointF(slot.x, slot.y);
  p.setPen(QPen(theme::kBrassEdge, 1.4));
  p.setBrush(Qt::NoBrush);
  p.drawPolyline(curve);
  for (const LeanSlot& slot : scene_.slots) {
    p.setPen(QPen(theme::kBrassEdge, 1.2));
    p.setBrush(theme::kPaper);
    for (const double y : slot.ofPieces) {
      const QPointF at(slot.x, y);
      p.drawPolygon(QPolygonF(
          {at + QPointF(0, -5), at + QPointF(4, 0), at + QPointF(0, 5), at + QPointF(-4, 0)}));
    }
    const bool moved = slot.shift.count() != 0;
    p.setPen(QPen(theme::kBrassEdge, 1.4));
    p.setBrush(moved ? theme::kBrass : theme::kPaper);
    p.drawEllipse(QPointF(slot.x, slot.y), moved ? 4.5 : 3, moved ? 4.5 : 3);
    if (!moved) continue;
    p.setPen(theme::kInk);
    p.setFont(theme::font(12));
    const double y = slot.shift.count() > 0 ? slot.y + 6 : slot.y - 20;
    p.drawText(QRectF(slot.x - 30, y, 60, 14), Qt::AlignCenter,
               QLocale::c().toString(slot.shift.count(), 'f', 1));
  }
}

void LeanView::paintRows(QPainter& p) const {
  const Kit& kit = *editing_.document().song().kit;
  for (const LeanRow& row : scene_.rows) {
    p.setPen(QPen(theme::kLaneLine, 1.4));
    p.drawLine(QPointF(scene_.area.left, row.baseline),
               QPointF(scene_.area.right + 14, row.baseline));
    const QRectF name = laneNameRect(row.baseline);
    paintLaneName(p, name, qs(kit[row.piece].name));
    if (row.displacement.count() == 0) continue;
    p.setPen(theme::kQuiet);
    p.setFont(theme::font(12));
    p.drawText(name.translated(0, row.room < 20 ? -13 : 15), Qt::AlignRight | Qt::AlignVCenter,
               signedMs(row.displacement));
  }
}

void LeanView::paintSticks(QPainter& p) const {
  for (const LeanStick& stick : scene_.sticks) {
    if (!editing_.selection().contains(stick.ref)) continue;
    StickShape shape;
    shape.foot = stick.foot;
    shape.head = stick.head;
    paintChosen(p, around(shape));
  }
  // Thin and without a limb's colour: these are not ours.
  QColor theirs = theme::kQuiet;
  theirs.setAlpha(straight_ ? 30 : 90);
  p.setPen(QPen(theirs, 1));
  p.setBrush(theme::kPaper);
  for (const FaintStick& faint : scene_.behind) {
    p.drawLine(qp(faint.foot), qp(faint.head));
    p.drawEllipse(qp(faint.head), 1.8, 1.8);
  }
  p.setPen(QPen(theme::kAttention, 1.6));
  for (const Point& foot : scene_.theirsAlone) p.drawEllipse(qp(foot), 4, 4);
  for (const FaintStick& faint : scene_.faint) {
    QColor color = theme::limbColor(faint.limb);
    color.setAlpha(straight_ ? 20 : 55);
    p.setPen(QPen(color, 1));
    p.drawLine(qp(faint.foot), qp(faint.head));
  }
  for (const LeanStick& stick : scene_.sticks) {
    const bool selected = editing_.selection().contains(stick.ref);
    if (stick.band > 0.5 && !straight_) {
      QColor soft = theme::limbColor(stick.limb);
      soft.setAlpha(38);
      p.setPen(Qt::NoPen);
      p.setBrush(soft);
      p.drawRoundedRect(QRectF(stick.head.x - stick.band, stick.head.y - 7, 2 * stick.band, 14), 7,
                        7);
    }
    p.fillRect(QRectF(stick.swungX - 1, stick.foot.y - 7, 2, 11), theme::kBrass);
    if (stick.other && !straight_) {
      p.setPen(QPen(theme::kBrassEdge, 1.2, Qt::DashLine));
      p.setBrush(theme::kPaper);
      p.drawLine(qp(stick.foot), qp(*stick.other));
      p.setPen(QPen(theme::kBrassEdge, 1.2));
      p.drawRect(QRectF(stick.other->x - 3.5, stick.other->y - 3.5, 7, 7));
    }
    StickShape shape;
    shape.foot = stick.foot;
    shape.head = straight_ ? Point{stick.foot.x, stick.head.y} : stick.head;
    shape.role = stick.role;
    shape.limb = stick.limb;
    shape.stroke = stick.stroke;
    paintStick(p, shape);
    if (!selected) continue;
    p.setPen(theme::kInk);
    p.setFont(theme::font(12, theme::Weight::kSemiBold));
    p.drawText(QRectF(shape.head.x - 40, shape.head.y - 24, 80, 14), Qt::AlignCenter,
               signedMs(stick.timing.difference() - stick.timing.drift));
  }
}

// How far ten milliseconds lean.
void LeanView::paintScale(QPainter& p) const {
  const double y = height() - 16;
  const double left = scene_.area.left + 20;
  const double ms = viewport_.pxPerMs >= 4 ? 10 : viewport_.pxPerMs >= 1.5 ? 20 : 50;
  p.setPen(QPen(theme::kQuiet, 1.4));
  p.drawLine(QPointF(left, y), QPointF(left + ms * viewport_.pxPerMs, y));
  p.drawLine(QPointF(left, y - 4), QPointF(left, y + 4));
  p.drawLine(QPointF(left + ms * viewport_.pxPerMs, y - 4),
             QPointF(left + ms * viewport_.pxPerMs, y + 4));
  p.setFont(theme::font(12));
  p.setPen(theme::kInk);
  QString text = tr("%1 ms").arg(ms);
  if (straight_) text += tr("   Straight, while S is held");
  if (!compared_.empty()) {
    if (const Feel* feel = editing_.document().song().findFeel(compared_)) {
      text += tr("   Dashed: %1").arg(QString::fromStdString(feel->name));
    }
  }
  if (!scene_.behind.empty()) text += tr("   Grey, with rings: the take in Listen (R)");
  if (!scene_.theirsAlone.empty()) text += tr("   Red: only the take has it");
  p.drawText(QRectF(left + ms * viewport_.pxPerMs + 10, y - 9, 600, 18),
             Qt::AlignLeft | Qt::AlignVCenter, text);
}

void LeanView::paintEvent(QPaintEvent* /*event*/) {
  scene();
  QPainter p(this);
  p.fillRect(rect(), theme::kPaper);
  p.setRenderHint(QPainter::Antialiasing);
  paintBars(p, scene_, BarNames::kNone);  // the header names the bar
  paintHeader(p);
  paintRows(p);
  paintSticks(p);
  paintScale(p);
  const Rect& rows = scene_.rowsArea;
  if (hasFocus()) {
    paintFocus(p, QRectF(rows.left - 3, rows.top - 3, rows.width() + 20, rows.height() + 4));
  }
  drawPlayhead(p);
  if (!scene_.rows.empty()) return;
  p.setPen(theme::kInk);
  p.setFont(theme::font(13));
  p.drawText(QRectF(rows.left, rows.top, rows.width(), rows.height()), Qt::AlignCenter,
             tr("Nothing is struck here yet. Write some hits in Strike."));
}

std::optional<LeanView::Drag> LeanView::dragAt(Point p) {
  const LeanScene& shown = scene();
  Drag drag;
  drag.from = p;
  drag.before = editing_.document().song();
  const std::string groove = editing_.document().grooveId();
  const AtPlace at = editing_.document().at();
  const double scale = viewport_.pxPerMs;
  if (const auto slot = leanSlotAt(shown, p)) {
    const LeanSlot from = shown.slots[*slot];
    const double stripScale = shown.stripPxPerMs;
    drag.change = [=, this](const Song& song, Point way) {
      const Milliseconds ms = snapped(from.shift.count() - way.y / stripScale);
      QString step =
          tr("Slot %1 %2").arg(editing_.countAt(scene_.begin + from.inBar), signedMs(ms));
      // Back where it began: not even a feel is made for it.
      if (ms == from.shift) return std::pair(step, song);
      return std::pair(
          step,
          withFeelChanged(
              song, groove, [&](Feel& feel) { setSlot(feel, from.inBar, std::nullopt, ms); }, at));
    };
    return drag;
  }
  if (const auto row = leanRowAt(shown, p)) {
    const LeanRow from = shown.rows[*row];
    drag.change = [=](const Song& song, Point way) {
      const Milliseconds ms = snapped(from.displacement.count() + way.x / scale);
      const QString name = qs((*song.kit)[from.piece].name);
      const QString step = tr("%1 %2").arg(name, signedMs(ms));
      if (ms == from.displacement) return std::pair(step, song);
      return std::pair(
          step, withFeelChanged(
                    song, groove, [&](Feel& feel) { setDisplacement(feel, from.piece, ms); }, at));
    };
    return drag;
  }
  if (const auto stick = leanStickAt(shown, p)) {
    const HitRef ref = shown.sticks[*stick].ref;
    if (!editing_.selection().contains(ref)) editing_.moveCursor(ref.at, ref.piece);
    const Selection selection = editing_.selection();
    drag.change = [=](const Song& song, Point way) {
      const Milliseconds by(roundedTo(way.x / scale, kSnapsInOne));
      const Edited edited = changeHits(*song.findGroove(groove), selection,
                                       [&](Hit& h) { h.nudge = snapped((h.nudge + by).count()); });
      return std::pair(tr("Nudge %1").arg(signedMs(by)), withGroove(song, edited.groove));
    };
    return drag;
  }
  return std::nullopt;
}

void LeanView::mousePressEvent(QMouseEvent* event) {
  if (event->button() != Qt::LeftButton) return;
  const Point p = pointOf(event->position());
  if ((event->modifiers() & (Qt::ShiftModifier | Qt::ControlModifier)) != 0) {
    if (const auto stick = leanStickAt(scene(), p)) {
      Selection selection = editing_.selection();
      const HitRef ref = scene_.sticks[*stick].ref;
      if (selection.erase(ref) == 0) selection.insert(ref);
      editing_.select(std::move(selection));
    }
    return;
  }
  gesture_.reset();
  drag_ = dragAt(p);
  if (drag_) gesture_.emplace(editing_.document());
  if (!drag_ && p.x > scene_.area.left) editing_.select({});
}

void LeanView::mouseMoveEvent(QMouseEvent* event) {
  const Point p = pointOf(event->position());
  if (drag_) {
    auto [step, song] = drag_->change(drag_->before, {p.x - drag_->from.x, p.y - drag_->from.y});
    editing_.document().apply(step, std::move(song), gesture_->merge());
    return;
  }
  const LeanScene& shown = scene();
  setCursor(leanSlotAt(shown, p)                           ? Qt::SizeVerCursor
            : leanStickAt(shown, p) || leanRowAt(shown, p) ? Qt::SizeHorCursor
                                                           : Qt::ArrowCursor);
}

void LeanView::mouseReleaseEvent(QMouseEvent* /*event*/) {
  gesture_.reset();
  drag_.reset();
}

// To the next stroke in time, of the row that is chosen or of all.
void LeanView::walk(int by) {
  const Groove& groove = editing_.groove();
  std::vector<HitRef> places;
  for (std::size_t i = 0; i < groove.hits.size(); ++i) {
    if (groove.hits[i].piece == editing_.cursorPiece()) places.push_back(refOf(groove, i));
  }
  std::optional<HitRef> next;
  for (const HitRef& ref : places) {
    if (by > 0 && ref.at > editing_.cursorAt()) {
      next = ref;
      break;
    }
    if (by < 0 && ref.at < editing_.cursorAt()) next = ref;
  }
  if (next) editing_.moveCursor(next->at, next->piece);
}

// To the row above or below: its stroke nearest to the cursor.
void LeanView::walkRow(int by) {
  const LeanScene& shown = scene();
  const auto here = std::find_if(shown.rows.begin(), shown.rows.end(), [&](const LeanRow& row) {
    return row.piece == editing_.cursorPiece();
  });
  std::ptrdiff_t next = here == shown.rows.end() ? 0 : here - shown.rows.begin() + by;
  if (shown.rows.empty()) return;
  next = std::clamp<std::ptrdiff_t>(next, 0, std::ssize(shown.rows) - 1);
  const PieceId piece = shown.rows[static_cast<std::size_t>(next)].piece;
  std::optional<Beat> nearest;
  const auto away = [&](Beat at) { return std::abs((at - editing_.cursorAt()).toDouble()); };
  for (const Hit& hit : editing_.groove().hits) {
    if (hit.piece == piece && (!nearest || away(hit.at) < away(*nearest))) nearest = hit.at;
  }
  if (nearest) editing_.moveCursor(*nearest, piece);
}

void LeanView::nudge(Milliseconds by) {
  static const int key = Document::newMergeKey();
  editing_.hits().addNudge(by, {key, true});
}

void LeanView::keyPressEvent(QKeyEvent* event) {
  const bool shift = (event->modifiers() & Qt::ShiftModifier) != 0;
  const double step = shift ? 10 : 1;
  switch (event->key()) {
    case Qt::Key_Escape:
      if (!drag_) break;
      gesture_->cancel();
      gesture_.reset();
      drag_.reset();
      return;
    case Qt::Key_S:
      if (event->modifiers() != Qt::NoModifier) break;
      straight_ = true;
      return update();
    case Qt::Key_R:
      if (event->modifiers() != Qt::NoModifier) break;
      return setBehind(!behind_);
    case Qt::Key_Left:
      return walk(-1);
    case Qt::Key_Right:
      return walk(1);
    case Qt::Key_Up:
      return walkRow(-1);
    case Qt::Key_Down:
      return walkRow(1);
    case Qt::Key_Comma:
    case Qt::Key_Less:
      return nudge(Milliseconds(-step));
    case Qt::Key_Period:
    case Qt::Key_Greater:
      return nudge(Milliseconds(step));
    default:
      break;
  }
  if (!pageKey(*event)) QWidget::keyPressEvent(event);
}

void LeanView::keyReleaseEvent(QKeyEvent* event) {
  if (event->key() != Qt::Key_S || event->isAutoRepeat()) return QWidget::keyReleaseEvent(event);
  straight_ = false;
  update();
}

void LeanView::focusOutEvent(QFocusEvent* event) {
  straight_ = false;
  BarView::focusOutEvent(event);
}

QString LeanView::tipAt(QPointF point) {
  const Point p = pointOf(point);
  const LeanScene& shown = scene();
  if (leanSlotAt(shown, p)) {
    return tr(
        "What this position of the bar adds for every piece, in ms: drag it up for late, "
        "down for early. Diamonds: for one piece alone");
  }
  if (leanRowAt(shown, p)) {
    return tr("Drag sideways to lay the whole piece back (right) or push it (left), in ms");
  }
  const auto stick = leanStickAt(shown, p);
  if (!stick) return {};
  const TimingRow& t = shown.sticks[*stick].timing;
  const Milliseconds plain = t.difference() - t.drift;
  const double share = plain / editing_.document().tempo().quarter();
  QString text = tr("%1 on %2: %3 from straight, %4 ticks of 960, %5 % of a beat")
                     .arg(qs((*editing_.document().song().kit)[t.ref.piece].name),
                          editing_.countAt(t.ref.at), signedMs(plain))
                     .arg(share * kTableTicks, 0, 'f', 0)
                     .arg(100 * share, 0, 'f', 1);
  text += tr("\nswing %1, piece %2, limb %3, slot %4, nudge %5")
              .arg(signedMs(t.swung - t.straight), signedMs(t.parts.piece), signedMs(t.parts.limb),
                   signedMs(t.parts.slot), signedMs(t.parts.nudge));
  if (t.parts.limited.count() != 0)
    text += tr("\nits role's limit takes back %1").arg(signedMs(t.parts.limited));
  return text;
}

}  // namespace uneven
