// SPDX-License-Identifier: GPL-3.0-or-later
// From written hits to strokes in time.
#include "core/perform/performance.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <optional>
#include <tuple>

#include "core/perform/clock.h"
#include "core/perform/drift.h"
#include "core/perform/hold.h"
#include "core/perform/order.h"
#include "core/perform/ornament.h"
#include "core/perform/passage.h"
#include "core/perform/pedal_events.h"
#include "core/song/limbs.h"
#include "core/song/slots.h"

namespace uneven {
namespace {

// A hit of one groove under one feel, with all that does not depend on where the block stands.
struct Landed {
  Quarters quarters;  // swung, from the block's start
  Milliseconds shift{0};
  bool limited = false;
  std::optional<Quarters> shutQuarters;  // swung end of an opening
  Beat room;                             // to the next hit on the piece, for what an ornament adds
  Stroke stroke;                         // times, block and song bar still to be filled in
};

class BlockPlan {
 public:
  BlockPlan(const Groove& groove, const Feel& feel, const Kit& kit, const TempoMap& tempo,
            Beat start, const std::vector<Limb>* hands)
      : clock_(groove, feel, kit, tempo, start),
        limbs_(hands == nullptr ? limbsOf(groove, kit) : *hands),
        barLength_(groove.meter.barLength()) {
    placed_.reserve(groove.hits.size());
    for (std::uint32_t i = 0; i < groove.hits.size(); ++i) placeHit(groove.hits[i], i);
    std::vector<Beat> next(kit.pieces.size(), groove.length());
    for (std::size_t i = groove.hits.size(); i-- > 0;) {
      const Hit& hit = groove.hits[i];
      placed_[i].room = next[hit.piece.value] - hit.at;
      next[hit.piece.value] = hit.at;
    }
  }

  const std::vector<Landed>& placed() const { return placed_; }
  const FeelClock& clock() const { return clock_; }

 private:
  void placeHit(const Hit& hit, std::uint32_t index) {
    Landed p;
    const std::int64_t bar = hit.at.floorDiv(barLength_);
    p.stroke.at = hit.at - Beat(bar) * barLength_;
    p.stroke.bar = static_cast<std::int32_t>(bar);
    p.stroke.hit = index;
    p.stroke.piece = hit.piece;
    p.stroke.role = hit.role;
    p.stroke.stroke = hit.stroke;
    p.stroke.limb = limbs_[index];
    p.stroke.opening = hit.open;
    const ShiftParts shift = clock_.shift(hit, limbs_[index]);
    p.shift = shift.sum();
    p.limited = shift.limited.count() != 0;
    p.stroke.velocity = Velocity(hit.velocity.value() + shift.velocity);
    p.quarters = clock_.swung(hit.at, hit.piece, limbs_[index]);
    if (hit.piece == piece::kHat && hit.open > 0 && hit.openFor > Beat(0)) {
      p.shutQuarters = clock_.swung(hit.at + hit.openFor, hit.piece);
    }
    placed_.push_back(p);
  }

  FeelClock clock_;
  std::vector<Limb> limbs_;  // by hit
  Beat barLength_;
  std::vector<Landed> placed_;
};

// A block's plan is used again wherever the same groove comes under the same feel and hands, and
// where it matters at the same tempo: also where grooves take turns.
class Plans {
 public:
  Plans(const Score& score, const BlockHands* hands) : score_(score), hands_(hands) {}
  // Holds until the next one is asked for.
  const BlockPlan& of(std::uint32_t index, std::uint32_t feel) {
    const Score::Block& block = score_.blocks[index];
    const std::uint32_t way = hands_ == nullptr ? BlockHands::kUsual : hands_->ofBlock[index];
    if (kept_.size() >= kMost) kept_.clear();
    Kept& kept = kept_[{&*block.groove, feel, way}];
    const bool moves = FeelClock::dependsOnTempo(score_.feels[feel]) &&
                       score_.tempo.steps().size() > 1 && kept.start != block.start &&
                       !sameTempo(kept.start, block);
    if (!kept.plan || moves) {
      kept.start = block.start;
      kept.plan.emplace(*block.groove, score_.feels[feel], *score_.kit, score_.tempo, block.start,
                        way == BlockHands::kUsual ? nullptr : &hands_->ways[way]);
    }
    return *kept.plan;
  }

 private:
  struct Kept {
    Beat start;
    std::optional<BlockPlan> plan;
  };
  static constexpr std::size_t kMost = 64;

  // Under one tempo as the block that was planned was.
  bool sameTempo(Beat start, const Score::Block& block) const {
    const Beat length = block.groove->length();
    return score_.tempo.holdsOver(start, start + length) &&
           score_.tempo.holdsOver(block.start, block.start + length) &&
           score_.tempo.tempoAt(start) == score_.tempo.tempoAt(block.start);
  }

  const Score& score_;
  const BlockHands* hands_;
  std::map<std::tuple<const Groove*, std::uint32_t, std::uint32_t>, Kept> kept_;
};

// Between where the two feels of a morph put a hit.
Landed blended(const Landed& before, const Landed& after, double weight) {
  Landed out = after;
  out.quarters = lerp(before.quarters, after.quarters, weight);
  out.shift = (1 - weight) * before.shift + weight * after.shift;
  out.limited = before.limited || after.limited;
  if (after.shutQuarters) {
    out.shutQuarters = lerp(*before.shutQuarters, *after.shutQuarters, weight);
  }
  out.stroke.velocity = Velocity(static_cast<int>(roundToInt(
      std::lerp(before.stroke.velocity.value(), after.stroke.velocity.value(), weight))));
  return out;
}

// The drift of each feel that has one.
class Drifts {
 public:
  explicit Drifts(const Score& score) : score_(score), series_(score.feels.size()) {}
  // nullptr: none.
  const DriftSeries* of(std::uint32_t feel) {
    const auto& drift = score_.feels[feel].drift;
    if (!drift) return nullptr;
    if (!series_[feel]) {
      // A bar further: a foot comes down behind the last block.
      const Score::Block& last = score_.blocks.back();
      const Beat end = last.start + last.groove->length() + last.groove->meter.barLength();
      series_[feel].emplace(*drift, score_.songLength, end);
    }
    return &*series_[feel];
  }

  // Moves the stroke and its velocity, weighted; ghosts stay ghosts and accents accents.
  void apply(const Score::Block& block, double weight, Beat inBlock, Stroke& stroke) {
    const DriftSeries* after = of(block.feel);
    const DriftSeries* before = weight < 1 ? of(block.before) : nullptr;
    if (after == nullptr && before == nullptr) return;
    const Beat at = block.start + inBlock;
    Milliseconds shift{0};
    double velocity = 0;
    const auto add = [&](const DriftSeries* series, double share) {
      if (series == nullptr) return;
      const DriftSeries::Cell& cell = series->cellAt(at);
      shift += share * (series->clockAt(at) + series->motorAt(at, stroke.limb));
      velocity += share * cell.velocity();
    };
    add(after, weight);
    add(before, 1 - weight);
    stroke.drift = toMoment(shift);
    stroke.time += stroke.drift;
    const int written = stroke.velocity.value();
    int played = written + static_cast<int>(roundToInt(velocity));
    if (stroke.role == Role::kGhost) played = std::min(played, std::max(written, kGhostCeiling));
    if (stroke.role == Role::kAccent) played = std::max(played, std::min(written, kAccentFloor));
    stroke.velocity = Velocity(played);
  }
  Milliseconds clockAt(const Score::Block& block, double weight, Beat at) {
    const auto share = [&](std::uint32_t feel, double part) {
      const DriftSeries* series = part > 0 ? of(feel) : nullptr;
      return series == nullptr ? Milliseconds(0) : part * series->clockAt(at);
    };
    return share(block.feel, weight) + share(block.before, 1 - weight);
  }

 private:
  const Score& score_;
  std::vector<std::optional<DriftSeries>> series_;
};

// Sections' levels, after what slots add.
class Levels {
 public:
  explicit Levels(const Score& score) : score_(score) {}
  void apply(const Score::Block& block, Beat inBlock, Stroke& stroke) const {
    const Section& section = score_.sections[block.section];
    if (section.levelDb == 0 && !section.toLevelDb) return;
    const Score::Span& span = score_.spans[block.section];
    const double length = (span.end - span.start).toDouble();
    const double along = length <= 0 ? 0 : (block.start + inBlock - span.start).toDouble() / length;
    stroke.velocity = atLevel(stroke.velocity, sectionLevel(section, along));
  }

 private:
  const Score& score_;
};

// Weaves the strokes of ornaments in between the main ones, once those stand where they stay.
class Ornaments {
 public:
  explicit Ornaments(const Score& score) : score_(score), last_(score.kit->pieces.size(), kNever) {}

  // The index-th stroke has been performed from `hit`, `quarters` on the song's beats; `room` is
  // how far it is to the next hit on the piece.
  void note(std::size_t index, const Hit& hit, Beat room, Quarters quarters) {
    if (hit.ornament != Ornament::kNone) ornamented_.push_back({index, room, quarters});
  }

  // Returns how many were squeezed.
  int weave(std::vector<Stroke>& strokes) {
    if (ornamented_.empty()) return 0;
    std::vector<Stroke> out;
    out.reserve(strokes.size() + 2 * ornamented_.size());
    auto next = ornamented_.begin();
    for (std::size_t i = 0; i < strokes.size(); ++i) {
      Moment& last = last_[strokes[i].piece.value];
      const Moment before = last;
      last = std::max(last, strokes[i].time);
      out.push_back(strokes[i]);
      if (next == ornamented_.end() || next->index != i) continue;
      add(*next, strokes[i], before, out);
      ++next;
    }
    strokes = std::move(out);
    return squeezed_;
  }

 private:
  struct Ornamented {
    std::size_t index;
    Beat room;
    Quarters quarters;
  };

  // `before`: the latest stroke on the piece until now.
  void add(const Ornamented& o, Stroke main, Moment before, std::vector<Stroke>& out) {
    const Groove& groove = *score_.blocks[main.block].groove;
    const Hit& hit = groove.hits[main.hit];
    const Milliseconds start = score_.tempo.msAt(o.quarters);
    const Milliseconds quarter = score_.tempo.msAt(o.quarters + Beat(1)) - start;
    const auto strokes = ornamentStrokes(hit, slotLength(groove, hit.at), o.room, quarter);
    const double squeeze = squeezeOf(strokes, main.time, before);
    for (const OrnamentStroke& part : strokes) {
      Stroke stroke = main;
      ++main.part;
      stroke.part = main.part;
      const bool grace = part.shift < Milliseconds(0);
      const Milliseconds later = score_.tempo.msAt(o.quarters + part.after) - start;
      const Moment offset = toMoment(grace ? part.shift * squeeze : part.shift + later);
      stroke.time += offset;
      if (!grace) stroke.grid += offset;
      stroke.role = part.role;
      stroke.velocity =
          Velocity(static_cast<int>(roundToInt(main.velocity.value() * part.velocityShare)));
      last_[main.piece.value] = std::max(last_[main.piece.value], stroke.time);
      out.push_back(stroke);
    }
  }

  static constexpr Moment kNever = Moment::min();

  // 1, or less where the strokes before the main one would reach back to the stroke before: then
  // they share the gap evenly.
  double squeezeOf(const std::vector<OrnamentStroke>& strokes, Moment main, Moment before) {
    if (strokes.empty() || before == kNever || strokes.front().shift >= Milliseconds(0)) return 1;
    const Milliseconds reach = -strokes.front().shift;
    const Milliseconds gap = toMilliseconds(main - before);
    const auto graces = static_cast<double>(
        std::count_if(strokes.begin(), strokes.end(),
                      [](const OrnamentStroke& o) { return o.shift < Milliseconds(0); }));
    if (reach < gap) return 1;
    ++squeezed_;
    return std::max(0.0, gap.count() * graces / (graces + 1)) / reach.count();
  }

  const Score& score_;
  std::vector<Ornamented> ornamented_;  // in order of index
  std::vector<Moment> last_;            // by piece
  int squeezed_ = 0;
};

// Strokes of the hand take their opening from the path; where the foot could keep what is written,
// that is the path's value but for rounding.
void takeOpenings(std::vector<Stroke>& strokes, const HatPedal& pedal) {
  if (pedal.path.empty()) return;
  constexpr double kSame = 1e-6;
  std::size_t near = 0;
  for (Stroke& stroke : strokes) {
    if (stroke.piece != piece::kHat) continue;
    const double opening = pedal.openingAt(stroke.time, near);
    if (std::abs(opening - stroke.opening.value()) > kSame) stroke.opening = opening;
  }
}

}  // namespace

Performance perform(const Score& score, const BlockHands* hands, const std::stop_token& stop) {
  Performance out;
  out.strokes.reserve(static_cast<std::size_t>(score.hits));
  Ornaments ornaments(score);
  Plans plans(score, hands);
  Plans plansBefore(score, hands);
  TempoMap::Cursor tempo(score.tempo);
  Drifts drifts(score);
  PedalEvents pedal(score, [&](const Score::Block& block, double weight, Beat at) {
    return drifts.clockAt(block, weight, at);
  });
  OrderKeeper order(*score.kit);
  const Levels levels(score);
  for (std::uint32_t b = 0; b < score.blocks.size(); ++b) {
    if (stop.stop_requested()) return {};
    const Score::Block& block = score.blocks[b];
    const BlockPlan& plan = plans.of(b, block.feel);
    const BlockPlan* before = block.morphs() ? &plansBefore.of(b, block.before) : nullptr;
    const Beat pair = before == nullptr ? plan.clock().pair()
                                        : std::max(plan.clock().pair(), before->clock().pair());
    const Quarters start = block.start;
    Landed between;
    for (std::size_t i = 0; i < plan.placed().size(); ++i) {
      const Landed* placed = &plan.placed()[i];
      const Hit& hit = block.groove->hits[i];
      double weight = 1;
      if (before != nullptr) {
        weight = morphWeight(block, hit.at, pair);
        between = blended(before->placed()[i], *placed, weight);
        placed = &between;
      }
      Stroke& stroke = out.strokes.emplace_back(placed->stroke);
      stroke.block = b;
      stroke.bar += block.firstBar;
      stroke.grid = toMoment(tempo.msAt(start + placed->quarters));
      stroke.time = stroke.grid + toMoment(placed->shift);
      out.limited += placed->limited ? 1 : 0;
      levels.apply(block, hit.at, stroke);
      drifts.apply(block, weight, hit.at, stroke);
      order.see(stroke);
      pedal.stroke(hit, placed->shutQuarters, stroke, out.strokes.size() - 1);
      ornaments.note(out.strokes.size() - 1, hit, placed->room, start + placed->quarters);
    }
    pedal.block(b);
  }
  out.held = order.hold(out.strokes);
  if (out.held > 0) pedal.refresh(out.strokes);
  out.squeezed = ornaments.weave(out.strokes);
  orderByTime(out.strokes, *score.kit);
  out.pedal = pedal.build();
  takeOpenings(out.strokes, out.pedal);
  return out;
}

void forEachSound(const Performance& performance, const Kit& kit,
                  const std::function<bool(const Stroke&)>& call) {
  std::vector<Stroke> foot;
  for (const FootSound& sound : performance.pedal.sounds) {
    if (!sound.heard()) continue;
    Stroke& stroke = foot.emplace_back();
    stroke.grid = sound.grid;
    stroke.time = sound.time;
    stroke.at = sound.at;
    stroke.bar = sound.bar;
    stroke.block = sound.block;
    stroke.piece = piece::kHatFoot;
    stroke.limb = kit.usualLimb(piece::kHatFoot);
    stroke.velocity = Velocity(sound.velocity);
  }
  orderByTime(foot, kit);
  const StrokeOrder before(kit);
  auto sound = foot.begin();
  for (const Stroke& stroke : performance.strokes) {
    for (; sound != foot.end() && before(*sound, stroke); ++sound) {
      if (!call(*sound)) return;
    }
    if (!call(stroke)) return;
  }
  for (; sound != foot.end(); ++sound) {
    if (!call(*sound)) return;
  }
}

}  // namespace uneven
