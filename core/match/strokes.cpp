// SPDX-License-Identifier: GPL-3.0-or-later
// Finding strokes.
#include "core/match/strokes.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <optional>

#include "core/base/number.h"
#include "core/match/numbers.h"
#include "core/match/voices.h"
#include "core/match/weights.h"

namespace uneven {
namespace {

constexpr std::size_t kGroups = 4;
constexpr std::array<std::size_t, kGroups + 1> kGroupBands = {0, 2, 4, 6, 8};
constexpr std::size_t kTop = kGroups - 1;
constexpr std::ptrdiff_t kSmooth = 8, kRise = 8;  // frames

// What a voice is timed by, and by how much later than it begins, s, where nothing better is known.
struct TimedBy {
  std::size_t from, to;  // bands
  double later;
};
constexpr std::array<TimedBy, kVoices> kTimedBy = {
    {{2, 3, 0.0025}, {2, 3, 0.0013}, {6, 8, 0.0005}, {2, 3, 0.0023}}};

struct Attack {
  std::ptrdiff_t frame = 0;  // where the rise is greatest
  double whole = 0;          // s, by the whole sound
  std::array<double, kVoices> own{};
  VoicesTold voices;
};

class StrokeSearch {
 public:
  explicit StrokeSearch(const BandEnergies& bands)
      : bands_(bands), hop_(bands.hop()), frames_(static_cast<std::ptrdiff_t>(bands.frames())) {}

  std::vector<Onset> run() {
    constexpr std::ptrdiff_t kFewest = 8;
    if (frames_ < kFewest) return {};
    find();
    std::vector<Sounding> heard;
    heard.reserve(attacks_.size());
    for (std::size_t i = 0; i < attacks_.size(); ++i) heard.push_back(heardAt(i));
    const std::vector<VoicesTold> told = tellVoices(heard);
    for (std::size_t i = 0; i < attacks_.size(); ++i) attacks_[i].voices = told[i];
    return settled();
  }

 private:
  double energy(std::size_t from, std::size_t to, std::ptrdiff_t frame) const {
    double sum = 0;
    for (std::size_t b = from; b < to; ++b) sum += bands_.at(b, frame);
    return sum;
  }
  // log10 of a group's energy, smoothed over what was last.
  double level(std::size_t group, std::ptrdiff_t frame) const {
    double sum = 0;
    for (std::ptrdiff_t k = 0; k < kSmooth; ++k)
      sum += energy(kGroupBands[group], kGroupBands[group + 1], frame - k);
    return std::log10(sum / kSmooth + ear::kFloor);
  }

  void find() {
    std::vector<float> sums(static_cast<std::size_t>(frames_), 0), levels(sums.size());
    for (std::size_t g = 0; g < kGroups; ++g) {
      double sum = 0;
      for (std::ptrdiff_t i = 0; i < frames_; ++i) {
        sum += energy(kGroupBands[g], kGroupBands[g + 1], i);
        if (i >= kSmooth) sum -= energy(kGroupBands[g], kGroupBands[g + 1], i - kSmooth);
        levels[static_cast<std::size_t>(i)] =
            static_cast<float>(std::log10(std::max(0.0, sum) / kSmooth + ear::kFloor));
      }
      for (std::ptrdiff_t i = 0; i < frames_; ++i) {
        // Before the first sample there was silence.
        const double before =
            i < kRise ? std::log10(ear::kFloor) : levels[static_cast<std::size_t>(i - kRise)];
        sums[static_cast<std::size_t>(i)] += static_cast<float>(std::clamp<double>(
            levels[static_cast<std::size_t>(i)] - before, 0, ear::kMostPerGroup));
      }
    }
    const auto apart = static_cast<std::ptrdiff_t>(ear::kStrokesApart / hop_);
    const auto at = [&](std::ptrdiff_t i) { return sums[static_cast<std::size_t>(i)]; };
    const auto isPeak = [&](std::ptrdiff_t i) {
      const std::ptrdiff_t to = std::min(frames_, i + apart + 1);
      for (std::ptrdiff_t k = std::max<std::ptrdiff_t>(0, i - apart); k < to; ++k) {
        if (at(k) > at(i) || (at(k) == at(i) && k < i)) return false;
      }
      return true;
    };
    // Loud takes have sharp strokes, soft ones flat: the threshold follows the peaks there are.
    std::vector<std::ptrdiff_t> tops;
    std::vector<double> peaks;
    for (std::ptrdiff_t i = 0; i < frames_; ++i) {
      if (at(i) < ear::kSurelyNone || !isPeak(i)) continue;
      tops.push_back(i);
      peaks.push_back(at(i));
    }
    std::sort(peaks.begin(), peaks.end());
    const double usual = peaks.empty() ? 0 : peaks[peaks.size() * 3 / 4];
    const double threshold = std::clamp(0.45 * usual, 1.0, ear::kThreshold);
    for (const std::ptrdiff_t i : tops) {
      if (at(i) < threshold) continue;
      Attack m;
      m.frame = i;
      m.whole = wholeNear(static_cast<double>(i - 6) * hop_);
      attacks_.push_back(m);
    }
  }

  // The greatest ratio of the energy of 1 ms after to 1 ms before.
  double wholeNear(double seconds) const {
    constexpr std::ptrdiff_t kMs = 4;
    const PackedEnergies& fine = bands_.edges();
    const double perSecond = bands_.edgesPerSecond();
    const auto middle = static_cast<std::ptrdiff_t>(seconds * perSecond);
    const auto reach = static_cast<std::ptrdiff_t>(ear::kWholeWithin * perSecond);
    const auto size = static_cast<std::ptrdiff_t>(fine.size());
    const auto sumFrom = [&](std::ptrdiff_t from) {
      double sum = 0;
      for (std::ptrdiff_t i = std::max<std::ptrdiff_t>(0, from); i < std::min(size, from + kMs);
           ++i)
        sum += fine[static_cast<std::size_t>(i)];
      return sum;
    };
    // Nothing quieter than what is there anyway counts as a rise.
    double loudest = 0;
    for (std::ptrdiff_t at = middle - reach; at <= middle + reach; ++at)
      loudest = std::max(loudest, sumFrom(at));
    const double quiet = 1e-3 * loudest + 1e-12;
    double best = -1;
    std::ptrdiff_t found = middle;
    for (std::ptrdiff_t at = middle - reach; at <= middle + reach; ++at) {
      const double ratio = std::log((sumFrom(at) + quiet) / (sumFrom(at - kMs) + quiet));
      if (ratio <= best) continue;
      best = ratio;
      found = at;
    }
    return std::max(0.0, static_cast<double>(found) / perSecond);
  }

  std::ptrdiff_t frameOf(double seconds) const {
    return static_cast<std::ptrdiff_t>(seconds / hop_);
  }
  // Mean over three frames.
  double softly(std::size_t from, std::size_t to, std::ptrdiff_t frame) const {
    return (energy(from, to, frame - 1) + energy(from, to, frame) + energy(from, to, frame + 1)) /
           3;
  }
  // The loudest there was just before: a low tone's energy goes up and down by itself.
  double beforeAt(std::size_t band, std::ptrdiff_t frame) const {
    const std::ptrdiff_t from = band < 2 ? 16 : 9;
    double most = 0;
    for (std::ptrdiff_t k = 3; k < from; ++k)
      most = std::max(most, softly(band, band + 1, frame - k));
    return most;
  }

  Sounding heardAt(std::size_t which) const {
    Sounding out;
    const std::ptrdiff_t start = frameOf(attacks_[which].whole);
    const auto attack = static_cast<std::ptrdiff_t>(ear::kAttack / hop_);
    const auto from = start + static_cast<std::ptrdiff_t>(ear::kLaterFrom / hop_);
    const auto to = start + static_cast<std::ptrdiff_t>(ear::kLaterTo / hop_);
    const bool covered =
        to >= frames_ ||
        (which + 1 < attacks_.size() &&
         attacks_[which + 1].whole < attacks_[which].whole + ear::kLaterTo + ear::kClearOfNext);
    double most = 0;
    for (std::size_t b = 0; b < BandEnergies::kBands; ++b) {
      const double before = beforeAt(b, start) + ear::kFloor / 10;
      double peak = 0, late = 0;
      for (std::ptrdiff_t k = start; k <= start + attack; ++k)
        peak = std::max(peak, softly(b, b + 1, k));
      for (std::ptrdiff_t k = from; k < to; ++k)
        late += bands_.at(b, k) / static_cast<double>(to - from);
      const auto trust = [&](double value) {
        return std::clamp((value / before - 1.2) / 2, 0.1, 1.0);
      };
      out.energy[b] = std::max(peak - before, before / 5);
      out.trust[b] = trust(peak);
      most = std::max(most, out.energy[b]);
      const std::size_t later = b + BandEnergies::kBands;
      out.energy[later] = std::max(late - before, before / 5);
      out.trust[later] = covered ? 0 : 0.5 * trust(late);
    }
    // What is far below the loudest tells little.
    for (std::size_t p = 0; p < kSoundParts; ++p)
      out.trust[p] *=
          std::clamp(2.6 + std::log10(std::max(out.energy[p], 1e-12) / most) / 2, 0.3, 1.0);
    return out;
  }

  // Where a voice's own bands have risen by a part of their way; of hats by a part of what they
  // are worth themselves.
  double ownMoment(const Attack& m, std::size_t voice) const {
    const auto [from, to, later] = kTimedBy[voice];
    const std::ptrdiff_t start = frameOf(m.whole);
    const auto first = start - static_cast<std::ptrdiff_t>(ear::kOwnEarlier / hop_);
    const auto last = start + static_cast<std::ptrdiff_t>(ear::kAttack / hop_);
    double before = 0;
    for (std::ptrdiff_t k = first - 6; k < first; ++k) before += energy(from, to, k) / 6;
    std::ptrdiff_t top = start;
    for (std::ptrdiff_t k = start; k <= last; ++k) {
      if (softly(from, to, k) > softly(from, to, top)) top = k;
    }
    const double peak = softly(from, to, top);
    // A bass that begins just before may reach a small part of it, not a large.
    const std::ptrdiff_t earliest = start - static_cast<std::ptrdiff_t>(ear::kOwnMostBefore / hop_);
    for (const double part : {0.15, 0.3, 0.5}) {
      const double wanted = before + part * (peak - before);
      std::ptrdiff_t k = earliest;
      if (energy(from, to, k) >= wanted) continue;
      while (k < top && energy(from, to, k + 1) < wanted) ++k;
      const double under = energy(from, to, k), over = energy(from, to, k + 1);
      const double share =
          over > under ? std::clamp((wanted - under) / (over - under), 0.0, 1.0) : 1;
      return (static_cast<double>(k + 1) + share) * hop_;
    }
    return m.whole + later;
  }

  // Where another leads unheard the whole sound is too early, by more or less; a drum that is
  // always as late after it does sound alone.
  static double usualLater(std::size_t voice, std::vector<double> off) {
    // Hats are seldom heard under a snare, but beside a kick they are.
    const bool slow = voice == static_cast<std::size_t>(Voice::kKick) ||
                      voice == static_cast<std::size_t>(Voice::kTom);
    const double latest = slow ? ear::kSlowBody : kTimedBy[voice].later + ear::kUsualNear;
    const double known = kTimedBy[voice].later;
    const double median = medianOfReals(off), spread = robustSpread(off);
    if (off.size() >= ear::kUsualFewest && spread < ear::kUsualTight && median > -ear::kUsualNear &&
        median < latest)
      return median;
    std::erase_if(off, [&](double later) { return std::abs(later - known) > ear::kUsualNear; });
    return off.size() < ear::kUsualFewest ? known : medianOfReals(off);
  }

  std::vector<Onset> settled() {
    // How far a voice's own moment is from the whole sound's, where it sounds alone.
    std::array<std::vector<double>, kVoices> off;
    for (Attack& m : attacks_) {
      for (std::size_t v = 0; v < kVoices; ++v) {
        if (!m.voices.sounds[v]) continue;
        m.own[v] = ownMoment(m, v);
        if (m.voices.count() == 1) off[v].push_back(m.own[v] - m.whole);
      }
    }
    std::array<double, kVoices> usual{};
    for (std::size_t v = 0; v < kVoices; ++v) usual[v] = usualLater(v, std::move(off[v]));
    const std::vector<double> openings = openingsOf();
    std::vector<Onset> out;
    constexpr std::array<PieceId, kVoices> kPieces = {piece::kKick, piece::kSnare, piece::kHat,
                                                      piece::kTomMid};
    for (std::size_t i = 0; i < attacks_.size(); ++i) {
      const Attack& m = attacks_[i];
      const int count = m.voices.count();
      const auto momentOf = [&](std::size_t v) {
        if (count == 1 && v == static_cast<std::size_t>(Voice::kHat)) return m.whole;
        return std::max(0.0, m.own[v] - usual[v]);
      };
      if (m.voices.other) {
        Onset o;
        o.seconds = m.whole;
        o.velocity = level(kGroups / 2, m.frame);
        out.push_back(o);
      }
      for (std::size_t v = 0; v < kVoices; ++v) {
        if (!m.voices.sounds[v]) continue;
        Onset o;
        o.piece = kPieces[v];
        o.seconds = momentOf(v);
        o.velocity = std::log10(std::max(m.voices.energy[v], 1e-12));  // turned into one below
        if (v == static_cast<std::size_t>(Voice::kHat)) {
          if (count == 1) o.opening = openings[i];
          // Under a drum's own noise nobody knows.
          for (std::size_t d = 0; d < kVoices; ++d) {
            if (d != v && m.voices.sounds[d] && o.seconds > momentOf(d) - ear::kUnderDrum)
              o.shared = true;
          }
        }
        if (m.voices.has(Voice::kKick) && m.voices.has(Voice::kSnare)) o.shared = true;
        out.push_back(o);
      }
    }
    std::stable_sort(out.begin(), out.end(),
                     [](const Onset& a, const Onset& b) { return a.seconds < b.seconds; });
    levelled(out);
    return out;
  }

  // The loudest tenth of each kind is 110; below it by the curve of velocities (40 log10 v is dB).
  static void levelled(std::vector<Onset>& onsets) {
    std::map<PieceId, std::vector<double>> levels;
    for (const Onset& o : onsets) levels[o.piece].push_back(o.velocity);
    for (auto& [piece, of] : levels) std::sort(of.begin(), of.end());
    for (Onset& o : onsets) {
      const std::vector<double>& of = levels[o.piece];
      const double loud = of[of.size() * 9 / 10];
      o.velocity = std::clamp(110 * std::pow(10, (o.velocity - loud) * 10 / 40), 1.0, 127.0);
    }
  }

  // How far hats that sound alone are open, by moments.
  std::vector<double> openingsOf() const {
    std::vector<double> out(attacks_.size(), 0);
    std::vector<std::pair<std::size_t, double>> rings;  // which, and the seconds of 20 dB
    for (std::size_t i = 0; i < attacks_.size(); ++i) {
      if (!attacks_[i].voices.has(Voice::kHat) || attacks_[i].voices.count() != 1) continue;
      const double until =
          i + 1 < attacks_.size()
              ? static_cast<double>(attacks_[i + 1].frame - attacks_[i].frame) * hop_
              : ear::kRingLongest;
      const double to = std::min(ear::kRingLongest, until - ear::kRingBeforeNext);
      if (to - ear::kRingFrom < ear::kRingLeast) continue;
      const std::ptrdiff_t a =
          attacks_[i].frame + static_cast<std::ptrdiff_t>(ear::kRingFrom / hop_);
      std::ptrdiff_t b = attacks_[i].frame + static_cast<std::ptrdiff_t>(to / hop_);
      if (b >= frames_) continue;
      std::vector<double> top;
      for (std::ptrdiff_t k = a; k <= b; ++k) top.push_back(level(kTop, k));
      // As far as it falls: below that the room is heard.
      const double low = *std::min_element(top.begin(), top.end());
      for (std::ptrdiff_t k = a; k <= b; ++k) {
        if (top[static_cast<std::size_t>(k - a)] > low + 0.1) continue;
        b = std::max(k, a + 2);
        break;
      }
      const double fall = top.front() - top[static_cast<std::size_t>(b - a)];
      const double seconds = static_cast<double>(b - a) * hop_;
      rings.emplace_back(i, fall <= ear::kTwentyDb * seconds / ear::kRingsForever
                                ? ear::kRingsForever
                                : ear::kTwentyDb * seconds / fall);
    }
    if (rings.size() < ear::kRingsFewest) return out;
    std::vector<double> lengths;
    lengths.reserve(rings.size());
    for (const auto& [which, length] : rings) lengths.push_back(length);
    std::sort(lengths.begin(), lengths.end());
    const double shut = lengths[lengths.size() / 10];
    for (const auto& [which, length] : rings) {
      if (length < ear::kOpens * shut) continue;
      const double share = std::log(length / shut) / std::log(ear::kWideOpen);
      out[which] = std::clamp(roundedTo(share, 4), 0.25, 1.0);
    }
    return out;
  }

  const BandEnergies& bands_;
  double hop_;
  std::ptrdiff_t frames_;
  std::vector<Attack> attacks_;
};

}  // namespace

std::vector<Onset> StrokeFinder::finish() {
  if (ended_) return {};
  ended_ = true;
  bands_.finish();
  return StrokeSearch(bands_).run();
}

}  // namespace uneven
