// SPDX-License-Identifier: GPL-3.0-or-later
// Painting the lanes: functions of a scene and what is selected.
#pragma once

#include <map>
#include <optional>

#include "app/drawing/bar_painter.h"
#include "app/edit/editing.h"
#include "layout/strike_scene.h"

class QPainter;

namespace uneven {

struct LanesPicture {
  const StrikeScene& scene;
  const StrikeScene* preview = nullptr;  // what a tool would make of it
  const Editing& editing;
  std::optional<HitRef> hovered;
  bool stepEntry = false;                         // shows the letter of each piece
  const std::map<HitRef, Limb>* hands = nullptr;  // as computed; nullptr: not known at the moment
};
void paintLanes(QPainter& p, const LanesPicture& picture);
void paintCursor(QPainter& p, const StrikeScene& scene, const Editing& editing);

}  // namespace uneven
