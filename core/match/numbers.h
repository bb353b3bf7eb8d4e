// SPDX-License-Identifier: GPL-3.0-or-later
// Small statistics: medians, spreads, straight lines, and the smoothing of a series.
#pragma once

#include <cmath>
#include <cstddef>
#include <vector>

#include "core/time/units.h"

namespace uneven {

// The error of a sum of two that have nothing to do with each other.
inline Milliseconds jointError(Milliseconds a, Milliseconds b) {
  return Milliseconds(std::hypot(a.count(), b.count()));
}

// 0 for none.
double medianOfReals(std::vector<double> values);
// The standard deviation that the median distance from the median stands for (1.4826 times it for a
// normal spread).
double robustSpread(const std::vector<double>& values);
// The mean of what lies within three robust spreads of the median, 1 at least.
struct Sure {
  double mean = 0, spread = 0;
};
Sure sureOf(const std::vector<double>& values);
double sureMean(const std::vector<double>& values);
double meanOf(const std::vector<double>& values);
double varianceOf(const std::vector<double>& values);

struct Line {
  double at0 = 0, slope = 0;
  double at(double x) const { return at0 + slope * x; }
};
// Least squares with weights; at least two different x.
Line lineThrough(const std::vector<double>& x, const std::vector<double>& y,
                 const std::vector<double>& weight);

// The z that minimises sum w (y - z)^2 + lambda sum (second difference of z)^2 (E. T. Whittaker
// 1923, Proc. Edinburgh Math. Soc. 41). Where w is 0 nothing is known of y; one
// known value is the same everywhere, none is 0.
std::vector<double> smoothed(const std::vector<double>& y, const std::vector<double>& weight,
                             double lambda);

// Of a series with equal distances, whose mean is taken off: lag 0, 1, ... up to `lags`.
std::vector<double> autocovariance(const std::vector<double>& series, std::size_t lags);

}  // namespace uneven
