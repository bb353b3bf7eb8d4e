// SPDX-License-Identifier: GPL-3.0-or-later
// An exact position or length in quarter notes.
//
// Beat(3, 4) is three sixteenths; Beat(1, 3) the second partial of an eighth triplet. Positions
// stay exact until time is computed, so that sixteenths, triplets and septuplets can stand in one
// groove and still compare equal where they meet:
//
//   Beat(1, 4) + Beat(1, 3) == Beat(7, 12)
//
// Overflow is refused, never wrong: a result that does not fit into 64-bit numerator and
// denominator becomes Beat::invalid(), which is sticky through arithmetic (like NaN), sorts after
// every number and equals only itself. Threads: a plain value.
#pragma once

#include <compare>
#include <cstdint>
#include <optional>
#include <string>
#include <string_view>

namespace uneven {

class Beat {
 public:
  constexpr Beat() = default;
  constexpr Beat(std::int64_t whole) : num_(whole) {}  // NOLINT(google-explicit-constructor)
  // Reduced to lowest terms. den == 0 gives invalid().
  Beat(std::int64_t num, std::int64_t den);

  static constexpr Beat invalid() {
    Beat b;
    b.den_ = 0;
    return b;
  }
  constexpr bool valid() const { return den_ != 0; }

  constexpr std::int64_t num() const { return num_; }
  constexpr std::int64_t den() const { return den_; }  // > 0, or 0 when invalid

  // In quarter notes; NaN when invalid.
  double toDouble() const;
  // "n" or "n/d"; "overflow" when invalid.
  std::string toString() const;
  // Reads what toString writes (and unreduced fractions). Refuses signs other than a leading '-',
  // blanks, a zero denominator and numbers beyond 64 bits.
  static std::optional<Beat> parse(std::string_view text);

  // Largest whole k with k * unit <= *this; unit > 0. 0 when either is invalid or it does not fit.
  std::int64_t floorDiv(Beat unit) const;

  friend Beat operator+(Beat a, Beat b);
  friend Beat operator-(Beat a, Beat b);
  friend Beat operator*(Beat a, Beat b);
  friend Beat operator/(Beat a, Beat b);  // by zero: invalid()
  Beat& operator+=(Beat other) { return *this = *this + other; }
  Beat& operator-=(Beat other) { return *this = *this - other; }

  friend constexpr bool operator==(Beat a, Beat b) = default;
  friend std::strong_ordering operator<=>(Beat a, Beat b);

 private:
  std::int64_t num_ = 0;
  std::int64_t den_ = 1;
};

}  // namespace uneven
