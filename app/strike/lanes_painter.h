// SPDX-License-Identifier: GPL-3.0-or-later
// Painting the lanes: functions of a scene and what is selected.
#pragma once

#include <optional>

#include "app/strike/editing.h"
#include "layout/strike_scene.h"

class QPainter;

namespace uneven {

void paintLanes(QPainter& p, const StrikeScene& scene, const Editing& editing,
                const std::optional<HitRef>& hovered);
void paintCursor(QPainter& p, const StrikeScene& scene, Beat at, PieceId piece);
void paintBand(QPainter& p, const Rect& band);
void paintPlayhead(QPainter& p, const StrikeScene& scene, double quarters);

// A stick with its head, also for legends.
void paintStick(QPainter& p, const StickShape& stick);

}  // namespace uneven
