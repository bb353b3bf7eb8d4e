// SPDX-License-Identifier: GPL-3.0-or-later
// Weighing readings.
#include "core/match/readings.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numeric>

#include "core/base/number.h"
#include "core/match/division.h"
#include "core/match/pulses.h"
#include "core/match/weights.h"
#include "core/perform/swing.h"

namespace uneven {
namespace {

// How strokes are told apart here.
enum HeardAs : std::uint8_t {
  kHeardKick,
  kHeardBackbeat,
  kHeardSoftSnare,
  kHeardKeeper,
  kHeardCrash,
  kHeardElse,
  kHeardKinds
};

struct Heard {
  double beat = 0;  // of the line that was found
  HeardAs kind = kHeardElse;
  double strength = 1;
};

std::vector<Heard> heardOf(const std::vector<Onset>& onsets, const BeatLine& line) {
  const double loud = loudSnare(onsets);
  std::map<PieceId, int> counts;
  for (const Onset& o : onsets) {
    const bool drum = o.piece == piece::kKick || o.piece == piece::kSnare ||
                      o.piece == piece::kCrash || o.piece == piece::kCrash2;
    if (o.used && !drum) ++counts[o.piece];
  }
  PieceId keeper = piece::kHat;
  int most = 0;
  for (const auto& [piece, count] : counts) {
    if (count <= most) continue;
    most = count;
    keeper = piece;
  }
  std::vector<Heard> out;
  for (const Onset& o : onsets) {
    if (!o.used || !std::isfinite(o.seconds) || !std::isfinite(o.velocity)) continue;
    Heard h{line.quartersAt(o.seconds), kHeardElse, std::clamp(o.velocity / 127, 0.05, 1.0)};
    if (o.piece == piece::kKick) h.kind = kHeardKick;
    if (o.piece == piece::kSnare) h.kind = o.velocity >= loud ? kHeardBackbeat : kHeardSoftSnare;
    if (o.piece == keeper) h.kind = kHeardKeeper;
    if (o.piece == piece::kCrash || o.piece == piece::kCrash2) h.kind = kHeardCrash;
    out.push_back(h);
  }
  return out;
}

double fractionOf(double value) {
  return value - std::floor(value);
}

// Strokes by slots along the take.
class Rows {
 public:
  Rows(const std::vector<Heard>& heard, const std::vector<double>& quarters, const Divided& d)
      : per_(static_cast<std::int64_t>(d.count)) {
    std::vector<std::int64_t> at;
    at.reserve(quarters.size());
    for (const double q : quarters) {
      const double whole = std::floor(q), inside = q - whole;
      std::size_t best = 0;
      double away = 2;
      for (std::size_t s = 0; s <= d.count; ++s) {
        const double slot = s == d.count ? 1 : d.slots[s];
        if (std::abs(inside - slot) >= away) continue;
        away = std::abs(inside - slot);
        best = s;
      }
      at.push_back(static_cast<std::int64_t>(whole) * per_ + static_cast<std::int64_t>(best));
    }
    const auto [low, high] = std::minmax_element(at.begin(), at.end());
    // From a quarter on, so that slots of a quarter are whole.
    first_ = Beat(*low, per_).floorDiv(Beat(1)) * per_;
    firstStruck_ = *low;
    const auto size = static_cast<std::size_t>(*high - first_ + 1);
    for (auto& row : rows_) row.assign(size, 0);
    for (std::size_t i = 0; i < at.size(); ++i) {
      float& cell = rows_[heard[i].kind][static_cast<std::size_t>(at[i] - first_)];
      cell = std::max(cell, static_cast<float>(heard[i].strength));
    }
    for (const auto& row : rows_) {
      strokes_ +=
          static_cast<double>(std::count_if(row.begin(), row.end(), [](float v) { return v > 0; }));
    }
  }
  std::size_t size() const { return rows_[0].size(); }
  std::int64_t first() const { return first_; }
  std::int64_t firstStruck() const { return firstStruck_; }
  const std::vector<float>& row(HeardAs kind) const { return rows_[kind]; }

  // By how many nats a stroke what is struck is likelier where slots `length` apart are alike than
  // where all are.
  double returns(std::int64_t length) {
    const auto known = returns_.find(length);
    if (known != returns_.end()) return known->second;
    double sum = 0;
    for (const auto& row : rows_) {
      const auto struck =
          static_cast<double>(std::count_if(row.begin(), row.end(), [](float v) { return v > 0; }));
      if (struck == 0) continue;
      const double rate = std::clamp(struck / static_cast<double>(row.size()), 1e-3, 1 - 1e-3);
      // log of Gamma(x + k) / Gamma(x) for k = 0, 1, ...
      const std::size_t most = row.size() / static_cast<std::size_t>(length) + 2;
      std::vector<double> hit(most, 0), miss(most, 0), all(most, 0);
      for (std::size_t k = 1; k < most; ++k) {
        const auto before = static_cast<double>(k - 1);
        hit[k] = hit[k - 1] + std::log(ear::kReturnTrust * rate + before);
        miss[k] = miss[k - 1] + std::log(ear::kReturnTrust * (1 - rate) + before);
        all[k] = all[k - 1] + std::log(ear::kReturnTrust + before);
      }
      for (std::int64_t o = 0; o < length && o < std::ssize(row); ++o) {
        std::size_t hits = 0, n = 0;
        for (auto i = o; i < std::ssize(row); i += length) {
          ++n;
          hits += row[static_cast<std::size_t>(i)] > 0 ? 1 : 0;
        }
        sum += hit[hits] + miss[n - hits] - all[n];
      }
      sum -=
          struck * std::log(rate) + (static_cast<double>(row.size()) - struck) * std::log(1 - rate);
    }
    sum /= std::max(1.0, strokes_);
    returns_[length] = sum;
    return sum;
  }

 private:
  std::int64_t per_, first_ = 0, firstStruck_ = 0;
  std::array<std::vector<float>, kHeardKinds> rows_;
  std::map<std::int64_t, double> returns_;
  double strokes_ = 0;
};

struct KnownMeter {
  Meter meter;
  double usual;                // share of what is played
  std::vector<int> backbeats;  // its beats from 0, dotted ones in compound meters
  int middle = -1;             // where half time has its snare
};
const std::vector<KnownMeter>& knownMeters() {
  static const std::vector<KnownMeter> kMeters = {
      {{4, 4}, 0.72, {1, 3}, 2},        {{3, 4}, 0.09, {1, 2}, -1},    {{2, 4}, 0.03, {1}, -1},
      {{5, 4}, 0.03, {1, 2, 3, 4}, -1}, {{6, 4}, 0.015, {1, 3, 5}, 3}, {{6, 8}, 0.04, {1}, -1},
      {{7, 8}, 0.03, {1, 2, 3}, -1},    {{9, 8}, 0.01, {1, 2}, -1},    {{12, 8}, 0.035, {1, 3}, 2}};
  return kMeters;
}
bool isCompound(Meter meter) {
  return meter.d == 8 && meter.n % 3 == 0;
}

void setTrait(Traits& traits, Trait trait, double value) {
  traits[static_cast<std::size_t>(trait)] = value;
}
double& traitOf(Traits& traits, Trait trait) {
  return traits[static_cast<std::size_t>(trait)];
}

// The rows laid over each other, a bar's length each.
struct Folded {
  struct Slot {
    std::array<double, kHeardKinds> struck{};  // how often
    double strength = 0, moments = 0, kept = 0, cells = 0;
  };
  std::vector<Slot> slots;
  Folded(const Rows& rows, std::int64_t length) : slots(static_cast<std::size_t>(length)) {
    const std::int64_t from = ((rows.first() % length) + length) % length;
    for (std::size_t i = 0; i < rows.size(); ++i) {
      Slot& slot = slots[(static_cast<std::size_t>(from) + i) % slots.size()];
      slot.cells += 1;
      double strength = 0;
      for (std::size_t k = 0; k < kHeardKinds; ++k) {
        const float here = rows.row(static_cast<HeardAs>(k))[i];
        if (here <= 0) continue;
        slot.struck[k] += 1;
        strength += k == kHeardKeeper ? 0.6 * here : here;
      }
      slot.strength += strength;
      slot.moments += strength > 0 ? 1 : 0;
      slot.kept += rows.row(kHeardKeeper)[i] > 0 || rows.row(kHeardCrash)[i] > 0 ? 1 : 0;
    }
  }
};

// What is struck where in the bar, for one meter and where it begins.
void traitsOf(const Folded& folded, std::int64_t firstStruck, std::int64_t per,
              const KnownMeter& known, std::int64_t offset, Traits& out) {
  const bool compound = isCompound(known.meter);
  const auto length = static_cast<std::int64_t>(folded.slots.size());
  // A beat and half of it (a third where it is dotted), in slots; of sevens the last is shorter.
  const std::int64_t beat = compound ? per * 3 / 2 : per;
  double bars = 0, kickOne = 0, kicksBetween = 0, snareOne = 0, kicks = 0, kicksOn = 0, snares = 0,
         back = 0, middle = 0, off = 0, crashes = 0, crashesOne = 0, beats = 0, kept = 0,
         halves = 0, keptHalves = 0, strength = 0, strengthOn = 0, moments = 0, parts = 0,
         struckParts = 0;
  for (std::int64_t r = 0; r < length; ++r) {
    const Folded::Slot& slot = folded.slots[static_cast<std::size_t>(r)];
    const std::int64_t in = (((r - offset) % length) + length) % length;
    const bool onBeat = in % beat == 0;
    const bool onHalf = per % 2 == 0 && in % (per / 2) == 0;
    const double kick = slot.struck[kHeardKick], snare = slot.struck[kHeardBackbeat],
                 crash = slot.struck[kHeardCrash];
    if (in == 0) {
      bars += slot.cells;
      kickOne += kick;
      snareOne += snare;
      crashesOne += crash;
    }
    crashes += crash;
    kicks += kick;
    snares += snare;
    if (!onHalf) kicksBetween += kick;
    if (onBeat) {
      const auto which = static_cast<int>(in / beat);
      const bool isBack =
          std::find(known.backbeats.begin(), known.backbeats.end(), which) != known.backbeats.end();
      kicksOn += kick;
      if (isBack) back += snare;
      if (which == known.middle) middle += snare;
      beats += slot.cells;
      kept += slot.kept;
      strengthOn += slot.strength;
    } else {
      off += snare;
      if (onHalf) {
        (compound ? parts : halves) += slot.cells;
        (compound ? struckParts : keptHalves) += slot.struck[kHeardKeeper];
      }
    }
    strength += slot.strength;
    moments += slot.moments;
  }
  const auto share = [](double part, double whole) { return whole > 0 ? part / whole : 0; };
  setTrait(out, Trait::kKickOnOne, share(kickOne, bars));
  setTrait(out, Trait::kSnareOnOne, share(snareOne, bars));
  setTrait(out, Trait::kCrashOnOne, share(crashesOne, crashes));
  setTrait(out, Trait::kBackbeat, share(back, snares));
  setTrait(out, Trait::kHalfTime, share(middle, snares));
  setTrait(out, Trait::kSnareOff, share(off, snares));
  setTrait(out, Trait::kKickOnBeat, share(kicksOn, kicks));
  setTrait(out, Trait::kKickBetween, share(kicksBetween, kicks));
  setTrait(out, Trait::kKeeperOnBeat, share(kept, beats));
  setTrait(out, Trait::kKeeperOnHalf, share(keptHalves, halves));
  setTrait(out, Trait::kOnBeat, share(strengthOn, strength));
  setTrait(out, Trait::kMiddles, share(struckParts, parts));
  const double dense = std::log(std::max(0.1, share(moments, beats)) / ear::kUsualDensity);
  setTrait(out, Trait::kDense, -dense * dense);
  const std::int64_t start = firstStruck - offset;
  setTrait(out, Trait::kStartsOnBar, start % length == 0 ? 1 : 0);
}

// Fitted: see the header.
constexpr Traits kWeights = {5.328,  3.395,  3.390,  7.096,  0.472,  9.468, 0.885,
                             1.362,  3.180,  -1.578, -4.024, -4.205, 0.805, 4.076,
                             -0.124, -0.381, -3.487, 0.115,  -1.393, 0.951, -1.928,
                             -4.238, -6.249, -2.654, 5.546,  4.334,  0.035, -4.855};

double scoreOf(const Traits& traits) {
  double sum = 0;
  for (std::size_t i = 0; i < traits.size(); ++i) sum += kWeights[i] * traits[i];
  return sum;
}

class Weighing {
 public:
  Weighing(const std::vector<Onset>& onsets, const ReadingsWanted& wanted,
           const std::stop_token& stop)
      : onsets_(onsets), wanted_(wanted), stop_(stop) {}

  void add(const BeatLine& line, std::size_t which, bool given) {
    which_ = which;
    given_ = given;
    heard_ = heardOf(onsets_, line);
    if (heard_.empty()) return;
    const double period = line.meanPeriod();
    if (given) return addQuarter(1, period);
    for (const double times : kBeatMultiples) {
      const Bpm bpm{60 / (period * times)};
      if (bpm < wanted_.slowest || bpm > wanted_.fastest) continue;
      addQuarter(times, period * times);
    }
  }

  std::vector<Reading> readings() {
    double sharp = -1e300, returns = -1e300;
    for (Reading& r : out_) {
      sharp = std::max(sharp, traitOf(r.traits, Trait::kSharp));
      returns = std::max(returns, traitOf(r.traits, Trait::kReturns));
    }
    double top = -1e300, sum = 0;
    for (Reading& r : out_) {
      traitOf(r.traits, Trait::kSharp) -= sharp;
      traitOf(r.traits, Trait::kReturns) -= returns;
      r.likelihood = scoreOf(r.traits);
      top = std::max(top, r.likelihood);
    }
    for (Reading& r : out_) sum += r.likelihood = std::exp(r.likelihood - top);
    for (Reading& r : out_) r.likelihood /= sum;
    std::stable_sort(out_.begin(), out_.end(), [](const Reading& a, const Reading& b) {
      return a.likelihood > b.likelihood;
    });
    return std::move(out_);
  }

 private:
  // Where in the quarter what is strong gathers: each may be its beginning.
  std::vector<double> phasesOf(const std::vector<double>& quarters, double width) const {
    constexpr std::size_t kCells = 120;
    std::array<double, kCells> smooth{};
    for (std::size_t i = 0; i < quarters.size(); ++i) {
      const double weight =
          heard_[i].kind == kHeardKick || heard_[i].kind == kHeardBackbeat ? 2 : 0.6;
      for (std::ptrdiff_t k = -6; k <= 6; ++k) {
        const double at = fractionOf(quarters[i]) * kCells + static_cast<double>(k);
        const auto cell =
            static_cast<std::size_t>(static_cast<std::ptrdiff_t>(at + kCells)) % kCells;
        const double away = static_cast<double>(k) / kCells / width;
        smooth[cell] += weight * heard_[i].strength * std::exp(-away * away / 2);
      }
    }
    std::vector<std::pair<double, double>> tops;
    for (std::size_t i = 0; i < kCells; ++i) {
      const double before = smooth[(i + kCells - 1) % kCells], after = smooth[(i + 1) % kCells];
      if (smooth[i] >= before && smooth[i] > after)
        tops.emplace_back(smooth[i], (static_cast<double>(i) + 0.5) / kCells);
    }
    std::stable_sort(tops.begin(), tops.end(),
                     [](const auto& a, const auto& b) { return a.first > b.first; });
    std::vector<double> out;
    constexpr std::size_t kMost = 4;
    for (const auto& [mass, at] : tops) {
      if (out.size() == kMost || mass < 0.2 * tops.front().first) break;
      out.push_back(at);
    }
    return out;
  }

  void addQuarter(double times, double seconds) {
    std::vector<double> quarters;
    quarters.reserve(heard_.size());
    for (const Heard& h : heard_) quarters.push_back(h.beat / times);
    const double width = std::clamp(0.012 / seconds, 0.012, 0.035);
    const Quarter quarter(quarters, width);
    std::vector<double> phases = phasesOf(quarters, width);
    if (given_) {
      // Its beats are where it says; all may lie a little early or late.
      double nearest = 0, away = ear::kGivenLeans;
      for (const double phase : phases) {
        const double off = phase - roundedTo(phase, 1);
        if (std::abs(off) >= away) continue;
        away = std::abs(off);
        nearest = off;
      }
      phases = {nearest};
    }
    for (const double phase : phases) {
      if (stop_.stop_requested()) return;
      std::vector<Divided> divisions = divisionsOf(quarter, phase);
      double best = -1e300;
      for (const Divided& d : divisions) best = std::max(best, d.suited.gain);
      std::erase_if(divisions,
                    [&](const Divided& d) { return d.suited.gain < best - ear::kDivisionBehind; });
      for (const Divided& d : divisions) addDivided(times, seconds, phase, quarters, d);
    }
  }

  void addDivided(double times, double seconds, double phase, std::vector<double> quarters,
                  const Divided& d) {
    Reading kind;
    kind.swing = d.swing;
    kind.triplets = d.triplets;
    if (wanted_.swing && kind.kind() != *wanted_.swing) return;
    for (double& q : quarters) q -= phase;
    Rows rows(heard_, quarters, d);
    const std::optional<Meter> meter =
        given_ && wanted_.givenMeter ? wanted_.givenMeter : wanted_.meter;
    const auto per = static_cast<std::int64_t>(d.count);
    for (const KnownMeter& known : knownMeters()) {
      if (meter && *meter != known.meter) continue;
      const bool eighths = known.meter.d == 8;
      if (eighths && (d.triplets || (d.swings && d.swing.unit == SwingUnit::kEighth))) continue;
      addMeter(times, seconds, phase, d, rows, known, per);
    }
    const auto isKnown = [&](const KnownMeter& k) { return meter && k.meter == *meter; };
    if (meter && std::none_of(knownMeters().begin(), knownMeters().end(), isKnown)) {
      const KnownMeter other{*meter, 0.01, {1, 2, 3, 4, 5, 6}, -1};
      if ((other.meter.barLength() * Beat(per)).den() == 1)
        addMeter(times, seconds, phase, d, rows, other, per);
    }
  }

  void addMeter(double times, double seconds, double phase, const Divided& d, Rows& rows,
                const KnownMeter& known, std::int64_t per) {
    const std::int64_t length = (known.meter.barLength() * Beat(per)).floorDiv(Beat(1));
    double returns = std::max(rows.returns(length), rows.returns(2 * length));
    // Two halves of a bar may be alike, if there is a beat in each.
    double halves = 0;
    if (known.meter.n % 2 == 0 && length % 2 == 0) {
      halves = std::max(0.0, rows.returns(length / 2) - returns);
      returns += halves;
    }
    const bool compound = isCompound(known.meter);
    Reading base;
    base.of = which_;
    base.given = given_;
    base.times = times;
    base.bpm = Bpm{60 / seconds};
    base.meter = known.meter;
    base.swing = d.swing;
    base.triplets = d.triplets;
    const double felt = base.bpm.value / (compound ? 1.5 : 1);
    const double octave = std::log(felt / ear::kFeltMiddle) / ear::kFeltWide;
    Traits& t = base.traits;
    setTrait(t, Trait::kSharp, d.suited.gain);
    setTrait(t, Trait::kReturns, returns);
    setTrait(t, Trait::kSameHalves, halves);
    setTrait(t, Trait::kTempo, -octave * octave / 2);
    setTrait(t, Trait::kSlow, std::max(0.0, std::log(ear::kFeltSlowest / felt)));
    // Nobody swings in two.
    const bool swungTwo = known.meter == Meter{2, 4} && (d.swings || d.triplets);
    setTrait(t, Trait::kMeter, std::log(known.usual * (swungTwo ? ear::kSwungTwo : 1)));
    const auto& share = d.suited.share;
    if (d.triplets) {
      setTrait(t, Trait::kTriplets, 1);
      setTrait(t, Trait::kNoMiddle, std::max(0.0, share[2] - share[1]));
    } else if (d.swing.unit == SwingUnit::kSixteenth) {
      if (share[3] > ear::kSomeShare)
        setTrait(t, Trait::kLopsided, std::max(0.0, 1 - (share[1] + share[2]) / share[3]));
      if (d.swings) setTrait(t, Trait::kSixteenths, 1);
    } else {
      setTrait(t, Trait::kEighths, 1);
      setTrait(t, Trait::kBetweenEighths, share[1] + share[3]);
    }
    if (d.swings) {
      const double point = pointOfRatio(d.swing.ratio);
      setTrait(t, Trait::kHardlySwings, std::exp(-(point - 0.5) / 0.025));
    }
    setTrait(t, Trait::kCompound, compound ? 1 : 0);
    const std::int64_t step = compound || (known.meter.d >= 8 && per % 2 == 0) ? per / 2 : per;
    std::vector<std::int64_t> offsets;
    if (given_) {
      offsets = {0};
    } else {
      for (std::int64_t o = 0; o < length; o += step) offsets.push_back(o);
    }
    const Folded folded(rows, length);
    for (const std::int64_t o : offsets) {
      Reading reading = base;
      traitsOf(folded, rows.firstStruck(), per, known, o, reading.traits);
      if (!given_) {
        // Bar 1 is the bar of the first stroke.
        std::int64_t at = o;
        while (at > rows.firstStruck()) at -= length;
        while (at + length <= rows.firstStruck()) at += length;
        reading.zero = static_cast<double>(at) / static_cast<double>(per) + phase;
      }
      out_.push_back(std::move(reading));
    }
  }

  const std::vector<Onset>& onsets_;
  const ReadingsWanted& wanted_;
  const std::stop_token& stop_;
  std::vector<Heard> heard_;
  std::size_t which_ = 0;
  bool given_ = false;
  std::vector<Reading> out_;
};

}  // namespace

std::vector<Reading> readingsOf(const std::vector<Onset>& onsets, const std::vector<Beats>& beats,
                                const ReadingsWanted& wanted, const std::stop_token& stop) {
  Weighing weighing(onsets, wanted, stop);
  for (std::size_t i = 0; i < beats.size(); ++i) weighing.add(beats[i].line, i, false);
  if (wanted.given) weighing.add(*wanted.given, 0, true);
  return weighing.readings();
}

const Traits& readingWeights() {
  return kWeights;
}

BeatLine lineOf(const Reading& reading, const BeatLine& beats) {
  std::vector<BeatLine::Point> points = beats.points();
  for (BeatLine::Point& p : points) p.quarters = p.quarters / reading.times - reading.zero;
  return BeatLine(points);
}

}  // namespace uneven
