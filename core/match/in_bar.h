// SPDX-License-Identifier: GPL-3.0-or-later
// From a slot that is counted through a take to a bar and a place in it. Threads: plain values.
#pragma once

#include <cstdint>
#include <numeric>
#include <vector>

#include "core/match/apart.h"
#include "core/match/swing_guess.h"

namespace uneven {

// Bar and place of slots, in whole parts of a quarter: fractions would be reduced for each stroke.
class InBar {
 public:
  InBar(const SwungSlots& slots, Beat bar) : bar_(partsOf(bar)), cycle_(partsOf(slots.length())) {
    std::int64_t step = std::gcd(bar_, cycle_);
    for (const SwungSlots::At& slot : slots.cycle()) {
      slots_.push_back(partsOf(slot.written));
      step = std::gcd(step, slots_.back());
    }
    step_ = step;
    for (std::int64_t at = 0; at < bar_; at += step) at_.emplace_back(at, kDenominatorMax);
  }
  void put(const SwungSlots::Near& near, Placed& p) const {
    const std::int64_t at = near.cycle * cycle_ + slots_[near.slot];
    p.bar = at / bar_ - (at % bar_ < 0 ? 1 : 0);
    p.at = at_[static_cast<std::size_t>((at - p.bar * bar_) / step_)];
  }

 private:
  std::int64_t bar_, cycle_, step_ = 1;
  std::vector<std::int64_t> slots_;
  std::vector<Beat> at_;
};

}  // namespace uneven
