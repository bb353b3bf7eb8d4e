// SPDX-License-Identifier: GPL-3.0-or-later
// Small sticks, painted: what differs from the core in brass.
#pragma once

#include <QRectF>

#include "layout/mini_scene.h"

class QPainter;

namespace uneven {

// `scene` was laid out in `rect`.
void paintMini(QPainter& p, const QRectF& rect, const MiniScene& scene);
// As miniScene().
void paintMini(QPainter& p, const QRectF& rect, const Groove& groove, const Groove* core,
               const Kit& kit, int bars = kMiniBars);

}  // namespace uneven
