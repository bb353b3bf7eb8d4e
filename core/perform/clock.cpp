// SPDX-License-Identifier: GPL-3.0-or-later
// Swing and morph.
#include "core/perform/clock.h"

#include <algorithm>
#include <cmath>

namespace uneven {

FeelClock::FeelClock(const Groove& groove, const Feel& feel, const Kit& kit, const TempoMap& tempo,
                     Beat start)
    : feel_(feel),
      tempo_(tempo),
      start_(start),
      barLength_(groove.meter.barLength()),
      curve_(feel.swing, barLength_),
      depths_(kit.pieces.size() * kLimbs, 1.0) {
  for (const auto& [piece, depth] : feel.swing.depth) {
    for (std::size_t i = 0; i < kLimbs; ++i) depths_[piece.value * kLimbs + i] *= depth;
  }
  for (const auto& [limb, depth] : feel.swing.limbDepth) {
    for (std::size_t i = static_cast<std::size_t>(limb); i < depths_.size(); i += kLimbs) {
      depths_[i] *= depth;
    }
  }
  if (feel.swing.written == Written::kStraight) {
    for (const auto& [beat, grid] : groove.beatGrids) {
      if (grid.tuplet != 3) continue;
      const Beat bar = Beat(beat.floorDiv(barLength_)) * barLength_;
      triplets_.emplace_back(beat, std::min(beat + groove.meter.countUnit(), bar + barLength_));
    }
  }
  if (feel.swing.linked) return;
  targets_.reserve(depths_.size());
  for (const double depth : depths_) targets_.push_back(curve_.target(feel.swing.ratio, depth));
}

double FeelClock::targetAt(Beat pairStart, double depth) const {
  return curve_.target(ratioAt(feel_.swing, tempo_.tempoAt(start_ + pairStart)), depth);
}

bool FeelClock::inTriplets(Beat at) const {
  const auto behind =
      std::upper_bound(triplets_.begin(), triplets_.end(), at,
                       [](Beat position, const auto& beat) { return position < beat.first; });
  return behind != triplets_.begin() && at < std::prev(behind)->second;
}

Quarters FeelClock::swung(Beat at, PieceId piece, Limb limb) const {
  if (!triplets_.empty() && inTriplets(at)) return at;
  const Beat bar = Beat(at.floorDiv(barLength_)) * barLength_;
  const Beat inBar = at - bar;
  const std::size_t who = piece.value * kLimbs + static_cast<std::size_t>(limb);
  const double target =
      targets_.empty() ? targetAt(bar + curve_.pairStart(inBar), depths_[who]) : targets_[who];
  return bar + curve_.swung(inBar, target);
}

Quarters FeelClock::line(Beat at) const {
  if (!triplets_.empty() && inTriplets(at)) return at;
  const Beat bar = Beat(at.floorDiv(barLength_)) * barLength_;
  const Beat inBar = at - bar;
  return bar + curve_.swung(inBar, targetAt(bar + curve_.pairStart(inBar), 1));
}

double FeelClock::factorAt(Beat at) const {
  return feel_.shareOf ? shareFactor(feel_, tempo_.tempoAt(start_ + at)) : 1;
}

ShiftParts FeelClock::shift(const Hit& hit, Limb limb) const {
  const Beat bar = Beat(hit.at.floorDiv(barLength_)) * barLength_;
  return shiftOf(feel_, hit, limb, hit.at - bar, factorAt(hit.at));
}

Milliseconds FeelClock::displacement(PieceId piece, Beat at) const {
  const auto found = feel_.displacement.find(piece);
  return found == feel_.displacement.end() ? Milliseconds(0) : factorAt(at) * found->second;
}

double morphWeight(const Score::Block& block, Beat at, Beat pair) {
  const Beat barLength = block.groove->meter.barLength();
  const Beat bar = Beat(at.floorDiv(barLength)) * barLength;
  const Beat cell = bar + Beat((at - bar).floorDiv(pair)) * pair;
  const double middle = (block.start + cell - block.morphStart).toDouble() + pair.toDouble() / 2;
  const double length = (block.morphEnd - block.morphStart).toDouble();
  const double x = std::clamp(middle / length, 0.0, 1.0);
  return x * x * (3 - 2 * x);
}

BlockClock::BlockClock(const Score& score, std::size_t block)
    : score_(score),
      block_(score.blocks[block]),
      after_(*block_.groove, score.feels[block_.feel], *score.kit, score.tempo, block_.start) {
  if (block_.morphs()) {
    before_.emplace(*block_.groove, score.feels[block_.before], *score.kit, score.tempo,
                    block_.start);
  }
}

double BlockClock::weight(Beat at) const {
  return before_ ? morphWeight(block_, at, std::max(after_.pair(), before_->pair())) : 1;
}

Quarters BlockClock::swung(Beat at, PieceId piece, Limb limb) const {
  const Quarters after = after_.swung(at, piece, limb);
  return before_ ? lerp(before_->swung(at, piece, limb), after, weight(at)) : after;
}

Quarters BlockClock::line(Beat at) const {
  return before_ ? lerp(before_->line(at), after_.line(at), weight(at)) : after_.line(at);
}

Moment BlockClock::grid(Beat at, PieceId piece, Limb limb) const {
  return toMoment(score_.tempo.msAt(block_.start + swung(at, piece, limb)));
}

Milliseconds BlockClock::displacement(Beat at, PieceId piece) const {
  const Milliseconds after = after_.displacement(piece, at);
  if (!before_) return after;
  const double w = weight(at);
  return (1 - w) * before_->displacement(piece, at) + w * after;
}

Milliseconds BlockClock::struck(Beat at, PieceId piece) const {
  return score_.tempo.msAt(block_.start + swung(at, piece)) + displacement(at, piece);
}

}  // namespace uneven
