// SPDX-License-Identifier: GPL-3.0-or-later
// Painting sticks.
#include "app/drawing/stick_painter.h"

#include <QPainter>
#include <set>
#include <tuple>

#include "app/controls/theme.h"
#include "core/base/number.h"

namespace uneven {
namespace {

double stickWidth(Role role) {
  switch (role) {
    case Role::kAccent:
      return 3;
    case Role::kNormal:
      return 2.2;
    case Role::kGhost:
    case Role::kGrace:
      return 1.4;
  }
  return 2;
}

void paintHead(QPainter& p, const StickShape& stick, const QColor& color) {
  const QPointF head = qp(stick.head);
  p.setPen(Qt::NoPen);
  p.setBrush(color);
  switch (stick.role) {
    case Role::kAccent: {
      const double r = 6;
      p.drawPolygon(QPolygonF(
          {head + QPointF(0, -r - 1), head + QPointF(r, r - 1), head + QPointF(-r, r - 1)}));
      break;
    }
    case Role::kNormal:
      p.drawEllipse(head, 4.2, 4.2);
      break;
    case Role::kGhost:
      p.setPen(QPen(color, 1.5));
      p.setBrush(theme::kPaper);
      p.drawEllipse(head, 3.4, 3.4);
      break;
    case Role::kGrace:
      p.drawEllipse(head, 2.4, 2.4);
      break;
  }
}

// How it is struck: a bar for the rim, a cross for the cross-stick, a ring for the bell, an arc for
// the edge, a wave for the buzz, a step for the foot splash.
void paintStrokeMark(QPainter& p, const StickShape& stick, const QColor& color) {
  const QPointF head = qp(stick.head);
  p.setPen(QPen(color, 1.5));
  p.setBrush(Qt::NoBrush);
  switch (stick.stroke) {
    case StrokeKind::kNormal:
      break;
    case StrokeKind::kRimShot:
      p.drawLine(head + QPointF(-7, 8), head + QPointF(7, 8));
      break;
    case StrokeKind::kCrossStick:
      p.drawLine(head + QPointF(-6, 5), head + QPointF(6, 13));
      p.drawLine(head + QPointF(6, 5), head + QPointF(-6, 13));
      break;
    case StrokeKind::kBell:
      p.drawEllipse(head, 7, 7);
      break;
    case StrokeKind::kEdge:
      p.drawArc(QRectF(head.x() - 7, head.y() - 7, 14, 14), 200 * 16, 140 * 16);
      break;
    case StrokeKind::kBuzz: {
      QPolygonF wave;
      for (int i = 0; i < 5; ++i) wave << head + QPointF(i % 2 == 0 ? -4 : 4, 8 + 3 * i);
      p.drawPolyline(wave);
      break;
    }
    case StrokeKind::kSplash:
      p.drawPolyline(
          QPolygonF({head + QPointF(-7, 9), head + QPointF(0, 5), head + QPointF(7, 9)}));
      break;
  }
}

}  // namespace

void paintStick(QPainter& p, const StickShape& stick) {
  const QColor color = theme::limbColor(stick.limb);
  p.setPen(QPen(color, stickWidth(stick.role), Qt::SolidLine, Qt::RoundCap));
  p.drawLine(qp(stick.foot), qp(stick.head));
  paintHead(p, stick, color);
  if (stick.part == 0) paintStrokeMark(p, stick, color);
}

QRectF around(const StickShape& stick) {
  return QRectF(qp(stick.head), qp(stick.foot)).normalized().adjusted(-8, -9, 8, 5);
}

void paintChosen(QPainter& p, const QRectF& around, bool selected) {
  p.setPen(QPen(selected ? theme::kChosenEdge : theme::kLine, 1));
  p.setBrush(selected ? theme::kChosen : QColor(Qt::transparent));
  p.drawRoundedRect(around, 4, 4);
}

void paintChange(QPainter& p, const StrikeScene& now, const StrikeScene* then,
                 const std::function<void(const StickShape&)>& draw) {
  if (then == nullptr) {
    for (const StickShape& stick : now.sticks) draw(stick);
    return;
  }
  // What can be told apart on the screen.
  using Drawn = std::tuple<HitRef, int, Velocity, Role, std::int64_t>;
  const auto drawn = [](const StickShape& s) {
    return Drawn{s.ref, s.part, s.velocity, s.role, roundToInt(2 * s.head.x)};
  };
  std::set<Drawn> before, after;
  for (const StickShape& stick : now.sticks) before.insert(drawn(stick));
  for (const StickShape& stick : then->sticks) after.insert(drawn(stick));
  for (const StickShape& stick : now.sticks) {
    p.setOpacity(after.contains(drawn(stick)) ? 1 : 0.22);
    draw(stick);
  }
  for (const StickShape& stick : then->sticks) {
    if (before.contains(drawn(stick))) continue;
    p.setOpacity(0.6);
    if (stick.part == 0)
      p.fillRect(QRectF(stick.foot.x - 6, stick.foot.y - 1, 12, 2.5), theme::kBrassEdge);
    draw(stick);
  }
  p.setOpacity(1);
}

}  // namespace uneven
