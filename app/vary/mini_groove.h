// SPDX-License-Identifier: GPL-3.0-or-later
// A groove as small sticks: hands above the line, feet below, what differs from its core in brass.
#pragma once

#include <QRectF>

#include "core/vary/variant.h"

class QPainter;

namespace uneven {

// The part of a groove that is shown: all of it up to two bars, else two bars from where it
// differs.
struct MiniSpan {
  Beat from, to;
};
MiniSpan miniSpan(const Groove& groove, const Changes& changes);

// `core` nullptr: nothing differs.
void paintMini(QPainter& p, const QRectF& rect, const Groove& groove, const Groove* core,
               const Kit& kit);

}  // namespace uneven
