// SPDX-License-Identifier: GPL-3.0-or-later
// Sticks, as every stage draws them.
#pragma once

#include <QRectF>
#include <functional>

#include "layout/strike_scene.h"

class QPainter;

namespace uneven {

inline QPointF qp(Point p) {
  return {p.x, p.y};
}
inline QRectF qr(const Rect& r) {
  return {r.left, r.top, r.width(), r.height()};
}
inline Point pointOf(QPointF p) {
  return {p.x(), p.y()};
}

// A stick with its head, also for legends.
void paintStick(QPainter& p, const StickShape& stick);
// The sticks; with `then`, what would go or change is faint, and what would come is faint on a
// plate. `draw` draws one.
void paintChange(QPainter& p, const StrikeScene& now, const StrikeScene* then,
                 const std::function<void(const StickShape&)>& draw);
// What lies around a stick.
QRectF around(const StickShape& stick);
// The frame around what is chosen, fainter around what the mouse is over.
void paintChosen(QPainter& p, const QRectF& around, bool selected = true);

}  // namespace uneven
