// SPDX-License-Identifier: GPL-3.0-or-later
// What a take is understood by, in one table: each figure on which what is told depends, with its
// source or what chose it. Sizes of tables, rounds and what only keeps arithmetic from failing
// stand where they are used; what a caller must know stands in the headers; the weights of
// readings, which are fitted, in readings.cpp. Changing one of these changes bench/ear.
#pragma once

#include <cstddef>

#include "core/time/units.h"

namespace uneven::ear {

// Moments and beats (pulses, grid). Chosen by: the classes of played takes of bench/ear.
inline constexpr double kPartWide = 0.028;     // of a beat: how far a moment lies from a part of it
inline constexpr double kPartAnywhere = 0.12;  // beside those parts: it lies anywhere
inline constexpr float kBeatChange = 60;       // what a beat costs that is another in length
inline constexpr double kDrawNear = 0.07;      // of a beat: moments draw it that lie so near
inline constexpr double kDrawStiff = 2;        // of what they draw
inline constexpr double kBackbeatShare = 0.75;  // of the loudest tenth: backbeats
inline constexpr double kBeatShortest = 0.28;   // s
inline constexpr double kBeatLongest = 1.05;    // s
inline constexpr double kOtherBeat = 0.12;      // apart, as a share: another beat
inline constexpr double kLongTake = 20'000;  // beats: so long a take is followed with less freedom
inline constexpr double kLongFreedom = 0.1;  // namely with this
inline constexpr double kBeatWidth = 0.012;  // s, within which moments are together
inline constexpr double kSimpleRatio = 0.015;    // off a simple ratio, as a share: the same beat
inline constexpr double kNearlyAsSharp = 0.7;    // of the sharpest: it is kept beside it
inline constexpr double kGatherWidth = 0.012;    // s
inline constexpr std::size_t kFewestPulses = 8;  // that have a beat
inline constexpr double kSilentBeats = 50;       // a stroke: so few have none
inline constexpr double kFreedomFurther = 0.3;   // behind the beginning, which tells the tempo
inline constexpr double kWandersLittle = 0.022;  // by which beats differ, as a share
inline constexpr double kWandersMost = 0.030;    // so far: no beat

// A file's own tempo, and one that is typed (grid). Chosen by: takes that are left at a program's
// 120 BPM, and the same played to it (tests/core/ear_test.cpp).
inline constexpr double kGathersAsPlayed = 1.6;  // beside chance: strokes that go by it
inline constexpr double kFileBehind = 0.05;      // of the likeliest: the file's is taken before it
inline constexpr double kSameTempo = 0.003;      // apart, as a share: the file's own is meant
inline constexpr double kClickAsSharp = 0.7;     // of what is found: they lie on it as well
inline constexpr double kClickRatio = 0.004;     // off a simple ratio
inline constexpr double kNearBpm = 0.08;         // of what is typed, as a share
inline constexpr double kSameBpm = 0.02;         // apart, as a share: one reading to the ear
inline constexpr double kTellLeast = 0.005;      // of all: less likely ones are not told

// What beats may mean (division, readings; the traits' own weights are fitted and stand there).
// Chosen by: as those of beats.
inline constexpr double kStraySlot = 0.05;        // share of strokes that lie in no slot
inline constexpr double kSwingPointFrom = 0.525;  // less swing is none at first sight
inline constexpr double kMovedLeast = 0.08;       // share of strokes that a swing must move
inline constexpr double kReturnTrust = 0.8;       // that what came in a bar comes in the next
inline constexpr double kUsualDensity = 2.6;      // moments a beat
inline constexpr double kGivenLeans = 0.07;     // of a quarter: all may lie so far off a given beat
inline constexpr double kDivisionBehind = 0.5;  // nats a stroke: such divisions are left out
inline constexpr double kFeltMiddle = 105;      // BPM, as most takes are felt
inline constexpr double kFeltWide = 0.45;       // of its logarithm
inline constexpr double kFeltSlowest = 85;      // BPM: slower is slow
inline constexpr double kSwungTwo = 0.1;        // so seldom two swings
inline constexpr double kSomeShare = 0.05;      // of strokes in a slot

// Swing and slots (fit, swing_guess, swing_pairs, along). Chosen by: invented takes whose feel is
// known (tests/core/match_test.cpp).
inline constexpr double kPointMost = 0.80;     // of a pair
inline constexpr double kFalseStrokes = 0.06;  // share of them
inline constexpr double kStraightTo = 0.515;   // a pair's point up to here is straight
inline constexpr double kOutside = 0.4;        // of a slot's length: farther strokes belong to none
inline constexpr double kSwingsSurely = 5;     // standard errors, where all strokes read straight
inline constexpr double kSwingsPlainly = 0.02;   // and of the point
inline constexpr double kEighthsPlainly = 0.01;  // of the point, where nothing lies between eighths
inline constexpr int kEighthsFewest = 12;        // pairs
inline constexpr double kSharedNotes = 1.25;     // neighbouring pairs share notes
inline constexpr double kNoLeanMs = 15;  // farther from all others it is no stroke of the voice
inline constexpr std::size_t kSpanFewest = 8;  // pairs of a span
inline constexpr double kSpanShared = 1.15;    // as kSharedNotes, over a span
inline constexpr double kMovesBpm = 3;         // apart: the tempo moves
inline constexpr double kSpanApart = 4;        // standard errors: many spans are compared

// Whether few strokes between eighths swing (fit). A logistic curve through 1,300 takes of sampled
// kits (bench/ear --sound, seeds 2,000 on).
inline constexpr double kFewAtOne = -1.18;     // where the others are 1
inline constexpr double kFewByShare = 1.88;    // of their share
inline constexpr double kFewBySpread = -1.22;  // of how far they are apart
inline constexpr double kRatherNot = 0.5;      // of that chance
inline constexpr double kHardlyKnown = 0.8;    // surer is not doubted

// Leans, their errors and the clock (fit, apart, line_fit, drift_fit, follow). Chosen by: as
// swing's, errors so that 95 of 100 hold (Match.ErrorsAreHonest).
inline constexpr int kAloneFewest = 6;        // a kind that sounds by itself less often is covered
inline constexpr double kSharedClock = 1.35;  // neighbours share what the clock leaves
inline constexpr double kUnknownMs = 20;      // of one stroke
inline constexpr double kCoveredMs = 4;       // of what others nearly always cover
inline constexpr double kByBandsMs = 0.8;  // each kind is found by bands of its own: sampled kits
inline constexpr double kOfSpread = 0.3;   // likewise, of how far its strokes spread
inline constexpr Milliseconds kBesideKnown{5};     // a reference on the beat alone, or off it
inline constexpr Milliseconds kBesideUnknown{12};  // likewise where no swing is known
inline constexpr double kClockStiff = 30;          // of the clock, by sixteenths
inline constexpr double kNoClocksMs = 60;          // what is farther off tells no clock
inline constexpr double kFewThere = 0.05;  // of the reference: not a part of the beat that it plays
inline constexpr std::size_t kVoiceFewest = 4;     // on and off the beat, to tell its depth
inline constexpr double kBeyondMs = 4;             // by which a voice must swing less
inline constexpr double kOverWhole = 1.25;         // of not swinging at all: more is something else
inline constexpr double kLineStiff = 4;            // of how a line bends
inline constexpr double kLineBends = 0.030;        // s: a tempo that moves; a clock stays within
inline constexpr double kLineBendsMean = 0.008;    // s
inline constexpr double kDriftFarMs = 60;          // such strokes are mistakes
inline constexpr std::size_t kPairsForMotor = 12;  // struck together
inline constexpr double kOfTrend = 0.75;           // by takes with known tempo (tests)
inline constexpr double kColourBeats = 128;        // of which a colour can be told
inline constexpr Milliseconds kFollowFar{60};      // such strokes tell nothing

// What is made of a take (feel_of, song_of, compare). Common practice, but for the first two, which
// are chosen by takes with marked roles.
inline constexpr double kGhostShare = 0.5;  // of the loud ones
inline constexpr double kAccentShare = 0.82;
inline constexpr Milliseconds kDriftSome{0.05};   // less is none
inline constexpr double kAlikePlayed = 0.7;       // of the places: blocks are one groove
inline constexpr double kAlikeHeardLeast = 1.2;   // places of sound that may differ
inline constexpr double kAlikeHeardShare = 0.12;  // likewise, of them
inline constexpr std::size_t kFillSeldom = 4;     // one block in so many
inline constexpr std::ptrdiff_t kFillMore = 3;    // drums more than usual
inline constexpr double kSure = 1.96;             // standard errors: 95 of 100
inline constexpr Milliseconds kLeastLate{2};      // to differ
inline constexpr Milliseconds kLateScale{10};     // counts 1 in the distance
inline constexpr double kLeastDb = 1;             // to differ
inline constexpr double kDbScale = 6;             // counts 1 in the distance
inline constexpr double kAloneMs = 5;             // the error where only one stroke tells
inline constexpr double kAloneDb = 4;

// Strokes in sound (strokes). Chosen by: renders of sampled kits (bench/ear --sound).
inline constexpr double kFloor = 1e-9;            // of a frame's mean square: -90 dB
inline constexpr double kMostPerGroup = 1.5;      // of the rise, a group of bands
inline constexpr double kThreshold = 1.6;         // of the summed rise
inline constexpr double kStrokesApart = 0.050;    // s
inline constexpr float kSurelyNone = 0.8F;        // of the summed rise
inline constexpr double kWholeWithin = 0.020;     // s, about a rise: where it begins
inline constexpr double kAttack = 0.030;          // s, within which all of a unison has come
inline constexpr double kLaterFrom = 0.045;       // s: how a voice dies
inline constexpr double kLaterTo = 0.060;         // s
inline constexpr double kClearOfNext = 0.004;     // s before the next stroke
inline constexpr double kOwnEarlier = 0.012;      // s: a voice's own beginning
inline constexpr double kOwnMostBefore = 0.003;   // s
inline constexpr std::size_t kUsualFewest = 6;    // strokes of a voice by itself
inline constexpr double kUsualNear = 0.0015;      // s
inline constexpr double kUsualTight = 0.0005;     // s
inline constexpr double kSlowBody = 0.0085;       // s: how late the body of a kick or a tom may be
inline constexpr double kUnderDrum = 0.003;       // s: under a drum's own noise nobody knows
inline constexpr double kRingFrom = 0.030;        // s
inline constexpr double kRingLongest = 0.250;     // s
inline constexpr double kRingLeast = 0.050;       // s
inline constexpr double kRingBeforeNext = 0.012;  // s
inline constexpr double kTwentyDb = 2;            // of log10 of energy
inline constexpr double kRingsForever = 4;        // s
inline constexpr std::size_t kRingsFewest = 8;    // hats by themselves
inline constexpr double kOpens = 1.8;             // times as long as shut: it is open
inline constexpr double kWideOpen = 8;            // times as long

// Voices in sound (voices). Chosen by: as strokes in sound; nats unless told.
inline constexpr double kHeapLeast = 0.15;     // share of a heap
inline constexpr double kLoudDrums = 0.95;     // quantile of drums' bodies
inline constexpr double kVoiceSpread = 0.4;    // log10 of energy
inline constexpr double kVoiceFarthest = 1.6;  // log10
inline constexpr double kRingsShorter = 0.5;   // log10
inline constexpr double kDrumShape = -1.85;    // log10: body beside what is above it
inline constexpr double kDrumSoft = -2.0;      // log10 beside the loudest
inline constexpr double kDrumSharp = 20;       // how sharply that decides
inline constexpr double kTrusted = 0.25;       // what rings on from before is no sign
inline constexpr double kMarkNats = 12;        // as one of the other marks
inline constexpr double kClearSplit = 2.4;     // standard deviations: two heaps
inline constexpr double kMarkSpread = 0.08;    // log10
inline constexpr double kOtherVoice = 6;       // what another must be better by
inline constexpr double kSurelyBass = 2;
inline constexpr double kLikeABass = 15;
inline constexpr double kLikeNone = 40;    // it is something else
inline constexpr double kOutweighs = 0.8;  // share of the energy: it is that voice's
inline constexpr double kKnownBefore = 3;  // strokes that what is built in weighs
inline constexpr double kEachVoice = 2.5;  // that another voice has to be worth

}  // namespace uneven::ear
