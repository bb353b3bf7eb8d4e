// SPDX-License-Identifier: GPL-3.0-or-later
// Rows of strokes.
#include "app/listen/rows_view.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>
#include <map>

#include "app/controls/labels.h"
#include "app/controls/theme.h"
#include "app/drawing/stick_painter.h"
#include "core/base/number.h"
#include "core/match/along.h"
#include "core/perform/swing.h"
#include "core/time/count.h"

namespace uneven {
namespace {

constexpr double kGrab = 5;  // px

QColor colorOf(PieceId piece) {
  if (piece == piece::kKick) return theme::limbColor(Limb::kRightFoot);
  if (piece == piece::kHatFoot) return theme::limbColor(Limb::kLeftFoot);
  if (piece == piece::kSnare) return theme::limbColor(Limb::kLeftHand);
  if (piece == kNotInKit) return theme::kQuiet;
  return theme::limbColor(Limb::kRightHand);
}

}  // namespace

RowsView::RowsView(Listener& listener, QWidget* parent) : DrawnView(parent), listener_(listener) {
  setObjectName(QStringLiteral("listen-rows"));
  setMinimumSize(480, 300);
  setFocusPolicy(Qt::StrongFocus);
  setAccessibleName(tr("The take, a row a bar"));
  connect(&listener_, &Listener::changed, this, &RowsView::read);
}

void RowsView::read() {
  if (const Fit* fit = listener_.found()) {
    first_ = last_ = 0;
    for (const Placed& p : fit->placed) {
      if (!p.used) continue;
      first_ = std::min(first_, p.bar);
      last_ = std::max(last_, p.bar);
    }
    current_ = std::clamp(current_, first_, last_);
    anchor_ = std::clamp(anchor_, first_, last_);
    show(current_);
    setAccessibleDescription(tr("%1 bars, %2 strokes found, %3 used; bar %4 is chosen")
                                 .arg(last_ - first_ + 1)
                                 .arg(fit->onsets)
                                 .arg(fit->used)
                                 .arg(current_ + 1));
  }
  update();
}

TakeRows RowsView::shown() const {
  const Fit* fit = listener_.found();
  return takeRows({{static_cast<double>(width()), static_cast<double>(height())},
                   first_,
                   last_,
                   top_,
                   fit == nullptr ? 4 : fit->grid.meter.barLength().toDouble(),
                   zoomed_});
}
void RowsView::setZoomed(bool zoomed) {
  zoomed_ = zoomed;
  show(current_);
  update();
}
void RowsView::show(std::int64_t bar) {
  top_ = shown().topFor(bar);
}

QPointF RowsView::pointOf(std::size_t onset) const {
  return pointOf(shown(), onset);
}
QPointF RowsView::pointOf(const TakeRows& rows, std::size_t onset) const {
  const Fit* fit = listener_.found();
  if (fit == nullptr || onset >= fit->placed.size()) return {-1, -1};
  const double q = fit->grid.line.quartersAt(listener_.recording()->onsets[onset].seconds);
  // In the row of its slot, so that what is early on a 1 stands just left of it.
  const std::int64_t bar = fit->placed[onset].bar;
  const double length = fit->grid.meter.barLength().toDouble();
  return {rows.axis.xFromQuarters(q - static_cast<double>(bar) * length), rows.yOf(bar)};
}

void RowsView::paintEvent(QPaintEvent* /*event*/) {
  QPainter p(this);
  p.fillRect(rect(), theme::kPaper);
  p.setRenderHint(QPainter::Antialiasing);
  const Fit* fit = listener_.found();
  const Recording* recording = listener_.recording();
  p.setFont(theme::font(14));
  p.setPen(theme::kQuiet);
  if (fit == nullptr) {
    QString text =
        tr("Open a recording, a played MIDI file or a list of times: its tempo, swing and "
           "lean are found here.");
    if (listener_.reading()) text = tr("Listening…");
    if (!listener_.reading() && recording != nullptr)
      text = listener_.fitting() ? tr("Fitting…") : tr("No beat is found in it.");
    p.drawText(rect().adjusted(40, 0, -40, 0), Qt::AlignCenter | Qt::TextWordWrap, text);
  } else {
    paintRows(p, *fit);
    paintSums(p, *fit);
    paintTempo(p, *fit);
  }
  if (hasFocus()) {
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(theme::kBrassEdge, 1, Qt::DotLine));
    p.drawRect(rect().adjusted(0, 0, -1, -1));
  }
}

void RowsView::paintRows(QPainter& p, const Fit& fit) {
  const TakeRows rows = shown();
  const QRectF room = qr(rows.area);
  // Where the feel puts the slots, and their counts.
  const SwingCurve curve(fit.swing, fit.grid.meter.barLength());
  const double target = curve.target(fit.swing.ratio, 1);
  const Beat unit = fit.grid.meter.countUnit();
  double before = -100;
  for (Beat at; at < fit.grid.meter.barLength(); at += fit.slots.step()) {
    const double x = rows.axis.xFromQuarters(curve.swung(at, target).value()) + dragged_;
    const bool count = Beat(at.floorDiv(unit)) * unit == at;
    p.setPen(QPen(count ? theme::kBarLine : theme::kLine, count ? 1.4 : 1));
    p.drawLine(QPointF(x, room.top()), QPointF(x, room.bottom() + TakeRows::kSums - 12));
    if (!count && x - before < 16) continue;
    before = x;
    p.setPen(count ? theme::kInk : theme::kQuiet);
    p.setFont(theme::font(13, count ? theme::Weight::kSemiBold : theme::Weight::kRegular));
    p.drawText(QRectF(x - 20, room.top() - 22, 40, 16), Qt::AlignCenter,
               qs(countName(at, fit.grid.meter).label()));
  }
  const double height = rows.rowHeight;
  p.setFont(theme::font(12));
  if (zoomed_) paintEnergy(p, fit);
  const int every = height < 13 ? 4 : height < 17 ? 2 : 1;
  for (std::int64_t bar = top_; rows.shows(bar); ++bar) {
    const QRectF number = qr(rows.numberRect(bar));
    const auto [from, to] = chosenBars();
    if (bar >= from && bar <= to && !zoomed_) {
      p.fillRect(QRectF(number.left(), number.top(), room.right() - number.left(), height),
                 theme::kChosen);
    }
    if (bar != current_ && bar != 0 && (bar - first_) % every != 0) continue;
    p.setPen(bar == 0 ? theme::kInk : theme::kQuiet);
    p.drawText(number.adjusted(0, 0, -4, 0), Qt::AlignRight | Qt::AlignVCenter,
               QString::number(bar + 1));
  }
  p.save();
  p.setClipRect(room.adjusted(-24, 0, 24, 0));
  paintMine(p, fit);
  const std::vector<Onset>& onsets = listener_.recording()->onsets;
  for (std::size_t i = 0; i < onsets.size(); ++i) {
    const Placed& placed = fit.placed[i];
    if (!rows.shows(placed.bar)) continue;
    const QPointF at = pointOf(rows, i);
    QColor color = colorOf(onsets[i].piece);
    if (!placed.used) color.setAlpha(70);
    // Louder is taller.
    const double half = (0.22 + 0.24 * onsets[i].velocity / 127) * height;
    if (zoomed_) {
      // From the floor up, with its moment beside it.
      p.setPen(QPen(color, 2));
      const double floor = room.bottom() - 6;
      p.drawLine(QPointF(at.x(), floor), QPointF(at.x(), floor - half * 1.8));
      continue;
    }
    p.setPen(QPen(color, onsets[i].velocity > 95 ? 2.4 : 1.6));
    p.drawLine(at - QPointF(0, half), at + QPointF(0, half));
  }
  if (stroke_ && *stroke_ < fit.placed.size() && fit.placed[*stroke_].bar == current_) {
    p.setPen(QPen(theme::kBrassEdge, 1.4));
    p.setBrush(Qt::NoBrush);
    p.drawEllipse(pointOf(rows, *stroke_), 6, height / 2);
  }
  p.restore();
}

void RowsView::setMine(std::vector<StrokeBehind> mine, int bars, double quarterMs) {
  mine_ = std::move(mine);
  std::sort(mine_.begin(), mine_.end(), [](const StrokeBehind& a, const StrokeBehind& b) {
    return std::pair(a.at, a.piece) < std::pair(b.at, b.piece);
  });
  mineBars_ = std::max(1, bars);
  quarterMs_ = quarterMs;
  update();
}

void RowsView::setPlace(std::optional<std::pair<Beat, PieceId>> place) {
  place_ = place;
  const Fit* fit = listener_.found();
  if (fit != nullptr && place) {
    // The nearest bar that has it is brought into sight.
    const std::int64_t turn = place->first.floorDiv(fit->grid.meter.barLength());
    for (std::int64_t bar = top_; bar <= last_; ++bar) {
      if (((bar % mineBars_) + mineBars_) % mineBars_ != turn) continue;
      show(bar);
      break;
    }
  }
  update();
}

std::optional<QPointF> RowsView::mineAt(std::int64_t bar, Beat inBar, PieceId piece) const {
  const Fit* fit = listener_.found();
  if (fit == nullptr) return std::nullopt;
  const std::int64_t turn = ((bar % mineBars_) + mineBars_) % mineBars_;
  const Beat at = Beat(turn) * fit->grid.meter.barLength() + inBar;
  const auto m = std::lower_bound(
      mine_.begin(), mine_.end(), std::pair(at, piece),
      [](const StrokeBehind& s, const auto& p) { return std::pair(s.at, s.piece) < p; });
  if (m == mine_.end() || m->at != at || m->piece != piece) return std::nullopt;
  const TakeRows rows = shown();
  return QPointF(rows.axis.xFromQuarters(inBar.toDouble() + m->late.count() / quarterMs_),
                 rows.yOf(bar));
}

void RowsView::paintMine(QPainter& p, const Fit& fit) {
  if (mine_.empty() || zoomed_) return;
  const Beat length = fit.grid.meter.barLength();
  const TakeRows rows = shown();
  const double height = rows.rowHeight, ring = std::clamp(height / 5, 2.0, 3.5);
  std::map<std::pair<std::int64_t, std::pair<Beat, PieceId>>, QPointF> theirs;
  for (std::size_t i = 0; i < fit.placed.size(); ++i) {
    const Placed& placed = fit.placed[i];
    if (placed.used && rows.shows(placed.bar))
      theirs[{placed.bar, {placed.at, listener_.recording()->onsets[i].piece}}] = pointOf(rows, i);
  }
  for (std::int64_t bar = top_; rows.shows(bar); ++bar) {
    const std::int64_t turn = ((bar % mineBars_) + mineBars_) % mineBars_;
    for (const StrokeBehind& m : mine_) {
      if (m.at.floorDiv(length) != turn) continue;
      const Beat inBar = m.at - Beat(turn) * length;
      const QPointF at = *mineAt(bar, inBar, m.piece);
      const bool looked = place_ && *place_ == std::pair(m.at, m.piece);
      if (looked)
        p.fillRect(QRectF(at.x() - 9, at.y() - height / 2, 18, height), theme::kChosenEdge);
      QColor color = colorOf(m.piece);
      if (const auto there = theirs.find({bar, {inBar, m.piece}}); there != theirs.end()) {
        p.setPen(QPen(color, looked ? 2 : 1));
        p.drawLine(at, there->second);
      }
      p.setPen(QPen(color, 1.2));
      p.setBrush(looked ? theme::kCard : theme::kPaper);
      p.drawEllipse(at, ring, ring);
    }
    // What only they have there.
    if (place_ && place_->first.floorDiv(length) == turn) {
      const auto there = theirs.find({bar, {place_->first - Beat(turn) * length, place_->second}});
      if (there == theirs.end() || mineAt(bar, there->first.second.first, place_->second)) continue;
      p.fillRect(QRectF(there->second.x() - 9, there->second.y() - height / 2, 18, height),
                 theme::kChosenEdge);
    }
  }
}

void RowsView::paintEnergy(QPainter& p, const Fit& fit) {
  const std::vector<float>& energy = listener_.recording()->energy;
  if (energy.empty()) return;
  const TakeRows rows = shown();
  const double floor = rows.area.bottom - 6;
  const double from = static_cast<double>(current_) * fit.grid.meter.barLength().toDouble();
  QPainterPath path(QPointF(rows.area.left, floor));
  for (const Point& point : energyOutline(energy, kEnergyRate, fit.grid.line, from, rows, floor,
                                          rows.area.height() - 20))
    path.lineTo(qp(point));
  path.lineTo(rows.area.right, floor);
  path.closeSubpath();
  p.fillPath(path, theme::kChosen);
}

void RowsView::paintSums(QPainter& p, const Fit& fit) {
  const TakeRows rows = shown();
  const QRectF room = qr(rows.area);
  const double base = height() - TakeRows::kBelow - 6, high = TakeRows::kSums - 26;
  p.setPen(theme::kQuiet);
  p.setFont(theme::font(12));
  p.drawText(QRectF(TakeRows::kLeft - 84, base - 16, 76, 16), Qt::AlignRight, tr("all bars"));
  p.setPen(QPen(theme::kLine, 1));
  p.drawLine(QPointF(room.left(), base), QPointF(room.right(), base));
  std::map<QRgb, std::vector<double>> struck;
  const std::vector<Onset>& onsets = listener_.recording()->onsets;
  for (std::size_t i = 0; i < onsets.size(); ++i) {
    if (fit.placed[i].used) struck[colorOf(onsets[i].piece).rgb()].push_back(pointOf(rows, i).x());
  }
  std::map<QRgb, std::vector<double>> hills;
  double most = 1;
  for (const auto& [color, xs] : struck) {
    hills[color] = hillOf(xs, rows.area);
    most = std::max(most, *std::max_element(hills[color].begin(), hills[color].end()));
  }
  for (const auto& [color, hill] : hills) {
    QPainterPath path(QPointF(room.left(), base));
    for (std::size_t x = 0; x < hill.size(); ++x)
      path.lineTo(room.left() + static_cast<double>(x), base - high * hill[x] / most);
    path.lineTo(room.right(), base);
    path.closeSubpath();
    QColor fill(color);
    fill.setAlpha(130);
    p.fillPath(path, fill);
  }
}

void RowsView::paintTempo(QPainter& p, const Fit& fit) {
  const TakeRows rows = shown();
  const QRectF room = qr(rows.area);
  const QRectF side(room.right() + 40, room.top(), TakeRows::kRight - 60, room.height());
  p.setPen(theme::kQuiet);
  p.setFont(theme::font(12));
  p.drawText(QRectF(side.left() - 20, room.top() - 40, TakeRows::kRight - 20, 16),
             Qt::AlignHCenter | Qt::AlignVCenter, tr("BPM, by bars"));
  const std::vector<BarTempo> tempos = barTempos(fit, listener_.recording()->onsets);
  if (tempos.empty()) return;
  double low = tempos.front().bpm.value, high = low;
  for (const BarTempo& tempo : tempos) {
    low = std::min(low, tempo.bpm.value);
    high = std::max(high, tempo.bpm.value);
  }
  const double margin = std::max(0.5, 0.1 * (high - low));
  low = std::floor(low - margin);
  high = std::ceil(high + margin);
  const auto x = [&](Bpm bpm) {
    return side.left() + (bpm.value - low) / (high - low) * side.width();
  };
  p.setPen(QPen(theme::kLine, 1));
  p.drawLine(QPointF(x(fit.bpm), side.top()), QPointF(x(fit.bpm), side.bottom()));
  p.setPen(theme::kQuiet);
  p.drawText(QRectF(side.left() - 20, room.top() - 22, 40, 16), Qt::AlignCenter,
             QString::number(low, 'f', 0));
  p.drawText(QRectF(side.right() - 20, room.top() - 22, 40, 16), Qt::AlignCenter,
             QString::number(high, 'f', 0));
  QPainterPath path;
  bool begun = false;
  for (const auto& [bar, bpm] : tempos) {
    if (!rows.shows(bar)) continue;
    const QPointF at(x(bpm), rows.yOf(bar));
    if (begun) {
      path.lineTo(at);
    } else {
      path.moveTo(at);
    }
    begun = true;
    p.setBrush(theme::kInk);
    p.drawEllipse(at, 2, 2);
  }
  p.setBrush(Qt::NoBrush);
  p.setPen(QPen(theme::kInk, 1.2));
  p.drawPath(path);
}

// --- Hands ---

void RowsView::mousePressEvent(QMouseEvent* event) {
  setFocus();
  const Fit* fit = listener_.found();
  if (fit == nullptr) return;
  const QPointF at = event->position();
  const TakeRows rows = shown();
  const std::int64_t bar = rows.barAt(at.y());
  if (at.y() < rows.area.top || bar > last_) {
    if (at.y() < rows.area.top && at.x() > rows.area.left) pressed_ = at;
    return;
  }
  const bool more = (event->modifiers() & Qt::ShiftModifier) != 0;
  current_ = bar;
  if (!more) anchor_ = bar;
  update();
  if (more) return;
  if (at.x() < TakeRows::kLeft - 6) return makeBarOne(bar);
  std::optional<std::size_t> nearest;
  double away = kGrab;
  for (std::size_t i = 0; i < fit->placed.size(); ++i) {
    if (fit->placed[i].bar != bar) continue;
    const double distance = std::abs(pointOf(rows, i).x() - at.x());
    if (distance >= away) continue;
    away = distance;
    nearest = i;
  }
  if (nearest) return listener_.leaveOut(*nearest, listener_.recording()->onsets[*nearest].used);
  pressed_ = at;
}

// From stroke to stroke of the chosen bar.
void RowsView::walkStrokes(int by) {
  const Fit* fit = listener_.found();
  std::vector<std::pair<double, std::size_t>> row;
  for (std::size_t i = 0; i < fit->placed.size(); ++i) {
    if (fit->placed[i].bar == current_) row.emplace_back(pointOf(i).x(), i);
  }
  if (row.empty()) return;
  std::sort(row.begin(), row.end());
  std::ptrdiff_t at = by > 0 ? -1 : std::ssize(row);
  for (std::size_t k = 0; k < row.size(); ++k) {
    if (stroke_ == row[k].second) at = static_cast<std::ptrdiff_t>(k);
  }
  at = std::clamp<std::ptrdiff_t>(at + by, 0, std::ssize(row) - 1);
  stroke_ = row[static_cast<std::size_t>(at)].second;
  const Onset& o = listener_.recording()->onsets[*stroke_];
  setAccessibleDescription(tr("Bar %1, %2 at %3 s, %4 ms, %5")
                               .arg(current_ + 1)
                               .arg(qs(heardName(houseKit(), o.piece)))
                               .arg(numberText(o.seconds, 3))
                               .arg(numberText(fit->placed[*stroke_].late.count(), 1, true))
                               .arg(o.used ? tr("counts") : tr("left out")));
  update();
}

// Bars are counted from it from then on, so it is the chosen one still.
void RowsView::makeBarOne(std::int64_t bar) {
  current_ = anchor_ = 0;
  top_ -= bar;
  Q_EMIT barOneWanted(bar);
}

void RowsView::mouseMoveEvent(QMouseEvent* event) {
  if (!pressed_ || listener_.found() == nullptr) return;
  dragged_ = event->position().x() - pressed_->x();
  update();
}

void RowsView::mouseReleaseEvent(QMouseEvent* event) {
  if (!pressed_) return;
  const double px = event->position().x() - pressed_->x();
  pressed_.reset();
  dragged_ = 0;
  const Fit* fit = listener_.found();
  if (fit == nullptr || std::abs(px) < 3) return update();
  Q_EMIT movedBeat(px / shown().axis.pxPerQuarter() * fit->grid.line.periodAt(0));
}

void RowsView::wheelEvent(QWheelEvent* event) {
  top_ = shown().heldTop(top_ + (event->angleDelta().y() < 0 ? 2 : -2));
  update();
  event->accept();
}

void RowsView::keyPressEvent(QKeyEvent* event) {
  const QString text = event->text();
  const bool plain =
      (event->modifiers() & ~(Qt::ShiftModifier | Qt::KeypadModifier)) == Qt::NoModifier;
  if (plain && event->key() != Qt::Key_Z && event->key() != Qt::Key_L && text.size() == 1 &&
      text[0].isLetterOrNumber()) {
    const bool shift = (event->modifiers() & Qt::ShiftModifier) != 0;
    return Q_EMIT keyed(shift ? text[0].toUpper() : text[0].toLower());
  }
  const Fit* fit = listener_.found();
  if (fit == nullptr) return QWidget::keyPressEvent(event);
  const auto walk = [&](std::int64_t by) {
    current_ = std::clamp(current_ + by, first_, last_);
    if ((event->modifiers() & Qt::ShiftModifier) == 0) anchor_ = current_;
    show(current_);
    read();
  };
  switch (event->key()) {
    case Qt::Key_Down:
      return walk(1);
    case Qt::Key_Up:
      return walk(-1);
    case Qt::Key_Right:
      return walkStrokes(1);
    case Qt::Key_Left:
      return walkStrokes(-1);
    case Qt::Key_Comma:
      return Q_EMIT movedBeat(-0.001);
    case Qt::Key_Period:
      return Q_EMIT movedBeat(0.001);
    case Qt::Key_Less:
      return Q_EMIT movedBeat(-0.010);
    case Qt::Key_Greater:
      return Q_EMIT movedBeat(0.010);
    case Qt::Key_L:
      if (stroke_ && *stroke_ < fit->placed.size())
        listener_.leaveOut(*stroke_, listener_.recording()->onsets[*stroke_].used);
      return;
    case Qt::Key_PageDown:
      return walk(shown().shown);
    case Qt::Key_PageUp:
      return walk(-shown().shown);
    case Qt::Key_Z:
      return setZoomed(!zoomed_);
    case Qt::Key_Return:
    case Qt::Key_Enter:
      return makeBarOne(current_);
    case Qt::Key_Delete: {
      const auto [from, to] = chosenBars();
      bool used = false;
      for (std::size_t i = 0; i < fit->placed.size(); ++i) {
        const std::int64_t bar = fit->placed[i].bar;
        used = used || (bar >= from && bar <= to && listener_.recording()->onsets[i].used);
      }
      return listener_.leaveOutBars(from, to, used);
    }
    default:
      break;
  }
  QWidget::keyPressEvent(event);
}

QString RowsView::tipAt(QPointF point) {
  return point.x() < TakeRows::kLeft
             ? tr("Click: this bar is bar 1 (Enter). Delete leaves it out.")
             : tr("A row is a bar, a mark a stroke where it was found, a line where the feel puts "
                  "the slot. A click on a mark leaves it out; drag the counts to move the beat.");
}

}  // namespace uneven
