// SPDX-License-Identifier: GPL-3.0-or-later
// What views of bars have in common, and the words of their tables.
#include "app/stage/bar_view.h"

#include <QAccessible>
#include <QKeyEvent>
#include <QStringList>
#include <QWheelEvent>

#include "app/controls/labels.h"
#include "app/drawing/bar_painter.h"
#include "app/stage/bar_accessible.h"
#include "core/song/names.h"

namespace uneven {
namespace {

const Groove& grooveOf(const Take& take) {
  return *take.score().blocks.front().groove;
}

QString countOf(const Take& take, Beat at) {
  const Groove& groove = grooveOf(take);
  const Beat bar = groove.meter.barLength();
  return qs(countName(at - Beat(at.floorDiv(bar)) * bar, groove.meter).text());
}

QString lateness(Milliseconds late) {
  const double tenths = static_cast<double>(roundToInt(10 * late.count())) / 10;
  if (tenths == 0) return BarView::tr("on the grid");
  const QString ms = QString::number(std::abs(tenths));
  return tenths > 0 ? BarView::tr("%1 ms late").arg(ms) : BarView::tr("%1 ms early").arg(ms);
}

}  // namespace

QString spokenRow(const Take& take, const BarTable& table, std::size_t row) {
  const BarRow& r = table.rows[row];
  return r.limb == Limb::kAutomatic ? qs((*take.score().kit)[r.piece].name)
                                    : qs(spokenName(r.limb));
}

QString spokenColumn(const Take& take, const BarTable& table, std::size_t column) {
  const Beat at = table.columns[column];
  return BarView::tr("bar %1, %2").arg(barOf(grooveOf(take), at) + 1).arg(countOf(take, at));
}

QString spokenCell(const Take& take, const BarTable& table, std::size_t row, std::size_t column) {
  const Beat at = table.columns[column];
  const auto index = table.hit(row, column);
  if (!index) {
    return BarView::tr("%1, %2, nothing").arg(spokenRow(take, table, row), countOf(take, at));
  }
  const Hit& hit = grooveOf(take).hits[*index];
  const Stroke& stroke = mainStroke(take, *index);
  QStringList words{qs((*take.score().kit)[hit.piece].name), countOf(take, at),
                    qs(spokenName(hit.role)).toLower(),
                    BarView::tr("velocity %1").arg(stroke.velocity.value()),
                    lateness(toMilliseconds(stroke.time - stroke.grid))};
  if (hit.stroke != StrokeKind::kNormal) words << qs(spokenName(hit.stroke)).toLower();
  if (hit.ornament != Ornament::kNone) words << qs(spokenName(hit.ornament)).toLower();
  if (hit.open > 0) words << BarView::tr("open %1 %").arg(roundToInt(100 * hit.open));
  return words.join(QStringLiteral(", "));
}

BarView::BarView(Editing& editing, const QString& name, int bars, QWidget* parent)
    : DrawnView(parent), editing_(editing), name_(name), visibleBars_(bars) {
  // Nothing here may be told: whoever listens would ask for rows that are not there yet.
  installBarAccessible();
  setFocusPolicy(Qt::StrongFocus);
  setAttribute(Qt::WA_OpaquePaintEvent);
  connect(&editing_.document(), &Document::changed, this, [this] {
    // Only another groove can make the first bar shown lie beyond the last.
    firstBar_ = heldFirstBar(editing_.groove(), firstBar_, visibleBars_);
    refresh();
  });
  connect(&editing_, &Editing::cursorMoved, this, [this] {
    showBar(barOf(editing_.groove(), editing_.cursorAt()));
    update();
    tellCursor();
  });
  connect(&editing_, &Editing::selectionChanged, this, qOverload<>(&QWidget::update));
  // Later than what the views make fresh themselves.
  connect(&editing_.document(), &Document::changed, this, &BarView::tellEdit, Qt::QueuedConnection);
}

BarTable BarView::table() {
  return barTable(editing_.document().take(), frame(), rows());
}

QString BarView::barsText() {
  const Groove& groove = editing_.groove();
  const int first = barOf(groove, frame().begin) + 1;
  const int last = barOf(groove, frame().end - Beat(1, 1'000'000)) + 1;
  return first == last ? tr("bar %1 of %2").arg(first).arg(groove.bars)
                       : tr("bars %1 to %2 of %3").arg(first).arg(last).arg(groove.bars);
}

void BarView::setPlayhead(std::optional<Quarters> at) {
  if (playhead_ == at) return;
  const auto strip = [&](Quarters quarters) {
    const int x = static_cast<int>(frame().axis.xFromQuarters(quarters.value()));
    return QRect(x - 3, 0, 7, height());
  };
  if (playhead_) update(strip(*playhead_));
  playhead_ = at;
  if (!playhead_) return;
  // A loop that is wrapped or a rounding may lie just beyond the groove.
  const Groove& groove = editing_.groove();
  if (*at >= Quarters(0) && *at < Quarters(groove.length())) {
    const double bar = groove.meter.barLength().toDouble();
    const Quarters begin(frame().begin), end(frame().end);
    if (*at < begin || *at >= end) showBar(static_cast<int>(at->value() / bar));
  }
  update(strip(*playhead_));
}

void BarView::drawPlayhead(QPainter& p) {
  if (!playhead_) return;
  const BarFrame& shown = frame();
  if (*playhead_ < Quarters(shown.begin) || *playhead_ > Quarters(shown.end)) return;
  paintPlayhead(p, shown, playhead_->value());
}

void BarView::refresh() {
  stale_ = true;
  update();
}

void BarView::showFrom(int bar) {
  const int held = heldFirstBar(editing_.groove(), bar, visibleBars_);
  if (held == firstBar_) return;
  firstBar_ = held;
  refresh();
  Q_EMIT viewportChanged();
}

void BarView::setVisibleBars(int bars) {
  visibleBars_ = bars;
  firstBar_ = heldFirstBar(editing_.groove(), firstBar_, visibleBars_);
  refresh();
  showBar(barOf(editing_.groove(), editing_.cursorAt()));
  Q_EMIT viewportChanged();
}

void BarView::showBar(int bar) {
  if (bar < firstBar_) showFrom(bar);
  if (bar >= firstBar_ + visibleBars_) showFrom(bar - visibleBars_ + 1);
}

bool BarView::pageKey(const QKeyEvent& event) {
  const bool back = event.key() == Qt::Key_PageUp;
  if (!back && event.key() != Qt::Key_PageDown) return false;
  if ((event.modifiers() & Qt::ControlModifier) != 0) return false;  // another groove: the window's
  showFrom(firstBar_ + (back ? -1 : 1));
  return true;
}

void BarView::resizeEvent(QResizeEvent* /*event*/) {
  stale_ = true;
}

void BarView::wheelEvent(QWheelEvent* event) {
  const bool up = event->angleDelta().y() > 0;
  constexpr double kCloser = 1.25;
  if ((event->modifiers() & Qt::ControlModifier) != 0) {
    zoom(up ? kCloser : 1 / kCloser);
  } else {
    showFrom(firstBar_ + (up ? -1 : 1));
  }
  event->accept();
}

void BarView::focusInEvent(QFocusEvent* event) {
  DrawnView::focusInEvent(event);
  // When the view itself has been told of.
  QMetaObject::invokeMethod(this, &BarView::tellCursor, Qt::QueuedConnection);
}

void BarView::tellCursor() {
  if (QAccessible::isActive() && isVisible()) tellCellFocused(*this);
}

void BarView::tellEdit() {
  const std::uint64_t revision = editing_.document().revision();
  if (revision == std::exchange(told_, revision) || !QAccessible::isActive()) return;
  if (isVisible()) tellTableChanged(*this);
}

}  // namespace uneven
