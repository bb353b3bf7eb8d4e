// SPDX-License-Identifier: GPL-3.0-or-later
// What is played: strokes in time.
//
// For each stroke
//
//   grid = tempo(swing(written position))      time = grid + displacement + drift
//
// in whole nanoseconds from the song's start (displacement.h, drift.h). A stroke that would pass
// its neighbour on the same piece is held beside it (hold.h). A pushed stroke on the first beat has
// a negative time. The strokes of an ornament before its main stroke stand on the main stroke's
// grid; they never fall before the stroke before them on the same piece: their gaps are squeezed. A
// stroke of the hand on the hats takes its opening from the pedal's path (hat_pedal.h) at its time.
// Strokes are in order of time, then of the piece's id as text, then of velocity. Threads: a plain
// value, safe to read from anywhere; performing a song allocates.
#pragma once

#include <cstdint>
#include <functional>
#include <stop_token>
#include <vector>

#include "core/perform/hat_pedal.h"
#include "core/perform/score.h"
#include "core/song/hit.h"
#include "core/time/units.h"

namespace uneven {

struct Stroke {
  Moment grid{0};
  Moment time{0};
  Moment drift{0};          // the part of time - grid that the body adds
  Beat at;                  // written position inside its bar
  std::uint32_t block = 0;  // of the score
  std::uint32_t hit = 0;    // index into the hits of the block's groove
  std::int32_t bar = 0;     // of the song, from 0
  HatOpening opening;       // of the hats
  PieceId piece;
  Velocity velocity;
  Role role = Role::kNormal;
  StrokeKind stroke = StrokeKind::kNormal;
  std::uint8_t part = 0;         // 0 the stroke itself, 1, 2, ... the strokes of its ornament
  Limb limb = Limb::kAutomatic;  // never automatic once performed, unless no limb plays it

  bool operator==(const Stroke&) const = default;
};

struct Performance {
  std::vector<Stroke> strokes;
  int squeezed = 0;  // ornaments pressed together since the stroke before was too near
  int limited = 0;   // strokes whose displacement their role's limit holds back
  int held = 0;      // strokes held since they would pass their neighbour
  HatPedal pedal;
  bool operator==(const Performance&) const = default;
};

// Who plays each hit, where that is known better than by the pieces' usual limbs.
struct BlockHands {
  static constexpr std::uint32_t kUsual = static_cast<std::uint32_t>(-1);
  std::vector<std::vector<Limb>> ways;  // a groove's, by hit
  std::vector<std::uint32_t> ofBlock;   // index into `ways`, by block; kUsual: the usual limbs
};

// `hands` nullptr: the usual limbs everywhere. Stopped: nothing.
Performance perform(const Score& score, const BlockHands* hands = nullptr,
                    const std::stop_token& stop = {});

// A score and how it is performed: what bodies are asked for is read from both.
struct Played {
  const Score& score;
  const Performance& performance;
};

// Calls for the strokes and for what the foot is heard to do besides, as strokes on hat-foot, in
// their order, until it gets false.
void forEachSound(const Performance& performance, const Kit& kit,
                  const std::function<bool(const Stroke&)>& call);

}  // namespace uneven
