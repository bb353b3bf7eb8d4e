// SPDX-License-Identifier: GPL-3.0-or-later
// Quarter notes as they pass: where a written position falls after swing, or what a moment is on
// the song's beats. Not exact, unlike Beat; a Beat becomes Quarters, never the other way.
#pragma once

#include <cmath>
#include <compare>

#include "core/time/beat.h"

namespace uneven {

class Quarters {
 public:
  constexpr Quarters() = default;
  constexpr explicit Quarters(double value) : value_(value) {}
  Quarters(Beat at) : value_(at.toDouble()) {}  // NOLINT(google-explicit-constructor)
  constexpr double value() const { return value_; }

  friend constexpr Quarters operator+(Quarters a, Quarters b) {
    return Quarters(a.value_ + b.value_);
  }
  friend constexpr Quarters operator-(Quarters a, Quarters b) {
    return Quarters(a.value_ - b.value_);
  }
  friend Quarters lerp(Quarters a, Quarters b, double t) {
    return Quarters(std::lerp(a.value_, b.value_, t));
  }
  auto operator<=>(const Quarters&) const = default;

 private:
  double value_ = 0;
};

}  // namespace uneven
