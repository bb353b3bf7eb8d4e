// SPDX-License-Identifier: GPL-3.0-or-later
// Strokes in sound: moment, strength and kind, from how energy rises in four bands.
//
//   30-180, 180-1500, 1500-5000, 5000-16000 Hz (second order), energy in frames of 1.3 ms,
//   smoothed over 8, as log10; the rise over 8 frames, each band held to 1.5, summed
//
// A stroke is a peak of that sum, above a threshold that adapts to the take and at least 50 ms from
// the next. Its moment is then where the energy of the differentiated signal rises most from the
// millisecond before to the one after; of two at one moment each by its own bands, corrected by how
// far these lie off where the same kind sounds alone. Which kind it is goes by the bands that rose:
// kick, snare, hats and cymbals; what cannot be told is the click. Two at one moment are told where
// their bands do not overlap: a kick under hats; not hats under a snare. Soft strokes under loud
// ones are not found.
//
// How far the hats are open goes by how long the top band takes to fall by 20 dB, beside the
// shortest of the take: coarse, in quarters, and 0 where another stroke covers it.
//
// Bands and thresholds were measured on takes of our own (docs/architecture.md). Threads: one
// object, one thread.
#pragma once

#include <algorithm>
#include <array>
#include <bit>
#include <cstdint>
#include <span>
#include <vector>

#include "core/match/onset.h"

namespace uneven {

class StrokeFinder {
 public:
  explicit StrokeFinder(double rate);  // samples a second, 8000..384000
  // One channel, 1 is full scale; in order.
  void push(std::span<const float> samples);
  // In order of time. Nothing can be pushed after it.
  std::vector<Onset> finish();

  // With which standard error moments are found, s.
  static constexpr double kFoundWithin = 0.0010;

 private:
  static constexpr std::size_t kBands = 4, kSmooth = 8;  // frames
  // A band as two second-order filters, one after the other (direct form II, transposed).
  struct Section {
    double b0 = 1, b1 = 0, b2 = 0, a1 = 0, a2 = 0, z1 = 0, z2 = 0;
    double next(double x) {
      const double y = b0 * x + z1;
      z1 = b1 * x - a1 * y + z2;
      z2 = b2 * x - a2 * y;
      return y;
    }
  };
  struct Band {
    Section low, high;
    double energy = 0;
    std::vector<float> frames;            // log10 of the smoothed energy
    std::array<float, kSmooth> recent{};  // energies of the last frames
  };
  struct Told {
    Onset onset;
    bool alone = true;  // no other kind at that moment
    std::size_t frame = 0;
    double whole = 0, own = 0;  // moments by the whole sound, and by the bands of its kind
  };
  // Energies in two bytes each, to 0.05 %, from 1e-12 to 8e6: two hours are kept so.
  class Energies {
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
  static double momentNear(const Energies& fine, double perSecond, double seconds);
  void tell(std::size_t frame, std::vector<Told>& out) const;
  void tellOpenings(std::vector<Told>& told) const;
  static void settle(std::vector<Told>& told);
  static void levelled(std::vector<Onset>& onsets);

  double rate_;
  std::size_t frame_ = 64, fine_ = 12;  // samples
  std::array<Band, kBands> bands_;
  // By quarters of a millisecond: energy of the differentiated signal, of the middle and of the top
  // band.
  Energies edges_, middle_, top_;
  double edge_ = 0, middleEdge_ = 0, topEdge_ = 0, before_ = 0;
  std::size_t inFrame_ = 0, inFine_ = 0;
  bool ended_ = false;
};

}  // namespace uneven
