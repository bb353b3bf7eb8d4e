// SPDX-License-Identifier: GPL-3.0-or-later
// Functions of fixed bits.
#include "core/base/fixed_math.h"

#include <bit>
#include <cstdint>

namespace uneven::fixed {
namespace {

// log 2 in two parts: multiples of the first by whole numbers up to 2^20 are exact.
constexpr double kLn2High = 0x1.62e42fee00000p-1;
constexpr double kLn2Low = 0x1.a39ef35793c76p-33;
constexpr double kSqrt2 = 1.4142135623730951;

// Of the series of atanh, from the last that counts.
constexpr double kOddParts[] = {1.0 / 25, 1.0 / 23, 1.0 / 21, 1.0 / 19, 1.0 / 17, 1.0 / 15,
                                1.0 / 13, 1.0 / 11, 1.0 / 9,  1.0 / 7,  1.0 / 5,  1.0 / 3};

double powerOfTwo(int n) {
  return std::bit_cast<double>(static_cast<std::uint64_t>(n + 1023) << 52);
}

// x + x^2/2! + x^3/3! + ..., for |x| <= 1/2.
double taylorLessOne(double x) {
  double sum = 0;
  for (int n = 20; n > 0; --n) sum = (sum + 1) * x / n;
  return sum;
}

}  // namespace

double log(double x) {
  const auto bits = std::bit_cast<std::uint64_t>(x);
  int exponent = static_cast<int>(bits >> 52) - 1023;
  double mantissa = std::bit_cast<double>((bits & 0x000FFFFFFFFFFFFFULL) | 0x3FF0000000000000ULL);
  if (mantissa > kSqrt2) {
    mantissa /= 2;
    ++exponent;
  }
  const double f = (mantissa - 1) / (mantissa + 1);
  const double square = f * f;
  double sum = 0;
  for (const double term : kOddParts) sum = (sum + term) * square;
  return exponent * kLn2High + (2 * f + (2 * f * sum + exponent * kLn2Low));
}

double exp(double x) {
  const double wanted = x / (kLn2High + kLn2Low);
  const int n = static_cast<int>(wanted + (wanted < 0 ? -0.5 : 0.5));
  const double rest = (x - n * kLn2High) - n * kLn2Low;
  // In two steps, since the power may lie beyond a double's.
  return (taylorLessOne(rest) + 1) * powerOfTwo(n / 2) * powerOfTwo(n - n / 2);
}

double expm1(double x) {
  return x > -0.5 && x < 0.5 ? taylorLessOne(x) : exp(x) - 1;
}

double pow(double x, double y) {
  return exp(y * log(x));
}

double gamma(double x) {
  constexpr double kFar = 16;
  constexpr double kHalfLog2Pi = 0.91893853320467274178;
  double below = 1;
  for (; x < kFar; x += 1) below *= x;
  const double r = 1 / (x * x);
  const double series =
      (1.0 / 12 - r * (1.0 / 360 - r * (1.0 / 1260 - r * (1.0 / 1680 - r / 1188)))) / x;
  return exp((x - 0.5) * log(x) - x + kHalfLog2Pi + series) / below;
}

}  // namespace uneven::fixed
