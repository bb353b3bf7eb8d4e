// SPDX-License-Identifier: GPL-3.0-or-later
// Where swing puts a written position.
//
// Pairs of the unit u are P = 2u long and count from the bar line; a pair that the bar line cuts
// stays straight. With ratio r (long : short) the target point is t = r / (1 + r); the written
// pivot w is 1/2 for a groove written straight, 2/3 for one written in triplets. What follows by a
// depth d uses w + d (t - w) in t's place. A position p of a pair, p in [0, 1), moves to
//
//   p <= w:  p' = p t / w            p > w:  p' = t + (p - w) (1 - t) / (1 - w)
//
// so what falls on the beat never moves. Worked: r = 2, straight, sixteenths: the e of 1 (written
// 1/4 of a quarter, the middle of its pair) is played at 2/3 of the pair, 1/3 of a quarter.
//
// The tempo-linked ratio keeps the short note near 100 ms until the ratio reaches its ends, D being
// how long the pair lasts (after Friberg & Sundstrom 2002, Music Perception 19(3), figures from
// memory):
//
//   r = clamp((D - 100 ms) / 100 ms, 1, 3.5)
//
// Threads: plain values.
#pragma once

#include <cstdint>
#include <optional>
#include <string_view>

#include "core/song/feel.h"
#include "core/time/beat.h"
#include "core/time/tempo_map.h"

namespace uneven {

inline constexpr Milliseconds kLinkedShort{100};
inline constexpr double kLinkedRatioMax = 3.5;

// The ratio, the target point and the notes' lengths are one thing in different units.
inline double pointOfRatio(double ratio) {
  return ratio / (1 + ratio);
}
Milliseconds pairLength(SwingUnit unit, Tempo tempo);
// Nothing when the ratio would leave kRatioMin .. kRatioMax.
std::optional<double> ratioOfPercent(double percent);
std::optional<double> ratioOfShort(Milliseconds shortNote, Milliseconds pair);
double linkedRatio(Milliseconds pair);
// A swing as people say it: "62 %", "1.6", "1.6 : 1", "5:3", "120 ms" (the short note; beyond half
// of the pair the long one, but where `plain` is ms), "straight", "triplet", "dotted", "shuffle". A
// bare number is what `plain` says: a ratio, a percentage or ms. Nothing for anything else, or
// beyond kRatioMin .. kRatioMax.
enum class SwingSaid : std::uint8_t { kRatio, kPercent, kMs };
std::optional<double> ratioSaid(std::string_view text, SwingSaid plain, Milliseconds pair);
// What holds at a tempo: the ratio itself, or the linked one.
double ratioAt(const Swing& swing, Tempo tempo);
// "straight", "triplet", "dotted"; empty for all others.
std::string_view nameOfRatio(double ratio);

class SwingCurve {
 public:
  SwingCurve(const Swing& swing, Beat barLength);

  // Start of the pair that holds a position of the bar.
  Beat pairStart(Beat atInBar) const;
  Beat pair() const { return pair_; }
  // The point that a pair's pivot moves to. depth 0..1.
  double target(double ratio, double depth) const {
    return pivot_ + depth * (pointOfRatio(ratio) - pivot_);
  }
  // Position in quarter notes from the bar line, for atInBar in 0 .. barLength.
  Quarters swung(Beat atInBar, double target) const;

 private:
  Beat pair_;
  Beat swungEnd_;  // from here to the bar line the last pair is cut
  bool triplet_;
  double pivot_;
};

}  // namespace uneven
