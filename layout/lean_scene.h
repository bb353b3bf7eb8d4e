// SPDX-License-Identifier: GPL-3.0-or-later
// The lean map as shapes: one bar across on the straight grid, one row a piece, and each stroke a
// stick that leans from its straight time to where it is struck:
//
//   foot.x = straight      head.x = foot.x + pxPerMs * (struck - straight)
//
// Above the rows lies the bar's template: what each slot adds for all pieces, late upwards. A scene
// holds no reference to what it is made from.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/match/compare.h"
#include "core/measure/timing_table.h"
#include "layout/strike_scene.h"

namespace uneven {

struct LeanViewport {
  Size size;
  int bar = 0;           // of the groove, from 0
  double pxPerMs = 1.2;  // of the lean
};

struct LeanRow {
  PieceId piece;
  double top = 0;
  double baseline = 0;
  double room = 0;  // height of a stick of velocity 127
  Milliseconds displacement{0};
};

struct LeanStick {
  HitRef ref;
  std::size_t row = 0;
  Point foot;
  Point head;                  // without drift
  double swungX = 0;           // where swing alone would put the head
  double band = 0;             // half the width of the drift's standard deviation
  std::optional<Point> other;  // the head under the feel it is compared with
  Role role = Role::kNormal;
  Limb limb = Limb::kAutomatic;
  StrokeKind stroke = StrokeKind::kNormal;
  TimingRow timing;
};

// A repetition of a stroke somewhere in the song, drift and all.
struct FaintStick {
  Point foot;
  Point head;
  Limb limb = Limb::kAutomatic;
};

struct LeanSlot {
  Beat inBar;
  double x = 0;
  double y = 0;  // of its point on the template
  Milliseconds shift{0};
  std::vector<double> ofPieces;  // y of what it adds for single pieces
};

struct LeanScene : BarFrame {  // whose lines are straight
  Rect rowsArea;
  Rect strip;  // of the template
  double stripPxPerMs = 1;
  std::vector<LeanSlot> slots;
  std::vector<LeanRow> rows;
  std::vector<LeanStick> sticks;
  std::vector<FaintStick> faint;
  std::vector<FaintStick> behind;  // of a recording
  std::vector<Point> theirsAlone;  // feet of those that the groove has nothing beside
};

// How many repetitions of a bar are shown, at most.
inline constexpr int kRepetitionsMost = 32;
inline constexpr std::size_t kBehindMost = 2'000;  // strokes of a recording

struct LeanSources {
  const Take& alone;                                  // of the groove
  const Take* song = nullptr;                         // for its repetitions, where it is there yet
  const Take* other = nullptr;                        // of the groove alone under another feel
  const std::vector<StrokeBehind>* behind = nullptr;  // a recording's, of the groove
};

LeanScene leanScene(const LeanSources& sources, const LeanViewport& viewport);

// The nearest stick within reach; the row whose name is at p; the slot whose point is at p.
std::optional<std::size_t> leanStickAt(const LeanScene& scene, Point p);
std::optional<std::size_t> leanRowAt(const LeanScene& scene, Point p);
std::optional<std::size_t> leanSlotAt(const LeanScene& scene, Point p);

}  // namespace uneven
