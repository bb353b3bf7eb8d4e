// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/fixed_math.h"

#include <gtest/gtest.h>

#include <bit>
#include <cmath>

#include "core/perform/drift.h"
#include "tests/support/random_song.h"

namespace uneven {
namespace {

// The machine's library as the yardstick: both are within a few units in the last place of the
// truth.
void expectNear(double ours, double library, double ulps, const char* what, double at) {
  const double unit = std::abs(std::nextafter(library, 2 * library + 1) - library);
  EXPECT_LE(std::abs(ours - library), ulps * unit) << what << " " << at;
}

TEST(FixedMath, AgreesWithTheMachinesLibrary) {
  testing::Random random(1111);
  for (int i = 0; i < 20'000; ++i) {
    const double x = std::exp(testing::pickReal(random, -600, 600));
    expectNear(fixed::log(x), std::log(x), 3, "log", x);
    const double near1 = testing::pickReal(random, 0.3, 3);
    EXPECT_NEAR(fixed::log(near1), std::log(near1), 3e-16);
    const double y = testing::pickReal(random, -690, 690);
    expectNear(fixed::exp(y), std::exp(y), 3, "exp", y);
    const double small = std::exp(testing::pickReal(random, -20, 3));
    expectNear(fixed::expm1(-small), std::expm1(-small), 3, "expm1", -small);
    const double a = testing::pickReal(random, 0.001, 15.9);
    expectNear(fixed::gamma(a), std::tgamma(a), 200, "gamma", a);
    const double base = testing::pickReal(random, 0.01, 1e7);
    const double power = testing::pickReal(random, -2, 2);
    expectNear(fixed::pow(base, power), std::pow(base, power), 64, "pow", base);
  }
}

TEST(FixedMath, KnowsTheHandbooksValues) {
  EXPECT_EQ(fixed::exp(0), 1);
  EXPECT_EQ(fixed::log(1), 0);
  EXPECT_EQ(fixed::expm1(0), 0);
  // Abramowitz & Stegun 1964, tables 1.1 and 6.1.
  EXPECT_NEAR(fixed::exp(1), 2.71828182845904523536, 1e-15);
  EXPECT_NEAR(fixed::log(10), 2.30258509299404568402, 1e-15);
  EXPECT_NEAR(fixed::gamma(0.5), 1.77245385090551602730, 2e-14);
  EXPECT_NEAR(fixed::gamma(5), 24, 1e-12);
  EXPECT_NEAR(fixed::gamma(1.5), 0.88622692545275801365, 1e-14);
}

// Bits that one machine wrote and every other must write too.
TEST(FixedMath, DriftIsTheSameToTheBitEverywhere) {
  std::uint64_t sum = 0;
  for (const double exponent : {0.0, 0.4, 1.0, 1.7, 2.0}) {
    for (const double x : colouredNoise(7, 1, exponent, 3'000)) {
      sum = sum * 0x9E3779B97F4A7C15ULL + std::bit_cast<std::uint64_t>(x);
    }
  }
  for (std::uint64_t i = 0; i < 3'000; ++i) {
    sum = sum * 0x9E3779B97F4A7C15ULL + std::bit_cast<std::uint64_t>(normalAt(3, 16, i));
  }
  EXPECT_EQ(sum, 11'129'515'884'077'576'003ULL);
}

}  // namespace
}  // namespace uneven
