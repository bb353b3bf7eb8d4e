// SPDX-License-Identifier: GPL-3.0-or-later
// From written hits to strokes in time.
#include "core/perform/performance.h"

#include <algorithm>
#include <cmath>
#include <optional>

#include "core/perform/drift.h"
#include "core/perform/order.h"
#include "core/perform/ornament.h"
#include "core/perform/swing.h"
#include "core/song/limbs.h"
#include "core/song/slots.h"

namespace uneven {
namespace {

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
      : feel_(feel), limbs_(limbsOf(groove, kit)), barLength_(groove.meter.barLength()) {
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
    p.stroke.limb = limbs_[index];
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
  std::vector<Limb> limbs_;  // by hit
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

// The drift of each feel that has one.
class Drifts {
 public:
  explicit Drifts(const Score& score) : score_(score), series_(score.feels.size()) {}
  // nullptr: none.
  const DriftSeries* of(std::uint32_t feel) {
    const auto& drift = score_.feels[feel].drift;
    if (!drift) return nullptr;
    if (!series_[feel]) series_[feel].emplace(*drift, score_.songLength);
    return &*series_[feel];
  }

  // Moves the stroke and its velocity; ghosts stay ghosts and accents accents.
  static void apply(const DriftSeries& drift, Beat at, Stroke& stroke) {
    stroke.drift = toMoment(drift.clockAt(at) + drift.motorAt(at, stroke.limb));
    stroke.time += stroke.drift;
    const int before = stroke.velocity.value();
    int after = before + static_cast<int>(roundToInt(drift.velocityAt(at)));
    if (stroke.role == Role::kGhost) after = std::min(after, std::max(before, kGhostCeiling));
    if (stroke.role == Role::kAccent) after = std::max(after, std::min(before, kAccentFloor));
    stroke.velocity = Velocity(after);
  }

 private:
  const Score& score_;
  std::vector<std::optional<DriftSeries>> series_;
};

// Adds the strokes of one hit's ornament and remembers where each piece was last struck.
class Ornaments {
 public:
  Ornaments(Performance& out, const Score& score)
      : out_(out), score_(score), last_(score.kit->pieces.size(), kNever) {}

  // `main` has just been performed from `placed`, `quarters` on the song's beats.
  void add(const Groove& groove, const Placed& placed, Stroke main, double quarters) {
    const Hit& hit = groove.hits[main.hit];
    Moment& last = last_[main.piece.value];
    const Moment before = last;
    last = std::max(last, main.time);
    if (hit.ornament == Ornament::kNone) return;
    const Milliseconds quarter = score_.tempo.msAt(quarters + 1) - score_.tempo.msAt(quarters);
    const auto strokes = ornamentStrokes(hit, slotLength(groove, hit.at), placed.room, quarter);
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

// Gathers what happens to the hats' pedal while blocks are performed.
class PedalEvents {
 public:
  PedalEvents(const Score& score, Drifts& drifts) : score_(score), drifts_(drifts) {
    const Groove* before = nullptr;
    for (const Score::Block& block : score.blocks) {
      if (&*block.groove != before) used_ = used_ || moves(*block.groove);
      before = &*block.groove;
      if (used_) break;
    }
  }

  // `main` has been performed from a hit of that block.
  void stroke(const Hit& hit, const Placed& placed, const Stroke& main, const BlockPlan& plan) {
    if (!used_ || (hit.piece != piece::kHat && hit.piece != piece::kHatFoot)) return;
    HatEvent event = at(main.time, main.grid, main.at, main.bar, main.block);
    if (hit.piece == piece::kHatFoot) {
      event.kind =
          hit.stroke == StrokeKind::kSplash ? HatEvent::Kind::kSplash : HatEvent::Kind::kFoot;
    } else {
      event.open = hit.open;
      event.opener = ++openers_;
      if (placed.shutQuarters) addShut(event, hit.at + hit.openFor, *placed.shutQuarters, plan);
    }
    events_.push_back(event);
  }

  // Drawn moves and the pump of a block, once its strokes are through.
  void block(std::uint32_t index, const BlockPlan& plan) {
    if (!used_) return;
    const Score::Block& block = score_.blocks[index];
    const auto& pedal = block.groove->pedal;
    const Milliseconds travel = travelOf(pedal);
    for (; done_ < events_.size(); ++done_) events_[done_].travel = travel;
    if (!pedal) return endRun();
    for (const PedalMove& move : pedal->moves) {
      HatEvent event = place(index, move.at, piece::kHat, plan);
      event.kind = HatEvent::Kind::kMove;
      event.open = move.open;
      event.opener = ++openers_;
      event.travel = travel;
      if (move.length > Beat(0)) {
        addShut(event, move.at + move.length,
                plan.swungQuarters(move.at + move.length, piece::kHat), plan);
        events_.back().travel = travel;
      }
      events_.push_back(event);
    }
    done_ = events_.size();
    if (pedal->pump) {
      pump(index, *pedal->pump, plan);
    } else {
      endRun();
    }
  }

  HatPedal build() {
    endRun();
    if (!used_) return {};
    std::stable_sort(events_.begin(), events_.end(), [](const HatEvent& a, const HatEvent& b) {
      return a.time != b.time ? a.time < b.time : a.kind < b.kind;
    });
    std::stable_sort(presses_.begin(), presses_.end(),
                     [](const PumpPress& a, const PumpPress& b) { return a.time < b.time; });
    return hatPedal(events_, presses_);
  }

 private:
  // Whether the groove ever moves the pedal.
  static bool moves(const Groove& groove) {
    if (groove.pedal && (groove.pedal->pump || !groove.pedal->moves.empty())) return true;
    return std::any_of(groove.hits.begin(), groove.hits.end(), [](const Hit& hit) {
      return hit.piece == piece::kHatFoot || (hit.piece == piece::kHat && hit.open > 0);
    });
  }

  static HatEvent at(Moment time, Moment grid, Beat inBar, std::int32_t bar, std::uint32_t block) {
    HatEvent event;
    event.time = time;
    event.grid = grid;
    event.at = inBar;
    event.bar = bar;
    event.block = block;
    return event;
  }

  HatEvent place(std::uint32_t index, Beat written, PieceId piece, const BlockPlan& plan) {
    const Score::Block& block = score_.blocks[index];
    const Beat length = block.groove->meter.barLength();
    const std::int64_t bar = written.floorDiv(length);
    const Moment grid =
        toMoment(score_.tempo.msAt(block.start.toDouble() + plan.swungQuarters(written, piece)));
    // The foot goes with the clock that all limbs share.
    const DriftSeries* drift = drifts_.of(block.feel);
    const Milliseconds clock =
        drift == nullptr ? Milliseconds(0) : drift->clockAt(block.start + written);
    return at(grid + toMoment(plan.displacement(piece) + clock), grid, written - Beat(bar) * length,
              block.firstBar + static_cast<std::int32_t>(bar), index);
  }

  void addShut(const HatEvent& opening, Beat written, double quarters, const BlockPlan& plan) {
    const Score::Block& block = score_.blocks[opening.block];
    HatEvent event = place(opening.block, written, piece::kHat, plan);
    event.grid = toMoment(score_.tempo.msAt(block.start.toDouble() + quarters));
    // However early the end is displaced, an opening does not end before its own stroke.
    event.time = std::max(event.grid + toMoment(plan.displacement(piece::kHat)), opening.time);
    event.kind = HatEvent::Kind::kShut;
    event.opener = opening.opener;
    events_.push_back(event);
  }

  void pump(std::uint32_t index, const Pump& pump, const BlockPlan& plan) {
    const Groove& groove = *score_.blocks[index].groove;
    const Beat bar = groove.meter.barLength();
    const Beat step = pump.unit.step();
    std::vector<Beat> places;
    for (Beat start; start < groove.length(); start += bar) {
      std::size_t i = 0;
      for (Beat inBar; inBar < bar; inBar += step, ++i) {
        if (pumpPresses(pump, i)) places.push_back(start + inBar);
      }
    }
    if (places.empty()) return endRun();
    const Beat round = places.size() > 1 ? places[1] - places[0] : bar;
    if (!running_) press(index, places.front() - round, pump, plan, true);
    running_ = true;
    for (const Beat place : places) press(index, place, pump, plan, false);
    afterRun_ = place(index, places.back() + round, piece::kHatFoot, plan);
  }

  void press(std::uint32_t index, Beat written, const Pump& pump, const BlockPlan& plan,
             bool imagined) {
    const HatEvent event = place(index, written, piece::kHatFoot, plan);
    PumpPress press;
    press.time = event.time;
    press.grid = event.grid;
    press.at = event.at;
    press.bar = event.bar;
    press.block = event.block;
    press.lift = pump.lift;
    press.travel = travelOf(score_.blocks[index].groove->pedal);
    press.imagined = imagined;
    presses_.push_back(press);
  }

  // The foot comes down once more behind the last press, where nothing is played.
  void endRun() {
    if (!running_) return;
    running_ = false;
    PumpPress press;
    press.time = afterRun_.time;
    press.imagined = true;
    press.last = true;
    presses_.push_back(press);
  }

  const Score& score_;
  Drifts& drifts_;
  std::vector<HatEvent> events_;
  std::vector<PumpPress> presses_;
  std::size_t done_ = 0;  // events whose travel is known
  std::uint32_t openers_ = 0;
  bool used_ = false;  // most songs' hats are shut throughout: then nothing is gathered
  bool running_ = false;
  HatEvent afterRun_;
};

// Strokes of the hand take their opening from the path; where the foot could keep what is written,
// that is the path's value but for rounding.
void takeOpenings(std::vector<Stroke>& strokes, const HatPedal& pedal) {
  if (pedal.path.empty()) return;
  constexpr double kSame = 1e-6;
  for (Stroke& stroke : strokes) {
    if (stroke.piece != piece::kHat) continue;
    const double opening = pedal.openingAt(stroke.time);
    if (std::abs(opening - stroke.opening) > kSame) stroke.opening = static_cast<float>(opening);
  }
}

}  // namespace

Performance perform(const Score& score) {
  Performance out;
  out.strokes.reserve(static_cast<std::size_t>(score.hits));
  Ornaments ornaments(out, score);
  Plans plans(score);
  TempoMap::Cursor tempo(score.tempo);
  Drifts drifts(score);
  PedalEvents pedal(score, drifts);
  for (std::uint32_t b = 0; b < score.blocks.size(); ++b) {
    const Score::Block& block = score.blocks[b];
    const BlockPlan& plan = plans.of(block);
    const double start = block.start.toDouble();
    const DriftSeries* drift = drifts.of(block.feel);
    for (const Placed& placed : plan.placed()) {
      Stroke& stroke = out.strokes.emplace_back(placed.stroke);
      stroke.block = b;
      stroke.bar += block.firstBar;
      const Milliseconds grid = tempo.msAt(start + placed.quarters);
      stroke.grid = toMoment(grid);
      stroke.time = stroke.grid + toMoment(placed.shift);
      if (drift != nullptr) {
        Drifts::apply(*drift, block.start + block.groove->hits[stroke.hit].at, stroke);
      }
      const Stroke main = stroke;  // ornaments move the list
      pedal.stroke(block.groove->hits[main.hit], placed, main, plan);
      ornaments.add(*block.groove, placed, main, start + placed.quarters);
    }
    pedal.block(b, plan);
  }
  orderByTime(out.strokes, *score.kit);
  out.pedal = pedal.build();
  takeOpenings(out.strokes, out.pedal);
  return out;
}

std::vector<Stroke> soundsOf(const Performance& performance, const Kit& kit) {
  std::vector<Stroke> out = performance.strokes;
  for (const FootSound& sound : performance.pedal.sounds) {
    if (!sound.heard()) continue;
    Stroke stroke;
    stroke.grid = sound.grid;
    stroke.time = sound.time;
    stroke.at = sound.at;
    stroke.bar = sound.bar;
    stroke.block = sound.block;
    stroke.piece = piece::kHatFoot;
    stroke.limb = kit.usualLimb(piece::kHatFoot);
    stroke.velocity = Velocity(sound.velocity);
    out.push_back(stroke);
  }
  orderByTime(out, kit);
  return out;
}

Moment gridMoment(const Score& score, std::size_t block, Beat at, PieceId piece) {
  const Score::Block& b = score.blocks[block];
  const BlockPlan plan(*b.groove, score.feels[b.feel], *score.kit);
  return toMoment(score.tempo.msAt(b.start.toDouble() + plan.swungQuarters(at, piece)));
}

}  // namespace uneven
