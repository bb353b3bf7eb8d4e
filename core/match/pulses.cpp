// SPDX-License-Identifier: GPL-3.0-or-later
// Moments and the beats through them.
#include "core/match/pulses.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>
#include <utility>

#include "core/base/number.h"
#include "core/match/numbers.h"
#include "core/match/weights.h"

namespace uneven {
namespace {

// How often pulses lie so far apart, in bins of 4 ms.
class Distances {
 public:
  explicit Distances(const std::vector<Pulse>& pulses) : bins_(kBins, 0) {
    for (std::size_t i = 0; i < pulses.size(); ++i) {
      for (std::size_t j = i + 1; j < pulses.size(); ++j) {
        const double apart = pulses[j].seconds - pulses[i].seconds;
        if (apart >= kMost) break;
        bins_[static_cast<std::size_t>(apart / kBin)] += pulses[i].strength * pulses[j].strength;
      }
    }
  }
  // Near a distance, with a kernel that grows with it.
  double near(double seconds) const {
    const double width = std::max(0.010, 0.012 * seconds);
    double sum = 0;
    const auto from = static_cast<std::ptrdiff_t>((seconds - 3 * width) / kBin);
    const auto to = static_cast<std::ptrdiff_t>((seconds + 3 * width) / kBin);
    for (std::ptrdiff_t b = std::max<std::ptrdiff_t>(0, from);
         b <= std::min<std::ptrdiff_t>(kBins - 1, to); ++b) {
      const double away = ((static_cast<double>(b) + 0.5) * kBin - seconds) / width;
      sum += bins_[static_cast<std::size_t>(b)] * std::exp(-away * away / 2);
    }
    return sum / width;
  }

 private:
  static constexpr double kBin = 0.004, kMost = 5;
  static constexpr std::ptrdiff_t kBins = 1250;
  std::vector<double> bins_;
};

// How likely a moment is in a beat, as the log of a density beside an even one: on it, in half of
// it, in its quarters and thirds, and where swing puts the half. Kicks and backbeats are on it.
class Parts {
 public:
  explicit Parts(bool hard) {
    struct Slot {
      double at, share, shareHard;
    };
    constexpr Slot kSlots[] = {{0, 0.30, 0.48},    {0.5, 0.18, 0.13},     {0.25, 0.07, 0.05},
                               {0.75, 0.09, 0.06}, {1.0 / 3, 0.04, 0.03}, {2.0 / 3, 0.08, 0.06},
                               {0.57, 0.03, 0.02}, {0.6, 0.05, 0.03},     {0.63, 0.03, 0.02}};
    for (std::size_t i = 0; i < kCells; ++i) {
      const double at = (static_cast<double>(i) + 0.5) / kCells;
      double sum = ear::kPartAnywhere;
      for (const Slot& slot : kSlots) {
        const double away = (at - slot.at - roundedTo(at - slot.at, 1)) / ear::kPartWide;
        sum += (hard ? slot.shareHard : slot.share) / (ear::kPartWide * 2.5066) *
               std::exp(-away * away / 2);
      }
      of_[i] = static_cast<float>(std::log(sum));
    }
  }
  // From 0 to just under 1.
  float at(float share) const { return of_[static_cast<std::size_t>(share * kCells) % kCells]; }

 private:
  static constexpr std::size_t kCells = 256;
  std::array<float, kCells> of_{};
};

class Tracker {
 public:
  Tracker(const std::vector<Pulse>& pulses, double period, double freedom)
      : pulses_(pulses),
        hop_(period / kFrames),
        least_(static_cast<int>(std::ceil(kFrames / (1 + freedom)))),
        most_(static_cast<int>(kFrames * (1 + freedom))) {
    for (std::size_t k = 0; k < kWidest; ++k)
      share_[k] = 1 / (static_cast<float>(k) + static_cast<float>(least_));
    for (std::size_t d = 0; d < kJumps; ++d) {
      const int by = static_cast<int>(d) - kJump;
      for (std::size_t k = 0; k < kWidest; ++k)
        cost_[d][k] = ear::kBeatChange * static_cast<float>(std::max(0, std::abs(by) - 1)) /
                      static_cast<float>(std::max(1, static_cast<int>(k) + by + least_));
    }
  }

  std::vector<double> beats(const std::stop_token& stop) {
    const double origin = pulses_.front().seconds - most_ * hop_;
    const auto frameOf = [&](double seconds) {
      return static_cast<int>(std::floor((seconds - origin) / hop_));
    };
    const int first = frameOf(pulses_.front().seconds), last = frameOf(pulses_.back().seconds);
    const int count = last + most_ + 1;
    // The best way to a beat at a frame, by the length of the stretch before it: as wide as any may
    // be, and a margin, so that all are gone through side by side.
    const auto kept = static_cast<std::size_t>(most_) + 1;
    std::vector<Row> best(kept);
    for (Row& row : best) row.fill(kNone);
    const std::size_t cells = width();
    std::vector<std::uint8_t> from((static_cast<std::size_t>(count) + 1) * cells, kNoWay);
    std::size_t next = 0;
    float top = kNone;
    std::pair<int, int> end{-1, 0};
    for (int t = 0; t <= last; ++t) {
      if (stop.stop_requested()) return {};
      Row& here = best[static_cast<std::size_t>(t) % kept];
      while (next < pulses_.size() && pulses_[next].seconds < origin + t * hop_) ++next;
      const bool begins = t <= first;
      if (begins || std::any_of(here.begin(), here.end(), [](float v) { return v > kNone; })) {
        std::array<float, kWidest> value{}, worth{};
        std::array<int, kWidest> way{};
        value.fill(begins ? 0 : kNone);
        way.fill(kNoWay);
        for (std::size_t d = 0; d < kJumps; ++d) {
          for (std::size_t k = 0; k < kWidest; ++k) {
            const float by = here[k + d] - cost_[d][k];
            const bool better = by > value[k];
            value[k] = better ? by : value[k];
            way[k] = better ? static_cast<int>(k + d) - kJump : way[k];
          }
        }
        addWorth(next, origin, t, worth);
        for (std::size_t k = 0; k < cells; ++k) {
          from[static_cast<std::size_t>(t) * cells + k] = static_cast<std::uint8_t>(way[k]);
          if (value[k] <= kNone) continue;
          const int to = t + static_cast<int>(k) + least_;
          const float now = value[k] + worth[k];
          best[static_cast<std::size_t>(to) % kept][k + kJump] = now;
          if (to > last && now > top) {
            top = now;
            end = {to, static_cast<int>(k)};
          }
        }
      }
      here.fill(kNone);
    }
    std::vector<double> out;
    for (auto [t, k] = end; t >= 0;) {
      out.push_back(origin + t * hop_);
      t -= k + least_;
      if (t < 0) break;
      const std::uint8_t way =
          from[static_cast<std::size_t>(t) * cells + static_cast<std::size_t>(k)];
      if (way == kNoWay) {
        out.push_back(origin + t * hop_);
        break;
      }
      k = way;
    }
    std::reverse(out.begin(), out.end());
    return out;
  }

 private:
  static constexpr int kFrames = 32, kJump = 5;
  static constexpr std::size_t kJumps = 2 * kJump + 1, kWidest = 32;
  static constexpr std::uint8_t kNoWay = 255;
  static constexpr float kNone = -1e30F;
  using Row = std::array<float, kWidest + kJumps - 1>;

  std::size_t width() const { return static_cast<std::size_t>(most_ - least_) + 1; }
  // How well the moments from a frame on lie in stretches of each length.
  void addWorth(std::size_t next, double origin, int t, std::array<float, kWidest>& worth) const {
    static const Parts kPlain(false), kHard(true);
    for (std::size_t i = next; i < pulses_.size(); ++i) {
      const Pulse& pulse = pulses_[i];
      const auto away = static_cast<float>((pulse.seconds - origin) / hop_ - t);
      if (away >= static_cast<float>(most_)) break;
      const double drums = pulse.kick + pulse.backbeat;
      const auto weight = static_cast<float>(std::min(2.0, 0.4 + pulse.strength / 2 + drums / 2));
      const Parts& parts = drums > 0 ? kHard : kPlain;
      for (int p = std::max(least_, static_cast<int>(away) + 1); p <= most_; ++p)
        worth[static_cast<std::size_t>(p - least_)] +=
            weight * parts.at(away * share_[static_cast<std::size_t>(p - least_)]);
    }
  }
  const std::vector<Pulse>& pulses_;
  double hop_;
  int least_, most_;
  std::array<std::array<float, kWidest>, kJumps> cost_{};  // of a change, by the new length
  std::array<float, kWidest> share_{};                     // one by the length
};

BeatLine lineOf(const std::vector<double>& beats) {
  std::vector<BeatLine::Point> points;
  for (std::size_t i = 0; i < beats.size(); ++i)
    points.push_back({static_cast<double>(i), beats[i]});
  return BeatLine(points);
}

// Where in a beat moments gather: the tops of their smoothed histogram.
std::vector<double> gatheringPlaces(const std::vector<double>& at) {
  constexpr std::size_t kCells = 120;
  constexpr int kReach = 5;
  std::array<double, kCells> count{}, smooth{};
  for (const double a : at)
    count[std::min(kCells - 1, static_cast<std::size_t>((a - std::floor(a)) * kCells))] += 1;
  for (std::size_t i = 0; i < kCells; ++i) {
    for (int k = -kReach; k <= kReach; ++k)
      smooth[i] += count[(i + kCells + static_cast<std::size_t>(k + kReach) - kReach) % kCells] *
                   (kReach + 1 - std::abs(k));
  }
  const double least = 0.03 * static_cast<double>(at.size()) * (kReach + 1);
  std::vector<double> out;
  for (std::size_t i = 0; i < kCells; ++i) {
    const double before = smooth[(i + kCells - 1) % kCells], after = smooth[(i + 1) % kCells];
    if (smooth[i] >= least && smooth[i] >= before && smooth[i] > after)
      out.push_back((static_cast<double>(i) + 0.5) / kCells);
  }
  return out;
}

// Drawn to where moments gather.
std::vector<double> drawn(const std::vector<Pulse>& pulses, std::vector<double> beats) {
  constexpr int kRounds = 4;
  for (int round = 0; round < kRounds; ++round) {
    const BeatLine line = lineOf(beats);
    std::vector<double> at;
    at.reserve(pulses.size());
    for (const Pulse& p : pulses) at.push_back(line.quartersAt(p.seconds));
    const std::vector<double> places = gatheringPlaces(at);
    std::vector<double> away(beats.size(), 0), weight(beats.size(), 0);
    for (const double a : at) {
      double nearest = 1;
      for (const double place : places) {
        const double off = a - place - roundedTo(a - place, 1);
        if (std::abs(off) < std::abs(nearest)) nearest = off;
      }
      if (std::abs(nearest) > ear::kDrawNear) continue;
      const auto cell = static_cast<std::size_t>(
          std::clamp<std::int64_t>(roundToInt(a), 0, std::ssize(beats) - 1));
      away[cell] += nearest * line.periodAt(a);
      weight[cell] += 1;
    }
    for (std::size_t i = 0; i < away.size(); ++i) away[i] /= std::max(1.0, weight[i]);
    const std::vector<double> by = smoothed(away, weight, ear::kDrawStiff);
    for (std::size_t i = 0; i < beats.size(); ++i) beats[i] += by[i];
    for (std::size_t i = 1; i < beats.size(); ++i)
      beats[i] = std::max(beats[i], beats[i - 1] + 0.02);
  }
  return beats;
}

}  // namespace

double loudSnare(const std::vector<Onset>& onsets) {
  std::vector<double> snares;
  for (const Onset& o : onsets) {
    if (o.used && o.piece == piece::kSnare) snares.push_back(o.velocity);
  }
  std::sort(snares.begin(), snares.end());
  return snares.empty() ? 0 : ear::kBackbeatShare * snares[snares.size() * 9 / 10];
}

std::vector<Pulse> pulsesOf(const std::vector<Onset>& onsets) {
  const double loud = loudSnare(onsets);
  std::vector<const Onset*> sorted;
  for (const Onset& o : onsets) {
    if (o.used && std::isfinite(o.seconds) && std::isfinite(o.velocity)) sorted.push_back(&o);
  }
  std::stable_sort(sorted.begin(), sorted.end(),
                   [](const Onset* a, const Onset* b) { return a->seconds < b->seconds; });
  std::vector<Pulse> out;
  double first = 0, weight = 0;
  for (const Onset* o : sorted) {
    const double w = o->velocity / 127;
    if (out.empty() || o->seconds - first > kPulseSeconds) {
      out.push_back({o->seconds, 0, 0, 0, 0});
      first = o->seconds;
      weight = 0;
    }
    Pulse& p = out.back();
    p.seconds += (o->seconds - p.seconds) * w / (weight + w);
    weight += w;
    p.strength += w;
    if (o->piece == piece::kKick) p.kick += w;
    if (o->piece == piece::kSnare && o->velocity >= loud) p.backbeat += w;
    if (o->piece == piece::kCrash || o->piece == piece::kCrash2) p.crash += w;
  }
  return out;
}

std::vector<double> basesOf(const std::vector<Pulse>& pulses) {
  const Distances distances(pulses);
  constexpr double kStep = 1.004;
  constexpr std::size_t kMost = 3;
  std::vector<std::pair<double, double>> scored, peaks;  // score, period
  for (double period = ear::kBeatShortest; period <= ear::kBeatLongest; period *= kStep) {
    double sum = 0;
    for (const int k : {1, 2, 3}) sum += distances.near(k * period);
    scored.emplace_back(sum, period);
  }
  for (std::size_t i = 1; i + 1 < scored.size(); ++i) {
    if (scored[i].first >= scored[i - 1].first && scored[i].first > scored[i + 1].first)
      peaks.push_back(scored[i]);
  }
  if (peaks.empty()) peaks.push_back(scored[scored.size() / 2]);
  std::stable_sort(peaks.begin(), peaks.end(),
                   [](const auto& a, const auto& b) { return a.first > b.first; });
  std::vector<double> out;
  for (const auto& [score, period] : peaks) {
    const double now = period;
    if (out.size() < kMost && std::none_of(out.begin(), out.end(), [now](double other) {
          return std::abs(other / now - 1) < ear::kOtherBeat;
        }))
      out.push_back(now);
  }
  return out;
}

BeatLine beatsThrough(const std::vector<Pulse>& pulses, double period, double freedom,
                      const std::stop_token& stop) {
  // What is so long is kept in less.
  const bool many = pulses.back().seconds - pulses.front().seconds > ear::kLongTake * period;
  const double held = std::max(0.03, many ? std::min(freedom, ear::kLongFreedom) : freedom);
  std::vector<double> beats = Tracker(pulses, period, held).beats(stop);
  if (beats.size() < 2) beats = {pulses.front().seconds, pulses.front().seconds + period};
  if (stop.stop_requested()) return lineOf(beats);
  return lineOf(drawn(pulses, std::move(beats)));
}

std::vector<Beats> sharpestBeats(const std::vector<Pulse>& pulses,
                                 const std::vector<double>& periods, double freedom,
                                 const std::stop_token& stop) {
  std::vector<std::pair<double, Beats>> all;
  for (const double period : periods) {
    BeatLine line = beatsThrough(pulses, period, freedom, stop);
    std::vector<double> at;
    at.reserve(pulses.size());
    for (const Pulse& p : pulses) at.push_back(line.quartersAt(p.seconds));
    const double gathers = gatheringOf(at, line.meanPeriod(), ear::kBeatWidth);
    all.emplace_back(gathers, Beats{std::move(line), period});
  }
  std::stable_sort(all.begin(), all.end(),
                   [](const auto& a, const auto& b) { return a.first > b.first; });
  std::vector<Beats> out;
  for (auto& [gathers, beats] : all) {
    const double period = beats.line.meanPeriod();
    const bool known = std::any_of(out.begin(), out.end(), [period](const Beats& other) {
      const double ratio = period / other.line.meanPeriod();
      return std::any_of(std::begin(kBeatMultiples), std::end(kBeatMultiples), [&](double times) {
        return std::abs(ratio / times - 1) < ear::kSimpleRatio;
      });
    });
    if (!known && gathers >= ear::kNearlyAsSharp * all.front().first)
      out.push_back(std::move(beats));
  }
  return out;
}

double wandering(const BeatLine& beats) {
  constexpr std::size_t kBeats = 3;
  const auto& points = beats.points();
  double sum = 0, n = 0;
  for (std::size_t i = 2 * kBeats; i < points.size(); ++i) {
    const double now = points[i].seconds - points[i - kBeats].seconds;
    const double before = points[i - kBeats].seconds - points[i - 2 * kBeats].seconds;
    sum += std::abs(std::log(now / before));
    n += 1;
  }
  return n > 0 ? sum / n : 0;
}

}  // namespace uneven
