// SPDX-License-Identifier: GPL-3.0-or-later
// The Strike stage as shapes: lanes, the bent grid, sticks and the hats' wedges.
//
// A stick's foot stands at the swung grid time on its piece's line; its height is its velocity and
// its head leans right when the stroke is late and left when it is early:
//
//   head.x = foot.x + pxPerMs * (time - grid)      head.y = foot.y - room * velocity / 127
//
// A scene is made from a take of a groove and holds no reference to it.
#pragma once

#include <vector>

#include "core/song/edit.h"
#include "core/take/take.h"
#include "layout/bar_frame.h"
#include "layout/bar_table.h"

namespace uneven {

struct StrikeViewport {
  Size size;
  int firstBar = 0;            // of the groove, from 0
  int bars = 2;                // shown at once
  double pxPerMs = 1;          // of the lean
  std::vector<PieceId> lanes;  // from top to bottom
  std::vector<PieceId> tall;   // lanes with the room of struck ones though the groove has no hit
  bool byLimb = false;         // four lanes, one a limb, in place of `lanes`
  bool operator==(const StrikeViewport&) const = default;
};

struct LaneShape {
  PieceId piece;                 // of a limb's lane: the piece that the limb strikes most
  Limb limb = Limb::kAutomatic;  // of a limb's lane
  double top = 0;
  double baseline = 0;
  double room = 0;  // height of a stick of velocity 127
};

struct StickShape {
  HitRef ref;
  Point foot;
  Point head;
  Velocity velocity;
  Role role = Role::kNormal;
  Limb limb = Limb::kAutomatic;
  StrokeKind stroke = StrokeKind::kNormal;
  std::uint8_t part = 0;  // 0 the hit itself, else a stroke of its ornament
  bool foreign = false;   // on a limb's lane: not the lane's own piece
  Milliseconds lean{0};
};

// An opening of the hats along the lane, from shut to shut: the pedal's path as a line over the
// baseline.
struct WedgeShape {
  std::vector<Point> edge;  // left to right, the first and last on the baseline
  double baseline = 0;
};

struct StrikeScene : BarFrame {
  std::vector<LaneShape> lanes;
  std::vector<StickShape> sticks;
  std::vector<WedgeShape> wedges;
};

// The rows of its table.
std::vector<BarRow> barRows(const StrikeScene& scene);

// The room of lanes in a view of that size.
Rect laneArea(Size size);

// Of a groove alone (Take::ofGroove).
StrikeScene strikeScene(const Take& take, const StrikeViewport& viewport);

// The lanes a groove is edited in, in the player's order: the pieces that are shown and every piece
// that it strikes; or all.
std::vector<PieceId> lanesFor(const Groove& groove, const Kit& kit, bool all);

}  // namespace uneven
