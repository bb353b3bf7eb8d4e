// SPDX-License-Identifier: GPL-3.0-or-later
// Telling drums apart.
#include "core/match/voices.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <span>

#include "core/match/weights.h"

namespace uneven {
namespace {

constexpr std::size_t kBands = BandEnergies::kBands;
constexpr double kLeastEnergy = 1e-12;
constexpr std::size_t kKickVoice = 0, kSnareVoice = 1, kHatVoice = 2, kTomVoice = 3, kBassVoice = 4,
                      kAllVoices = 5;

// dB of each band beside the sum of all at once, then dB later beside that band at once. The last
// is no drum: a bass that is plucked.
struct Usual {
  std::array<double, kBands> atOnce, later;
};
constexpr std::array<Usual, kAllVoices> kUsual = {{
    {{-4, -4.5, -10, -15, -15, -17, -19, -25}, {-7, -10, -16, -27, -31, -33, -34, -36}},
    {{-12, -6, -6, -11, -12, -11.5, -11, -15.5}, {-12, -12, -14, -16, -13, -12, -11, -11}},
    {{-34, -28, -18, -12, -9.5, -7.5, -6, -7}, {-20, -20, -18, -17, -15, -14, -13, -13}},
    {{-10.5, -5.5, -4.8, -9.5, -12, -13, -14, -19}, {-3, -3, -6, -13, -22, -26, -29, -30}},
    {{-3.5, -4, -8, -18, -32, -42, -48, -52}, {1, 1, 0, -2, -4, -4, -4, -4}},
}};

// log10 of energies; a voice whose bands at once sum to 1.
using Sound = std::array<double, kSoundParts>;

Sound usualOf(const Usual& usual) {
  Sound out{};
  double sum = 0;
  for (const double db : usual.atOnce) sum += std::pow(10, db / 10);
  for (std::size_t b = 0; b < kBands; ++b) {
    out[b] = usual.atOnce[b] / 10 - std::log10(sum);
    out[b + kBands] = out[b] + usual.later[b] / 10;
  }
  return out;
}

double logOf(double energy) {
  return std::log10(std::max(energy, kLeastEnergy));
}
double sumOf(const SoundParts& energy, std::size_t from, std::size_t to) {
  double sum = 0;
  for (std::size_t b = from; b < to; ++b) sum += energy[b];
  return sum;
}

// Where values fall into two heaps, how far these lie from each other beside their spread.
struct Split {
  double at = 0, clear = 0;
};
Split splitOf(std::vector<double> values) {
  Split out;
  if (values.size() < 8) return out;
  std::sort(values.begin(), values.end());
  // The least spread within (N. Otsu 1979, IEEE Trans. SMC 9(1)).
  const auto n = static_cast<double>(values.size());
  double all = 0, squares = 0;
  for (const double v : values) {
    all += v;
    squares += v * v;
  }
  double sum = 0, part = 0, best = std::numeric_limits<double>::infinity();
  for (std::size_t i = 0; i + 1 < values.size(); ++i) {
    sum += values[i];
    part += values[i] * values[i];
    const double k = static_cast<double>(i + 1), rest = n - k;
    const double within = part - sum * sum / k + squares - part - (all - sum) * (all - sum) / rest;
    // A few that are neither are no heap.
    if (within >= best || k < ear::kHeapLeast * n || rest < ear::kHeapLeast * n) continue;
    best = within;
    out.at = (values[i] + values[i + 1]) / 2;
    const double apart = (all - sum) / rest - sum / k;
    out.clear = apart / std::sqrt(std::max(1e-9, within / n));
  }
  return out;
}

struct Gains {
  std::array<double, kAllVoices> of{};
  double cost = std::numeric_limits<double>::infinity();
};

class Telling {
 public:
  explicit Telling(const std::vector<Sounding>& moments) : moments_(moments) {
    for (std::size_t v = 0; v < kAllVoices; ++v) first_[v] = log_[v] = usualOf(kUsual[v]);
    std::vector<double> bodies;
    for (const Sounding& m : moments_) bodies.push_back(sumOf(m.energy, 1, 3));
    if (bodies.empty()) return;
    std::sort(bodies.begin(), bodies.end());
    body_ =
        bodies[static_cast<std::size_t>(ear::kLoudDrums * static_cast<double>(bodies.size() - 1))];
  }

  std::vector<VoicesTold> run() {
    constexpr std::size_t kSample = 1'500;
    constexpr int kRounds = 3;
    const std::size_t every = moments_.size() / kSample + 1;
    std::vector<const Sounding*> sample;
    for (std::size_t i = 0; i < moments_.size(); i += every) sample.push_back(&moments_[i]);
    for (int round = 0; round < kRounds; ++round) {
      prepare();
      splitDrums(sample);
      learn(sample);
    }
    prepare();
    splitDrums(sample);
    std::vector<VoicesTold> out;
    out.reserve(moments_.size());
    for (const Sounding& m : moments_) out.push_back(told(tell(m)));
    return out;
  }

 private:
  void prepare() {
    for (std::size_t v = 0; v < kAllVoices; ++v) {
      for (std::size_t p = 0; p < kSoundParts; ++p) linear_[v][p] = std::pow(10, log_[v][p]);
    }
  }

  // Gains of some voices, and how badly they explain a moment.
  Gains explain(const Sounding& m, std::initializer_list<std::size_t> voices) const {
    const double all = sumOf(m.energy, 0, kBands);
    Gains out;
    for (const std::size_t v : voices) out.of[v] = all;
    SoundParts model{};
    const auto remodel = [&] {
      model.fill(kLeastEnergy);
      for (const std::size_t v : voices) {
        for (std::size_t p = 0; p < kSoundParts; ++p) model[p] += out.of[v] * linear_[v][p];
      }
    };
    const int rounds = voices.size() == 1 ? 3 : 8;
    for (int round = 0; round < rounds; ++round) {
      remodel();
      for (const std::size_t v : voices) {
        double up = 0, down = 0;
        for (std::size_t p = 0; p < kSoundParts; ++p) {
          const double part = m.trust[p] * linear_[v][p] / model[p];
          up += part * m.energy[p] / model[p];
          down += part;
        }
        out.of[v] *= down > 0 ? std::sqrt(up / down) : 1;
      }
    }
    remodel();
    out.cost = ear::kEachVoice * static_cast<double>(voices.size());
    for (std::size_t p = 0; p < kSoundParts; ++p) {
      const double more = logOf(m.energy[p]) - std::log10(model[p]);
      // Any drum may be damped.
      const double by = p >= kBands && more < 0 ? ear::kRingsShorter * more : more;
      const double away = std::min(ear::kVoiceFarthest, std::abs(by)) / ear::kVoiceSpread;
      out.cost += m.trust[p] * away * away / 2;
    }
    return out;
  }
  Gains best(const Sounding& m, std::size_t drum) const {
    Gains out = explain(m, {drum});
    for (const Gains& other : {explain(m, {drum, kHatVoice}), explain(m, {drum, kBassVoice}),
                               explain(m, {drum, kHatVoice, kBassVoice})}) {
      if (other.cost < out.cost) out = other;
    }
    return out;
  }

  // Whether a moment has a drum's body: nats for it.
  double drumIn(const Sounding& m) const {
    // What rings on from before is no sign of one.
    SoundParts surely = m.energy;
    for (std::size_t p = 0; p < kSoundParts; ++p) surely[p] *= m.trust[p] > ear::kTrusted ? 1 : 0;
    const double low = logOf(sumOf(surely, 0, 2)) - logOf(sumOf(surely, 0, kBands));
    const double body = logOf(sumOf(surely, 1, 3)) - logOf(body_);
    return ear::kDrumSharp * std::min(std::clamp(low - ear::kDrumShape, -0.5, 0.5),
                                      std::clamp(body - ear::kDrumSoft, -0.8, 0.8));
  }

  // What kick and snare of one take differ by, log10: where the body lies, how much is above it,
  // how it dies; last by how much a snare explains it better.
  static constexpr std::size_t kMarks = 7;
  using Marks = std::array<double, kMarks>;
  Marks marksOf(const Sounding& m, double kickCost, double snareCost) const {
    const auto at = [&](std::size_t p) { return logOf(m.energy[p]); };
    const double body = logOf(sumOf(m.energy, 0, 3));
    return {at(0) - body,
            at(2) - body,
            at(3) - body,
            logOf(sumOf(m.energy, 4, 7)) - body,
            logOf(sumOf(m.energy, kBands, kBands + 3)) - body,
            logOf(sumOf(m.energy, kBands + 4, kBands + 7)) - body,
            std::clamp((kickCost - snareCost) / ear::kMarkNats, -2.0, 2.0)};
  }
  double scoreOf(const Marks& marks) const {
    double sum = -border_;
    for (std::size_t k = 0; k < kMarks; ++k) sum += along_[k] * marks[k];
    return sum;
  }

  // The two drums of a take are two heaps, wherever they lie beside what is usual: found along the
  // mark that parts them most clearly, then along the direction that does (Fisher's discriminant).
  void splitDrums(const std::vector<const Sounding*>& sample) {
    std::vector<Marks> drums;
    for (const Sounding* m : sample) {
      if (drumIn(*m) > 0)
        drums.push_back(marksOf(*m, best(*m, kKickVoice).cost, best(*m, kSnareVoice).cost));
    }
    along_.fill(0);
    along_[kMarks - 1] = 1;
    border_ = 0;
    const auto split = [&](const Marks& along) {
      std::vector<double> values;
      for (const Marks& d : drums) {
        double sum = 0;
        for (std::size_t k = 0; k < kMarks; ++k) sum += along[k] * d[k];
        values.push_back(sum);
      }
      return splitOf(std::move(values));
    };
    Split first;
    Marks along{};
    for (std::size_t k = 0; k < kMarks; ++k) {
      Marks one{};
      one[k] = 1;
      const Split here = split(one);
      if (k == kMarks - 1 && here.clear > ear::kClearSplit) {
        // What is usual parts them by itself.
        border_ = here.at;
        return;
      }
      if (here.clear <= first.clear) continue;
      first = here;
      along = one;
    }
    if (first.clear < ear::kClearSplit) return;
    for (int round = 0; round < 3; ++round) {
      std::array<Marks, 2> mean{}, square{};
      std::array<double, 2> n{};
      for (const Marks& d : drums) {
        double sum = -first.at;
        for (std::size_t k = 0; k < kMarks; ++k) sum += along[k] * d[k];
        const std::size_t side = sum > 0 ? 1 : 0;
        n[side] += 1;
        for (std::size_t k = 0; k < kMarks; ++k) {
          mean[side][k] += d[k];
          square[side][k] += d[k] * d[k];
        }
      }
      for (std::size_t k = 0; k < kMarks; ++k) {
        double within = ear::kMarkSpread * ear::kMarkSpread;
        for (const std::size_t side : {0U, 1U}) {
          mean[side][k] /= n[side];
          within += (square[side][k] / n[side] - mean[side][k] * mean[side][k]) / 2;
        }
        along[k] = (mean[1][k] - mean[0][k]) / within;
      }
      // The side that a snare explains better is the snare.
      if (mean[1][kMarks - 1] < mean[0][kMarks - 1]) {
        for (double& a : along) a = -a;
      }
      first = split(along);
      if (first.clear < ear::kClearSplit) return;
    }
    along_ = along;
    border_ = first.at;
  }

  Gains tell(const Sounding& m) const {
    Gains hats = explain(m, {kHatVoice});
    const Gains hatsAndBass = explain(m, {kHatVoice, kBassVoice});
    if (hatsAndBass.cost < hats.cost) hats = hatsAndBass;
    const Gains bass = explain(m, {kBassVoice});
    Gains kick = best(m, kKickVoice), snare = best(m, kSnareVoice);
    const Gains& drum = scoreOf(marksOf(m, kick.cost, snare.cost)) > 0 ? snare : kick;
    Gains out = hats.cost < drum.cost - drumIn(m) ? hats : drum;
    // A bass is no stroke; what is like none of them is something else.
    if (bass.cost + ear::kSurelyBass < out.cost && bass.cost < ear::kLikeABass) out = bass;
    if (toms_) {
      const Gains tom = explain(m, {kTomVoice});
      if (drumIn(m) > 0 && tom.cost + ear::kOtherVoice < out.cost) out = tom;
    }
    if (out.cost > ear::kLikeNone) out.of.fill(0);
    return out;
  }

  static VoicesTold told(const Gains& gains) {
    VoicesTold out;
    for (std::size_t v = 0; v < kVoices; ++v) {
      out.sounds[v] = gains.of[v] > 0;
      out.energy[v] = gains.of[v];
    }
    out.other = out.count() == 0 && gains.of[kBassVoice] == 0;
    return out;
  }

  void learn(const std::vector<const Sounding*>& sample) {
    std::array<std::array<double, kSoundParts>, kAllVoices> sum{}, weight{};
    int drums = 0, toms = 0;
    for (const Sounding* m : sample) {
      const Gains t = tell(*m);
      if (t.of[kKickVoice] > 0 || t.of[kSnareVoice] > 0) ++drums;
      if (t.of[kTomVoice] > 0) ++toms;
      for (const std::size_t v : {kKickVoice, kSnareVoice, kHatVoice}) {
        if (t.of[v] <= 0) continue;
        for (std::size_t p = 0; p < kSoundParts; ++p) {
          double model = kLeastEnergy;
          for (std::size_t o = 0; o < kAllVoices; ++o) model += t.of[o] * linear_[o][p];
          if (t.of[v] * linear_[v][p] < ear::kOutweighs * model) continue;
          const double here = logOf(m->energy[p]) - logOf(t.of[v]);
          sum[v][p] += m->trust[p] * std::clamp(here, first_[v][p] - 2, first_[v][p] + 2);
          weight[v][p] += m->trust[p];
        }
      }
    }
    // A kit where every third drum is a tom has none.
    toms_ = toms_ && toms * 4 < drums;
    for (const std::size_t v : {kKickVoice, kSnareVoice, kHatVoice}) {
      for (std::size_t p = 0; p < kSoundParts; ++p)
        log_[v][p] =
            (sum[v][p] + ear::kKnownBefore * first_[v][p]) / (weight[v][p] + ear::kKnownBefore);
      // Its bands at once sum to 1 again.
      double all = 0;
      for (std::size_t b = 0; b < kBands; ++b) all += std::pow(10, log_[v][b]);
      for (double& part : log_[v]) part -= std::log10(all);
    }
  }

  const std::vector<Sounding>& moments_;
  double body_ = kLeastEnergy;  // of the loudest drums
  Marks along_{};
  double border_ = 0;
  bool toms_ = true;
  std::array<Sound, kAllVoices> first_{}, log_{}, linear_{};
};

}  // namespace

std::vector<VoicesTold> tellVoices(const std::vector<Sounding>& moments) {
  return Telling(moments).run();
}

}  // namespace uneven
