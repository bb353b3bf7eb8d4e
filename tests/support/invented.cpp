// SPDX-License-Identifier: GPL-3.0-or-later
// Takes with a known feel.
#include "tests/support/invented.h"

#include <gtest/gtest.h>

#include "core/base/number.h"
#include "core/song/edit.h"
#include "core/take/take.h"

namespace uneven::testing {

Invented invent(Random& random, int bars, double drift, SwingUnit unit, double ratio) {
  Invented out;
  out.song = blankSong();
  out.bpm = pickReal(random, 72, 150);
  out.song.tempo = {{Beat(0), Bpm{out.bpm}, {}}};
  Groove groove;
  groove.id = groove.name = "g";
  groove.bars = 2;
  groove.feel = "f";
  const auto put = [&](Beat at, PieceId piece, int velocity, Role role) {
    Hit hit;
    hit.at = at;
    hit.piece = piece;
    hit.velocity = Velocity(velocity);
    hit.role = role;
    groove = withHit(std::move(groove), hit);
  };
  const Beat step = unit == SwingUnit::kSixteenth ? Beat(1, 4) : Beat(1, 2);
  for (Beat at; at < groove.length(); at += step)
    put(at, piece::kHat, at.den() == 1 ? 80 : pick(random, 50, 66), Role::kNormal);
  for (int bar = 0; bar < 2; ++bar) {
    put(Beat(4 * bar), piece::kKick, pick(random, 96, 110), Role::kNormal);
    put(Beat(4 * bar + 1), piece::kSnare, pick(random, 104, 116), Role::kAccent);
    put(Beat(4 * bar + 3), piece::kSnare, pick(random, 104, 116), Role::kAccent);
    for (int k = 0; k < 3; ++k) {
      const int eighth = pick(random, 3, 7);
      put(Beat(4 * bar) + Beat(eighth, 2), piece::kKick, pick(random, 85, 105), Role::kNormal);
      const Beat ghost = Beat(4 * bar) + Beat(pick(random, 1, 15), 4);
      if (unit == SwingUnit::kSixteenth && !indexOf(groove, {ghost, piece::kSnare}))
        put(ghost, piece::kSnare, pick(random, 24, 34), Role::kGhost);
    }
  }
  out.feel.id = out.feel.name = "f";
  out.feel.swing.unit = unit;
  out.feel.swing.ratio = ratio;
  out.feel.displacement[piece::kHat] = Milliseconds(roundedTo(pickReal(random, -6, 2), 10));
  out.feel.displacement[piece::kSnare] = Milliseconds(roundedTo(pickReal(random, -4, 14), 10));
  out.feel.displacement[piece::kKick] = Milliseconds(roundedTo(pickReal(random, -5, 8), 10));
  if (drift > 0) {
    Drift d;
    d.clock = Milliseconds(drift * 0.85);
    d.motor = Milliseconds(drift * 0.5);
    d.exponent = 1;
    d.seed = static_cast<std::uint64_t>(pick(random, 1, 1'000'000));
    out.feel.drift = d;
  }
  out.song.feels = {out.feel};
  out.song.grooves = {SharedValue<Groove>(groove)};
  Section section;
  section.name = section.groove = "g";
  section.repeat = bars / 2;
  out.song.arrangement = {section};
  return out;
}

std::vector<Onset> struck(const Song& song, double late) {
  std::vector<Onset> out;
  const Result<SharedTake> take = Take::ofSong(song);
  EXPECT_TRUE(take);
  if (!take) return out;
  for (const Stroke& s : (*take)->strokes()) {
    Onset o;
    o.seconds = toMilliseconds(s.time).count() / 1'000 + late;
    o.piece = s.piece;
    o.velocity = s.velocity.value();
    out.push_back(o);
  }
  return out;
}

}  // namespace uneven::testing
