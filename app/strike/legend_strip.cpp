// SPDX-License-Identifier: GPL-3.0-or-later
// The legend strip.
#include "app/strike/legend_strip.h"

#include <QMouseEvent>
#include <QPainter>
#include <QWheelEvent>
#include <algorithm>
#include <cmath>

#include "app/controls/labels.h"
#include "app/controls/theme.h"
#include "app/drawing/stick_painter.h"

namespace uneven {
namespace {

constexpr double kScaleEnd = 40;  // dB
constexpr double kScaleWidth = 110;
constexpr double kGripReach = 5;
constexpr double kWheelStep = 1;  // dB

}  // namespace

double LegendStrip::Gauge::x(double db) const {
  return scale.left() + scale.width() * std::clamp(db / kScaleEnd, 0.0, 1.0);
}

double LegendStrip::Gauge::decibelsAt(double x) const {
  return kScaleEnd * std::clamp((x - scale.left()) / scale.width(), 0.0, 1.0);
}

LegendStrip::LegendStrip(Editing& editing, LanesView& lanes, QWidget* parent)
    : QWidget(parent), editing_(editing), lanes_(lanes) {
  setObjectName(QStringLiteral("legend"));
  setFixedHeight(64);
  setToolTip(
      tr("Separation: the level of the accents over the ghosts of one piece, from their "
         "medians, in dB. Drag the dot or turn the wheel to move all its ghosts together (with "
         "Shift its accents); drag an edge of the marked range to move the aim"));
  connect(&editing_.document(), &Document::changed, this, [this] { update(); });
  connect(&lanes_, &LanesView::viewportChanged, this, [this] { update(); });
}

QString LegendStrip::separationText() const {
  QStringList out;
  for (const Separation& s : separations(editing_.groove())) {
    out << QStringLiteral("%1 %2").arg(
        QString::fromStdString((*editing_.document().song().kit)[s.piece].name),
        decibels(s.difference));
  }
  return out.join(QStringLiteral(", "));
}

bool LegendStrip::inAim(const Separation& s) const {
  const SeparationAim aim = editing_.document().song().aim;
  return s.difference.value >= aim.low && s.difference.value <= aim.high;
}

QRectF LegendStrip::upperHalf() const {
  const QRectF room = QRectF(rect()).adjusted(20, 2, -20, -4);
  return {room.left(), room.top(), room.width(), room.height() / 2};
}

std::vector<LegendStrip::Gauge> LegendStrip::gauges() const {
  const QRectF room = upperHalf();
  const SeparationAim aim = editing_.document().song().aim;
  const QFontMetricsF quiet(theme::font(12));
  const QFontMetricsF strong(theme::font(13, theme::Weight::kSemiBold));
  double x = room.left() + quiet.horizontalAdvance(tr("Accents over ghosts")) + 16;
  std::vector<Gauge> out;
  for (const Separation& s : separations(editing_.groove())) {
    if (x + 280 > room.right()) break;
    Gauge gauge;
    gauge.separation = s;
    gauge.name = QString::fromStdString((*editing_.document().song().kit)[s.piece].name);
    gauge.nameX = x;
    x += strong.horizontalAdvance(gauge.name) + 10;
    gauge.scale = QRectF(x, room.top(), kScaleWidth, room.height());
    x += kScaleWidth + 10;
    gauge.readingX = x;
    gauge.reading = decibels(s.difference);
    if (!inAim(s)) {
      gauge.reading +=
          s.difference.value < aim.low ? tr(", ghosts too loud") : tr(", ghosts very soft");
    }
    x += strong.horizontalAdvance(gauge.reading) + 26;
    out.push_back(std::move(gauge));
  }
  return out;
}

std::optional<QPointF> LegendStrip::dotOf(PieceId piece) const {
  for (const Gauge& gauge : gauges()) {
    if (gauge.separation.piece != piece) continue;
    return QPointF(gauge.x(gauge.separation.difference.value), gauge.scale.center().y());
  }
  return std::nullopt;
}

std::pair<QPointF, QPointF> LegendStrip::aimEdges() const {
  const auto all = gauges();
  if (all.empty()) return {};
  const SeparationAim aim = editing_.document().song().aim;
  const double y = all.front().scale.center().y();
  return {QPointF(all.front().x(aim.low), y), QPointF(all.front().x(aim.high), y)};
}

void LegendStrip::setSeparation(const Gauge& gauge, const Groove& before, double wanted,
                                bool accents, Merge merge) {
  const double now = gauge.separation.difference.value;
  const double db = accents ? wanted - now : now - wanted;
  const std::string piece = (*editing_.document().song().kit)[gauge.separation.piece].id;
  const Result<ToolOutcome> outcome = uneven::runTool(
      accents ? "accent-height" : "ghost-depth", before, *editing_.document().song().kit,
      {{"piece", piece}, {"db", std::to_string(std::clamp(db, -40.0, 40.0))}});
  if (!outcome) return Q_EMIT editing_.said(QString::fromStdString(outcome.error().message));
  QString step = accents ? tr("%1 accents %2") : tr("%1 ghosts %2");
  step = step.arg(gauge.name, (db > 0 ? QStringLiteral("+") : QString()) + decibels({db}));
  // A bound that held some of them back is told.
  if (outcome->notes.size() > 1) step += QStringLiteral(", ") + qs(outcome->notes.back());
  editing_.document().apply(step, withGroove(editing_.document().song(), outcome->groove), merge);
}

void LegendStrip::mousePressEvent(QMouseEvent* event) {
  const QPointF p = event->position();
  const SeparationAim aim = editing_.document().song().aim;
  for (const Gauge& gauge : gauges()) {
    if (!gauge.scale.adjusted(-kGripReach, 0, kGripReach, 0).contains(p)) continue;
    const auto near = [&](double db) { return std::abs(gauge.x(db) - p.x()) <= kGripReach; };
    // The dot lies over the edges.
    Grip grip = Grip::kLevels;
    if (!near(gauge.separation.difference.value)) {
      if (near(aim.low)) grip = Grip::kAimLow;
      if (near(aim.high)) grip = Grip::kAimHigh;
    }
    gesture_.emplace(editing_.document());
    drag_ = Drag{grip, gauge, editing_.groove()};
    return;
  }
}

void LegendStrip::mouseMoveEvent(QMouseEvent* event) {
  if (!drag_) return;
  const double db = drag_->gauge.decibelsAt(event->position().x());
  SeparationAim aim = editing_.document().song().aim;
  switch (drag_->grip) {
    case Grip::kLevels:
      return setSeparation(drag_->gauge, drag_->before, db,
                           (event->modifiers() & Qt::ShiftModifier) != 0, gesture_->merge());
    case Grip::kAimLow:
      aim.low = std::min(db, aim.high);
      break;
    case Grip::kAimHigh:
      aim.high = std::max(db, aim.low);
      break;
  }
  editing_.grooves().setAim(aim, gesture_->merge());
}

void LegendStrip::mouseReleaseEvent(QMouseEvent* /*event*/) {
  gesture_.reset();
  drag_.reset();
}

void LegendStrip::wheelEvent(QWheelEvent* event) {
  static const int key = Document::newMergeKey();
  // With Shift some desktops turn the wheel sideways.
  const int turned = event->angleDelta().y() + event->angleDelta().x();
  for (const Gauge& gauge : gauges()) {
    if (!gauge.scale.contains(event->position())) continue;
    const double wanted =
        gauge.separation.difference.value + (turned > 0 ? kWheelStep : -kWheelStep);
    setSeparation(gauge, editing_.groove(), wanted, (event->modifiers() & Qt::ShiftModifier) != 0,
                  {key, true});
    break;
  }
  event->accept();
}

void LegendStrip::paintSeparations(QPainter& p, QRectF room) const {
  p.setPen(theme::kQuiet);
  p.setFont(theme::font(12));
  const QString title = tr("Accents over ghosts");
  p.drawText(room, Qt::AlignLeft | Qt::AlignVCenter, title);
  const auto all = gauges();
  if (all.empty()) {
    p.drawText(room.adjusted(QFontMetricsF(p.font()).horizontalAdvance(title) + 16, 0, 0, 0),
               Qt::AlignLeft | Qt::AlignVCenter,
               tr("no piece has both: choose hits and press A for accents, G for ghosts"));
    return;
  }
  const SeparationAim aim = editing_.document().song().aim;
  for (const Gauge& gauge : all) {
    p.setPen(theme::kInk);
    p.setFont(theme::font(13, theme::Weight::kSemiBold));
    p.drawText(QRectF(gauge.nameX, room.top(), 120, room.height()),
               Qt::AlignLeft | Qt::AlignVCenter, gauge.name);
    const double middle = room.center().y();
    p.fillRect(
        QRectF(QPointF(gauge.x(aim.low), middle - 7), QPointF(gauge.x(aim.high), middle + 7)),
        theme::kChosen);
    p.fillRect(QRectF(gauge.scale.left(), middle - 1, gauge.scale.width(), 2), theme::kLine);
    const QColor color = inAim(gauge.separation) ? theme::kInk : theme::kAttention;
    p.setPen(Qt::NoPen);
    p.setBrush(color);
    p.drawEllipse(QPointF(gauge.x(gauge.separation.difference.value), middle), 4, 4);
    p.setPen(color);
    p.drawText(QRectF(gauge.readingX, room.top(), 220, room.height()),
               Qt::AlignLeft | Qt::AlignVCenter, gauge.reading);
  }
}

void LegendStrip::paintLegend(QPainter& p, QRectF room) const {
  p.setPen(theme::kQuiet);
  p.setFont(theme::font(12));
  const QString text = tr("Height is velocity. Lean is how late (right) or early (left).");
  p.drawText(room, Qt::AlignLeft | Qt::AlignVCenter, text);
  double x = room.left() + QFontMetricsF(p.font()).horizontalAdvance(text) + 18;
  const double lean = 20 * lanes_.pxPerMs();
  if (lean <= 60) {
    StickShape sample;
    sample.foot = {x, room.bottom() - 3};
    sample.head = {x + lean, room.top() + 5};
    sample.role = Role::kGrace;
    p.setPen(QPen(theme::kLine, 1));
    p.drawLine(QPointF(x, room.bottom() - 3), QPointF(x, room.top() + 4));
    paintStick(p, sample);
    x += lean + 8;
    p.setPen(theme::kQuiet);
    p.drawText(QRectF(x, room.top(), 60, room.height()), Qt::AlignLeft | Qt::AlignVCenter,
               tr("20 ms"));
    x += 60;
  }
  const std::pair<Limb, QString> limbs[] = {{Limb::kRightHand, tr("right hand")},
                                            {Limb::kLeftHand, tr("left hand")},
                                            {Limb::kRightFoot, tr("right foot")},
                                            {Limb::kLeftFoot, tr("left foot")}};
  for (const auto& [limb, name] : limbs) {
    const double width = QFontMetricsF(p.font()).horizontalAdvance(name);
    if (x + 18 + width > room.right()) break;
    p.fillRect(QRectF(x, room.center().y() - 2, 12, 4), theme::limbColor(limb));
    p.setPen(theme::kQuiet);
    p.drawText(QRectF(x + 18, room.top(), width + 4, room.height()),
               Qt::AlignLeft | Qt::AlignVCenter, name);
    x += width + 36;
  }
}

void LegendStrip::paintEvent(QPaintEvent* /*event*/) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const QRectF room = QRectF(rect()).adjusted(20, 2, -20, -4);
  const double half = room.height() / 2;
  paintSeparations(p, upperHalf());
  paintLegend(p, QRectF(room.left(), room.top() + half, room.width(), half));
}

}  // namespace uneven
