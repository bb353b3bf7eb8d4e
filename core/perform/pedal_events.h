// SPDX-License-Identifier: GPL-3.0-or-later
// Gathers what happens to the hats' pedal while blocks are performed: strokes on the hats, drawn
// moves, the pump. Gives the pedal when all is through.
#pragma once

#include <functional>
#include <optional>
#include <vector>

#include "core/perform/clock.h"
#include "core/perform/performance.h"

namespace uneven {

class PedalEvents {
 public:
  // The clock's drift at a position of the song; weight: how far a morph has come.
  using DriftAt = std::function<Milliseconds(const Score::Block&, double weight, Beat at)>;
  PedalEvents(const Score& score, DriftAt driftAt);

  // `main` has been performed from a hit of the block that comes next; it is the index-th stroke.
  // `shutQuarters`: the swung end of its opening.
  void stroke(const Hit& hit, const std::optional<Quarters>& shutQuarters, const Stroke& main,
              std::size_t index);
  // Drawn moves and the pump of a block, once its strokes are through.
  void block(std::uint32_t index);
  // Strokes have been moved since.
  void refresh(const std::vector<Stroke>& strokes);
  HatPedal build();

 private:
  HatEvent place(std::uint32_t index, Beat written, PieceId piece, const BlockClock& clock);
  void addShut(const HatEvent& opening, Beat written, Quarters quarters, const BlockClock& clock);
  void pump(std::uint32_t index, const Pump& pump, const BlockClock& clock);
  void press(std::uint32_t index, Beat written, const Pump& pump, const BlockClock& clock,
             bool imagined);
  void endRun();
  const BlockClock& clockOf(std::uint32_t block);

  const Score& score_;
  DriftAt driftAt_;
  std::optional<BlockClock> clock_;  // of the block that was asked for last
  std::uint32_t clockBlock_ = 0;
  std::vector<HatEvent> events_;
  std::vector<PumpPress> presses_;
  std::size_t done_ = 0;  // events whose travel is known
  std::uint32_t openers_ = 0;
  bool used_ = false;  // most songs' hats are shut throughout: then nothing is gathered
  bool running_ = false;
  HatEvent afterRun_;
};

}  // namespace uneven
