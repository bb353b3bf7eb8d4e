// SPDX-License-Identifier: GPL-3.0-or-later
// Finding the beat.
#include "core/match/grid.h"

#include <algorithm>
#include <cmath>

#include "core/base/number.h"
#include "core/match/pulses.h"
#include "core/match/readings.h"
#include "core/match/weights.h"

namespace uneven {
namespace {

constexpr double kQuartersMost = 100'000;  // as a song may have
// A pulse that is asked for lies within this share of what is typed.
// A file's own tempo is taken before what is found where it is at most so many times less likely.

// Swung eighths at 2 : 1 and triplets are one thing to the ear.
SwingKind heardAs(const Reading& r) {
  return r.triplets ? SwingKind::kEighths : r.kind();
}
bool same(const Reading& a, const Reading& b) {
  return std::abs(a.bpm / b.bpm - 1) < ear::kSameBpm && a.meter == b.meter &&
         heardAs(a) == heardAs(b);
}

double gatheringBy(const std::vector<Pulse>& pulses, const BeatLine& line) {
  std::vector<double> quarters;
  quarters.reserve(pulses.size());
  for (const Pulse& p : pulses) quarters.push_back(line.quartersAt(p.seconds));
  return gatheringOf(quarters, line.meanPeriod(), ear::kGatherWidth);
}

void tellReadings(const std::vector<Reading>& readings, const Reading& taken, FoundGrid& out) {
  constexpr std::size_t kTold = 8;
  std::vector<std::pair<Reading, double>> told;
  double meters = 0;
  for (const Reading& r : readings) {
    if (std::abs(r.bpm / taken.bpm - 1) < ear::kSameBpm) {
      auto known = std::find_if(out.meters.begin(), out.meters.end(),
                                [&](const MeterGuess& g) { return g.meter == r.meter; });
      if (known == out.meters.end()) known = out.meters.insert(known, {r.meter, 0});
      known->likelihood += r.likelihood;
      meters += r.likelihood;
    }
    const auto known =
        std::find_if(told.begin(), told.end(), [&](const auto& t) { return same(t.first, r); });
    if (known != told.end()) {
      known->second += r.likelihood;
    } else {
      told.emplace_back(r, r.likelihood);
    }
  }
  std::stable_sort(told.begin(), told.end(),
                   [](const auto& a, const auto& b) { return a.second > b.second; });
  for (const auto& [reading, likelihood] : told) {
    const bool own = same(reading, taken);
    if (own) out.sure = likelihood;
    if (own || (likelihood >= ear::kTellLeast && out.readings.size() < kTold))
      out.readings.push_back(
          {reading.bpm, reading.meter, reading.swing, reading.kind(), likelihood});
  }
  for (MeterGuess& g : out.meters) g.likelihood /= meters;
  std::stable_sort(
      out.meters.begin(), out.meters.end(),
      [](const MeterGuess& a, const MeterGuess& b) { return a.likelihood > b.likelihood; });
}

double span(const std::vector<Pulse>& pulses) {
  return pulses.back().seconds - pulses.front().seconds;
}

class GridFinder {
 public:
  GridFinder(const std::vector<Onset>& onsets, const GridWanted& wanted,
             const std::stop_token& stop)
      : onsets_(onsets), wanted_(wanted), stop_(stop) {}

  std::optional<FoundGrid> run(KeptGrid* kept) {
    if (kept == nullptr) return hear(boundBy(wanted_)) ? told(heard_.readings) : std::nullopt;
    if (holds(*kept)) {
      heard_ = std::move(*kept);
    } else {
      *kept = {};
      GridWanted anything;
      anything.steady = wanted_.steady;
      anything.played = wanted_.played;
      anything.playedMeter = wanted_.playedMeter;
      if (!hear(boundBy(anything))) return findGrid(onsets_, wanted_, nullptr, stop_);
    }
    std::optional<FoundGrid> out;
    if (!wanted_.bpm && !wanted_.meter && !wanted_.swing) {
      out = told(heard_.readings);
    } else if (const auto readings = narrowed()) {
      out = told(*readings);
    } else {
      // What is asked for is none of those: it is looked for by itself.
      out = findGrid(onsets_, wanted_, nullptr, stop_);
    }
    *kept = std::move(heard_);
    return out;
  }

 private:
  bool holds(const KeptGrid& kept) const {
    constexpr std::size_t kOneIn = 50;
    if (kept.steady != wanted_.steady || kept.used.size() != onsets_.size()) return false;
    std::size_t others = 0;
    for (std::size_t i = 0; i < onsets_.size(); ++i) others += onsets_[i].used != kept.used[i];
    return others * kOneIn <= onsets_.size();
  }

  // A tempo that is typed may be the file's own.
  static bool mayBeFiles(const GridWanted& wanted) {
    return wanted.played &&
           (!wanted.bpm ||
            std::abs(60 / wanted.played->meanPeriod() / wanted.bpm->value - 1) < ear::kSameTempo);
  }
  struct Bounds {
    std::vector<double> bases;  // none: of those that come again
    bool steady = false;
    ReadingsWanted readings;
  };
  static Bounds boundBy(const GridWanted& wanted) {
    Bounds out;
    out.steady = wanted.steady;
    out.readings.meter = wanted.meter;
    out.readings.swing = wanted.swing;
    if (wanted.bpm) {
      out.bases = {60 / wanted.bpm->value};
      out.readings.slowest = *wanted.bpm * (1 - ear::kNearBpm);
      out.readings.fastest = *wanted.bpm * (1 + ear::kNearBpm);
    }
    if (mayBeFiles(wanted)) {
      out.readings.given = wanted.played;
      out.readings.givenMeter = wanted.meter ? wanted.meter : wanted.playedMeter;
    }
    return out;
  }

  bool tooLong(const BeatLine& line) const {
    return !(line.quartersAt(heard_.last.count()) - line.quartersAt(heard_.first.count()) <
             kQuartersMost);
  }
  const std::vector<Pulse>& pulses() {
    if (pulses_.empty()) pulses_ = pulsesOf(onsets_);
    return pulses_;
  }
  // What a long take begins with tells its tempo.
  std::vector<Pulse> beginning() {
    constexpr std::size_t kJudged = 2'000;
    const std::size_t count = std::min(kJudged, pulses().size());
    return {pulses().begin(), pulses().begin() + static_cast<std::ptrdiff_t>(count)};
  }

  bool hear(Bounds bounds) {
    if (pulses().size() < ear::kFewestPulses || span(pulses()) < 1) return false;
    const std::vector<Pulse> first = beginning();
    heard_.steady = bounds.steady;
    heard_.first = Seconds(pulses().front().seconds);
    heard_.last = Seconds(pulses().back().seconds);
    heard_.isLong = first.size() < pulses().size();
    for (const Onset& o : onsets_) heard_.used.push_back(o.used);
    if (bounds.bases.empty()) bounds.bases = basesOf(first);
    // So few strokes in so long a time have no beat.
    const double most =
        std::min(kQuartersMost, ear::kSilentBeats * static_cast<double>(pulses().size()));
    std::erase_if(bounds.bases, [&](double base) { return span(pulses()) / base > most; });
    if (bounds.bases.empty()) return false;
    heard_.begun = sharpestBeats(first, bounds.bases, bounds.steady ? 0 : kTempoFreedom, stop_);
    if (bounds.readings.given && tooLong(*bounds.readings.given)) bounds.readings.given.reset();
    std::vector<Onset> judged;
    for (const Onset& o : onsets_) {
      if (o.used && o.seconds <= first.back().seconds + kPulseSeconds) judged.push_back(o);
    }
    heard_.readings = readingsOf(judged, heard_.begun, bounds.readings, stop_);
    return !heard_.readings.empty() && !stop_.stop_requested();
  }

  // Of all that was found what is wanted; nothing where that was not looked for.
  std::optional<std::vector<Reading>> narrowed() const {
    const Bounds bounds = boundBy(wanted_);
    const ReadingsWanted& what = bounds.readings;
    const bool otherMeter = wanted_.played && what.givenMeter != wanted_.playedMeter;
    if (otherMeter) return std::nullopt;
    std::vector<Reading> out = heard_.readings;
    std::erase_if(out, [&](const Reading& r) {
      if (r.given && !what.given) return true;
      return (!r.given && (r.bpm < what.slowest || r.bpm > what.fastest)) ||
             (what.meter && r.meter != *what.meter) || (what.swing && r.kind() != *what.swing);
    });
    double sum = 0;
    for (const Reading& r : out) sum += r.likelihood;
    // Shares of what is hardly there say nothing.
    constexpr double kLeast = 1e-12;
    if (sum < kLeast) return std::nullopt;
    for (Reading& r : out) r.likelihood /= sum;
    return out;
  }

  // The file's own tempo before what is likelier by itself.
  const Reading& takenOf(const std::vector<Reading>& readings, bool& asPlayed) {
    const Reading& found = readings.front();
    const auto file =
        std::find_if(readings.begin(), readings.end(), [](const Reading& r) { return r.given; });
    if (file == readings.end()) return found;
    const double gathers = gatheringBy(pulses(), *wanted_.played);
    // A click is played to by half its beats, or by twice as many: what lies on it as sharply as on
    // anything goes by it.
    const double ratio = found.bpm / file->bpm;
    const bool sameClick =
        std::any_of(
            std::begin(kBeatMultiples), std::end(kBeatMultiples),
            [ratio](double times) { return std::abs(ratio / times - 1) < ear::kClickRatio; }) &&
        gathers >= ear::kClickAsSharp * gatheringBy(beginning(), heard_.begun[found.of].line);
    asPlayed = gathers >= ear::kGathersAsPlayed &&
               (sameClick || file->likelihood >= ear::kFileBehind * found.likelihood);
    return asPlayed ? *file : found;
  }

  BeatLine wholeLineOf(const Reading& taken) {
    const BeatLine& begun = heard_.begun[taken.of].line;
    if (!heard_.isLong) return lineOf(taken, begun);
    // All of it, counted as its beginning was.
    auto known = heard_.whole.find(taken.of);
    if (known == heard_.whole.end()) {
      // About as long as they were there.
      const double freedom = *heard_.steady ? 0 : ear::kFreedomFurther;
      BeatLine whole = beatsThrough(pulses(), begun.meanPeriod(), freedom, stop_);
      if (stop_.stop_requested()) return begun;
      known = heard_.whole.emplace(taken.of, std::move(whole)).first;
    }
    const BeatLine& all = known->second;
    Reading whole = taken;
    const double beat = taken.zero * taken.times;
    const double off = all.quartersAt(begun.secondsAt(beat)) - beat;
    whole.zero = (beat + roundedTo(off, 1)) / taken.times;
    return lineOf(whole, all);
  }

  std::optional<FoundGrid> told(const std::vector<Reading>& readings) {
    FoundGrid out;
    const Reading& taken = takenOf(readings, out.asPlayed);
    tellReadings(readings, taken, out);
    // Strokes without a beat bend every line.
    if (!out.asPlayed) {
      const double wanders = wandering(heard_.begun[taken.of].line);
      out.sure *= std::clamp(
          (ear::kWandersMost - wanders) / (ear::kWandersMost - ear::kWandersLittle), 0.0, 1.0);
    }
    out.meter = taken.meter;
    out.swing = taken.swing;
    out.triplets = taken.triplets;
    out.line = out.asPlayed ? *wanted_.played : wholeLineOf(taken);
    if (tooLong(out.line) || stop_.stop_requested()) return std::nullopt;
    if (wanted_.start) out.line = out.line.shifted(out.line.quartersAt(wanted_.start->count()));
    return out;
  }

  const std::vector<Onset>& onsets_;
  const GridWanted& wanted_;
  const std::stop_token& stop_;
  std::vector<Pulse> pulses_;
  KeptGrid heard_;
};

}  // namespace

std::optional<FoundGrid> findGrid(const std::vector<Onset>& onsets, const GridWanted& wanted,
                                  KeptGrid* kept, const std::stop_token& stop) {
  return GridFinder(onsets, wanted, stop).run(kept);
}

}  // namespace uneven
