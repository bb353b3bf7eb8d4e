// SPDX-License-Identifier: GPL-3.0-or-later
// The small statistics that the fit stands on, worked by hand or against their definitions.
#include "core/match/numbers.h"

#include <gtest/gtest.h>

#include <cmath>

#include "tests/support/random_song.h"

namespace uneven {
namespace {

using testing::pickReal;
using testing::Random;

TEST(Numbers, MiddlesAndSpreads) {
  EXPECT_EQ(medianOfReals({}), 0);
  EXPECT_EQ(medianOfReals({7}), 7);
  EXPECT_EQ(medianOfReals({9, 1, 4}), 4);
  EXPECT_EQ(medianOfReals({8, 1, 4, 2}), 3);
  EXPECT_EQ(meanOf({}), 0);
  EXPECT_DOUBLE_EQ(meanOf({1, 2, 6}), 3);
  EXPECT_EQ(varianceOf({5}), 0);
  EXPECT_DOUBLE_EQ(varianceOf({1, 2, 6}), 7);  // (4 + 1 + 9) / 2
  // Away from 3: 2, 1, 0, 1, 97; their middle is 1.
  EXPECT_DOUBLE_EQ(robustSpread({1, 2, 3, 4, 100}), 1.4826);
}

TEST(Numbers, ALineByItsWeights) {
  const Line exact = lineThrough({0, 1, 3}, {2, 5, 11}, {1, 1, 1});
  EXPECT_NEAR(exact.at0, 2, 1e-12);
  EXPECT_NEAR(exact.slope, 3, 1e-12);
  EXPECT_NEAR(exact.at(10), 32, 1e-12);
  // Twice the weight is twice the point; none is no point.
  const Line heavy = lineThrough({0, 1, 2}, {0, 3, 1}, {2, 1, 1});
  const Line twice = lineThrough({0, 0, 1, 2}, {0, 0, 3, 1}, {1, 1, 1, 1});
  EXPECT_NEAR(heavy.at0, twice.at0, 1e-12);
  EXPECT_NEAR(heavy.slope, twice.slope, 1e-12);
  EXPECT_NEAR(lineThrough({0, 1, 2}, {0, 3, 50}, {1, 1, 0}).slope, 3, 1e-12);
  // All at one place: their mean, level.
  const Line level = lineThrough({4, 4}, {1, 3}, {1, 1});
  EXPECT_EQ(level.slope, 0);
  EXPECT_EQ(level.at0, 2);
}

// What is minimal grows when any value of it is moved.
TEST(Numbers, SmoothedIsTheLeastOfWhittakersSum) {
  Random random(3);
  for (int i = 0; i < 20; ++i) {
    std::vector<double> y, weight;
    for (int k = 0; k < 12; ++k) {
      y.push_back(pickReal(random, -5, 5));
      weight.push_back(k % 5 == 3 ? 0 : pickReal(random, 0.2, 2));
    }
    const double lambda = pickReal(random, 0.1, 20);
    const auto cost = [&](const std::vector<double>& z) {
      double sum = 0;
      for (std::size_t k = 0; k < z.size(); ++k) {
        sum += weight[k] * (y[k] - z[k]) * (y[k] - z[k]);
      }
      for (std::size_t k = 2; k < z.size(); ++k) {
        const double bend = z[k] - 2 * z[k - 1] + z[k - 2];
        sum += lambda * bend * bend;
      }
      return sum;
    };
    std::vector<double> z = smoothed(y, weight, lambda);
    ASSERT_EQ(z.size(), y.size());
    const double least = cost(z);
    for (double& at : z) {
      for (const double by : {-0.01, 0.01}) {
        at += by;
        EXPECT_GT(cost(z), least);
        at -= by;
      }
    }
  }
  EXPECT_EQ(smoothed({4, 9}, {1, 1}, 100), (std::vector<double>{4, 9})) << "two have no bend";
  EXPECT_EQ(smoothed({0, 7, 0, 0}, {0, 2, 0, 0}, 30), (std::vector<double>{7, 7, 7, 7}));
  EXPECT_EQ(smoothed({9, 9, 9}, {0, 0, 0}, 30), (std::vector<double>{0, 0, 0})) << "none is known";
  // Two, far apart: the straight line between them.
  constexpr std::size_t kMany = 2'000;
  std::vector<double> y(kMany, 0), weight(kMany, 0);
  y.back() = 10;
  weight.front() = weight.back() = 1;
  const std::vector<double> z = smoothed(y, weight, 30);
  for (const std::size_t k : {std::size_t{0}, kMany / 4, kMany / 2, kMany - 1})
    EXPECT_NEAR(z[k], 10.0 * static_cast<double>(k) / (kMany - 1), 0.1) << k;
}

// Mean 3: away from it -2, -1, 1, 2.
TEST(Numbers, AutocovarianceByHand) {
  const std::vector<double> c = autocovariance({1, 2, 4, 5}, 9);
  ASSERT_EQ(c.size(), 4U) << "no lag is as long as the series";
  EXPECT_DOUBLE_EQ(c[0], 10.0 / 4);
  EXPECT_DOUBLE_EQ(c[1], (2 - 1 + 2) / 3.0);
  EXPECT_DOUBLE_EQ(c[2], (-2 - 2) / 2.0);
  EXPECT_DOUBLE_EQ(c[3], -4);
  EXPECT_EQ(autocovariance({1, 2, 4, 5}, 1).size(), 2U);
}

}  // namespace
}  // namespace uneven
