// SPDX-License-Identifier: GPL-3.0-or-later
// From one sample rate to another, by libsoxr.
#pragma once

#include <soxr.h>

#include <span>
#include <vector>

namespace uneven {

// Two channels, one after the other in each frame, from one rate to another.
class Resampler {
 public:
  Resampler(double from, double to) : ratio_(to / from) {
    if (from != to) soxr_ = soxr_create(from, to, 2, nullptr, nullptr, nullptr, nullptr);
  }
  Resampler(const Resampler&) = delete;
  Resampler& operator=(const Resampler&) = delete;
  ~Resampler() {
    if (soxr_ != nullptr) soxr_delete(soxr_);
  }

  bool changes() const { return soxr_ != nullptr; }
  // What comes out of these frames; `last`: and of all before.
  std::span<const float> pass(std::span<const float> in, bool last) {
    if (soxr_ == nullptr) return in;
    out_.clear();
    take(in.data(), in.size() / 2);
    while (last && take(nullptr, 0) > 0) {
    }
    return out_;
  }

 private:
  static constexpr std::size_t kMore = 4'096;  // frames that it may have held back

  std::size_t take(const float* in, std::size_t frames) {
    const std::size_t before = out_.size();
    const auto room = static_cast<std::size_t>(static_cast<double>(frames) * ratio_) + kMore;
    out_.resize(before + 2 * room);
    std::size_t made = 0;
    soxr_process(soxr_, in, frames, nullptr, out_.data() + before, room, &made);
    out_.resize(before + 2 * made);
    return made;
  }

  double ratio_;
  soxr_t soxr_ = nullptr;
  std::vector<float> out_;
};

}  // namespace uneven
