// SPDX-License-Identifier: GPL-3.0-or-later
// What makes strokes heard: a synthesiser, or whatever stands in for one in tests.
//
// Sound is made in blocks of kBlock frames at kRate. A stroke that is to be heard at frame q is
// told while the block that begins at b is next, with
//
//   delay = q - b,    kBlock <= delay < 2 kBlock
//
// so that a synthesiser has a block's time to place it exactly.
// Threads: one at a time; no call of a running instrument locks or allocates.
#pragma once

#include <cstdint>

namespace uneven {

inline constexpr int kSoundRate = 48'000;  // frames a second
inline constexpr int kBlock = 64;          // frames

struct StrikeSound {
  int note = 0;      // 0..127
  int velocity = 1;  // 1..127
  double levelDb = 0;
  double pan = 0;       // -1 left .. 1 right
  double opening = -1;  // of the hats, 0..1; below 0: the note's own
  double roomDb = 0;    // its share of the room
  int take = 0;         // which of a sound's takes
};

class Instrument {
 public:
  virtual ~Instrument() = default;

  using Sounding = std::int64_t;  // names a stroke that rings, so that it can be shut
  virtual Sounding strike(const StrikeSound& sound, int delay) = 0;
  // Ends it within about 20 ms from the next block on.
  virtual void shut(Sounding sounding) = 0;
  // How far open the pedal has the hats from the next block on: what rings of them follows.
  virtual void pedal(double /*opening*/) {}
  virtual void setRoom(bool /*on*/) {}
  // The next block, kBlock frames each.
  virtual void render(float* left, float* right) = 0;
  // All sounds off.
  virtual void silence() = 0;
};

// Makes no sound: for the transport where there is no device.
class SilentInstrument final : public Instrument {
 public:
  Sounding strike(const StrikeSound&, int) override { return 0; }
  void shut(Sounding) override {}
  void render(float* left, float* right) override {
    for (int i = 0; i < kBlock; ++i) left[i] = right[i] = 0;
  }
  void silence() override {}
};

}  // namespace uneven
