// SPDX-License-Identifier: GPL-3.0-or-later
// Finding strokes.
#include "core/match/strokes.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "core/base/number.h"
#include "core/match/numbers.h"

namespace uneven {
namespace {

constexpr double kPi = 3.14159265358979;
constexpr double kEdges[][2] = {{30, 180}, {180, 1'500}, {1'500, 5'000}, {5'000, 16'000}};
constexpr double kFloor = 1e-9;  // of a frame's mean square: -90 dB
constexpr std::size_t kRise = 8;
constexpr double kLowRise = 0.3;  // a bass may sound on
constexpr double kMostPerBand = 1.5;
constexpr double kThreshold = 1.6;  // of the summed rise
constexpr double kApart = 0.050;    // s

}  // namespace

StrokeFinder::StrokeFinder(double rate) : rate_(rate) {
  frame_ = static_cast<std::size_t>(std::max(8.0, roundedTo(rate * 64 / 48'000, 1)));
  fine_ = static_cast<std::size_t>(std::max(2.0, roundedTo(rate / 4'000, 1)));
  // R. Bristow-Johnson's cookbook (W3C Audio EQ Cookbook): high pass and low pass with Q =
  // 1/sqrt 2.
  for (std::size_t b = 0; b < kBands; ++b) {
    const double nyquist = rate * 0.45;
    const auto section = [&](double hz, bool low) {
      const double w = 2 * kPi * std::min(hz, nyquist) / rate;
      const double alpha = std::sin(w) / std::sqrt(2.0), c = std::cos(w), a0 = 1 + alpha;
      Section s;
      s.b1 = (low ? 1 - c : -(1 + c)) / a0;
      s.b0 = s.b2 = (low ? 1 - c : 1 + c) / 2 / a0;
      s.a1 = -2 * c / a0;
      s.a2 = (1 - alpha) / a0;
      return s;
    };
    bands_[b].high = section(kEdges[b][0], false);
    bands_[b].low = section(kEdges[b][1], true);
  }
}

void StrokeFinder::push(std::span<const float> samples) {
  for (const float sample : samples) {
    const double x = std::isfinite(sample) ? std::clamp(static_cast<double>(sample), -8.0, 8.0) : 0;
    for (std::size_t b = 0; b < kBands; ++b) {
      const double y = bands_[b].low.next(bands_[b].high.next(x));
      bands_[b].energy += y * y;
      if (b == 1) middleEdge_ += y * y;
      if (b == 3) topEdge_ += y * y;
    }
    const double step = x - before_;
    before_ = x;
    edge_ += step * step;
    if (++inFine_ == fine_) {
      edges_.push(edge_);
      middle_.push(middleEdge_);
      top_.push(topEdge_);
      edge_ = middleEdge_ = topEdge_ = 0;
      inFine_ = 0;
    }
    if (++inFrame_ < frame_) continue;
    inFrame_ = 0;
    for (Band& band : bands_) {
      std::shift_right(band.recent.begin(), band.recent.end(), 1);
      band.recent[0] = static_cast<float>(band.energy / static_cast<double>(frame_));
      band.energy = 0;
      double sum = 0;
      for (const float energy : band.recent) sum += energy;
      band.frames.push_back(
          static_cast<float>(std::log10(sum / static_cast<double>(kSmooth) + kFloor)));
    }
  }
}

double StrokeFinder::momentNear(const Energies& fine, double perSecond, double seconds) {
  // The greatest ratio of the energy of 1 ms after to 1 ms before.
  constexpr double kWithin = 0.020;
  constexpr std::ptrdiff_t kMs = 4;
  const auto middle = static_cast<std::ptrdiff_t>(seconds * perSecond);
  const auto reach = static_cast<std::ptrdiff_t>(kWithin * perSecond);
  const auto size = static_cast<std::ptrdiff_t>(fine.size());
  const auto energy = [&](std::ptrdiff_t from) {
    double sum = 0;
    for (std::ptrdiff_t i = std::max<std::ptrdiff_t>(0, from); i < std::min(size, from + kMs); ++i)
      sum += fine[static_cast<std::size_t>(i)];
    return sum;
  };
  // Nothing quieter than what is there anyway counts as a rise.
  double loudest = 0;
  for (std::ptrdiff_t at = middle - reach; at <= middle + reach; ++at)
    loudest = std::max(loudest, energy(at));
  const double quiet = 1e-3 * loudest + 1e-12;
  double best = -1;
  std::ptrdiff_t found = middle;
  for (std::ptrdiff_t at = middle - reach; at <= middle + reach; ++at) {
    const double ratio = std::log((energy(at) + quiet) / (energy(at - kMs) + quiet));
    if (ratio <= best) continue;
    best = ratio;
    found = at;
  }
  return std::max(0.0, static_cast<double>(found) / perSecond);
}

void StrokeFinder::tell(std::size_t frame, std::vector<Told>& out) const {
  // How far each band rises to its highest within 30 ms from what it was before.
  constexpr std::size_t kBefore = 10, kAfter = 20;
  std::array<double, kBands> rise{}, level{};
  for (std::size_t b = 0; b < kBands; ++b) {
    const std::vector<float>& f = bands_[b].frames;
    const double low = frame >= kBefore ? f[frame - kBefore] : std::log10(kFloor);
    double high = f[frame];
    for (std::size_t k = frame; k < std::min(f.size(), frame + kAfter); ++k)
      high = std::max(high, static_cast<double>(f[k]));
    rise[b] = high - low;
    // What came on top of what sounded already, such as a bass that is held.
    level[b] = std::log10(std::max(0.0, std::pow(10, high) - std::pow(10, low)) + kFloor);
  }
  const double hop = static_cast<double>(frame_) / rate_;
  const double near = (static_cast<double>(frame) - 6) * hop;
  const double fine = rate_ / static_cast<double>(fine_);
  const double whole = momentNear(edges_, fine, near);
  const std::size_t first = out.size();
  const auto put = [&](PieceId piece, double strength) {
    Told told;
    told.onset.piece = piece;
    told.frame = frame;
    told.onset.velocity = strength;  // log10 of energy, turned into a velocity at the end
    told.whole = whole;
    told.own = momentNear(piece == piece::kHat ? top_ : middle_, fine, near);
    out.push_back(told);
  };
  const bool low = rise[0] > kLowRise && level[0] > level[1] - 0.9;
  const bool body = rise[1] > 0.7, noise = rise[2] > 0.6, top = rise[3] > 0.5;
  // A drum with a skin and wires: much in the middle beside what is on top.
  const bool snare =
      body && noise && level[1] > level[3] - 0.7 && (!low || level[1] > level[0] - 0.9);
  const bool kick = low && level[0] > level[1] - 0.3 && !(snare && level[1] > level[0]);
  if (kick) put(piece::kKick, level[0]);
  const bool snareStruck = snare && !(kick && level[1] < level[0] - 0.4);
  if (snareStruck) put(piece::kSnare, level[1]);
  if (top && !snareStruck && level[3] > level[1] - 1.4) put(piece::kHat, level[3]);
  // Hats that are struck well before the snare's middle rises.
  constexpr double kBeforeSnare = 0.004;
  if (snareStruck && top) {
    const double hats = momentNear(top_, fine, near);
    if (out.back().own - hats > kBeforeSnare) put(piece::kHat, level[3]);
  }
  if (out.size() == first) put(piece::kClick, level[1]);
  for (std::size_t i = first; i < out.size(); ++i) out[i].alone = out.size() == first + 1;
}

void StrokeFinder::tellOpenings(std::vector<Told>& told) const {
  const double hop = static_cast<double>(frame_) / rate_;
  const std::vector<float>& top = bands_.back().frames;
  constexpr double kFrom = 0.030, kLongest = 0.250, kLeast = 0.050, kBeforeNext = 0.012;  // s
  constexpr double kTwentyDb = 2, kForever = 4;
  std::vector<std::pair<std::size_t, double>> rings;  // which, and the seconds of 20 dB
  for (std::size_t i = 0; i < told.size(); ++i) {
    if (told[i].onset.piece != piece::kHat || !told[i].alone) continue;
    const double until = i + 1 < told.size()
                             ? static_cast<double>(told[i + 1].frame - told[i].frame) * hop
                             : kLongest;
    const double to = std::min(kLongest, until - kBeforeNext);
    if (to - kFrom < kLeast) continue;
    const auto a = told[i].frame + static_cast<std::size_t>(kFrom / hop);
    auto b = told[i].frame + static_cast<std::size_t>(to / hop);
    if (b >= top.size()) continue;
    // As far as it falls: below that the room is heard.
    const float low = *std::min_element(top.begin() + static_cast<std::ptrdiff_t>(a),
                                        top.begin() + static_cast<std::ptrdiff_t>(b) + 1);
    for (std::size_t k = a; k <= b; ++k) {
      if (top[k] <= low + 0.1F) {
        b = std::max(k, a + 2);
        break;
      }
    }
    const double fall = top[a] - top[b];
    const double seconds = static_cast<double>(b - a) * hop;
    rings.emplace_back(
        i, fall <= kTwentyDb * seconds / kForever ? kForever : kTwentyDb * seconds / fall);
  }
  constexpr std::size_t kEnough = 8;
  if (rings.size() < kEnough) return;
  std::vector<double> lengths;
  lengths.reserve(rings.size());
  for (const auto& [which, length] : rings) lengths.push_back(length);
  std::sort(lengths.begin(), lengths.end());
  const double shut = lengths[lengths.size() / 10];
  constexpr double kOpens = 1.8, kWide = 8;  // times as long
  for (const auto& [which, length] : rings) {
    if (length < kOpens * shut) continue;
    const double share = std::log(length / shut) / std::log(kWide);
    told[which].onset.opening = std::clamp(roundedTo(share, 4), 0.25, 1.0);
  }
}

void StrokeFinder::settle(std::vector<Told>& told) {
  std::map<PieceId, std::vector<double>> off;
  for (const Told& t : told) {
    if (t.alone) off[t.onset.piece].push_back(t.own - t.whole);
  }
  std::map<PieceId, double> usual;
  for (const auto& [piece, of] : off) usual[piece] = medianOfReals(of);
  for (Told& t : told) t.onset.shared = !t.alone;
  for (Told& t : told) {
    t.onset.seconds = std::max(0.0, t.alone ? t.whole : t.own - usual[t.onset.piece]);
  }
}

void StrokeFinder::levelled(std::vector<Onset>& onsets) {
  // The loudest tenth of each kind is 110; below it by the curve of velocities (40 log10 v is dB).
  std::map<PieceId, std::vector<double>> levels;
  for (const Onset& o : onsets) levels[o.piece].push_back(o.velocity);
  for (auto& [piece, of] : levels) std::sort(of.begin(), of.end());
  for (Onset& o : onsets) {
    const std::vector<double>& of = levels[o.piece];
    const double loud = of[of.size() * 9 / 10];
    o.velocity = std::clamp(110 * std::pow(10, (o.velocity - loud) * 10 / 40), 1.0, 127.0);
  }
}

std::vector<Onset> StrokeFinder::finish() {
  std::vector<Onset> out;
  std::vector<Told> told;
  if (ended_) return out;
  ended_ = true;
  // A last frame, so that what ends with a stroke is told whole.
  const std::size_t count = bands_[0].frames.size();
  std::vector<float> sums(count, 0);
  for (std::size_t i = 0; i < count; ++i) {
    double sum = 0;
    for (const Band& band : bands_) {
      // Before the first sample there was silence.
      const double before = i < kRise ? std::log10(kFloor) : band.frames[i - kRise];
      sum += std::clamp<double>(band.frames[i] - before, 0, kMostPerBand);
    }
    sums[i] = static_cast<float>(sum);
  }
  const double hop = static_cast<double>(frame_) / rate_;
  const auto apart = static_cast<std::size_t>(kApart / hop);
  // Loud takes have sharp strokes, soft ones flat: the threshold follows the peaks there are.
  std::vector<double> peaks;
  const auto isPeak = [&](std::size_t i) {
    const std::size_t from = i >= apart ? i - apart : 0, to = std::min(count, i + apart + 1);
    for (std::size_t k = from; k < to; ++k) {
      if (sums[k] > sums[i] || (sums[k] == sums[i] && k < i)) return false;
    }
    return true;
  };
  std::vector<std::size_t> at;
  constexpr double kSurelyNone = 0.8;
  for (std::size_t i = 0; i < count; ++i) {
    if (sums[i] < kSurelyNone || !isPeak(i)) continue;
    at.push_back(i);
    peaks.push_back(sums[i]);
  }
  std::sort(peaks.begin(), peaks.end());
  const double usual = peaks.empty() ? 0 : peaks[peaks.size() * 3 / 4];
  const double threshold = std::clamp(0.45 * usual, 1.0, kThreshold);
  for (const std::size_t i : at) {
    if (sums[i] >= threshold) tell(i, told);
  }
  tellOpenings(told);
  settle(told);
  for (const Told& t : told) out.push_back(t.onset);
  std::stable_sort(out.begin(), out.end(),
                   [](const Onset& a, const Onset& b) { return a.seconds < b.seconds; });
  levelled(out);
  return out;
}

}  // namespace uneven
