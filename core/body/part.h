// SPDX-License-Identifier: GPL-3.0-or-later
// A part as hands and feet see it: what is to be struck when, without lean and drift.
//
//   Played --bodyPart--> BodyPart --solve--> hands --strains--> how near each stroke is to its
//   limit
//
// Times are those of the grid (swing and tempo). At `pace` times the tempo a stroke comes at
//
//   ms(pace) = grid / pace + fixed
//
// where `fixed` is what an ornament's stroke stands off its main one. What a hand does in one
// motion (the graces of a drag, a buzz, its half of a roll) is one stroke here that lasts. Threads:
// pure functions over values.
#pragma once

#include <cstdint>
#include <optional>
#include <stop_token>
#include <vector>

#include "core/perform/performance.h"

namespace uneven {

struct BodyStroke {
  Milliseconds grid{0};
  Milliseconds fixed{0};       // from there, whatever the tempo
  Milliseconds bounce{0};      // between the two of a diddle; 0: none
  Milliseconds lasts{0};       // with the tempo: half of a roll
  Milliseconds lastsFixed{0};  // whatever the tempo: a buzz, the bounce of a drag
  double written = 0;          // quarter notes from the part's start, without swing
  double inBar = 0;            // likewise, from the bar's
  double unit = 1;             // of its meter, quarter notes: what is counted
  std::uint32_t stroke = 0;    // of the performance
  std::uint32_t hit = 0;       // of its groove; strokes of one hit are one ornament
  std::uint32_t place = 0;     // strokes of one place are written together; ascending
  PieceId piece;
  Limb limb = Limb::kAutomatic;   // that is set, or the foot; automatic: a hand that is free
  Limb usual = Limb::kAutomatic;  // the piece's
  Velocity velocity;
  Role role = Role::kNormal;
  bool grace = false;        // of an ornament: no main stroke
  bool across = false;       // in the other hand than the first main stroke of its place
  bool ostinato = false;     // the piece keeps time and goes on before and after
  bool bounceFixed = false;  // `bounce` does not go with the tempo
  bool closing = false;      // the foot shuts the hats: no stroke of its own, `stroke` is near it

  Milliseconds at(double pace) const { return (pace == 1 ? grid : grid / pace) + fixed; }
  Milliseconds heldFor(double pace) const { return lasts / pace + lastsFixed; }
};

struct BodyPart {
  std::vector<BodyStroke> hands;         // in order of place, then time
  std::vector<BodyStroke> feet;          // the hats' shutting among them
  std::vector<std::uint32_t> thirdHand;  // strokes of the performance for which no hand is left
  // Of those, where an ornament takes both hands and a third stroke is written with it.
  std::vector<std::uint32_t> underOrnament;
  Milliseconds length{0};  // of one round
  double quarters = 0;     // likewise
};

// Hats and cymbals keep time; drums do not.
bool keepsTime(const Kit& kit, PieceId id);

// Repetitions that ask the same of a body, looked at once: the first three and the last three of
// equal blocks (groove, feel, one tempo) that follow each other stand for all, and what comes
// behind moves up. An even number is left out, since a part may go hand to hand over two of them.
struct FoldedBlocks {
  std::vector<int> times;             // by block: how many it stands for; 0: it is left out
  std::vector<Milliseconds> earlier;  // by block
};
FoldedBlocks foldedBlocks(const Score& score);

// Ascending by place. `block` limits it to one block of the score; else all, or those that `folded`
// keeps. Stopped: nothing.
BodyPart bodyPart(const Played& played, std::optional<std::uint32_t> block = std::nullopt,
                  const FoldedBlocks* folded = nullptr, bool ruffsInTurn = true,
                  const std::stop_token& stop = {});

// The same part `times` times, one after the other, as a loop is played.
std::vector<BodyStroke> unrolled(const std::vector<BodyStroke>& strokes, Milliseconds length,
                                 int times, double quarters = 0);

}  // namespace uneven
