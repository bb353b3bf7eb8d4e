// SPDX-License-Identifier: GPL-3.0-or-later
// Pages of the ledger: the parts that a fit is made of, each by itself.
#include <algorithm>
#include <cmath>

#include "core/match/along.h"
#include "core/match/apart.h"
#include "core/match/division.h"
#include "core/match/drift_fit.h"
#include "core/match/fit.h"
#include "core/match/follow.h"
#include "core/match/line_fit.h"
#include "core/match/numbers.h"
#include "core/match/pulses.h"
#include "core/match/readings.h"
#include "core/match/swing_guess.h"
#include "core/match/swing_pairs.h"
#include "core/match/taps.h"
#include "core/match/voices.h"
#include "tests/core/ledger.h"
#include "tests/support/played_takes.h"

namespace uneven::ledger {
namespace {

using testing::pickReal;

// To decimals that another machine's exp() and log() agree to, and never a zero with a sign.
std::string n(double value) {
  if (!(std::abs(value) < 1e9)) return "far";
  return fmt::format("{:.5f}", roundedTo(value, 1e5) + 0.0);
}
std::string n(Milliseconds ms) {
  return n(ms.count());
}
template <typename Values>
std::string all(const Values& values) {
  std::string out;
  for (const double v : values) out += n(v) + " ";
  return out;
}
std::string all(const BeatLine& line) {
  std::string out;
  for (const BeatLine::Point& p : line.points()) out += n(p.quarters) + ":" + n(p.seconds) + " ";
  return out;
}

Swing anySwing(Random& random) {
  Swing out;
  out.unit = static_cast<SwingUnit>(pick(random, 0, 1));
  out.written = static_cast<Written>(pick(random, 0, 1));
  out.ratio = out.written == Written::kTriplet ? 2 : pickReal(random, 1, 3);
  return out;
}

void numbers(Random& random, Page& page) {
  for (int i = 0; i < 150; ++i) {
    std::vector<double> x, y, weight;
    for (int k = pick(random, 1, 12) * pick(random, 1, 12); k >= 0; --k) {
      x.push_back(pick(random, 0, 2) == 0 ? pick(random, 0, 4) : pickReal(random, -2, 9));
      y.push_back(pickReal(random, 0, 1));
      weight.push_back(pickReal(random, 0, 2));
    }
    const Sure sure = sureOf(x);
    const Line line = lineThrough(x, y, weight);
    page.line("{} {} {} {} {} {}", n(medianOfReals(x)), n(robustSpread(x)), n(sure.mean),
              n(sure.spread), n(sureMean(x)), n(varianceOf(x)));
    page.line("{} {} {}", n(line.at0), n(line.slope), all(autocovariance(x, 5)));
    page.line("{}", all(smoothed(y, weight, pickReal(random, 0.1, 20))));
    page.line("{}", n(gatheringOf(x, pickReal(random, 0.2, 1), 0.04)));
    std::vector<BeatLine::Point> points;
    double quarters = pick(random, -4, 4), seconds = pickReal(random, 0, 3);
    for (int k = pick(random, 0, 6); k >= 0; --k) {
      points.push_back({quarters, seconds});
      quarters += pick(random, 0, 5);
      seconds += pickReal(random, -0.1, 2);
    }
    const BeatLine beats(points);
    const double at = pick(random, -8, 20);
    page.line("{} {} {} {} {}", all(beats), n(beats.secondsAt(at)), n(beats.quartersAt(at / 4)),
              n(beats.periodAt(at)), n(wandering(beats)));
    page.line("{} {}", all(beats.shifted(at / 2)),
              n(beats.shiftTo(beats.shifted(pick(random, -3, 3))).value_or(-99)));
  }
}

void guesses(Random& random, Page& page) {
  for (int i = 0; i < 100; ++i) {
    const Swing swing = anySwing(random);
    const Grid grid = anyOf<Grid>(random, {{8, 0}, {16, 0}, {8, 3}, {16, 3}});
    const SwungSlots slots(grid, swing);
    std::vector<double> quarters;
    for (int k = pick(random, 1, 40); k >= 0; --k) {
      const auto& slot = slots.cycle()[static_cast<std::size_t>(
          pick(random, 0, static_cast<int>(slots.cycle().size()) - 1))];
      const int cycle = pick(random, 0, 15);
      quarters.push_back(cycle * slots.length().toDouble() + slot.swung +
                         pickReal(random, -0.05, 0.05));
    }
    const SwingGuess best = bestPoint(quarters, grid, swing.unit, swing.written, 0.02);
    page.line("{} {} {}", n(best.swing.ratio), n(best.shift), n(best.suits));
    const Quarter quarter(quarters, pickReal(random, 0.012, 0.035));
    for (const Divided& d : divisionsOf(quarter, pickReal(random, 0, 1))) {
      page.line("{} {} {} {} {} {}", n(d.swing.ratio), d.triplets, d.swings, d.count,
                n(d.suited.gain), all(d.suited.share));
    }
    std::sort(quarters.begin(), quarters.end());
    std::vector<double> bars;
    for (std::size_t k = 0; k < quarters.size(); k += static_cast<std::size_t>(pick(random, 2, 5)))
      bars.push_back(quarters[k]);
    std::vector<double> beats;
    for (int k = 0; k < pick(random, 2, 20); ++k)
      beats.push_back(0.1 * pick(random, 1, 3) + 0.5 * k + pickReal(random, -0.02, 0.02));
    for (const auto& tap : {tapped(quarters, bars), tapped(beats, {}), tapped(bars, beats)}) {
      if (tap)
        page.line("{} {} {}", n(tap->bpm.value), n(tap->start.count()),
                  tap->meter ? tap->meter->toString() : "");
    }
    DriftAsked asked;
    asked.length = pick(random, 20, 300);
    asked.bpm = Bpm{pickReal(random, 60, 180)};
    asked.asPlayed = pick(random, 0, 1) == 0;
    asked.foundWithin = Seconds(0.001 * pick(random, 0, 1));
    double clock = 0;
    const bool together = pick(random, 0, 3) > 0;
    for (int k = 0; k < 2 * asked.length; ++k) {
      clock = 0.9 * clock + pickReal(random, -3, 3);
      for (const PieceId piece : {piece::kHat, piece::kSnare}) {
        if (piece == piece::kHat || (together && k % 2 == 0))
          asked.rests.push_back(
              {partsOf(Beat(k, 2)), Milliseconds(clock + pickReal(random, -5, 5)), piece});
      }
    }
    const DriftTold told = driftOf(asked);
    page.line("{} {} {} {} {} {}", n(told.drift.clock), n(told.drift.motor), told.drift.told,
              n(told.drift.exponent.value_or(-1)), n(told.drift.exponentSe.value_or(-1)),
              n(told.bpmSe.value));
    for (const std::string& doubt : told.doubts) page.line("{}", doubt);
  }
}

// Strokes that are where they were put, late by known parts and by chance.
void lateness(Random& random, Page& page) {
  for (int i = 0; i < 40; ++i) {
    Fit fit;
    fit.swing = anySwing(random);
    fit.grid.meter = anyOf<Meter>(random, {{4, 4}, {3, 4}, {7, 8}});
    const Beat bar = fit.grid.meter.barLength();
    const double period = pickReal(random, 0.3, 0.8), ramp = pick(random, 0, 1) * 0.0006;
    std::vector<BeatLine::Point> points;
    for (double q = 0, s = 1; q < 200; q += 4, s += 4 * period * (1 - ramp * q))
      points.push_back({q, s});
    fit.grid.line = BeatLine(points);
    fit.bpm = Bpm{60 / period};
    fit.ratioSe = 0.01;
    const SwungSlots slots({fit.swing.written == Written::kTriplet ? 8 : 16,
                            fit.swing.written == Written::kTriplet ? 3 : 0},
                           fit.swing);
    std::vector<Onset> onsets;
    const std::int64_t bars = pick(random, 2, 30);
    double clock = 0;
    for (std::int64_t b = 0; b < bars; ++b) {
      for (Beat at; at < bar; at += Beat(1, slots.cycle().size() == 3 ? 3 : 4)) {
        clock = 0.95 * clock + pickReal(random, -1, 1);
        for (const PieceId piece : {piece::kHat, piece::kSnare, piece::kKick}) {
          if (piece != piece::kHat && pick(random, 0, 3) > 0) continue;
          Placed p;
          p.bar = b;
          p.at = at;
          const double whole = (Beat(b) * bar).toDouble() + std::floor(at.toDouble());
          p.quarters = whole + slots.swungAt(at - Beat(at.floorDiv(Beat(1))));
          p.used = pick(random, 0, 20) > 0;
          p.timed = p.used && pick(random, 0, 9) > 0;
          const double own = piece == piece::kHat ? -4 : piece == piece::kSnare ? 9 : 2;
          p.late = Milliseconds(own + clock + pickReal(random, -4, 4));
          Onset& o = onsets.emplace_back();
          o.piece = piece;
          o.velocity = pick(random, 20, 120);
          o.used = p.used;
          o.seconds = fit.grid.line.secondsAt(p.quarters) + p.late.count() / 1'000;
          fit.placed.push_back(p);
        }
      }
    }
    Apart apart;
    const int turns = pick(random, 1, 8);
    const bool further = pick(random, 0, 1) == 0;
    apart.take(onsets, fit.placed, fit.swing, Seconds(period), turns, further);
    for (const PieceId piece : {piece::kHat, piece::kSnare, piece::kKick})
      page.line("{}", n(apart.ofPiece(piece)));
    for (std::size_t c = 0; c < apart.cells(); ++c) {
      const Apart::Place place = apart.placeOf(c);
      page.line("{} {} {} {}", place.first.toString(), place.second.value, n(apart.ofSlot(place)),
                n(apart.at(place)));
    }
    for (const auto& [piece, depth] : apart.depths()) page.line("{} {}", piece.value, n(depth));
    for (double q = -1; q < 40; q += 2.6) page.line("{}", n(apart.clockAt(q)));
    for (const auto& [piece, ms] : apart.besideOf(piece::kSnare))
      page.line("{} {}", piece.value, n(ms));
    const Extent extent = extentOf(fit.placed);
    const LineFound found = lineThroughAll(onsets, fit.placed, apart, extent);
    page.line("{} {} {} {} {}", n(found.line.at0), n(found.line.slope), found.straight,
              found.bends.size(), n(extent.last));
    for (const BeatLine::Point& p : found.bends) page.line("{} {}", n(p.quarters), n(p.seconds));
    const auto pairs = pairsOf(
        {onsets, fit.placed, apart, fit.grid.line, bar, fit.swing, pick(random, 0, 1) == 0});
    for (const auto& [piece, of] : pairs)
      page.line("{} {} {} {}", piece.value, of.points.size(), n(of.mean), n(of.se));
    const Together together = togetherOf(pairs);
    page.line("{} {} {}", n(together.point), n(together.ratioSe()), together.pairs);
    const SwingAlong along = swingAlong(fit, onsets);
    for (const SwingSpan& s : along.spans) {
      page.line("{} {} {} {} {} {}", s.from, s.to, n(s.ratio), n(s.se), s.pairs, n(s.bpm.value));
    }
    page.line("{} {}", n(along.perBpm.value_or(-1)), n(along.perBpmSe.value_or(-1)));
    for (const BarTempo& b : barTempos(fit, onsets)) page.line("{} {}", b.bar, n(b.bpm.value));
    FollowWanted following;
    following.by = static_cast<FollowBy>(pick(random, 0, 2));
    following.smoothBars = pick(random, 0, 3);
    const Followed followed = follow(fit, onsets, following);
    page.line("{}", n(followed.start.count()));
    for (const TempoFound& m : followed.marks) page.line("{} {}", m.at.toString(), n(m.bpm.value));
    // A feel of it, near the bounds of what is told.
    for (const auto& [piece, of] : pairs) {
      PieceFit& f = fit.pieces[piece];
      f.lean = apart.ofPiece(piece);
      f.n = pick(random, 1, 9);
      f.point = of.mean - 0.01 * pick(random, 0, 9);
      f.pointSe = 0.005 * pick(random, 1, 3);
      f.pairs = static_cast<int>(of.points.size());
    }
    for (int k = 0; k < 6; ++k) {
      SlotFit s;
      s.at = Beat(pick(random, 0, 15), 4);
      s.piece = piece::kSnare;
      s.lean = Milliseconds(0.5 * pick(random, -12, 12));
      s.se = Milliseconds(0.2 * pick(random, 1, 9));
      fit.leaning.push_back(s);
    }
    fit.drift.clock = Milliseconds(pick(random, 0, 5));
    fit.drift.motor = Milliseconds(pick(random, 0, 5));
    fit.drift.told = pick(random, 0, 1) == 0;
    const Feel feel = feelOf(fit, "f", "f");
    page.line("{} {}", feel.note, n(feel.swing.ratio));
    for (const auto& [piece, ms] : feel.displacement) page.line("{} {}", piece.value, n(ms));
    for (const auto& [piece, depth] : feel.swing.depth) page.line("{} {}", piece.value, n(depth));
    for (const Slot& s : feel.slots) page.line("{} {}", s.at.toString(), n(s.shift));
    if (feel.drift) page.line("{} {}", n(feel.drift->clock), n(feel.drift->motor));
  }
}

// Takes that are short, as what is listened to first: their pulses and all that they may be.
void pulses(Random& random, Page& page) {
  const std::vector<std::string> kinds = testing::playedKinds();
  for (std::size_t i = 0; i < kinds.size(); ++i) {
    testing::PlayedTake take =
        testing::playedTake(kinds[i], static_cast<unsigned>(700 + i), pick(random, 3, 6));
    for (Onset& o : take.onsets) o.used = pick(random, 0, 25) > 0;
    const std::vector<Pulse> heard = pulsesOf(take.onsets);
    for (const Pulse& p : heard) {
      page.line("{} {} {} {} {}", n(p.seconds), n(p.strength), n(p.kick), n(p.backbeat),
                n(p.crash));
    }
    std::vector<double> bases = basesOf(heard);
    page.line("{} {}", n(loudSnare(take.onsets)), all(bases));
    const double freedom = pick(random, 0, 1) * kTempoFreedom;
    const std::vector<Beats> beats = sharpestBeats(heard, bases, freedom);
    for (const Beats& b : beats) page.line("{} {}", n(b.period), all(b.line));
    ReadingsWanted wanted;
    if (pick(random, 0, 4) == 0) wanted.meter = take.meter;
    if (pick(random, 0, 4) == 0) wanted.swing = static_cast<SwingKind>(pick(random, 0, 3));
    if (pick(random, 0, 2) == 0 && !beats.empty()) {
      wanted.given = beats.front().line.shifted(pick(random, 0, 3));
      wanted.givenMeter = take.meter;
    }
    const std::vector<Reading> readings = readingsOf(take.onsets, beats, wanted);
    for (std::size_t k = 0; k < readings.size() && k < 40; ++k) {
      const Reading& r = readings[k];
      page.line("{} {} {} {} {} {} {} {} {}", r.of, r.given, n(r.times), n(r.zero), n(r.bpm.value),
                r.meter.toString(), n(r.swing.ratio), r.triplets, n(r.likelihood));
      page.line("{}", all(r.traits));
    }
    page.line("{}", readings.size());
    // Asked about again by what was kept, some of it covered.
    KeptFit kept;
    for (int k = 0; k < 2; ++k) {
      for (Onset& o : take.onsets) o.shared = pick(random, 0, 5) == 0;
      FitWanted asked;
      if (k > 0 && pick(random, 0, 1) == 0) asked.where.bpm = Bpm{take.bpm * 2};
      if (k > 0 && pick(random, 0, 1) == 0) asked.where.meter = Meter{3, 4};
      asked.where.steady = pick(random, 0, 3) == 0;
      const auto fitted = fit(take.onsets, asked, &kept);
      if (!fitted) continue;
      page.line("{} {} {} {}", n(fitted->bpm.value), fitted->grid.meter.toString(),
                n(fitted->swing.ratio), n(fitted->confidence));
      for (const Placed& p : fitted->placed) page.line("{} {}", p.used, p.timed);
      for (const auto& [id, f] : fitted->pieces) page.line("{} {} {}", id.value, n(f.lean), f.n);
    }
  }
}

// Moments in which some of four sounds are heard, louder and softer.
void voices(Random& random, Page& page) {
  for (int i = 0; i < 40; ++i) {
    std::array<SoundParts, kVoices> sound{};
    for (std::size_t v = 0; v < kVoices; ++v) {
      for (std::size_t p = 0; p < kSoundParts; ++p) {
        const double away =
            static_cast<double>(p % BandEnergies::kBands) - 2.2 * static_cast<double>(v);
        sound[v][p] = std::exp(-away * away / 3) * pickReal(random, 0.6, 1.4);
      }
    }
    std::vector<Sounding> moments(static_cast<std::size_t>(pick(random, 3, 50)));
    for (Sounding& m : moments) {
      for (std::size_t v = 0; v < kVoices; ++v) {
        const double loud = pick(random, 0, 2) == 0 ? pickReal(random, 0.02, 1) : 0;
        for (std::size_t p = 0; p < kSoundParts; ++p) m.energy[p] += loud * sound[v][p];
      }
      for (std::size_t p = 0; p < kSoundParts; ++p) m.trust[p] = 0.25 * pick(random, 1, 4);
    }
    for (const VoicesTold& told : tellVoices(moments)) {
      page.line("{} {} {} {} {} {}", told.other, told.sounds[0], told.sounds[1], told.sounds[2],
                told.sounds[3], all(told.energy));
    }
  }
}

// Takes of two drums that lie between the usual kick and snare and differ by one band or by how
// they die, with and without hats on them.
void drums(Random& random, Page& page) {
  constexpr std::size_t kBands = BandEnergies::kBands;
  // dB at once, then later beside that.
  constexpr SoundParts kBetween = {-8,   -5,  -8,  -13, -13, -14, -15, -20,
                                   -9.5, -11, -15, -21, -22, -22, -22, -23};
  for (int i = 0; i < 60; ++i) {
    const auto differs = static_cast<std::size_t>(pick(random, 0, kBands));
    const double by = pickReal(random, -14, 14);
    std::array<SoundParts, 2> sound{};
    for (std::size_t v = 0; v < 2; ++v) {
      for (std::size_t b = 0; b < kBands; ++b) {
        const double atOnce = kBetween[b] + (v == 1 && b == differs ? by : 0);
        const double later = kBetween[b + kBands] + (v == 1 && differs == kBands ? by : 0);
        sound[v][b] = std::pow(10, atOnce / 10);
        sound[v][b + kBands] = std::pow(10, (atOnce + later) / 10);
      }
    }
    std::vector<Sounding> moments(static_cast<std::size_t>(pick(random, 12, 60)));
    for (Sounding& m : moments) {
      const SoundParts& of = sound[static_cast<std::size_t>(pick(random, 0, 1))];
      const double loud = pickReal(random, 0.1, 1);
      const double hats = pick(random, 0, 3) == 0 ? pickReal(random, 0.001, 0.1) : 0;
      for (std::size_t p = 0; p < kSoundParts; ++p) {
        m.energy[p] = loud * of[p] * pickReal(random, 0.8, 1.25);
        if (p % kBands > 5) m.energy[p] += hats;
        m.trust[p] = 1;
      }
    }
    for (const VoicesTold& told : tellVoices(moments)) {
      page.line("{} {} {} {} {} {}", told.other, told.sounds[0], told.sounds[1], told.sounds[2],
                told.sounds[3], all(told.energy));
    }
  }
}

}  // namespace

std::vector<Entry> earEntries() {
  return {{"numbers", numbers}, {"guesses", guesses}, {"lateness", lateness},
          {"pulses", pulses},   {"voices", voices},   {"drums", drums}};
}

}  // namespace uneven::ledger
