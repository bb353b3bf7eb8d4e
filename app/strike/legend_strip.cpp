// SPDX-License-Identifier: GPL-3.0-or-later
// The legend strip.
#include "app/strike/legend_strip.h"

#include <QPainter>

#include "app/shell/labels.h"
#include "app/shell/theme.h"
#include "app/strike/lanes_painter.h"
#include "core/measure/level.h"

namespace uneven {
namespace {

// Where ghosts usually lie under their accents (common practice); becomes adjustable with the tools
// for levels.
constexpr double kAimLow = 18;
constexpr double kAimHigh = 28;
constexpr double kScaleEnd = 40;

bool inAim(const Separation& s) {
  return s.difference.value >= kAimLow && s.difference.value <= kAimHigh;
}

}  // namespace

LegendStrip::LegendStrip(Editing& editing, LanesView& lanes, QWidget* parent)
    : QWidget(parent), editing_(editing), lanes_(lanes) {
  setFixedHeight(64);
  setToolTip(
      tr("Separation: the level of the accents over the ghosts of one piece, from their "
         "medians, in dB. The aim is 18 to 28 dB"));
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

void LegendStrip::paintSeparations(QPainter& p, QRectF room) const {
  p.setPen(theme::kQuiet);
  p.setFont(theme::font(12));
  const QString title = tr("Accents over ghosts");
  p.drawText(room, Qt::AlignLeft | Qt::AlignVCenter, title);
  double x = room.left() + QFontMetricsF(p.font()).horizontalAdvance(title) + 16;
  const auto found = separations(editing_.groove());
  if (found.empty()) {
    p.drawText(QRectF(x, room.top(), room.right() - x, room.height()),
               Qt::AlignLeft | Qt::AlignVCenter,
               tr("no piece has both: choose hits and press A for accents, G for ghosts"));
    return;
  }
  for (const Separation& s : found) {
    if (x + 280 > room.right()) break;
    const QString name = QString::fromStdString((*editing_.document().song().kit)[s.piece].name);
    p.setPen(theme::kInk);
    p.setFont(theme::font(13, theme::Weight::kSemiBold));
    p.drawText(QRectF(x, room.top(), 80, room.height()), Qt::AlignLeft | Qt::AlignVCenter, name);
    x += QFontMetricsF(p.font()).horizontalAdvance(name) + 10;
    const double width = 110;
    const double middle = room.center().y();
    const auto at = [&](double db) { return x + width * std::clamp(db / kScaleEnd, 0.0, 1.0); };
    p.fillRect(QRectF(QPointF(at(kAimLow), middle - 7), QPointF(at(kAimHigh), middle + 7)),
               theme::kChosen);
    p.fillRect(QRectF(x, middle - 1, width, 2), theme::kLine);
    const QColor color = inAim(s) ? theme::kInk : theme::kAttention;
    p.setPen(Qt::NoPen);
    p.setBrush(color);
    p.drawEllipse(QPointF(at(s.difference.value), middle), 4, 4);
    x += width + 10;
    p.setPen(color);
    p.setFont(theme::font(13, theme::Weight::kSemiBold));
    const QString text =
        decibels(s.difference) + (inAim(s)                       ? QString()
                                  : s.difference.value < kAimLow ? tr(", ghosts too loud")
                                                                 : tr(", ghosts very soft"));
    p.drawText(QRectF(x, room.top(), 200, room.height()), Qt::AlignLeft | Qt::AlignVCenter, text);
    x += QFontMetricsF(p.font()).horizontalAdvance(text) + 26;
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
  paintSeparations(p, QRectF(room.left(), room.top(), room.width(), half));
  paintLegend(p, QRectF(room.left(), room.top() + half, room.width(), half));
}

}  // namespace uneven
