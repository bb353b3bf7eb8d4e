// SPDX-License-Identifier: GPL-3.0-or-later
// What beats may mean: which of their multiples and parts is the quarter, where the bar begins and
// how long it is, whether eighths or sixteenths swing. All that is possible is weighed, the rivals
// are kept.
//
// Each reading is described by some numbers (`Trait`): how sharply strokes lie on its slots, how
// surely what is struck in a bar comes again in the next (a beta-binomial likelihood of each slot
// and kind of stroke, over bars, half bars and pairs of bars), where kicks, backbeats and the
// timekeeper fall, how usual its tempo and meter are. Their weighted sum is the log of its
// likelihood (a conditional logit: McFadden 1974). The weights were fitted to takes of the tests'
// making (bench/ear --learn), so that of what is told at 0.9 nine of ten are right.
//
// Threads: pure functions.
#pragma once

#include <array>
#include <optional>
#include <stop_token>
#include <vector>

#include "core/match/beat_line.h"
#include "core/match/onset.h"
#include "core/match/pulses.h"
#include "core/song/feel.h"
#include "core/time/meter.h"
#include "core/time/units.h"

namespace uneven {

enum class Trait : std::uint8_t {
  kSharp,         // nats a stroke by which slots suit better than none, behind the best reading
  kReturns,       // nats a stroke by which bars come again, behind the best
  kTempo,         // of the beat that is felt: minus half the squared distance from 105 BPM
  kSlow,          // log of how far the felt beat is below 85
  kMeter,         // log of how usual the meter is
  kKickOnOne,     // share of bars
  kSnareOnOne,    // loud ones, share of bars
  kCrashOnOne,    // share of crashes
  kBackbeat,      // loud snares on the meter's backbeats, share
  kHalfTime,      // loud snares in the middle of the bar
  kSnareOff,      // loud snares on no beat
  kKickOnBeat,    // share of kicks
  kKeeperOnBeat,  // share of beats
  kKeeperOnHalf,  // share of halves of beats
  kOnBeat,        // share of what is struck, by strength
  kDense,         // minus the squared log of moments a beat beside 2.6
  kLopsided,      // straight: off-notes only late in their beat, 0..1
  kNoMiddle,      // triplets: no middle ones
  kEighths,       // eighths swing
  kSixteenths,    // sixteenths swing
  kTriplets,
  kHardlySwings,
  kBetweenEighths,  // swung eighths: strokes between them
  kCompound,
  kMiddles,      // compound: middle and last eighths of its beats that are struck
  kStartsOnBar,  // the first stroke
  kKickBetween,  // share of kicks that lie on no half of a beat
  kSameHalves,   // nats a stroke by which half of the bar comes again more surely than all of it
  kCount
};
enum class SwingKind : std::uint8_t { kStraight, kEighths, kSixteenths, kTriplets };

using Traits = std::array<double, static_cast<std::size_t>(Trait::kCount)>;

struct Reading {
  std::size_t of = 0;          // which of the lines that were weighed
  bool given = false;          // or the one that was given
  double times = 1, zero = 0;  // a quarter in beats, and where bar 1 lies, in quarters
  Bpm bpm{0};
  Meter meter;
  Swing swing;
  bool triplets = false;  // its slots are triplets
  SwingKind kind() const {
    if (triplets) return SwingKind::kTriplets;
    if (swing.ratio == 1) return SwingKind::kStraight;
    return swing.unit == SwingUnit::kEighth ? SwingKind::kEighths : SwingKind::kSixteenths;
  }
  Traits traits{};
  double likelihood = 0;  // of all that were weighed, 0..1
};

struct ReadingsWanted {
  Bpm slowest{40}, fastest{240};
  std::optional<Meter> meter;
  std::optional<SwingKind> swing;
  // A line whose quarters and bar lines are taken as they are, whatever its tempo; its meter.
  std::optional<BeatLine> given;
  std::optional<Meter> givenMeter;
};

// The likeliest first; none where no tempo is within what is wanted. Those that differ in nothing
// but where the bar begins are kept apart. Stopped: not all of them.
std::vector<Reading> readingsOf(const std::vector<Onset>& onsets, const std::vector<Beats>& beats,
                                const ReadingsWanted& wanted, const std::stop_token& stop = {});

// The weights of traits that likelihoods are made with.
const Traits& readingWeights();

// The reading's quarters in time, made of its line.
BeatLine lineOf(const Reading& reading, const BeatLine& beats);

}  // namespace uneven
