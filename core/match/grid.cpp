// SPDX-License-Identifier: GPL-3.0-or-later
// Finding the beat.
#include "core/match/grid.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <utility>

#include "core/base/number.h"
#include "core/match/numbers.h"

namespace uneven {
namespace {

constexpr double kTogether = 0.025;  // s
constexpr double kGatherWidth = 0.012;
constexpr double kUsualPeriod = 0.5;       // s
constexpr double kQuartersMost = 100'000;  // as a song may have
constexpr double kGathersAsPlayed = 1.6;
constexpr double kHardOn = 1;
constexpr std::size_t kFewest = 8;

// What is struck at one moment.
struct Pulse {
  double seconds = 0;
  double strength = 0;  // of all
  double kick = 0, backbeat = 0, crash = 0;
};

std::vector<Pulse> pulsesOf(const std::vector<Onset>& onsets) {
  std::vector<double> snares;
  for (const Onset& o : onsets) {
    if (o.used && o.piece == piece::kSnare) snares.push_back(o.velocity);
  }
  std::sort(snares.begin(), snares.end());
  // Backbeats are the loud ones: near the loudest tenth.
  const double loud = snares.empty() ? 0 : 0.75 * snares[snares.size() * 9 / 10];
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
    if (out.empty() || o->seconds - first > kTogether) {
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

std::vector<double> candidates(const std::vector<Pulse>& pulses) {
  const Distances distances(pulses);
  std::vector<std::pair<double, double>> scored;  // period, score
  constexpr double kStep = 1.004;
  for (double period = 60 / kFoundBpmMax; period <= 60 / kFoundBpmMin * kStep; period *= kStep) {
    double sum = 0;
    for (const int k : {1, 2, 3}) sum += distances.near(k * period);
    scored.emplace_back(period, sum);
  }
  std::vector<std::pair<double, double>> peaks;
  for (std::size_t i = 1; i + 1 < scored.size(); ++i) {
    if (scored[i].second >= scored[i - 1].second && scored[i].second > scored[i + 1].second)
      peaks.push_back(scored[i]);
  }
  if (peaks.empty()) peaks.push_back(scored[scored.size() / 2]);
  std::sort(peaks.begin(), peaks.end(),
            [](const auto& a, const auto& b) { return a.second > b.second; });
  std::vector<double> out;
  const auto add = [&](double period) {
    if (period < 60 / kFoundBpmMax || period > 60 / kFoundBpmMin) return;
    for (const double known : out) {
      if (std::abs(known / period - 1) < 0.012) return;
    }
    out.push_back(period);
  };
  constexpr std::size_t kPeaks = 8;
  for (std::size_t i = 0; i < std::min(kPeaks, peaks.size()); ++i) {
    for (const double times : {1.0, 2.0, 0.5, 1.5, 2.0 / 3, 4.0 / 3, 0.75})
      add(peaks[i].first * times);
  }
  return out;
}

double positionIn(double value, double period) {
  return value - period * std::floor(value / period);
}
// Nearest way round, -0.5 .. 0.5 of a period.
double awayFrom(double share) {
  return share - std::floor(share + 0.5);
}

// The phase at which the strong pulses of the first beats lie.
double phaseOf(const std::vector<Pulse>& pulses, std::size_t from, double period, double beats) {
  constexpr int kSteps = 96;
  double best = -1, phase = 0;
  for (int step = 0; step < kSteps; ++step) {
    const double at = pulses[from].seconds + period * step / kSteps;
    double sum = 0;
    for (std::size_t i = from; i < pulses.size(); ++i) {
      if (pulses[i].seconds > pulses[from].seconds + beats * period) break;
      const double away = awayFrom((pulses[i].seconds - at) / period) / 0.04;
      sum += (pulses[i].strength + 1.5 * pulses[i].kick + 2 * pulses[i].backbeat) *
             std::exp(-away * away / 2);
    }
    if (sum > best) {
      best = sum;
      phase = at;
    }
  }
  return phase;
}

// Beats from `phase` on; the filter's gains are those of a slow listener.
std::vector<double> follow(const std::vector<Pulse>& pulses, double phase, double period,
                           double freedom) {
  constexpr double kNear = 0.12, kPhaseGain = 0.3, kPeriodGain = 0.05;
  const double least = period / (1 + freedom), most = period * (1 + freedom);
  std::vector<double> beats;
  double beat = phase, now = period;
  std::size_t at = 0;
  const double end = pulses.back().seconds + now / 2;
  while (beat < end) {
    while (at < pulses.size() && pulses[at].seconds < beat - kNear * now) ++at;
    double best = 0, error = 0;
    for (std::size_t i = at; i < pulses.size() && pulses[i].seconds <= beat + kNear * now; ++i) {
      const double away = (pulses[i].seconds - beat) / now;
      const double worth = (pulses[i].strength + pulses[i].kick + pulses[i].backbeat) *
                           std::exp(-away * away / (2 * 0.05 * 0.05));
      if (worth <= best) continue;
      best = worth;
      error = pulses[i].seconds - beat;
    }
    beat += kPhaseGain * error;
    now = std::clamp(now + kPeriodGain * error, least, most);
    beats.push_back(beat);
    beat += now;
  }
  return beats;
}

BeatLine lineOf(const std::vector<double>& beats) {
  std::vector<BeatLine::Point> points;
  for (std::size_t i = 0; i < beats.size(); ++i) {
    points.push_back({static_cast<double>(i), beats[i]});
  }
  return BeatLine(points);
}

// Forwards from the first pulse, then backwards with what was learnt, then smoothed.
BeatLine followed(const std::vector<Pulse>& pulses, double period, double freedom) {
  constexpr double kBeats = 16, kSmooth = 2;
  const double phase = phaseOf(pulses, 0, period, kBeats);
  std::vector<double> forward = follow(pulses, phase, period, freedom);
  // Time turned round: the end is the beginning.
  std::vector<Pulse> turned(pulses.rbegin(), pulses.rend());
  for (Pulse& p : turned) p.seconds = -p.seconds;
  const double last = forward.size() > 1 ? forward.back() - forward[forward.size() - 2] : period;
  // From a beat that the first pass was sure of, not from beyond the end.
  double from = -forward.back();
  while (from < turned.front().seconds - last / 2) from += last;
  std::vector<double> beats = follow(turned, from, last, freedom);
  std::reverse(beats.begin(), beats.end());
  for (double& b : beats) b = -b;
  if (beats.size() < 2) beats = {beats.empty() ? phase : beats.front(), phase + period};
  const std::vector<double> even(beats.size(), 1.0);
  beats = smoothed(beats, even, kSmooth);
  for (std::size_t i = 1; i < beats.size(); ++i) {
    if (beats[i] <= beats[i - 1]) beats[i] = beats[i - 1] + period / 4;
  }
  return lineOf(beats);
}

std::vector<double> quartersOf(const std::vector<Pulse>& pulses, const BeatLine& line) {
  std::vector<double> out;
  out.reserve(pulses.size());
  for (const Pulse& p : pulses) out.push_back(line.quartersAt(p.seconds));
  return out;
}

double meanPeriod(const BeatLine& line) {
  const auto& points = line.points();
  return (points.back().seconds - points.front().seconds) /
         (points.back().quarters - points.front().quarters);
}

// By half a beat, where what is strong lies there.
BeatLine onTheBeat(const std::vector<Pulse>& pulses, const BeatLine& line) {
  double on = 0, off = 0;
  for (const Pulse& p : pulses) {
    const double away = awayFrom(line.quartersAt(p.seconds));
    const double worth = 0.3 * p.strength + 1.5 * p.kick + 2 * p.backbeat;
    if (std::abs(away) < 0.1) on += worth;
    if (std::abs(away) > 0.38) off += worth;
  }
  return off > 1.15 * on ? line.shifted(0.5) : line;
}

// A pulse that is asked for lies within this share of what is typed.
constexpr double kNearBpm = 0.08;
// How far a file's own tempo may stand behind what is found, by judged(). Takes played to it stand
// at most 0.2 behind, free takes in a file left at 120 more than 5 (60 invented takes of each).
constexpr double kFileBehind = 2;

double judged(const std::vector<Pulse>& pulses, const BeatLine& line) {
  const double period = meanPeriod(line);
  const std::vector<double> at = quartersOf(pulses, line);
  const double gathering = gatheringOf(at, period, kGatherWidth);
  constexpr double kMiddleBpm = 105, kWide = 0.45;
  const double octave = std::log(60 / period / kMiddleBpm) / kWide;
  double score = 2 * std::log(std::max(gathering, 0.1)) - octave * octave / 2;
  // Accented snares on beats, every second one, or in three every third.
  double on = 0, all = 0;
  std::vector<double> gaps;
  double before = -1e9;
  for (std::size_t i = 0; i < pulses.size(); ++i) {
    if (pulses[i].backbeat <= 0) continue;
    all += 1;
    on += std::abs(awayFrom(at[i])) < 0.1 ? 1 : 0;
    if (before > -1e8) gaps.push_back(at[i] - before);
    before = at[i];
  }
  if (gaps.size() >= 3) {
    const double gap = medianOfReals(gaps);
    // Threes and fours by turns are a bar of seven.
    const auto threes =
        std::count_if(gaps.begin(), gaps.end(), [](double g) { return std::abs(g - 3) < 0.2; });
    double right = 0.1;
    if (std::abs(gap - 2) < 0.2) {
      right = 1;
    } else if (threes * 5 > std::ssize(gaps) * 4) {
      right = 0.85;
    } else if (std::abs(gap - 4) < 0.3) {
      right = 0.3;
    }
    score += 1.8 * on / all * right;
  }
  // What is struck hard is on beats more often than off them.
  double hard = 0, hardOn = 0;
  for (std::size_t i = 0; i < pulses.size(); ++i) {
    const double strength = pulses[i].kick + pulses[i].backbeat;
    hard += strength;
    if (std::abs(awayFrom(at[i])) < 0.1) hardOn += strength;
  }
  if (hard > 0) score += kHardOn * hardOn / hard;
  const double perBeat = static_cast<double>(pulses.size()) / std::max(1.0, at.back() - at.front());
  if (perBeat < 1.2 || perBeat > 5.2) score -= 0.8;
  return score;
}

// --- Meter and bar ---

// Pulses by sixteenths of the line, as they are told apart: kicks, backbeats, the rest.
class Sixteenths {
 public:
  static constexpr int kPerQuarter = 4;
  Sixteenths(const std::vector<Pulse>& pulses, const BeatLine& line) {
    const std::vector<double> at = quartersOf(pulses, line);
    first_ = roundToInt(std::floor(at.front())) * kPerQuarter - kPerQuarter;
    const auto size = static_cast<std::size_t>(roundToInt(at.back() * kPerQuarter) - first_ + 8);
    for (auto& row : rows_) row.assign(size, 0);
    for (std::size_t i = 0; i < pulses.size(); ++i) {
      const auto bin = static_cast<std::size_t>(roundToInt(at[i] * kPerQuarter) - first_);
      rows_[0][bin] += pulses[i].kick;
      rows_[1][bin] += pulses[i].backbeat;
      rows_[2][bin] += pulses[i].strength - pulses[i].kick - pulses[i].backbeat;
      rows_[3][bin] += pulses[i].crash;
    }
    firstPulse_ = roundToInt(at.front() * kPerQuarter);
  }
  // How alike the take is to itself so much later, -1 .. 1.
  double alike(std::size_t later) const {
    double sum = 0, weights = 0;
    const double importance[] = {2, 2, 0.7};
    for (std::size_t r = 0; r < 3; ++r) {
      const std::vector<double>& row = rows_[r];
      if (row.size() <= later + 8) continue;
      const double mean = meanOf(row);
      double cross = 0, own = 0;
      for (std::size_t i = 0; i < row.size(); ++i) {
        own += (row[i] - mean) * (row[i] - mean);
        if (i + later < row.size()) cross += (row[i] - mean) * (row[i + later] - mean);
      }
      if (own <= 0) continue;
      const double share =
          static_cast<double>(row.size()) / static_cast<double>(row.size() - later);
      sum += importance[r] * std::min(1.0, cross / own * share);
      weights += importance[r];
    }
    return weights > 0 ? sum / weights : 0;
  }
  double bars(std::int64_t length) const {
    return static_cast<double>(rows_[0].size()) / static_cast<double>(length);
  }
  // What lies on the positions `offset` of bars so long.
  double sum(std::size_t row, std::int64_t offset, std::int64_t length) const {
    double out = 0;
    for (std::size_t i = 0; i < rows_[row].size(); ++i) {
      const std::int64_t at = static_cast<std::int64_t>(i) + first_ - offset;
      if (((at % length) + length) % length == 0) out += rows_[row][i];
    }
    return out;
  }
  std::int64_t firstPulse() const { return firstPulse_; }

 private:
  std::int64_t first_ = 0, firstPulse_ = 0;
  std::array<std::vector<double>, 4> rows_;
};

std::int64_t sixteenthsOf(Meter meter) {
  return (meter.barLength() * Beat(Sixteenths::kPerQuarter)).floorDiv(Beat(1));
}

std::vector<MeterGuess> guessMeters(const Sixteenths& sixteenths) {
  struct Known {
    Meter meter;
    double prior;
  };
  constexpr double kSharp = 7;
  static const Known known[] = {{{4, 4}, 0.70}, {{3, 4}, 0.12}, {{2, 4}, 0.04},
                                {{5, 4}, 0.04}, {{6, 8}, 0.05}, {{7, 8}, 0.05}};
  std::vector<MeterGuess> out;
  double sum = 0;
  for (const Known& k : known) {
    const std::int64_t length = sixteenthsOf(k.meter);
    double worth = k.prior * std::exp(kSharp * sixteenths.alike(static_cast<std::size_t>(length)));
    if (length == 12) {
      // Two dotted beats or three plain ones: which of them are struck hard.
      double two = 0, three = 0;
      for (std::int64_t o = 0; o < length; ++o) {
        const double bar = sixteenths.sum(0, o, length) + sixteenths.sum(3, o, length);
        two = std::max(two, bar + sixteenths.sum(1, o + 6, length));
        three = std::max(
            three, bar + (sixteenths.sum(1, o + 4, length) + sixteenths.sum(1, o + 8, length)) / 2);
      }
      const bool compound = k.meter.d == 8;
      worth *= (compound ? two : three) / std::max(1e-9, two + three) * 2;
    }
    out.push_back({k.meter, worth});
    sum += worth;
  }
  for (MeterGuess& g : out) g.likelihood /= std::max(sum, 1e-300);
  std::stable_sort(out.begin(), out.end(), [](const MeterGuess& a, const MeterGuess& b) {
    return a.likelihood > b.likelihood;
  });
  return out;
}

// Where bars begin, in sixteenths of the line.
std::int64_t barOffset(const Sixteenths& sixteenths, Meter meter) {
  const std::int64_t length = sixteenthsOf(meter);
  const std::int64_t step = meter.d >= 8 ? 2 : Sixteenths::kPerQuarter;
  const double bars = std::max(1.0, sixteenths.bars(length));
  double best = -1e9;
  std::int64_t offset = 0;
  for (std::int64_t o = 0; o < length; o += step) {
    double score = sixteenths.sum(0, o, length) - 1.2 * sixteenths.sum(1, o, length) +
                   1.5 * sixteenths.sum(3, o, length) + 0.1 * sixteenths.sum(2, o, length);
    if (meter == Meter{4, 4}) {
      score += 0.6 * (sixteenths.sum(1, o + 4, length) + sixteenths.sum(1, o + 12, length));
      score += 0.4 * sixteenths.sum(1, o + 8, length);  // in half time
    }
    score /= bars;
    if ((sixteenths.firstPulse() - o) % length == 0) score += 0.2;
    if (score <= best + 1e-9) continue;
    best = score;
    offset = o;
  }
  return offset;
}

// Bar 1 is the bar of the first pulse.
double barOne(const Sixteenths& sixteenths, Meter meter) {
  const std::int64_t length = sixteenthsOf(meter);
  std::int64_t at = barOffset(sixteenths, meter);
  while (at > sixteenths.firstPulse()) at -= length;
  while (at + length <= sixteenths.firstPulse()) at += length;
  return static_cast<double>(at) / Sixteenths::kPerQuarter;
}

}  // namespace

BeatLine::BeatLine(const std::vector<Point>& points) {
  constexpr double kLeast = 1e-6;
  for (const Point& p : points) {
    if (!std::isfinite(p.quarters) || !std::isfinite(p.seconds)) continue;
    if (!points_.empty() && (p.quarters - points_.back().quarters < kLeast ||
                             p.seconds - points_.back().seconds < kLeast)) {
      continue;
    }
    points_.push_back(p);
  }
  if (points_.empty()) points_.push_back({0, 0});
  if (points_.size() == 1)
    points_.push_back({points_[0].quarters + 1, points_[0].seconds + kUsualPeriod});
}

std::size_t BeatLine::pieceAt(double value, double Point::*of) const {
  const auto next = std::upper_bound(points_.begin() + 1, points_.end() - 1, value,
                                     [of](double v, const Point& p) { return v < p.*of; });
  return static_cast<std::size_t>(next - points_.begin()) - 1;
}
double BeatLine::secondsAt(double quarters) const {
  const std::size_t i = pieceAt(quarters, &Point::quarters);
  return points_[i].seconds + (quarters - points_[i].quarters) * periodAt(quarters);
}
double BeatLine::quartersAt(double seconds) const {
  const std::size_t i = pieceAt(seconds, &Point::seconds);
  const Point& a = points_[i];
  const Point& b = points_[i + 1];
  return a.quarters + (seconds - a.seconds) * (b.quarters - a.quarters) / (b.seconds - a.seconds);
}
double BeatLine::periodAt(double quarters) const {
  const std::size_t i = pieceAt(quarters, &Point::quarters);
  const Point& a = points_[i];
  const Point& b = points_[i + 1];
  return (b.seconds - a.seconds) / (b.quarters - a.quarters);
}
BeatLine BeatLine::shifted(double quarters) const {
  std::vector<Point> points = points_;
  for (Point& p : points) p.quarters -= quarters;
  return BeatLine(points);
}

double gatheringOf(const std::vector<double>& quarters, double period, double width) {
  // Pairs within a kernel, by bins a quarter of its width.
  constexpr double kBinsMost = 100'000;
  if (!(period > 0)) return 1;
  const auto bins =
      static_cast<std::size_t>(std::clamp(std::ceil(4 * period / width), 16.0, kBinsMost));
  std::vector<double> count(bins, 0);
  for (const double q : quarters) {
    const double share = positionIn(q, 1);
    if (!(share >= 0 && share <= 1)) continue;
    count[std::min(bins - 1, static_cast<std::size_t>(share * static_cast<double>(bins)))] += 1;
  }
  const auto n = static_cast<double>(quarters.size());
  if (n < 2) return 1;
  double pairs = 0;
  constexpr std::ptrdiff_t kReach = 4;
  for (std::size_t i = 0; i < bins; ++i) {
    for (std::ptrdiff_t k = -kReach; k <= kReach; ++k) {
      const auto j = static_cast<std::size_t>((static_cast<std::ptrdiff_t>(i + bins) + k) %
                                              static_cast<std::ptrdiff_t>(bins));
      const double weight = 1 - std::abs(static_cast<double>(k)) / (kReach + 1);
      pairs += weight * count[i] * (count[j] - (k == 0 ? 1 : 0));
    }
  }
  const double even = n * (n - 1) / static_cast<double>(bins) * (kReach + 1);
  return pairs / even;
}

namespace {

// Lines of beats that strokes may go by, the likeliest first.
struct Reading {
  BeatLine line;  // of the take's beginning
  double period = 0.5, score = 0;
};

std::vector<Reading> readingsOf(const std::vector<Pulse>& first, const GridWanted& wanted,
                                double span) {
  std::vector<double> periods =
      wanted.bpm && wanted.steady ? std::vector<double>{60 / *wanted.bpm} : candidates(first);
  double freedom = 0.2;
  if (wanted.bpm) {
    // The pulse near it, which may move.
    const double period = 60 / *wanted.bpm;
    std::erase_if(periods, [&](double p) { return std::abs(p / period - 1) > kNearBpm; });
    if (std::none_of(periods.begin(), periods.end(),
                     [&](double p) { return std::abs(p / period - 1) < 0.012; }))
      periods.push_back(period);
    freedom = wanted.steady ? 0.03 : kNearBpm;
  }
  std::vector<Reading> out;
  for (const double period : periods) {
    if (span / period > kQuartersMost) continue;
    Reading reading;
    reading.line = onTheBeat(first, followed(first, period, freedom));
    reading.period = period;
    reading.score = judged(first, reading.line);
    out.push_back(std::move(reading));
  }
  std::stable_sort(out.begin(), out.end(),
                   [](const Reading& a, const Reading& b) { return a.score > b.score; });
  return out;
}

// Of readings that end at other tempos: what each is worth beside the best.
std::vector<PulseGuess> guessesOf(const std::vector<Reading>& readings) {
  std::vector<PulseGuess> out;
  double sum = 0;
  for (const Reading& reading : readings) {
    const double bpm = 60 / meanPeriod(reading.line);
    constexpr double kSame = 0.02, kSharp = 2.5;
    constexpr std::size_t kTold = 6;
    if (std::any_of(out.begin(), out.end(),
                    [&](const PulseGuess& g) { return std::abs(g.bpm / bpm - 1) < kSame; }))
      continue;
    out.push_back({bpm, std::exp(kSharp * (reading.score - readings.front().score))});
    sum += out.back().likelihood;
    if (out.size() == kTold) break;
  }
  for (PulseGuess& guess : out) guess.likelihood /= sum;
  return out;
}

}  // namespace

std::optional<FoundGrid> findGrid(const std::vector<Onset>& onsets, const GridWanted& wanted) {
  const std::vector<Pulse> pulses = pulsesOf(onsets);
  if (pulses.size() < kFewest || pulses.back().seconds - pulses.front().seconds < 1) {
    return std::nullopt;
  }
  FoundGrid out;
  // A tempo that is known may be the file's own.
  constexpr double kSameTempo = 0.003;
  const bool same = wanted.played && wanted.bpm &&
                    std::abs(60 / meanPeriod(*wanted.played) / *wanted.bpm - 1) < kSameTempo;
  const auto tooLong = [&](const BeatLine& line) {
    const double quarters =
        line.quartersAt(pulses.back().seconds) - line.quartersAt(pulses.front().seconds);
    return !(quarters < kQuartersMost);
  };
  // What a long take begins with tells its tempo.
  constexpr std::size_t kJudged = 3'000;
  const std::vector<Pulse> first(
      pulses.begin(),
      pulses.begin() + static_cast<std::ptrdiff_t>(std::min(kJudged, pulses.size())));
  const double span = pulses.back().seconds - pulses.front().seconds;
  const std::vector<Reading> readings = readingsOf(first, wanted, span);
  out.pulses = guessesOf(readings);
  if (wanted.played && (!wanted.bpm || same) && !tooLong(*wanted.played)) {
    const double gathers =
        gatheringOf(quartersOf(pulses, *wanted.played), meanPeriod(*wanted.played), kGatherWidth);
    const double ahead =
        readings.empty() ? 0 : judged(first, *wanted.played) - readings.front().score;
    if (gathers >= kGathersAsPlayed && ahead >= -kFileBehind) {
      out.line = *wanted.played;
      out.gathering = gathers;
      out.asPlayed = true;
      const Sixteenths sixteenths(pulses, out.line);
      out.meters = guessMeters(sixteenths);
      out.meter = wanted.meter.value_or(out.meters.front().meter);
      if (wanted.start) out.line = out.line.shifted(out.line.quartersAt(*wanted.start));
      return out;
    }
  }
  if (readings.empty()) return std::nullopt;
  out.line = readings.front().line;
  if (first.size() < pulses.size())
    out.line = onTheBeat(pulses, followed(pulses, readings.front().period,
                                          wanted.bpm && wanted.steady ? 0.03
                                          : wanted.bpm                ? kNearBpm
                                                                      : 0.2));
  if (tooLong(out.line)) return std::nullopt;
  out.gathering = gatheringOf(quartersOf(pulses, out.line), meanPeriod(out.line), kGatherWidth);
  const Sixteenths sixteenths(pulses, out.line);
  out.meters = guessMeters(sixteenths);
  out.meter = wanted.meter.value_or(out.meters.front().meter);
  if (wanted.meter) out.meters = {{*wanted.meter, 1}};
  out.line = out.line.shifted(wanted.start ? out.line.quartersAt(*wanted.start)
                                           : barOne(sixteenths, out.meter));
  return out;
}

}  // namespace uneven
