// SPDX-License-Identifier: GPL-3.0-or-later
// Small statistics.
#include "core/match/numbers.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numeric>

namespace uneven {

namespace {

// The upper of the two in the middle of what is sorted around it, or their mean.
double middleOf(std::vector<double>& values, std::size_t count, std::size_t rank, bool odd) {
  const auto at = values.begin() + static_cast<std::ptrdiff_t>(rank);
  std::nth_element(values.begin(), at, values.begin() + static_cast<std::ptrdiff_t>(count));
  return odd ? *at : (*at + *std::max_element(values.begin(), at)) / 2;
}

}  // namespace

// Of a long row only what lies between two of a sorted sample is sorted further (R. W. Floyd & R.
// L. Rivest 1975, Communications of the ACM 18(3)).
double medianOfReals(std::vector<double> values) {
  const std::size_t n = values.size(), rank = n / 2;
  const bool odd = n % 2 == 1;
  if (n == 0) return 0;
  constexpr std::size_t kFew = 512, kSample = 256, kRoom = 32;  // four standard errors
  if (n < kFew) return middleOf(values, n, rank, odd);
  std::array<double, kSample> sample{};
  for (std::size_t i = 0; i < kSample; ++i) sample[i] = values[i * n / kSample];
  std::sort(sample.begin(), sample.end());
  const double low = sample[kSample / 2 - kRoom], high = sample[kSample / 2 + kRoom];
  std::size_t below = 0, kept = 0;
  std::vector<double> between(n);
  for (const double v : values) {
    below += v < low ? 1U : 0U;
    between[kept] = v;
    kept += (v >= low ? 1U : 0U) & (v <= high ? 1U : 0U);
  }
  if (rank <= below || rank >= below + kept) return middleOf(values, n, rank, odd);
  return middleOf(between, kept, rank - below, odd);
}

namespace {

double spreadAround(double middle, std::vector<double> values) {
  constexpr double kNormal = 1.4826;
  for (double& v : values) v = std::abs(v - middle);
  return kNormal * medianOfReals(std::move(values));
}

}  // namespace

double robustSpread(const std::vector<double>& values) {
  return spreadAround(medianOfReals(values), values);
}

Sure sureOf(const std::vector<double>& values) {
  const double middle = medianOfReals(values), spread = spreadAround(middle, values);
  const double within = std::max(1.0, 3 * spread);
  double sum = 0;
  int n = 0;
  for (const double v : values) {
    if (std::abs(v - middle) > within) continue;
    sum += v;
    ++n;
  }
  return {n > 0 ? sum / n : middle, spread};
}
double sureMean(const std::vector<double>& values) {
  return sureOf(values).mean;
}

double meanOf(const std::vector<double>& values) {
  if (values.empty()) return 0;
  return std::accumulate(values.begin(), values.end(), 0.0) / static_cast<double>(values.size());
}

double varianceOf(const std::vector<double>& values) {
  if (values.size() < 2) return 0;
  const double mean = meanOf(values);
  double sum = 0;
  for (const double v : values) sum += (v - mean) * (v - mean);
  return sum / static_cast<double>(values.size() - 1);
}

Line lineThrough(const std::vector<double>& x, const std::vector<double>& y,
                 const std::vector<double>& weight) {
  double w = 0, mx = 0, my = 0;
  for (std::size_t i = 0; i < x.size(); ++i) {
    w += weight[i];
    mx += weight[i] * x[i];
    my += weight[i] * y[i];
  }
  if (w <= 0) return {};
  mx /= w;
  my /= w;
  double sxx = 0, sxy = 0;
  for (std::size_t i = 0; i < x.size(); ++i) {
    sxx += weight[i] * (x[i] - mx) * (x[i] - mx);
    sxy += weight[i] * (x[i] - mx) * (y[i] - my);
  }
  const double slope = sxx > 0 ? sxy / sxx : 0;
  return {my - slope * mx, slope};
}

std::vector<double> smoothed(const std::vector<double>& y, const std::vector<double>& weight,
                             double lambda) {
  const std::size_t n = y.size();
  if (n < 3) return y;
  // Of one value the slope is not known: it is the same everywhere.
  const auto isKnown = [](double w) { return w > 0; };
  if (std::count_if(weight.begin(), weight.end(), isKnown) < 2) {
    const auto only = std::find_if(weight.begin(), weight.end(), isKnown);
    const double value =
        only == weight.end() ? 0 : y[static_cast<std::size_t>(only - weight.begin())];
    return std::vector<double>(n, value);
  }
  // W + lambda D'D has five diagonals: factored as L D L' in one pass.
  std::vector<std::array<double, 3>> a(n, {0, 0, 0});  // the diagonal and the two above it
  // Far from what is known, rounding would leave nothing of a pivot.
  constexpr double kRidge = 1e-15;
  for (std::size_t i = 0; i < n; ++i) a[i][0] = weight[i] + kRidge * lambda;
  for (std::size_t i = 0; i + 2 < n; ++i) {
    const double d[] = {1, -2, 1};
    for (std::size_t r = 0; r < 3; ++r) {
      for (std::size_t c = r; c < 3; ++c) a[i + r][c - r] += lambda * d[r] * d[c];
    }
  }
  std::vector<double> z(n);
  for (std::size_t i = 0; i < n; ++i) z[i] = weight[i] * y[i];
  for (std::size_t i = 0; i < n; ++i) {
    for (std::size_t k = 1; k < 3 && i + k < n; ++k) {
      const double factor = a[i][k] / a[i][0];
      for (std::size_t c = k; c < 3; ++c) a[i + k][c - k] -= factor * a[i][c];
      z[i + k] -= factor * z[i];
    }
  }
  for (std::size_t i = n; i-- > 0;) {
    for (std::size_t k = 1; k < 3 && i + k < n; ++k) z[i] -= a[i][k] * z[i + k];
    z[i] /= a[i][0];
  }
  return z;
}

std::vector<double> autocovariance(const std::vector<double>& series, std::size_t lags) {
  const double mean = meanOf(series);
  std::vector<double> out;
  for (std::size_t lag = 0; lag <= lags && lag < series.size(); ++lag) {
    double sum = 0;
    for (std::size_t i = 0; i + lag < series.size(); ++i) {
      sum += (series[i] - mean) * (series[i + lag] - mean);
    }
    out.push_back(sum / static_cast<double>(series.size() - lag));
  }
  return out;
}

}  // namespace uneven
