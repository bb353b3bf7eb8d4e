// SPDX-License-Identifier: GPL-3.0-or-later
// A groove as small sticks: hands above the line, feet below, what differs from its core in brass.
#pragma once

#include <QRectF>

#include "core/vary/variant.h"

class QPainter;

namespace uneven {

// The part of a groove that is shown: all of it up to so many bars, else that many from where it
// differs.
struct MiniSpan {
  Beat from, to;
};
inline constexpr int kMiniBars = 2;
MiniSpan miniSpan(const Groove& groove, const Changes& changes, int bars = kMiniBars);

// `core` nullptr: nothing differs.
void paintMini(QPainter& p, const QRectF& rect, const Groove& groove, const Groove* core,
               const Kit& kit, int bars = kMiniBars);

}  // namespace uneven
