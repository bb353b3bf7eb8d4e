// SPDX-License-Identifier: GPL-3.0-or-later
// Painting what every view of bars has: lines, counts, names of lanes, focus, band and playhead.
#pragma once

#include <QRectF>
#include <QString>

#include "layout/bar_frame.h"

class QPainter;

namespace uneven {

// The grid's lines with their count names; straight time is marked where the swing has moved a
// line. Bars are named where no header does it.
enum class BarNames { kShown, kNone };
void paintBars(QPainter& p, const BarFrame& frame, BarNames names = BarNames::kShown);

// Left of the lines, beside a lane whose line lies at that y.
QRectF laneNameRect(double baseline);
void paintLaneName(QPainter& p, const QRectF& rect, const QString& name);

void paintFocus(QPainter& p, const QRectF& around);
void paintBand(QPainter& p, const Rect& band);
void paintPlayhead(QPainter& p, const BarFrame& frame, double quarters);

}  // namespace uneven
