// SPDX-License-Identifier: GPL-3.0-or-later
// How a quarter may be divided: straight, with swung eighths or sixteenths, in triplets; and how
// well strokes lie on what that gives. Threads: pure functions.
#pragma once

#include <array>
#include <cstddef>
#include <vector>

#include "core/song/feel.h"

namespace uneven {

// A quarter's strokes by where in it they fall.
class Quarter {
 public:
  static constexpr std::size_t kCells = 240;
  // Positions in quarters; `width`, a share of one, is how far strokes lie about their slots.
  Quarter(const std::vector<double>& at, double width);
  struct Suited {
    double gain = 0;                // nats a stroke, its freedom taken off
    std::array<double, 4> share{};  // of the slots
  };
  // How well strokes lie on slots, shares of the quarter counted from `phase`, beside anywhere;
  // `free` is how many of them were chosen to suit.
  Suited suit(const std::array<double, 4>& slots, std::size_t count, int free, double phase) const;

 private:
  std::array<double, kCells> cells_{}, bell_{};
  double n_;
};

// A quarter as it may be divided.
struct Divided {
  Swing swing;
  bool triplets = false, swings = false;
  std::array<double, 4> slots{};
  std::size_t count = 4;
  Quarter::Suited suited{};  // to the quarter it was made for
};

// The best of each kind, the quarter beginning at `phase`; swing only where something is moved.
std::vector<Divided> divisionsOf(const Quarter& quarter, double phase);

}  // namespace uneven
