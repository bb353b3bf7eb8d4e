// SPDX-License-Identifier: GPL-3.0-or-later
// Events and caching; geometry is in layout/, painting in lanes_painter.
#include "app/strike/lanes_view.h"

#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/controls/labels.h"
#include "app/controls/theme.h"
#include "app/drawing/stick_painter.h"
#include "app/strike/lanes_painter.h"
#include "core/song/names.h"

namespace uneven {

LanesView::LanesView(Editing& editing, Checker& checker, QWidget* parent)
    : BarView(editing, tr("Lanes"), 2, parent), checker_(checker) {
  setObjectName(QStringLiteral("lanes"));
  setMinimumSize(480, 260);
  connect(&editing_, &Editing::selectionChanged, this, &LanesView::invalidate);
  connect(&checker_, &Checker::looked, this, &LanesView::invalidate);
}

const std::map<HitRef, Limb>* LanesView::hands() const {
  const Looked* now = checker_.now();
  return now == nullptr ? nullptr : &now->hands;
}

QString LanesView::letterAt(Beat at, PieceId piece) const {
  const auto index = indexOf(editing_.groove(), {at, piece});
  if (!index) return {};
  const Hit& hit = editing_.groove().hits[*index];
  if (hit.limb != Limb::kAutomatic) return qs(limbLetter(hit.limb)) + tr(" set");
  if (const auto* computed = hands()) {
    if (const auto found = computed->find({at, piece}); found != computed->end())
      return qs(limbLetter(found->second));
  }
  return qs(limbLetter(editing_.document().song().kit->usualLimb(piece)));
}

void LanesView::setPxPerMs(double pxPerMs) {
  viewport_.pxPerMs = std::clamp(pxPerMs, 0.25, 8.0);
  refresh();
  Q_EMIT viewportChanged();
}

void LanesView::setShowAllPieces(bool all) {
  allPieces_ = all;
  refresh();
  Q_EMIT viewportChanged();
}

void LanesView::setShowLimbs(bool limbs) {
  viewport_.byLimb = limbs;
  refresh();
  const LaneShape& first = scene().lanes.front();
  editing_.moveCursor(editing_.cursorAt(), limbs ? first.piece : editing_.cursorPiece(),
                      limbs ? first.limb : Limb::kAutomatic);
  invalidate();
  Q_EMIT viewportChanged();
}

void LanesView::setStepEntry(bool on) {
  if (on == stepEntry_.has_value()) return;
  if (on) {
    stepEntry_.emplace(editing_);
    if (viewport_.byLimb) setShowLimbs(false);
    setFocus();
    Q_EMIT editing_.said(
        tr("Step entry: a letter strikes and moves on, Shift accent, Alt ghost, + joins, dot "
           "leaves a slot, Backspace goes back, Escape ends"));
  } else {
    stepEntry_.reset();
    Q_EMIT editing_.said(tr("Step entry ended"));
  }
  invalidate();
  Q_EMIT stepEntryChanged();
}

void LanesView::setPreview(const std::optional<Groove>& preview) {
  if (preview == preview_) return;
  preview_ = preview;
  refresh();
}

// The lanes hold what either groove strikes, so that nothing jumps and everything has a place.
void LanesView::buildPreview() {
  previewScene_.reset();
  viewport_.tall.clear();
  if (!preview_ || *preview_ == editing_.groove()) return;
  const Document& document = editing_.document();
  const Result<SharedTake> take =
      Take::ofGroove(withGroove(document.song(), *preview_), preview_->id, document.at());
  if (!take) return;
  Groove both = editing_.groove();
  both.hits.insert(both.hits.end(), preview_->hits.begin(), preview_->hits.end());
  viewport_.lanes = lanesFor(both, *document.song().kit, allPieces_);
  for (const Hit& hit : both.hits) viewport_.tall.push_back(hit.piece);
  previewScene_ = strikeScene(**take, viewport_);
}

const StrikeScene& LanesView::scene() {
  if (stale()) {
    const Document& document = editing_.document();
    viewport_.size = {static_cast<double>(width()), static_cast<double>(height())};
    viewport_.firstBar = firstBar();
    viewport_.bars = visibleBars();
    viewport_.lanes = lanesFor(document.groove(), *document.song().kit, allPieces_);
    buildPreview();
    scene_ = strikeScene(document.take(), viewport_);
    layerState_ = Layer::kStale;
  }
  return scene_;
}

std::vector<BarRow> LanesView::rows() {
  return barRows(scene());
}

const std::optional<StrikeScene>& LanesView::previewScene() {
  scene();
  return previewScene_;
}

void LanesView::invalidate() {
  layerState_ = Layer::kStale;
  update();
}

void LanesView::refresh() {
  layerState_ = Layer::kStale;
  BarView::refresh();
}

void LanesView::drawLanes(QPainter& p) {
  const StrikeScene& shown = scene();
  paintLanes(p, {shown, previewScene_ ? &*previewScene_ : nullptr, editing_, hovered_,
                 stepEntry_.has_value(), hands()});
}

void LanesView::drawLayer() {
  if (layerState_ == Layer::kKept) return;
  const double ratio = devicePixelRatioF();
  const QSize wanted = (QSizeF(size()) * ratio).toSize();
  if (layer_.size() != wanted) layer_ = QPixmap(wanted);
  layer_.setDevicePixelRatio(ratio);
  QPainter p(&layer_);
  drawLanes(p);
  layerState_ = Layer::kKept;
}

void LanesView::paintEvent(QPaintEvent* event) {
  scene();
  QPainter p(this);
  // A new picture goes straight to the window; only where it stays, under a playhead or a band, is
  // it worth its pixmap.
  if (layerState_ == Layer::kStale && event->rect() == rect()) {
    drawLanes(p);
    layerState_ = Layer::kShown;
  } else {
    drawLayer();
    const QRectF dirty = event->rect();
    const double ratio = layer_.devicePixelRatio();
    p.drawPixmap(dirty, layer_, QRectF(dirty.topLeft() * ratio, dirty.size() * ratio));
  }
  p.setRenderHint(QPainter::Antialiasing);
  if (hasFocus()) paintCursor(p, scene_, editing_);
  if (gesture_ != nullptr) {
    if (const auto band = gesture_->band()) paintBand(p, *band);
  }
  drawPlayhead(p);
}

void LanesView::mousePressEvent(QMouseEvent* event) {
  if (event->button() != Qt::LeftButton) return;
  gesture_ = beginGesture(editing_, scene(), viewport_.pxPerMs, pointOf(event->position()),
                          event->modifiers());
}

void LanesView::mouseMoveEvent(QMouseEvent* event) {
  const Point p = pointOf(event->position());
  if (gesture_ != nullptr) {
    gesture_->move(p);
    update();
    return;
  }
  const auto stick = stickAt(scene(), p);
  const auto under = stick ? std::optional(scene_.sticks[*stick].ref) : std::nullopt;
  if (under == hovered_) return;
  hovered_ = under;
  setCursor(under ? Qt::PointingHandCursor : Qt::ArrowCursor);
  invalidate();
}

void LanesView::mouseReleaseEvent(QMouseEvent* event) {
  if (gesture_ == nullptr || event->button() != Qt::LeftButton) return;
  const std::unique_ptr<Gesture> done = std::move(gesture_);
  done->release(pointOf(event->position()));
  invalidate();
}

void LanesView::leaveEvent(QEvent* /*event*/) {
  if (!hovered_) return;
  hovered_.reset();
  invalidate();
}

QString LanesView::tipAt(QPointF point) {
  const auto stick = stickAt(scene(), pointOf(point));
  if (!stick) return {};
  const StickShape& s = scene_.sticks[*stick];
  const Document& document = editing_.document();
  const QString name = QString::fromStdString((*document.song().kit)[s.ref.piece].name);
  const QString count = editing_.countAt(s.ref.at);
  const QString when = s.lean.count() == 0  ? tr("on the grid")
                       : s.lean.count() > 0 ? tr("%1 late").arg(plainMs(s.lean))
                                            : tr("%1 early").arg(plainMs(-s.lean));
  return tr("%1 on %2: %3, velocity %4, %5%6")
      .arg(name, count, qs(spokenName(s.role)).toLower())
      .arg(s.velocity.value())
      .arg(when, whoPlays(s.ref));
}

// Who plays a hit, and where that is unlike the lane's colour.
QString LanesView::whoPlays(const HitRef& ref) const {
  const auto index = indexOf(editing_.groove(), ref);
  const auto* computed = hands();
  if (!index || computed == nullptr) return {};
  const Limb set = editing_.groove().hits[*index].limb;
  const auto found = computed->find(ref);
  if (set != Limb::kAutomatic) return tr("; %1, set").arg(qs(spokenName(set)).toLower());
  if (found == computed->end()) return {};
  const Limb usual = editing_.document().song().kit->usualLimb(ref.piece);
  const QString who = qs(spokenName(found->second)).toLower();
  return found->second == usual ? tr("; %1").arg(who)
                                : tr("; %1, as it comes out best: the lane's is %2")
                                      .arg(who, qs(spokenName(usual)).toLower());
}

bool LanesView::event(QEvent* event) {
  if (event->type() == QEvent::ShortcutOverride && stepEntry_ &&
      stepEntry_->wants(*static_cast<QKeyEvent*>(event))) {
    event->accept();
    return true;
  }
  return BarView::event(event);
}

}  // namespace uneven
