// SPDX-License-Identifier: GPL-3.0-or-later
// A short room: first reflections from near walls, then what a network of eight delays makes of
// them (after Stautner & Puckette 1982, Computer Music Journal 6(1), and Jot & Chaigne 1991: a
// lossless matrix, and a low-pass in each line that makes high tones die sooner).
//
// Linear and the same at all times: rooms of parts add up to the room of the whole. What goes in at
// a frame comes out after it, never before. Threads: one at a time; process() neither locks nor
// allocates.
#pragma once

#include <array>
#include <vector>

namespace uneven {

class Room {
 public:
  static constexpr double kSeconds =
      0.40;  // to -60 dB in its lines; with what they damp about 0.3 s

  Room();
  // Adds the room's answer to what is sent into it, from the left and from the right.
  void process(const float* sentLeft, const float* sentRight, float* left, float* right,
               int frames);
  void silence();

 private:
  static constexpr std::size_t kLines = 8;
  struct Line {
    std::vector<float> ring;
    std::size_t at = 0;
    float gain = 0;   // of a turn
    float heard = 0;  // the low-pass's state
  };
  std::array<Line, kLines> lines_;
  std::vector<float> early_[2];
  std::array<float, 2> low_[2] = {};  // the high-pass's state
  std::size_t earlyAt_ = 0;
};

}  // namespace uneven
