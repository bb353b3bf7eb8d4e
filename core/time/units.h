// SPDX-License-Identifier: GPL-3.0-or-later
// The units of time that are not musical, as distinct types.
#pragma once

#include <chrono>
#include <cstdint>

#include "core/base/number.h"

namespace uneven {

// What people type and read: displacement, nudge, lengths.
using Milliseconds = std::chrono::duration<double, std::milli>;

// Of a recording: where strokes and beats lie in it.
using Seconds = std::chrono::duration<double>;

// A performed moment, in whole nanoseconds from the start of the song. Whole, so that unisons stay
// equal, an order by time is total, and the same song gives the same bytes everywhere.
using Moment = std::chrono::nanoseconds;

// Nearest nanosecond, by roundToInt.
inline Moment toMoment(Milliseconds ms) {
  return Moment(roundToInt(ms.count() * 1e6));
}
inline Milliseconds toMilliseconds(Moment m) {
  return Milliseconds(static_cast<double>(m.count()) / 1e6);
}

// Quarter notes a minute.
struct Bpm {
  double value = 120;
  auto operator<=>(const Bpm&) const = default;
};
inline Bpm operator*(Bpm bpm, double times) {
  return {bpm.value * times};
}
// How many times as fast.
inline double operator/(Bpm a, Bpm b) {
  return a.value / b.value;
}
inline constexpr double kBpmMin = 20;
inline constexpr double kBpmMax = 400;

// Whole microseconds to a quarter note, as a Standard MIDI File carries a tempo.
struct Tempo {
  std::int32_t usPerQuarter = 500000;

  static Tempo fromBpm(Bpm bpm) {
    return {static_cast<std::int32_t>(roundToInt(60e6 / bpm.value))};
  }
  Milliseconds quarter() const { return Milliseconds(usPerQuarter / 1000.0); }
  Bpm bpm() const { return {60e6 / usPerQuarter}; }
  bool operator==(const Tempo&) const = default;
};

}  // namespace uneven
