// SPDX-License-Identifier: GPL-3.0-or-later
// Painting small sticks.
#include "app/drawing/mini_groove.h"

#include <QPainter>

#include "app/controls/theme.h"
#include "app/drawing/stick_painter.h"

namespace uneven {

void paintMini(QPainter& p, const QRectF& rect, const Groove& groove, const Groove* core,
               const Kit& kit, int bars) {
  paintMini(
      p, rect,
      miniScene(groove, core, kit, {rect.left(), rect.top(), rect.right(), rect.bottom()}, bars));
}

void paintMini(QPainter& p, const QRectF& rect, const MiniScene& scene) {
  p.setPen(QPen(theme::kLine, 1));
  p.drawLine(QPointF(rect.left(), scene.line), QPointF(rect.right(), scene.line));
  for (const double x : scene.bars) p.drawLine(QPointF(x, rect.top()), QPointF(x, rect.bottom()));
  for (const MiniStick& stick : scene.sticks) {
    const double pen = stick.differs ? 3.2 : stick.role == Role::kAccent ? 2.4 : 1.4;
    p.setPen(QPen(stick.differs ? theme::kBrass : theme::limbColor(stick.limb), pen));
    p.drawLine(qp(stick.foot), qp(stick.head));
  }
  p.setPen(QPen(theme::kBrassEdge, 1.4));
  for (const Point& at : scene.gone) p.drawEllipse(qp(at), 2.2, 2.2);
}

}  // namespace uneven
