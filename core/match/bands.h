// SPDX-License-Identifier: GPL-3.0-or-later
// Sound as energies in eight bands along time, small enough for two hours.
// Threads: one object, one thread.
#pragma once

#include <algorithm>
#include <array>
#include <bit>
#include <cstdint>
#include <span>
#include <vector>

namespace uneven {

// Energies in two bytes each, to 0.05 %, from 1e-12 to 8e6.
class PackedEnergies {
 public:
  void push(double energy) { kept_.push_back(packed(static_cast<float>(energy))); }
  std::size_t size() const { return kept_.size(); }
  float operator[](std::size_t i) const {
    return kept_[i] == 0 ? 0 : std::bit_cast<float>((kept_[i] + kLeast) << kDropped);
  }

 private:
  // The upper bits of a float: its exponent and ten bits of its mantissa, rounded.
  static constexpr unsigned kDropped = 13;
  static constexpr std::uint32_t kLeast = (127U - 40) << 10;
  static std::uint16_t packed(float energy) {
    const std::uint32_t upper =
        (std::bit_cast<std::uint32_t>(energy) + (1U << (kDropped - 1))) >> kDropped;
    if (upper <= kLeast) return 0;
    return static_cast<std::uint16_t>(std::min<std::uint32_t>(upper - kLeast, 0xFFFF));
  }
  std::vector<std::uint16_t> kept_;
};

class BandEnergies {
 public:
  static constexpr std::size_t kBands = 8;
  // Between these, Hz: what a kick has, the bodies of drums, their wires, cymbals.
  static constexpr std::array<double, kBands + 1> kEdges = {30,    90,    180,   450,   1'500,
                                                            3'000, 5'000, 9'000, 16'000};
  explicit BandEnergies(double rate);  // samples a second, 8000..384000
  // One channel, 1 is full scale; what is no number is silence.
  void push(std::span<const float> samples);
  // What is left of the last frame.
  void finish();

  std::size_t frames() const { return bands_[0].size(); }
  double hop() const { return static_cast<double>(frame_) / rate_; }  // s, about 1.3 ms
  // Mean square; 0 outside.
  double at(std::size_t band, std::ptrdiff_t frame) const {
    return frame < 0 || frame >= static_cast<std::ptrdiff_t>(frames())
               ? 0
               : static_cast<double>(bands_[band][static_cast<std::size_t>(frame)]);
  }
  // Of the differentiated sound, the sum of its squares in quarters of a millisecond.
  const PackedEnergies& edges() const { return edges_; }
  double edgesPerSecond() const { return rate_ / static_cast<double>(fine_); }

 private:
  // A band is two second-order filters, one after the other (direct form II, transposed); all bands
  // go side by side.
  struct Row {
    std::array<double, kBands> b0{}, b1{}, b2{}, a1{}, a2{}, z1{}, z2{};
    void next(std::array<double, kBands>& x) {
      for (std::size_t b = 0; b < kBands; ++b) {
        const double y = b0[b] * x[b] + z1[b];
        z1[b] = b1[b] * x[b] - a1[b] * y + z2[b];
        z2[b] = b2[b] * x[b] - a2[b] * y;
        x[b] = y;
      }
    }
  };
  void endFrame();

  double rate_;
  std::size_t frame_ = 64, fine_ = 12;  // samples
  Row high_, low_;
  std::array<double, kBands> sum_{};
  std::array<PackedEnergies, kBands> bands_;
  PackedEnergies edges_;
  double edge_ = 0, before_ = 0;
  std::size_t inFrame_ = 0, inFine_ = 0;
};

}  // namespace uneven
