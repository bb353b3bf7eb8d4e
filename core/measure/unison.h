// SPDX-License-Identifier: GPL-3.0-or-later
// How far strokes that are written together lie apart.
//
// The spread of a position is the latest minus the earliest of the strokes written there; strokes
// that an ornament adds are meant to lie apart and do not count. Above kSpreadFinding it is worth a
// look, above kSpreadError it flams (order of two sounds is heard from about 20 ms: Hirsh 1959,
// JASA 31). Threads: pure functions.
#pragma once

#include <vector>

#include "core/perform/performance.h"

namespace uneven {

inline constexpr Milliseconds kSpreadFinding{10}, kSpreadError{25};

struct Unison {
  int bar = 0;                       // of the song, from 0
  Beat at;                           // in the bar
  std::vector<std::size_t> strokes;  // of the performance, two or more, in order of time
  Milliseconds spread{0};
  Milliseconds plain{0};  // without drift
};

// In written order.
std::vector<Unison> unisons(const Performance& performance);
// The widest with drift, and the widest as written; nullptr where there is none.
const Unison* widest(const std::vector<Unison>& unisons);
const Unison* widestWritten(const std::vector<Unison>& unisons);

}  // namespace uneven
