// SPDX-License-Identifier: GPL-3.0-or-later
// From written hits to strokes in time. Drift and the pedal's path have their places here: drift
// where the shifts add up, the pedal after the order is known.
#include "core/perform/performance.h"

#include <algorithm>
#include <optional>

#include "core/perform/order.h"
#include "core/perform/ornament.h"
#include "core/perform/swing.h"

namespace uneven {
namespace {

Limb limbOf(const Hit& hit, const Kit& kit) {
  return hit.limb == Limb::kAutomatic ? kit[hit.piece].usual : hit.limb;
}

// A hit of one groove under one feel, with all that does not depend on where the block stands.
struct Placed {
  double quarters = 0;  // swung, from the block's start
  Milliseconds shift{0};
  std::optional<double> shutQuarters;  // swung end of an opening
  Beat room;                           // to the next hit on the piece, for what an ornament adds
  Stroke stroke;                       // times, block and song bar still to be filled in
};

class BlockPlan {
 public:
  BlockPlan(const Groove& groove, const Feel& feel, const Kit& kit)
      : feel_(feel), kit_(kit), barLength_(groove.meter.barLength()) {
    for (std::size_t i = 0; i < kit.pieces.size(); ++i) {
      const PieceId piece{static_cast<std::uint8_t>(i)};
      const auto depth = feel.swing.depth.find(piece);
      curves_.emplace_back(feel.swing, depth == feel.swing.depth.end() ? 1.0 : depth->second,
                           barLength_);
      const auto shift = feel.displacement.find(piece);
      displacement_.push_back(shift == feel.displacement.end() ? Milliseconds(0) : shift->second);
    }
    placed_.reserve(groove.hits.size());
    for (std::uint32_t i = 0; i < groove.hits.size(); ++i) placeHit(groove.hits[i], i);
    std::vector<Beat> next(kit.pieces.size(), groove.length());
    for (std::size_t i = groove.hits.size(); i-- > 0;) {
      const Hit& hit = groove.hits[i];
      placed_[i].room = next[hit.piece.value] - hit.at;
      next[hit.piece.value] = hit.at;
    }
  }

  const std::vector<Placed>& placed() const { return placed_; }

  double swungQuarters(Beat at, PieceId piece) const {
    const Beat bar = Beat(at.floorDiv(barLength_)) * barLength_;
    return bar.toDouble() + curves_[piece.value].swung(at - bar);
  }
  Milliseconds displacement(PieceId piece) const { return displacement_[piece.value]; }

 private:
  void placeHit(const Hit& hit, std::uint32_t index) {
    Placed p;
    const std::int64_t bar = hit.at.floorDiv(barLength_);
    p.stroke.at = hit.at - Beat(bar) * barLength_;
    p.stroke.bar = static_cast<std::int32_t>(bar);
    p.stroke.hit = index;
    p.stroke.piece = hit.piece;
    p.stroke.role = hit.role;
    p.stroke.stroke = hit.stroke;
    p.stroke.limb = limbOf(hit, kit_);
    p.stroke.opening = static_cast<float>(hit.open);
    p.shift = displacement(hit.piece) + hit.nudge;
    int velocity = hit.velocity.value();
    for (const Slot& slot : feel_.slots) {
      if (slot.at != p.stroke.at || (slot.piece && *slot.piece != hit.piece)) continue;
      p.shift += slot.shift;
      velocity += slot.velocity;
    }
    p.stroke.velocity = Velocity(velocity);
    p.quarters = swungQuarters(hit.at, hit.piece);
    if (hit.piece == piece::kHat && hit.open > 0 && hit.openFor > Beat(0)) {
      p.shutQuarters = swungQuarters(hit.at + hit.openFor, hit.piece);
    }
    placed_.push_back(p);
  }

  const Feel& feel_;
  const Kit& kit_;
  Beat barLength_;
  std::vector<SwingCurve> curves_;  // by piece
  std::vector<Milliseconds> displacement_;
  std::vector<Placed> placed_;
};

// A block's plan is used again by the repetitions that follow it.
class Plans {
 public:
  explicit Plans(const Score& score) : score_(score) {}
  const BlockPlan& of(const Score::Block& block) {
    if (!plan_ || groove_ != &*block.groove || feel_ != block.feel) {
      groove_ = &*block.groove;
      feel_ = block.feel;
      plan_.emplace(*groove_, score_.feels[feel_], *score_.kit);
    }
    return *plan_;
  }

 private:
  const Score& score_;
  const Groove* groove_ = nullptr;
  std::uint32_t feel_ = 0;
  std::optional<BlockPlan> plan_;
};

// Adds the strokes of one hit's ornament and remembers where each piece was last struck.
class Ornaments {
 public:
  Ornaments(Performance& out, const Score& score)
      : out_(out), score_(score), last_(score.kit->pieces.size(), kNever) {}

  // `main` has just been performed from `placed`, `quarters` on the song's beats.
  void add(const Hit& hit, const Placed& placed, Stroke main, double quarters, Beat slot) {
    Moment& last = last_[main.piece.value];
    const Moment before = last;
    last = std::max(last, main.time);
    if (hit.ornament == Ornament::kNone) return;
    const Milliseconds quarter = score_.tempo.msAt(quarters + 1) - score_.tempo.msAt(quarters);
    const auto strokes = ornamentStrokes(hit, slot, placed.room, quarter);
    const double squeeze = squeezeOf(strokes, main.time, before);
    for (const OrnamentStroke& o : strokes) {
      Stroke stroke = main;
      ++main.part;
      stroke.part = main.part;
      const Milliseconds later =
          score_.tempo.msAt(quarters + o.after.toDouble()) - score_.tempo.msAt(quarters);
      const bool grace = o.shift < Milliseconds(0);
      const Moment offset = toMoment(grace ? o.shift * squeeze : o.shift + later);
      stroke.time += offset;
      if (!grace) stroke.grid += offset;
      stroke.role = o.role;
      stroke.velocity =
          Velocity(static_cast<int>(roundToInt(main.velocity.value() * o.velocityShare)));
      last = std::max(last, stroke.time);
      out_.strokes.push_back(stroke);
    }
  }

 private:
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
    ++out_.squeezed;
    return std::max(0.0, gap.count() * graces / (graces + 1)) / reach.count();
  }

  Performance& out_;
  const Score& score_;
  std::vector<Moment> last_;
};

struct PendingShut {
  std::uint32_t block = 0;
  std::uint32_t hit = 0;
  Moment time{0};
};

// Keeps those ends of openings that no stroke on the hats (by hand or foot) comes before or masks.
// `pending` is in order of block and hit, as it was written.
std::vector<HatShut> foundShuts(const std::vector<Stroke>& strokes,
                                const std::vector<PendingShut>& pending) {
  std::vector<HatShut> shuts;
  if (pending.empty()) return shuts;
  const auto key = [](std::uint32_t block, std::uint32_t hit) {
    return (static_cast<std::uint64_t>(block) << 32) | hit;
  };
  std::optional<HatShut> open;
  const Moment mask = toMoment(kShutMask);
  for (std::uint32_t i = 0; i < strokes.size(); ++i) {
    const Stroke& s = strokes[i];
    if (s.piece != piece::kHat && s.piece != piece::kHatFoot) continue;
    if (open && open->time + mask < s.time) shuts.push_back(*open);
    open.reset();
    if (s.piece != piece::kHat || s.opening <= 0) continue;
    const auto found = std::lower_bound(
        pending.begin(), pending.end(), key(s.block, s.hit),
        [&](const PendingShut& p, std::uint64_t k) { return key(p.block, p.hit) < k; });
    if (found != pending.end() && found->block == s.block && found->hit == s.hit) {
      // However early the end is displaced, an opening does not end before its own stroke.
      open = HatShut{std::max(found->time, s.time), i};
    }
  }
  if (open) shuts.push_back(*open);
  return shuts;
}

}  // namespace

Performance perform(const Score& score) {
  Performance out;
  out.strokes.reserve(static_cast<std::size_t>(score.hits));
  Ornaments ornaments(out, score);
  std::vector<PendingShut> pending;
  Plans plans(score);
  TempoMap::Cursor tempo(score.tempo);
  for (std::uint32_t b = 0; b < score.blocks.size(); ++b) {
    const Score::Block& block = score.blocks[b];
    const BlockPlan& plan = plans.of(block);
    const double start = block.start.toDouble();
    for (const Placed& placed : plan.placed()) {
      Stroke& stroke = out.strokes.emplace_back(placed.stroke);
      stroke.block = b;
      stroke.bar += block.firstBar;
      const Milliseconds grid = tempo.msAt(start + placed.quarters);
      stroke.grid = toMoment(grid);
      stroke.time = stroke.grid + toMoment(placed.shift);
      const std::uint32_t hit = stroke.hit;
      if (placed.shutQuarters) {
        const Milliseconds end = score.tempo.msAt(start + *placed.shutQuarters);
        pending.push_back({b, hit, toMoment(end + plan.displacement(piece::kHat))});
      }
      ornaments.add(block.groove->hits[hit], placed, Stroke(stroke), start + placed.quarters,
                    block.groove->grid.step());
    }
  }
  orderByTime(out.strokes, *score.kit);
  out.shuts = foundShuts(out.strokes, pending);
  return out;
}

Moment gridMoment(const Score& score, std::size_t block, Beat at, PieceId piece) {
  const Score::Block& b = score.blocks[block];
  const BlockPlan plan(*b.groove, score.feels[b.feel], *score.kit);
  return toMoment(score.tempo.msAt(b.start.toDouble() + plan.swungQuarters(at, piece)));
}

}  // namespace uneven
