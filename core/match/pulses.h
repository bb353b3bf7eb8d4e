// SPDX-License-Identifier: GPL-3.0-or-later
// Strokes that sound together as one moment, and the beats that go through such moments however
// their tempo moves.
//
// Beats are found by dynamic programming over where a beat falls and how long it is (after Ellis
// 2007, J. New Music Research 36(1), and the bar pointer of Whiteley, Cemgil & Godsill 2006, from
// memory): each stretch between two beats is worth how well the moments in it lie on parts of a
// beat, each change of length costs by its size. They are then drawn to where moments gather,
// smoothly (Whittaker, numbers.h). What comes out is the course of the tempo; whether a beat of it
// is a quarter, half of one or three of its parts is asked afterwards (readings.h).
// Threads: pure functions.
#pragma once

#include <stop_token>
#include <vector>

#include "core/match/beat_line.h"
#include "core/match/onset.h"

namespace uneven {

inline constexpr double kPulseSeconds = 0.025;

// What is struck within 25 ms.
struct Pulse {
  double seconds = 0;
  double strength = 0;  // of all: velocities as shares of 127
  double kick = 0, backbeat = 0, crash = 0;
};
// Of those that are used, in order of time.
std::vector<Pulse> pulsesOf(const std::vector<Onset>& onsets);
// From which velocity a snare is a backbeat: three quarters of its loudest tenth; 0 without one.
double loudSnare(const std::vector<Onset>& onsets);

// Periods, s, by which beats are looked for: after which moments most often come again, at most
// three, each other than the others by an eighth.
std::vector<double> basesOf(const std::vector<Pulse>& pulses);
// By which share a tempo may move along a take.
inline constexpr double kTempoFreedom = 0.45;

// Beats about `period` s long that may become `freedom` (0..1) longer or shorter, as a line through
// all pulses; `freedom` 0: one tempo near that. Needs two pulses. Stopped: any line.
BeatLine beatsThrough(const std::vector<Pulse>& pulses, double period, double freedom,
                      const std::stop_token& stop = {});

// Of the beats about each of those periods the line in which moments gather most, and those that
// are none of its simple multiples or parts: the others say the same. The sharpest first.
struct Beats {
  BeatLine line;
  double period = 0.5;  // that it was begun by, s
};
std::vector<Beats> sharpestBeats(const std::vector<Pulse>& pulses,
                                 const std::vector<double>& periods, double freedom,
                                 const std::stop_token& stop = {});

// What a quarter may be in beats of such a line.
inline constexpr double kBeatMultiples[] = {0.25, 1.0 / 3, 0.375, 0.5, 0.625, 2.0 / 3, 0.75, 0.8, 1,
                                            1.25, 4.0 / 3, 1.5,   1.6, 2,     8.0 / 3, 3,    4};

// By how much three beats of a line are longer or shorter than the three before, on average. Of
// takes (bench/ear) 0.002 to 0.011, where the tempo moves up to 0.027; of strokes without a beat,
// which a line that may move goes through as well, 0.030 and more.
double wandering(const BeatLine& beats);

}  // namespace uneven
