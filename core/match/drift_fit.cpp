// SPDX-License-Identifier: GPL-3.0-or-later
// Clock and limbs.
#include "core/match/drift_fit.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <numbers>
#include <utility>

#include "core/base/number.h"
#include "core/match/apart.h"
#include "core/match/numbers.h"
#include "core/match/weights.h"

namespace uneven {
namespace {

// How the variance of a take's residuals falls to its trend: all that a straight line takes of
// 1/f^exponent noise, between white noise and what wanders.
double trendShare(double exponent, double count) {
  const double white = 1 / count, pink = 0.22, brown = 0.6;
  if (exponent <= 1) return white * std::pow(pink / white, std::max(0.0, exponent));
  return pink + (brown - pink) * std::min(1.0, exponent - 1);
}

class DriftTeller {
 public:
  explicit DriftTeller(const DriftAsked& asked) : asked_(asked) {}

  DriftTold run() {
    const double length = asked_.length;
    std::vector<double> all;
    all.reserve(asked_.rests.size());
    struck_.reserve(asked_.rests.size());
    for (const DriftAsked::Rest& r : asked_.rests) {
      if (std::abs(r.left.count()) > ear::kDriftFarMs) continue;
      struck_.push_back({r.at, r.left.count()});
      all.push_back(r.left.count());
    }
    // Mostly they are in order already.
    const auto earlier = [](const Struck& a, const Struck& b) { return a.at < b.at; };
    if (!std::is_sorted(struck_.begin(), struck_.end(), earlier))
      std::stable_sort(struck_.begin(), struck_.end(), earlier);
    std::vector<double> apart;
    for (std::size_t i = 1; i < struck_.size(); ++i) {
      if (struck_[i].at == struck_[i - 1].at) apart.push_back(struck_[i].ms - struck_[i - 1].ms);
    }
    const double total = varianceOf(all);
    double motor = 0;
    if (apart.size() >= ear::kPairsForMotor) {
      motor = varianceOf(apart) / 2;
      out_.drift.told = true;
    } else if (const auto lag = lagOne()) {
      motor = std::max(0.0, -*lag);
      out_.drift.told = true;
    }
    motor = std::min(motor, total);
    const double within = asked_.foundWithin.count();
    const double found = 1e6 * within * within;  // ms^2
    const double clock = std::max(0.0, total - motor);
    const double exponent = exponentOf(motor);
    // A straight line takes part of the clock with it, and so does each piece's mean.
    const double count = std::max(4.0, length * 2);
    const double share = trendShare(exponent, count);
    const double whole = asked_.asPlayed ? clock : clock / (1 - share);
    out_.drift.clock = Milliseconds(std::sqrt(whole));
    out_.drift.motor = Milliseconds(std::sqrt(std::max(0.0, motor - found)));
    if (!out_.drift.told)
      out_.doubts.emplace_back("clock and limbs could not be told apart: too few strokes together");
    // The tempo's error is the trend that the clock may have had.
    const double spread = length / std::sqrt(12.0);
    const double slope =
        ear::kOfTrend *
        std::sqrt(whole * share + motor / std::max(4.0, static_cast<double>(all.size()))) / 1'000 /
        spread;
    const double seconds = 60 / asked_.bpm.value;
    out_.bpmSe = Bpm{asked_.bpm.value * slope / seconds};
    return std::move(out_);
  }

 private:
  // The lag-1 autocovariance of the most regular voice's intervals, ms^2; nothing where there are
  // too few.
  std::optional<double> lagOne() const {
    std::map<PieceId, std::vector<std::pair<std::int64_t, double>>> rows;
    for (const DriftAsked::Rest& r : asked_.rests) rows[r.piece].emplace_back(r.at, r.left.count());
    std::optional<double> out;
    std::size_t most = 40;
    for (auto& [piece, row] : rows) {
      if (row.size() < most) continue;
      most = row.size();
      std::sort(row.begin(), row.end());
      std::vector<double> intervals;
      for (std::size_t i = 1; i < row.size(); ++i)
        intervals.push_back(row[i].second - row[i - 1].second);
      out = autocovariance(intervals, 1)[1];
    }
    return out;
  }

  double exponentOf(double motor) {
    const double length = asked_.length;
    // Means by eighths, holes filled straight.
    constexpr double kEighths = 2;
    const double first = asked_.first;
    const auto cells = static_cast<std::size_t>(length * kEighths) + 1;
    std::vector<double> sum(cells, 0), count(cells, 0);
    for (const Struck& stroke : struck_) {
      const double q = static_cast<double>(stroke.at) / kDenominatorMax;
      const std::int64_t cell = std::clamp<std::int64_t>(roundToInt((q - first) * kEighths), 0,
                                                         static_cast<std::int64_t>(cells) - 1);
      sum[static_cast<std::size_t>(cell)] += stroke.ms;
      count[static_cast<std::size_t>(cell)] += 1;
    }
    std::vector<double> series(cells, 0);
    double last = 0, strokes = 0, filled = 0;
    for (std::size_t c = 0; c < cells; ++c) {
      if (count[c] > 0) {
        last = sum[c] / count[c];
        strokes += count[c];
        filled += 1;
      }
      series[c] = last;
    }
    if (length < ear::kColourBeats) {
      out_.doubts.emplace_back(
          "the clock's colour needs 128 beats; 1 is taken, which is usual for drummers");
      return 1;
    }
    const double noise = motor / std::max(1.0, strokes / std::max(1.0, filled));
    const double mean = meanOf(series);
    for (double& s : series) s -= mean;
    // The periodogram, lowest frequencies first. Of a long take sums of cells do: at the highest
    // frequency that is asked for they take a twentieth of the power.
    const std::size_t m = std::min<std::size_t>(cells / 3, 400);
    const std::size_t block = std::max<std::size_t>(1, cells / (8 * m));
    std::vector<double> sums((cells + block - 1) / block, 0);
    for (std::size_t c = 0; c < cells; ++c) sums[c / block] += series[c];
    std::vector<double> power(m, 0), frequency(m, 0);
    // Some frequencies at once: each is turned on from one value to the next.
    constexpr std::size_t kLanes = 8;
    for (std::size_t from = 0; from < m; from += kLanes) {
      std::array<double, kLanes> w{}, stepCos{}, stepSin{}, re{}, im{}, c0{}, s0{};
      for (std::size_t l = 0; l < kLanes; ++l) {
        w[l] =
            2 * std::numbers::pi * static_cast<double>(from + l + 1) / static_cast<double>(cells);
        stepCos[l] = std::cos(w[l] * static_cast<double>(block));
        stepSin[l] = std::sin(w[l] * static_cast<double>(block));
        c0[l] = 1;
      }
      for (const double s : sums) {
        for (std::size_t l = 0; l < kLanes; ++l) {
          re[l] += s * c0[l];
          im[l] += s * s0[l];
          const double next = c0[l] * stepCos[l] - s0[l] * stepSin[l];
          s0[l] = c0[l] * stepSin[l] + s0[l] * stepCos[l];
          c0[l] = next;
        }
      }
      for (std::size_t l = 0; l < kLanes && from + l < m; ++l) {
        power[from + l] = (re[l] * re[l] + im[l] * im[l]) / static_cast<double>(cells);
        frequency[from + l] = 2 * std::sin(w[l] / 2);
      }
    }
    double best = std::numeric_limits<double>::infinity(), exponent = 1;
    std::vector<std::pair<double, double>> cost;
    for (double beta = 0; beta <= 2.0001; beta += 0.05) {
      std::vector<double> shapes(m);
      for (std::size_t k = 0; k < m; ++k) shapes[k] = std::pow(frequency[k], -beta);
      // The scale that suits this exponent, by a few fixed-point steps.
      double scale = 1;
      for (int step = 0; step < 20; ++step) {
        double up = 0, down = 0;
        for (std::size_t k = 0; k < m; ++k) {
          const double shape = shapes[k];
          const double model = scale * shape + noise;
          up += shape * std::max(power[k] - noise, 0.0) / (model * model);
          down += shape * shape / (model * model);
        }
        const double before = std::exchange(scale, std::max(1e-9, up / std::max(1e-300, down)));
        constexpr double kThere = 1e-7;
        if (std::abs(scale / before - 1) < kThere) break;
      }
      double sumCost = 0;
      for (std::size_t k = 0; k < m; ++k) {
        const double model = scale * shapes[k] + noise;
        sumCost += std::log(model) + power[k] / model;
      }
      cost.emplace_back(beta, sumCost);
      if (sumCost < best) {
        best = sumCost;
        exponent = beta;
      }
    }
    // The error: where the likelihood has fallen by a half.
    double least = exponent, greatest = exponent;
    for (const auto& [beta, value] : cost) {
      if (value > best + 0.5) continue;
      least = std::min(least, beta);
      greatest = std::max(greatest, beta);
    }
    out_.drift.exponent = exponent;
    out_.drift.exponentSe = std::max(0.05, (greatest - least) / 2);
    return exponent;
  }

  const DriftAsked& asked_;
  DriftTold out_;
  struct Struck {
    std::int64_t at = 0;  // parts of a quarter
    double ms = 0;
  };
  std::vector<Struck> struck_;  // in order
};

}  // namespace

DriftTold driftOf(const DriftAsked& asked) {
  return DriftTeller(asked).run();
}

}  // namespace uneven
