// SPDX-License-Identifier: GPL-3.0-or-later
// The room.
#include "sound/synth/room.h"

#include <algorithm>
#include <cmath>

#include "sound/synth/instrument.h"

namespace uneven {
namespace {

// Primes, so that echoes do not fall together: 8 to 19 ms.
constexpr std::array<std::size_t, 8> kDelays = {389, 461, 523, 599, 677, 743, 827, 911};
constexpr float kDamp = 0.32F;                 // of the low-pass in each line
constexpr float kLowCut = 0.051F;              // one pole at 400 Hz, twice
constexpr float kNear = 0.55F, kLate = 0.75F;  // of the reflections, of what the lines give

// Below hearing, and below what processors are quick with.
float heardOrNothing(float value) {
  constexpr float kNothing = 1e-12F;
  return std::abs(value) < kNothing ? 0 : value;
}

// Reflections of walls, floor and ceiling: frames and gains, to this side and to the other.
struct Reflection {
  std::size_t own, other;
  float gain;
};
constexpr std::array<Reflection, 6> kReflections = {{{139, 211, 0.16F},
                                                     {263, 307, -0.14F},
                                                     {347, 409, 0.13F},
                                                     {479, 541, -0.11F},
                                                     {613, 661, 0.16F},
                                                     {751, 797, -0.07F}}};
constexpr std::size_t kEarlyFrames = 1'024;

}  // namespace

Room::Room() {
  for (std::size_t i = 0; i < kLines; ++i) {
    lines_[i].ring.assign(kDelays[i], 0);
    const double turns = kSeconds * kSoundRate / static_cast<double>(kDelays[i]);
    lines_[i].gain = static_cast<float>(std::pow(10, -3 / turns));
  }
  for (auto& ring : early_) ring.assign(kEarlyFrames, 0);
}

void Room::silence() {
  for (Line& line : lines_) {
    std::fill(line.ring.begin(), line.ring.end(), 0.0F);
    line.heard = 0;
  }
  for (auto& ring : early_) std::fill(ring.begin(), ring.end(), 0.0F);
  for (auto& side : low_) side.fill(0);
}

void Room::process(const float* sentLeft, const float* sentRight, float* left, float* right,
                   int frames) {
  for (int f = 0; f < frames; ++f) {
    // A small room has few modes down there: low tones would be coloured, not answered.
    const float sent[2] = {sentLeft[f], sentRight[f]};
    for (int side = 0; side < 2; ++side) {
      float through = sent[side];
      for (float& low : low_[side]) {
        low = heardOrNothing(low + kLowCut * (through - low));
        through -= low;
      }
      early_[side][earlyAt_] = heardOrNothing(through);
    }
    const auto before = [&](int side, std::size_t delay) {
      return early_[side][(earlyAt_ + kEarlyFrames - delay) % kEarlyFrames];
    };
    float near[2] = {0, 0};
    for (const Reflection& r : kReflections) {
      near[0] += r.gain * (before(0, r.own) + 0.6F * before(1, r.other));
      near[1] += r.gain * (before(1, r.own + 17) + 0.6F * before(0, r.other + 29));
    }
    earlyAt_ = (earlyAt_ + 1) % kEarlyFrames;
    std::array<float, kLines> out;
    float sum = 0;
    for (std::size_t i = 0; i < kLines; ++i) {
      Line& line = lines_[i];
      const float end = line.ring[line.at];
      line.heard = heardOrNothing(line.heard + (1 - kDamp) * (end - line.heard));
      out[i] = line.gain * line.heard;
      sum += out[i];
    }
    // The Householder matrix: each line gets its own, less a quarter of them all.
    constexpr float kShare = 2.0F / kLines;
    float late[2] = {0, 0};
    for (std::size_t i = 0; i < kLines; ++i) {
      Line& line = lines_[i];
      line.ring[line.at] = heardOrNothing(out[i] - kShare * sum + near[i % 2]);
      if (++line.at == line.ring.size()) line.at = 0;
      late[i % 2] += (i % 4 < 2 ? 1.0F : -1.0F) * out[i];
    }
    left[f] += kNear * near[0] + kLate * late[0];
    right[f] += kNear * near[1] + kLate * late[1];
  }
}

}  // namespace uneven
