// SPDX-License-Identifier: GPL-3.0-or-later
// The Open stage as shapes: the hats' strokes above, the gap between the cymbals in the middle, the
// foot below.
//
//   y = band.bottom - band.height * opening
//
// A scene is made from a take of a groove and holds no reference to it.
#pragma once

#include <optional>
#include <vector>

#include "core/perform/hat_pedal.h"
#include "layout/strike_scene.h"

namespace uneven {

struct OpenViewport {
  Size size;
  int firstBar = 0;
  int bars = 2;
};

struct HatStrokeShape {
  HitRef ref;
  double x = 0;
  double height = 0;  // of its stick
  double opening = 0;
  Role role = Role::kNormal;
  Limb limb = Limb::kAutomatic;
  bool part = false;   // of an ornament
  bool loose = false;  // meant to be shut and is not
};

// An opening that can be taken by hand: a hit's or a drawn move's.
struct OpeningGrip {
  HitRef hit;                       // of a hit
  std::optional<std::size_t> move;  // index into the pedal's moves, of a drawn one
  double from = 0;
  double to = 0;
  double y = 0;
};

struct FootMark {
  double x = 0;
  double depth = 0;  // pixels
  FootSoundKind sound = FootSoundKind::kChick;
  bool masked = false;
};

// One slot of the pump's unit: pressed or not.
struct PumpSlot {
  double x = 0;
  int inBar = 0;  // which of its bar, from 0
  bool pressed = false;
};

struct OpenScene : BarFrame {
  Rect strokes;  // sticks stand on its bottom
  Rect band;
  Rect feet;                // marks hang from its top
  std::vector<Point> edge;  // of the upper cymbal, left to right over the whole width
  std::vector<HatStrokeShape> hits;
  std::vector<OpeningGrip> grips;
  std::vector<FootMark> marks;
  std::vector<PumpSlot> pump;  // of the groove's pump, or of eighths where it has none
  double pumpY = 0;

  double yOf(double opening) const { return band.bottom - band.height() * opening; }
  double openingAt(double y) const;  // held to 0..1
};

// Of a groove alone (Take::ofGroove).
OpenScene openScene(const Take& take, const OpenViewport& viewport);

// What lies under a point of the band: the end of an opening, or its height.
struct GripHit {
  std::size_t grip = 0;
  bool end = false;
};
std::optional<GripHit> gripAt(const OpenScene& scene, Point p);
// The pump's slot under a point.
std::optional<std::size_t> pumpSlotAt(const OpenScene& scene, Point p);
// The hand's stroke nearest to x; nothing when there is none.
std::optional<std::size_t> hatStrokeAt(const OpenScene& scene, double x);
// The written position whose line or stroke is nearest to x; the end of what is shown counts.
Beat slotNear(const OpenScene& scene, double x);

}  // namespace uneven
