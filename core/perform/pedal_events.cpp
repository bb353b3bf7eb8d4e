// SPDX-License-Identifier: GPL-3.0-or-later
// Events of the pedal.
#include "core/perform/pedal_events.h"

#include <algorithm>

#include "core/base/nearly_sorted.h"

namespace uneven {
namespace {

// Whether the groove ever moves the pedal.
bool moves(const Groove& groove) {
  if (groove.pedal && (groove.pedal->pump || !groove.pedal->moves.empty())) return true;
  return std::any_of(groove.hits.begin(), groove.hits.end(), [](const Hit& hit) {
    return hit.piece == piece::kHatFoot || (hit.piece == piece::kHat && hit.open > 0);
  });
}

HatEvent eventAt(Moment time, Moment grid, Beat inBar, std::int32_t bar, std::uint32_t block) {
  HatEvent event;
  event.time = time;
  event.grid = grid;
  event.at = inBar;
  event.bar = bar;
  event.block = block;
  return event;
}

// How many there will be: room is made once, not by copying again and again.
std::size_t eventsOf(const Score& score) {
  std::size_t out = 0;
  std::size_t each = 0;
  const Groove* before = nullptr;
  for (const Score::Block& block : score.blocks) {
    const Groove& groove = *block.groove;
    if (&groove != before) {
      before = &groove;
      each = groove.pedal ? 2 * groove.pedal->moves.size() : 0;
      for (const Hit& hit : groove.hits) {
        const bool shuts = hit.piece == piece::kHat && hit.open > 0 && hit.openFor > Beat(0);
        each +=
            (hit.piece == piece::kHat || hit.piece == piece::kHatFoot ? 1 : 0) + (shuts ? 1 : 0);
      }
    }
    out += each;
  }
  return out;
}

}  // namespace

PedalEvents::PedalEvents(const Score& score, DriftAt driftAt)
    : score_(score), driftAt_(std::move(driftAt)) {
  const Groove* before = nullptr;
  for (const Score::Block& block : score.blocks) {
    if (&*block.groove != before) used_ = used_ || moves(*block.groove);
    before = &*block.groove;
    if (used_) break;
  }
  if (used_) events_.reserve(eventsOf(score));
}

const BlockClock& PedalEvents::clockOf(std::uint32_t block) {
  if (!clock_ || clockBlock_ != block) {
    clock_.emplace(score_, block);
    clockBlock_ = block;
  }
  return *clock_;
}

void PedalEvents::stroke(const Hit& hit, const std::optional<Quarters>& shutQuarters,
                         const Stroke& main, std::size_t index) {
  if (!used_ || (hit.piece != piece::kHat && hit.piece != piece::kHatFoot)) return;
  HatEvent event = eventAt(main.time, main.grid, main.at, main.bar, main.block);
  event.stroke = static_cast<std::uint32_t>(index);
  if (hit.piece == piece::kHatFoot) {
    event.kind =
        hit.stroke == StrokeKind::kSplash ? HatEvent::Kind::kSplash : HatEvent::Kind::kFoot;
  } else {
    event.open = hit.open;
    event.opener = ++openers_;
    if (shutQuarters) addShut(event, hit.at + hit.openFor, *shutQuarters, clockOf(main.block));
  }
  events_.push_back(event);
}

void PedalEvents::block(std::uint32_t index) {
  if (!used_) return;
  const Score::Block& block = score_.blocks[index];
  const auto& pedal = block.groove->pedal;
  const Milliseconds travel = travelOf(pedal);
  for (; done_ < events_.size(); ++done_) events_[done_].travel = travel;
  if (!pedal) return endRun();
  const BlockClock& clock = clockOf(index);
  for (const PedalMove& move : pedal->moves) {
    HatEvent event = place(index, move.at, piece::kHat, clock);
    event.kind = HatEvent::Kind::kMove;
    event.open = move.open;
    event.opener = ++openers_;
    event.travel = travel;
    if (move.length > Beat(0)) {
      addShut(event, move.at + move.length, clock.swung(move.at + move.length, piece::kHat), clock);
      events_.back().travel = travel;
    }
    events_.push_back(event);
  }
  done_ = events_.size();
  if (pedal->pump) {
    pump(index, *pedal->pump, clock);
  } else {
    endRun();
  }
}

void PedalEvents::refresh(const std::vector<Stroke>& strokes) {
  std::vector<Moment> opened(openers_ + 1, Moment::min());
  for (HatEvent& event : events_) {
    if (event.stroke == HatEvent::kNoStroke) continue;
    event.time = strokes[event.stroke].time;
    opened[event.opener] = event.time;
  }
  for (HatEvent& event : events_) {
    if (event.kind == HatEvent::Kind::kShut) {
      event.time = std::max(event.time, opened[event.opener]);
    }
  }
}

HatPedal PedalEvents::build() {
  endRun();
  if (!used_) return {};
  sortByTiles(events_.begin(), events_.end(), [](const HatEvent& a, const HatEvent& b) {
    return a.time != b.time ? a.time < b.time : a.kind < b.kind;
  });
  sortByTiles(presses_.begin(), presses_.end(),
              [](const PumpPress& a, const PumpPress& b) { return a.time < b.time; });
  return hatPedal(events_, presses_);
}

HatEvent PedalEvents::place(std::uint32_t index, Beat written, PieceId piece,
                            const BlockClock& clock) {
  const Score::Block& block = score_.blocks[index];
  const Beat length = block.groove->meter.barLength();
  const std::int64_t bar = written.floorDiv(length);
  // The foot goes with the clock that all limbs share.
  const Milliseconds drift = driftAt_(block, clock.weight(written), block.start + written);
  return eventAt(toMoment(clock.struck(written, piece) + drift), clock.grid(written, piece),
                 written - Beat(bar) * length, block.firstBar + static_cast<std::int32_t>(bar),
                 index);
}

void PedalEvents::addShut(const HatEvent& opening, Beat written, Quarters quarters,
                          const BlockClock& clock) {
  const Score::Block& block = score_.blocks[opening.block];
  HatEvent event = place(opening.block, written, piece::kHat, clock);
  event.grid = toMoment(score_.tempo.msAt(block.start + quarters));
  // However early the end is displaced, an opening does not end before its own stroke.
  event.time =
      std::max(event.grid + toMoment(clock.displacement(written, piece::kHat)), opening.time);
  event.kind = HatEvent::Kind::kShut;
  event.opener = opening.opener;
  events_.push_back(event);
}

void PedalEvents::pump(std::uint32_t index, const Pump& pump, const BlockClock& clock) {
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
  if (!running_) press(index, places.front() - round, pump, clock, true);
  running_ = true;
  for (const Beat place : places) press(index, place, pump, clock, false);
  afterRun_ = place(index, places.back() + round, piece::kHatFoot, clock);
}

void PedalEvents::press(std::uint32_t index, Beat written, const Pump& pump,
                        const BlockClock& clock, bool imagined) {
  const HatEvent event = place(index, written, piece::kHatFoot, clock);
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
void PedalEvents::endRun() {
  if (!running_) return;
  running_ = false;
  PumpPress press;
  press.time = afterRun_.time;
  press.imagined = true;
  press.last = true;
  presses_.push_back(press);
}

}  // namespace uneven
