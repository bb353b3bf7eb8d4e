// SPDX-License-Identifier: GPL-3.0-or-later
// Finding the beat.
#include "core/match/grid.h"

#include <algorithm>
#include <cmath>

#include "core/base/number.h"
#include "core/match/pulses.h"
#include "core/match/readings.h"

namespace uneven {
namespace {

constexpr double kGatherWidth = 0.012;
constexpr double kQuartersMost = 100'000;  // as a song may have
constexpr double kGathersAsPlayed = 1.6;
constexpr std::size_t kFewestPulses = 8;
// A pulse that is asked for lies within this share of what is typed.
constexpr double kNearBpm = 0.08;
constexpr double kSameBpm = 0.02;
// A file's own tempo is taken before what is found where it is at most so many times less likely.
constexpr double kFileBehind = 0.05;

// Swung eighths at 2 : 1 and triplets are one thing to the ear.
SwingKind heardAs(const Reading& r) {
  return r.triplets ? SwingKind::kEighths : r.kind();
}
bool same(const Reading& a, const Reading& b) {
  return std::abs(a.bpm / b.bpm - 1) < kSameBpm && a.meter == b.meter && heardAs(a) == heardAs(b);
}

double gatheringBy(const std::vector<Pulse>& pulses, const BeatLine& line) {
  std::vector<double> quarters;
  quarters.reserve(pulses.size());
  for (const Pulse& p : pulses) quarters.push_back(line.quartersAt(p.seconds));
  return gatheringOf(quarters, line.meanPeriod(), kGatherWidth);
}

void tellReadings(const std::vector<Reading>& readings, const Reading& taken, FoundGrid& out) {
  constexpr std::size_t kTold = 8;
  constexpr double kLeast = 0.005;
  std::vector<std::pair<Reading, double>> told;
  double meters = 0;
  for (const Reading& r : readings) {
    if (std::abs(r.bpm / taken.bpm - 1) < kSameBpm) {
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
    if (own || (likelihood >= kLeast && out.readings.size() < kTold))
      out.readings.push_back(
          {reading.bpm, reading.meter, reading.swing, reading.kind(), likelihood});
  }
  for (MeterGuess& g : out.meters) g.likelihood /= meters;
  std::stable_sort(
      out.meters.begin(), out.meters.end(),
      [](const MeterGuess& a, const MeterGuess& b) { return a.likelihood > b.likelihood; });
}

}  // namespace

std::optional<FoundGrid> findGrid(const std::vector<Onset>& onsets, const GridWanted& wanted) {
  const std::vector<Pulse> pulses = pulsesOf(onsets);
  if (pulses.size() < kFewestPulses) return std::nullopt;
  const double span = pulses.back().seconds - pulses.front().seconds;
  if (span < 1) return std::nullopt;
  const auto tooLong = [&](const BeatLine& line) {
    const double quarters =
        line.quartersAt(pulses.back().seconds) - line.quartersAt(pulses.front().seconds);
    return !(quarters < kQuartersMost);
  };
  // What a long take begins with tells its tempo.
  constexpr std::size_t kJudged = 2'000;
  const std::vector<Pulse> first(
      pulses.begin(),
      pulses.begin() + static_cast<std::ptrdiff_t>(std::min(kJudged, pulses.size())));
  std::vector<Onset> judged;
  for (const Onset& o : onsets) {
    if (o.used && o.seconds <= first.back().seconds + kPulseSeconds) judged.push_back(o);
  }
  const double freedom = wanted.steady ? 0 : kTempoFreedom;
  std::vector<double> bases = wanted.bpm ? std::vector{60 / *wanted.bpm} : basesOf(first);
  // So few strokes in so long a time have no beat.
  constexpr double kSilent = 50;  // beats a stroke
  const double most = std::min(kQuartersMost, kSilent * static_cast<double>(pulses.size()));
  std::erase_if(bases, [&](double base) { return span / base > most; });
  if (bases.empty()) return std::nullopt;
  const std::vector<Beats> begun = sharpestBeats(first, bases, freedom);
  ReadingsWanted what;
  what.meter = wanted.meter;
  what.swing = wanted.swing;
  if (wanted.bpm) {
    what.slowest = *wanted.bpm * (1 - kNearBpm);
    what.fastest = *wanted.bpm * (1 + kNearBpm);
  }
  // A tempo that is typed may be the file's own.
  constexpr double kSameTempo = 0.003;
  const bool isFiles = wanted.played && wanted.bpm &&
                       std::abs(60 / wanted.played->meanPeriod() / *wanted.bpm - 1) < kSameTempo;
  if (wanted.played && (!wanted.bpm || isFiles) && !tooLong(*wanted.played)) {
    what.given = wanted.played;
    what.givenMeter = wanted.meter ? wanted.meter : wanted.playedMeter;
  }
  const std::vector<Reading> readings = readingsOf(judged, begun, what);
  if (readings.empty()) return std::nullopt;
  FoundGrid out;
  const auto file =
      std::find_if(readings.begin(), readings.end(), [&](const Reading& r) { return r.given; });
  const Reading* taken = &readings.front();
  if (file != readings.end()) {
    const double gathers = gatheringBy(pulses, *wanted.played);
    // A click is played to by half its beats, or by twice as many: what lies on it as sharply as on
    // anything goes by it.
    constexpr double kAsSharp = 0.7, kSameRatio = 0.004;
    const double ratio = taken->bpm / file->bpm;
    const bool sameClick =
        std::any_of(std::begin(kBeatMultiples), std::end(kBeatMultiples),
                    [ratio](double times) { return std::abs(ratio / times - 1) < kSameRatio; }) &&
        gathers >= kAsSharp * gatheringBy(first, begun[taken->of].line);
    if (gathers >= kGathersAsPlayed &&
        (sameClick || file->likelihood >= kFileBehind * taken->likelihood)) {
      taken = &*file;
      out.asPlayed = true;
    }
  }
  tellReadings(readings, *taken, out);
  // Strokes without a beat bend every line.
  constexpr double kBends = 0.022, kNoBeat = 0.030;
  if (!out.asPlayed)
    out.sure *=
        std::clamp((kNoBeat - wandering(begun[taken->of].line)) / (kNoBeat - kBends), 0.0, 1.0);
  out.meter = taken->meter;
  out.swing = taken->swing;
  out.triplets = taken->triplets;
  if (out.asPlayed) {
    out.line = *wanted.played;
  } else if (first.size() == pulses.size()) {
    out.line = lineOf(*taken, begun[taken->of].line);
  } else {
    // All of it, counted as its beginning was.
    // About as long as they were there.
    constexpr double kFurther = 0.3;
    const BeatLine all =
        beatsThrough(pulses, begun[taken->of].line.meanPeriod(), std::min(freedom, kFurther));
    Reading whole = *taken;
    const double beat = taken->zero * taken->times;
    const double off = all.quartersAt(begun[taken->of].line.secondsAt(beat)) - beat;
    whole.zero = (beat + roundedTo(off, 1)) / taken->times;
    out.line = lineOf(whole, all);
  }
  if (tooLong(out.line)) return std::nullopt;
  out.gathering = gatheringBy(pulses, out.line);
  if (wanted.start) out.line = out.line.shifted(out.line.quartersAt(*wanted.start));
  return out;
}

}  // namespace uneven
