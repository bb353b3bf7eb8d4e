// SPDX-License-Identifier: GPL-3.0-or-later
// Tempos as a staircase, each time through as a dot on its step; and what was played as sticks that
// lean from where they should be.
//
//   height of a step = most * (0.18 + 0.82 * (bpm - first) / (last - first))
//   head.x = foot.x + pxPerMs * late, held to kLeanMost      head.y = foot.y - room * velocity /
//   127
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/rehearse/alignment.h"
#include "layout/geometry.h"

namespace uneven {

struct Stair {
  Rect rect;
  double bpm = 0;
  bool labelled = false;    // there is room for its number
  std::vector<Point> dots;  // from below, left to right: the latest that have room
  int more = 0;             // times before those
};
// `times`: how many there are of each rung; `labelWidth`: px of a tempo's number.
std::vector<Stair> stairsOf(const std::vector<double>& rungs, const std::vector<int>& times,
                            const Rect& area, double labelWidth);
// Under a point; nothing: none.
std::optional<std::size_t> stairAt(const std::vector<Stair>& stairs, Point p);

struct PlayedStick {
  Point foot, head;
  PlayedState state = PlayedState::kPlayed;
  Limb limb = Limb::kAutomatic;
  Role role = Role::kNormal;
  std::size_t stroke = 0;  // of the alignment
};
struct PlayedLine {
  double x = 0;
  std::string count;  // of a count; empty: a division
  bool bar = false;
};
struct PlayedScene {
  std::vector<PieceId> lanes;     // from top to bottom
  std::vector<double> baselines;  // of each
  std::vector<PlayedStick> sticks;
  std::vector<PlayedLine> lines;
  int firstBar = 0, bars = 0;  // of the time through that are shown
  double pxPerMs = 1;
};
inline constexpr double kLeanMost = 34;  // px
inline constexpr int kPlayedBars = 4;    // as many are shown at once
// `groove`: what was played, a time through `rounds` of it; `firstBar` of it to be shown.
PlayedScene playedScene(const Groove& groove, const Kit& kit, int rounds,
                        const Alignment* alignment, int firstBar, const Rect& area);

}  // namespace uneven
