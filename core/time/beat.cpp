// SPDX-License-Identifier: GPL-3.0-or-later
// Exact rational arithmetic with a sticky overflow.
#include "core/time/beat.h"

#include <limits>
#include <numeric>

#include "core/base/number.h"

namespace uneven {
namespace {

__extension__ using Wide = __int128;

Wide gcd(Wide a, Wide b) {
  if (a < 0) a = -a;
  while (b != 0) {
    const Wide rest = a % b;
    a = b;
    b = rest;
  }
  return a;
}

bool fits(Wide v) {
  // The lowest value is left out so that every Beat can be negated.
  constexpr Wide kMax = std::numeric_limits<std::int64_t>::max();
  return v >= -kMax && v <= kMax;
}

}  // namespace

Beat::Beat(std::int64_t num, std::int64_t den) {
  // Most positions are small: reduce them without 128-bit division.
  constexpr std::int64_t kSmall = std::int64_t{1} << 62;
  if (den > 0 && den < kSmall && num > -kSmall && num < kSmall) {
    const std::int64_t g = den == 1 ? 1 : std::gcd(num, den);
    num_ = num / g;
    den_ = den / g;
    return;
  }
  Wide n = num;
  Wide d = den;
  if (d < 0) {
    n = -n;
    d = -d;
  }
  const Wide g = d == 0 ? 1 : gcd(n, d);
  if (d == 0 || !fits(n / g) || !fits(d / g)) {
    *this = invalid();
    return;
  }
  num_ = static_cast<std::int64_t>(n / g);
  den_ = static_cast<std::int64_t>(d / g);
}

namespace {

Beat reduced(Wide n, Wide d) {
  if (fits(n) && fits(d)) return {static_cast<std::int64_t>(n), static_cast<std::int64_t>(d)};
  const Wide g = gcd(n, d);
  if (g == 0 || !fits(n / g) || !fits(d / g)) return Beat::invalid();
  return {static_cast<std::int64_t>(n / g), static_cast<std::int64_t>(d / g)};
}

}  // namespace

Beat operator+(Beat a, Beat b) {
  // A whole number beside a small fraction: the sum is in lowest terms already.
  constexpr std::int64_t kSmall = std::int64_t{1} << 30;
  const auto small = [](const Beat& x) {
    return x.num_ > -kSmall && x.num_ < kSmall && x.den_ < kSmall;
  };
  if ((a.den_ == 1 || b.den_ == 1) && a.valid() && b.valid() && small(a) && small(b)) {
    Beat sum;
    sum.num_ = a.num_ * b.den_ + b.num_ * a.den_;
    sum.den_ = a.den_ * b.den_;
    return sum;
  }
  if (!a.valid() || !b.valid()) return Beat::invalid();
  if (a.den_ == b.den_) return reduced(static_cast<Wide>(a.num_) + b.num_, a.den_);
  // Over the least common denominator: two products below 2^126 cannot overflow when added.
  const std::int64_t g = std::gcd(a.den_, b.den_);
  const Wide n =
      static_cast<Wide>(a.num_) * (b.den_ / g) + static_cast<Wide>(b.num_) * (a.den_ / g);
  return reduced(n, static_cast<Wide>(a.den_ / g) * b.den_);
}

Beat operator-(Beat a, Beat b) {
  if (!b.valid()) return Beat::invalid();
  b.num_ = -b.num_;
  return a + b;
}

Beat operator*(Beat a, Beat b) {
  if (!a.valid() || !b.valid()) return Beat::invalid();
  return reduced(static_cast<Wide>(a.num_) * b.num_, static_cast<Wide>(a.den_) * b.den_);
}

Beat operator/(Beat a, Beat b) {
  if (!a.valid() || !b.valid() || b.num_ == 0) return Beat::invalid();
  Wide n = static_cast<Wide>(a.num_) * b.den_;
  Wide d = static_cast<Wide>(a.den_) * b.num_;
  if (d < 0) {
    n = -n;
    d = -d;
  }
  return reduced(n, d);
}

std::strong_ordering operator<=>(Beat a, Beat b) {
  if (!a.valid() || !b.valid()) return b.valid() <=> a.valid();
  if (a.den_ == b.den_) return a.num_ <=> b.num_;
  const Wide left = static_cast<Wide>(a.num_) * b.den_;
  const Wide right = static_cast<Wide>(b.num_) * a.den_;
  return left < right   ? std::strong_ordering::less
         : left > right ? std::strong_ordering::greater
                        : std::strong_ordering::equal;
}

double Beat::toDouble() const {
  if (!valid()) return std::numeric_limits<double>::quiet_NaN();
  return static_cast<double>(num_) / static_cast<double>(den_);
}

std::string Beat::toString() const {
  if (!valid()) return "overflow";
  std::string out = std::to_string(num_);
  if (den_ != 1) out += "/" + std::to_string(den_);
  return out;
}

std::optional<Beat> Beat::parse(std::string_view text) {
  const std::size_t slash = text.find('/');
  const auto num = wholeNumber(text.substr(0, slash));
  if (!num) return std::nullopt;
  if (slash == std::string_view::npos) return Beat(*num, 1);
  const auto den = wholeNumber(text.substr(slash + 1));
  if (!den || *den <= 0) return std::nullopt;
  const Beat beat(*num, *den);
  return beat.valid() ? std::optional(beat) : std::nullopt;
}

std::int64_t Beat::floorDiv(Beat unit) const {
  if (!valid() || !unit.valid() || unit.num_ <= 0) return 0;
  constexpr std::int64_t kSmall = std::int64_t{1} << 31;
  if (num_ >= 0 && num_ < kSmall && den_ < kSmall && unit.num_ < kSmall && unit.den_ < kSmall) {
    return num_ * unit.den_ / (den_ * unit.num_);
  }
  const Wide n = static_cast<Wide>(num_) * unit.den_;
  const Wide d = static_cast<Wide>(den_) * unit.num_;
  Wide q = n / d;
  if (n % d < 0) --q;
  return fits(q) ? static_cast<std::int64_t>(q) : 0;
}

}  // namespace uneven
