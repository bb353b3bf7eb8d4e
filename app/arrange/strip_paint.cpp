// SPDX-License-Identifier: GPL-3.0-or-later
// How the strip is painted.
#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

#include "app/arrange/strip_view.h"
#include "app/controls/labels.h"
#include "app/controls/theme.h"
#include "app/drawing/stick_painter.h"
#include "core/base/number.h"

namespace uneven {
namespace {

constexpr double kNameFrom = 12;  // px: narrower sections have no name
constexpr int kStandsFrom = 30;   // px above a section: lower, its name is cut beside it

QColor mixed(const QColor& a, const QColor& b, double share) {
  const auto of = [share](int x, int y) { return qRound(std::lerp(x, y, share)); };
  return {of(a.red(), b.red()), of(a.green(), b.green()), of(a.blue(), b.blue())};
}

// A fill that rises from the ground to its top right, by columns. What is tall and not a rectangle
// of one plain colour is painted by several threads, which take longer to find together than the
// paint to spread.
constexpr double kNarrowFill = 12;  // px
void paintNarrowFill(QPainter& p, const QRectF& r, const QColor& ground, const QColor& color) {
  const auto yAt = [&](double x) {
    return qRound(r.bottom() - r.height() * (x - r.left()) / r.width());
  };
  for (int x = static_cast<int>(std::floor(r.left())); x < r.right(); ++x) {
    const double from = std::max<double>(x, r.left()), to = std::min<double>(x + 1, r.right());
    const int low = yAt(from), high = yAt(to);
    p.fillRect(x, low, 1, qRound(r.bottom()) - low, mixed(ground, color, to - from));
    p.fillRect(x, high, 1, low - high, mixed(ground, color, (to - from) / 2));
  }
}

// One for each feel, by its place in the song; the last one for none.
QColor tintOf(std::uint32_t feel) {
  static const QColor kTints[] = {{0xdc, 0xc9, 0x9e}, {0xb9, 0xc4, 0xcd}, {0xc6, 0xd1, 0xba},
                                  {0xdf, 0xc2, 0xb2}, {0xcb, 0xc1, 0xd2}, {0xd2, 0xd0, 0xa6}};
  return kTints[feel % std::size(kTints)];
}

}  // namespace

void StripView::paintShapes(QPainter& p, const SongStrip& s) {
  p.save();
  p.setClipRect(qr(s.shapes).adjusted(-2, -6, 2, 2));
  for (const StripSection& one : s.sections) {
    const QColor tint = tintOf(one.feel);
    // To whole pixels: the joints are painted over the sides.
    const double level = std::ceil(std::max(one.leftTop, one.rightTop));
    p.fillRect(QRect(QPoint(qRound(one.left), static_cast<int>(level)),
                     QPoint(qRound(one.right) - 1, qRound(s.shapes.bottom) - 1)),
               tint);
    QPolygonF slope;
    slope << QPointF(one.left, level) << QPointF(one.left, one.leftTop)
          << QPointF(one.right, one.rightTop) << QPointF(one.right, level);
    p.setPen(Qt::NoPen);
    p.setBrush(tint);
    p.drawPolygon(slope);
    p.setBrush(tint.darker(116));
    for (const auto& [from, to] : one.fills) {
      const auto top = [&](double x) {
        return std::lerp(one.leftTop, one.rightTop, (x - one.left) / (one.right - one.left));
      };
      if (to - from < kNarrowFill) {
        paintNarrowFill(p, QRectF(from, top(to), to - from, s.shapes.bottom - top(to)), tint,
                        tint.darker(116));
        continue;
      }
      QPolygonF fill;
      fill << QPointF(from, s.shapes.bottom) << QPointF(to, top(to))
           << QPointF(to, s.shapes.bottom);
      p.drawPolygon(fill);
    }
  }
  if (!band_.empty()) {
    const int most = std::max(1, *std::max_element(band_.begin(), band_.end()));
    QPainterPath line;
    for (std::size_t q = 0; q < band_.size(); ++q) {
      const double x = s.axis.xFromQuarters(static_cast<double>(q) + 0.5);
      if (x < s.shapes.left - 20 || x > s.shapes.right + 20) continue;
      const double y = s.shapes.bottom - 0.5 * s.shapes.height() * band_[q] / most;
      if (line.isEmpty()) {
        line.moveTo(x, y);
      } else {
        line.lineTo(x, y);
      }
    }
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(theme::kQuiet, 1, Qt::DotLine));
    p.drawPath(line);
  }
  for (const StripStick& stick : s.sticks) {
    QColor color = stick.limb == Limb::kAutomatic ? theme::kQuiet : theme::limbColor(stick.limb);
    color.setAlphaF(0.75F);
    p.setPen(QPen(color, 1));
    p.drawLine(QPointF(stick.x, s.shapes.bottom), QPointF(stick.x, s.shapes.bottom - stick.height));
  }
  p.setBrush(Qt::NoBrush);
  for (const StripSection& one : s.sections) {
    p.setPen(QPen(theme::kPaper, 2));
    p.drawLine(QPointF(one.right, one.rightTop), QPointF(one.right, s.shapes.bottom));
    if (one.section != arranging_.section()) continue;
    QPolygonF shape;
    shape << QPointF(one.left + 1, s.shapes.bottom) << QPointF(one.left + 1, one.leftTop)
          << QPointF(one.right - 1, one.rightTop) << QPointF(one.right - 1, s.shapes.bottom);
    p.setPen(QPen(theme::kInk, 2));
    p.drawPolygon(shape);
  }
  p.restore();
  p.setPen(QPen(theme::kLine, 1));
  p.drawLine(QPointF(s.shapes.left, s.shapes.bottom), QPointF(s.shapes.right, s.shapes.bottom));
}

void StripView::paintNames(QPainter& p, const SongStrip& s) {
  const Document& document = arranging_.document();
  const std::vector<Section>& sections = arranging_.sections();
  for (const StripSection& one : s.sections) {
    const double left = std::max(one.left, s.names.left),
                 right = std::min(one.right, s.names.right);
    if (right - left < kNameFrom) continue;
    const int wide = static_cast<int>(right - left) - 10;
    const bool chosen = one.section == arranging_.section();
    const QString name = qs(sections[one.section].name);
    p.setFont(theme::font(12, theme::Weight::kSemiBold));
    p.setPen(theme::kInk);
    // A name that is wider than its section stands on it.
    const int high = static_cast<int>(std::min(one.leftTop, one.rightTop) - s.shapes.top) - 8;
    const bool stands = high >= kStandsFrom && p.fontMetrics().horizontalAdvance(name) >
                                                   static_cast<int>(one.right - one.left) - 10;
    if (stands) {
      p.save();
      p.translate((left + right) / 2, s.shapes.top + high + 4);
      p.rotate(-90);
      p.drawText(QRectF(0, -9, high, 18), Qt::AlignLeft | Qt::AlignVCenter,
                 p.fontMetrics().elidedText(name, Qt::ElideMiddle, high));
      p.restore();
    }
    if (wide < 16) continue;
    if (!stands)
      p.drawText(QRectF(left + 5, s.names.top + 2, wide + 4, 18), Qt::AlignLeft | Qt::AlignVCenter,
                 p.fontMetrics().elidedText(name, Qt::ElideRight, wide));
    p.setFont(theme::font(11));
    p.setPen(theme::kQuiet);
    const QString bars = one.bars == 1 ? tr("1 bar") : tr("%1 bars").arg(one.bars);
    const auto& feels = document.song().feels;
    const QString feel = one.feel < feels.size() ? qs(feels[one.feel].name) : tr("straight");
    const QString both = tr("%1 · %2").arg(bars, feel);
    const bool fits = p.fontMetrics().horizontalAdvance(both) <= wide;
    if (p.fontMetrics().horizontalAdvance(bars) <= wide + 4)
      p.drawText(QRectF(left + 5, s.names.top + 19, wide + 4, 16), Qt::AlignLeft | Qt::AlignVCenter,
                 fits ? both : bars);
    if (!chosen) continue;
    p.fillRect(QRectF(left + 1, s.names.top, right - left - 2, 2), theme::kInk);
  }
}

void StripView::paintJoints(QPainter& p, const SongStrip& s) {
  p.setFont(theme::font(11));
  double last = -200;
  for (const StripJoint& joint : s.joints) {
    const bool jumps = joint.jump.count() > kJumpMost;
    const QColor color = jumps ? theme::kAttention : theme::limbColor(Limb::kRightFoot);
    const double top = s.shapes.top - 2;
    QPolygonF mark;
    mark << QPointF(joint.x - 6, top - 9) << QPointF(joint.x + 6, top - 9) << QPointF(joint.x, top);
    p.setPen(Qt::NoPen);
    p.setBrush(color);
    p.drawPolygon(mark);
    const QString text = joint.morph > Beat(0) && !jumps
                             ? tr("over %1 quarters").arg(joint.morph.toDouble())
                             : tr("jumps %1").arg(plainMs(joint.jump, 0));
    const double wide = p.fontMetrics().horizontalAdvance(text);
    const double left = std::clamp(joint.x - wide / 2, s.shapes.left, s.shapes.right - wide);
    if (left < last + 8) continue;
    last = left + wide;
    p.setPen(jumps ? theme::kAttention : theme::kQuiet);
    p.drawText(QRectF(left, top - 27, wide + 2, 16), Qt::AlignLeft | Qt::AlignVCenter, text);
  }
}

void StripView::paintTempo(QPainter& p, const SongStrip& s) {
  p.setFont(theme::font(13, theme::Weight::kSemiBold));
  p.setPen(theme::kInk);
  p.drawText(QRectF(s.tempo.left, s.tempo.top - 27, 200, 18), Qt::AlignLeft | Qt::AlignVCenter,
             tr("Tempo"));
  p.save();
  p.setClipRect(qr(s.tempo).adjusted(-6, -22, 10, 8));
  QPainterPath line;
  for (std::size_t i = 0; i < s.tempoLine.size(); ++i) {
    if (i == 0) {
      line.moveTo(qp(s.tempoLine[i]));
    } else {
      line.lineTo(qp(s.tempoLine[i]));
    }
  }
  p.setBrush(Qt::NoBrush);
  p.setPen(QPen(theme::kInk, 1.8));
  p.drawPath(line);
  p.setFont(theme::font(12, theme::Weight::kSemiBold));
  for (const StripTempo& mark : s.tempos) {
    p.setPen(QPen(theme::kInk, 1.6));
    p.setBrush(mark.ramp ? theme::kBrass : theme::kPaper);
    p.drawEllipse(qp(mark.point), 4, 4);
    if (!mark.labelled) continue;
    const bool right = mark.point.x > s.tempo.right - 40;
    p.drawText(QRectF(right ? mark.point.x - 60 : mark.point.x + 3, mark.point.y - 21, 60, 16),
               (right ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignVCenter,
               numberText(mark.bpm, mark.bpm == roundedTo(mark.bpm, 1) ? 0 : 1));
  }
  p.restore();
}

void StripView::paintLanes(QPainter& p, const SongStrip& s) {
  const double top = s.lanesArea.top;
  p.setFont(theme::font(13, theme::Weight::kSemiBold));
  p.setPen(theme::kInk);
  p.drawText(QRectF(s.lanesArea.left, top, 300, 18), Qt::AlignLeft | Qt::AlignVCenter,
             tr("Who plays"));
  p.setFont(theme::font(11, theme::Weight::kSemiBold));
  for (const StripLane& lane : s.lanes) {
    const QColor color = theme::limbColor(lane.limb);
    double clear = -1;  // text stands up to there
    for (const StripLane::Run& run : lane.runs) {
      double left = run.left;
      if (!run.piece.empty()) {
        const QString name = qs(run.piece).toLower();
        const double wide = p.fontMetrics().horizontalAdvance(name) + 8;
        const double from = std::max(run.left, clear);
        if (from + wide <= std::min(s.lanesArea.right, std::max(run.right, run.left + wide))) {
          p.setPen(color);
          p.drawText(QRectF(from + 2, lane.y - 9, wide, 18), Qt::AlignLeft | Qt::AlignVCenter,
                     name);
          clear = from + wide;
        }
      }
      left = std::max(left, clear);
      if (run.thickness <= 0 || run.right <= left) continue;
      p.fillRect(QRectF(left, lane.y - run.thickness / 2, run.right - left, run.thickness), color);
    }
  }
}

}  // namespace uneven
