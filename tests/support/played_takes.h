// SPDX-License-Identifier: GPL-3.0-or-later
// Takes by a drummer who is not ours: patterns drawn by chance over classes, tempos and meters,
// with a clock that drifts, limbs of their own, fills, silences, tempos that move; computed here
// from DESIGN.md's words alone, without the product's groove, feel or body.
#pragma once

#include <map>
#include <optional>
#include <string>
#include <vector>

#include "core/match/onset.h"
#include "core/song/feel.h"
#include "core/time/meter.h"
#include "tests/support/random_song.h"

namespace uneven::testing {

enum class TempoKind : std::uint8_t { kSteady, kWaves, kSmallWaves, kStep, kRitardando };

struct PlayedTake {
  std::string kind;
  std::vector<Onset> onsets;
  double bpm = 0;  // quarters a minute over all of it
  Meter meter;
  SwingUnit unit = SwingUnit::kEighth;
  double ratio = 1;  // 1: straight
  bool moves = false;
  std::map<PieceId, double> lean;  // ms against the grid
  PieceId reference;               // the timekeeper
  std::vector<double> bars;        // s where bars begin in the grid
  std::vector<double> fair;        // times the tempo: other pulses that may be told as well
  std::vector<Meter> fairMeters;
};

// The classes, in a fixed order.
std::vector<std::string> playedKinds();
// `seed` draws pattern, tempo and body. Ratio and tempo may be given.
PlayedTake playedTake(const std::string& kind, unsigned seed, int bars = 16);

// How far strokes lie from the nearest of the same piece in another list, ms; those with none
// within 60 ms are left out. -1 where there are none.
double rmsBetween(const std::vector<Onset>& laid, const std::vector<Onset>& played);

// What is right of what is told.
struct PlayedAnswer {
  double bpm = 0;
  Meter meter;
  SwingUnit unit = SwingUnit::kEighth;
  double ratio = 1;
};
bool rightPulse(const PlayedTake& take, double bpm);
bool rightMeter(const PlayedTake& take, const PlayedAnswer& told);
bool rightSwing(const PlayedTake& take, const PlayedAnswer& told);

}  // namespace uneven::testing
