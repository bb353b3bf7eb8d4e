// SPDX-License-Identifier: GPL-3.0-or-later
// The simulated player.
#include "core/rehearse/simulated.h"

#include <algorithm>
#include <cmath>
#include <random>

namespace uneven {

SimulatedTake playedBy(const Take& part, const Skill& skill, int rounds, Milliseconds begin) {
  std::mt19937_64 random(skill.seed);
  const auto share = [&] { return static_cast<double>(random() >> 11) * 0x1p-53; };
  // Twelve evens summed: the same everywhere, as a distribution of the library is not.
  const auto normal = [&] {
    double sum = -6;
    for (int i = 0; i < 12; ++i) sum += share();
    return sum;
  };
  const Score& score = part.score();
  const Score::Block& block = score.blocks.front();
  const double start = score.tempo.msAt(block.start).count();
  const double length = score.tempo.msAt(block.start + block.groove->length()).count() - start;
  const double whole = rounds * length;
  SimulatedTake out;
  for (int round = 0; round < rounds; ++round) {
    for (std::size_t i = 0; i < part.strokes().size(); ++i) {
      const Stroke& s = part.strokes()[i];
      const double written = toMilliseconds(s.time - s.drift).count() - start + round * length;
      const bool own = s.part == 0;
      if (own && share() < skill.misses) {
        ++out.missed;
        continue;
      }
      Onset onset;
      onset.piece = s.piece;
      const Limb limb = part.limbs()[i];
      const auto lean = skill.of.find(limb);
      double ms = written + skill.bias.count() + skill.spread.count() * normal();
      if (lean != skill.of.end()) ms += lean->second.count();
      ms += skill.drag / 100 * written * written / (2 * whole);
      onset.seconds = (begin.count() + ms) / 1000;
      onset.velocity = std::clamp(s.velocity.value() + skill.velocitySpread * normal(), 1.0, 127.0);
      onset.opening = s.opening.value();
      if (own && share() < skill.wrong) {
        onset.piece = s.piece == piece::kTomHigh ? piece::kTomFloor : piece::kTomHigh;
        ++out.wrong;
      }
      out.onsets.push_back(onset);
      if (own && share() < skill.extras) {
        // Between this stroke and the next, on a piece that the part has not there.
        Onset extra = onset;
        extra.piece = piece::kCowbell;
        extra.seconds += 0.03 + 0.05 * share();
        out.onsets.push_back(extra);
        ++out.added;
      }
    }
  }
  std::stable_sort(out.onsets.begin(), out.onsets.end(),
                   [](const Onset& a, const Onset& b) { return a.seconds < b.seconds; });
  return out;
}

}  // namespace uneven
