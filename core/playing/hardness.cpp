// SPDX-License-Identifier: GPL-3.0-or-later
// How hard a part is.
#include "core/playing/hardness.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <numeric>
#include <set>

#include "core/measure/level.h"

namespace uneven {
namespace {

constexpr double kSpeed = 50, kCombination = 5, kBetween = 1, kJumpDb = 6, kOpening = 4,
                 kSubdivision = 3;

// Into how many equal parts a beat's strokes divide it: the least common denominator.
std::int64_t dividedBy(const std::set<Beat>& inBeat) {
  std::int64_t parts = 1;
  for (const Beat at : inBeat) parts = std::lcm(parts, at.den());
  return parts;
}

struct Bar {
  std::map<Beat, unsigned> limbs;            // that strike there, a bit each
  std::array<std::vector<double>, 2> hands;  // dB
  std::map<std::int64_t, std::set<Beat>> beats;
  double effort = 0;
};

double between(const std::map<Beat, unsigned>& limbs) {
  double count = 0;
  for (unsigned limb = 0; limb < 8; ++limb) {
    const unsigned own = 1U << limb;
    bool struck = false, others = false;
    for (const auto& [at, bits] : limbs) {
      if ((bits & own) != 0) {
        count += struck && others ? 1 : 0;
        struck = true;
        others = false;
      } else {
        others = true;
      }
    }
  }
  return count;
}

}  // namespace

HardnessReport hardness(const HandReport& report, const LoopStrains& strains) {
  HardnessReport out;
  const Score& score = report.take->score();
  if (score.blocks.empty()) return out;
  const Groove& groove = *score.blocks.front().groove;
  const Beat barLength = groove.meter.barLength();
  const Beat unit = groove.meter.countUnit();
  std::vector<Bar> bars(static_cast<std::size_t>(groove.bars));
  const auto put = [&](const BodyStroke& b, const Strain& strain) {
    const Beat at = groove.hits[report.take->strokes()[b.stroke].hit].at;
    const std::int64_t index = at.floorDiv(barLength);
    Bar& bar = bars[static_cast<std::size_t>(index)];
    const Beat inBar = at - Beat(index) * barLength;
    bar.effort = std::max(bar.effort, strain.effort);
    bar.limbs[inBar] |= 1U << static_cast<unsigned>(strain.limb);
    const std::int64_t beat = inBar.floorDiv(unit);
    bar.beats[beat].insert((inBar - Beat(beat) * unit) / unit);
    if (b.grace) return;
    if (strain.limb == Limb::kRightHand) bar.hands[0].push_back(levelOf(b.velocity).value);
    if (strain.limb == Limb::kLeftHand) bar.hands[1].push_back(levelOf(b.velocity).value);
  };
  for (std::size_t i = 0; i < strains.hands.size(); ++i)
    put(report.part.hands[i], strains.hands[i]);
  for (std::size_t i = 0; i < strains.feet.size(); ++i) {
    if (!report.part.feet[i].closing) put(report.part.feet[i], strains.feet[i]);
  }
  for (std::size_t b = 0; b < bars.size(); ++b) {
    const Bar& bar = bars[b];
    Hardness h;
    h.speed = kSpeed * bar.effort;
    std::set<unsigned> combinations;
    for (const auto& [at, bits] : bar.limbs) combinations.insert(bits);
    h.coordination = kCombination * std::max(0.0, static_cast<double>(combinations.size()) - 1) +
                     kBetween * between(bar.limbs);
    for (const std::vector<double>& hand : bar.hands) {
      for (std::size_t i = 1; i < hand.size(); ++i) {
        h.dynamics += std::abs(hand[i] - hand[i - 1]) / kJumpDb;
      }
    }
    std::int64_t before = 0;
    for (const auto& [beat, inBeat] : bar.beats) {
      const std::int64_t parts = dividedBy(inBeat);
      if (before != 0 && parts != before) h.subdivisions += kSubdivision;
      before = parts;
    }
    out.bars.push_back(h);
  }
  const auto open = [&](Beat at) {
    out.bars[static_cast<std::size_t>(at.floorDiv(barLength))].openings += kOpening;
  };
  for (const Hit& hit : groove.hits) {
    if (hit.open > 0) open(hit.at);
  }
  if (groove.pedal) {
    for (const PedalMove& move : groove.pedal->moves) {
      if (move.open > 0) open(move.at);
    }
  }
  const auto count = static_cast<double>(out.bars.size());
  for (const Hardness& h : out.bars) {
    out.groove.speed = std::max(out.groove.speed, h.speed);
    out.groove.coordination += h.coordination / count;
    out.groove.dynamics += h.dynamics / count;
    out.groove.openings += h.openings / count;
    out.groove.subdivisions += h.subdivisions / count;
  }
  return out;
}

}  // namespace uneven
