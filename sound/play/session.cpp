// SPDX-License-Identifier: GPL-3.0-or-later
// What plays.
#include "sound/play/session.h"

#include <algorithm>
#include <cmath>

#include "core/perform/clock.h"
#include "core/song/slots.h"

namespace uneven {
namespace {

// A stroke so much before a groove's first position counts to it.
const Moment kUpbeat = toMoment(Milliseconds(100));

Moment momentOf(const Take& take, Beat at) {
  return toMoment(take.score().tempo.msAt(at));
}

// The bar that a position is in: where it begins, counted from the groove's start.
Beat barAt(const Groove& groove, double at) {
  const Beat bar = groove.meter.barLength();
  return Beat(static_cast<int>(std::floor(std::max(0.0, at + 1e-9) / bar.toDouble()))) * bar;
}

// The last slot of a block that has come, by where swing puts it.
Beat slotThatSounds(const Score& score, const Score::Block& block, Quarters at) {
  const Groove& groove = *block.groove;
  const BlockClock clock(score, static_cast<std::size_t>(&block - score.blocks.data()));
  const Beat here = barAt(groove, at.value());
  Beat slot = here;
  for (const Beat next : slotsOf(groove, here, here + groove.meter.barLength())) {
    if (clock.line(next) <= at + Quarters(1e-9)) slot = next;
  }
  return slot;
}

const Score::Block* blockOf(const Take& take, const PlayPlace& place) {
  return blockAt(take.score(), place.groove->id, place.at);
}

// Where the groove at hand begins in a take that has blocks.
Beat originOf(const Take& take, const PlayPlan& plan, const PlayPlace& place) {
  const Score::Block* block = plan.song() ? blockOf(take, place) : nullptr;
  return block == nullptr ? take.score().blocks.front().start : block->start;
}

// What of the groove at hand is played, from its 0.
std::pair<Beat, Beat> partOf(const PlayPlan& plan, const PlayPlace& place) {
  const Groove& groove = *place.groove;
  if (plan.range == PlayRange::kBar) {
    const Beat start = barAt(groove, place.cursor.toDouble());
    return {start, start + groove.meter.barLength()};
  }
  if (plan.range == PlayRange::kSelection && place.selected) {
    const auto [first, last] = *place.selected;
    return {first, std::min(groove.length(), last + slotLength(groove, last))};
  }
  // What is heard in its place may be longer.
  const bool other = plan.range == PlayRange::kGroove && plan.heard.groove;
  return {Beat(0), other ? (*plan.heard.groove)->length() : groove.length()};
}

Span spanOfSection(const Take& take, std::uint32_t section) {
  Beat from = take.score().length, to(0);
  for (const Score::Block& b : take.score().blocks) {
    if (b.section != section) continue;
    from = std::min(from, b.start);
    to = std::max(to, b.start + b.groove->length());
  }
  return {momentOf(take, from), momentOf(take, to)};
}

}  // namespace

std::optional<Span> playedSpan(const Take& take, const PlayPlan& plan, const PlayPlace& place) {
  if (take.score().blocks.empty()) return std::nullopt;
  switch (plan.range) {
    case PlayRange::kGroove:
    case PlayRange::kBar:
    case PlayRange::kSelection: {
      const Beat origin = originOf(take, plan, place);
      const auto [from, to] = partOf(plan, place);
      return Span{momentOf(take, origin + from), momentOf(take, origin + to)};
    }
    case PlayRange::kSection: {
      const Score::Block* here = blockOf(take, place);
      if (here == nullptr) return std::nullopt;
      return spanOfSection(take, here->section);
    }
    case PlayRange::kSong:
      break;
  }
  return Span{Moment(0), momentOf(take, take.score().length)};
}

Moment upbeatOf(const Take& take, const PlayPlan& plan, const PlayPlace& place) {
  if (plan.song() || take.score().blocks.empty()) return Moment(0);
  const auto [from, to] = partOf(plan, place);
  if (from == Beat(0) && to >= place.groove->length()) return Moment(0);
  const Beat origin = originOf(take, plan, place);
  const Beat last = slotBefore(*place.groove, to);
  return (momentOf(take, origin + to) - momentOf(take, origin + last)) / 2;
}

Moment playedFrom(const Take& take, const PlayPlan& plan, const PlayPlace& place) {
  const std::optional<Span> span = playedSpan(take, plan, place);
  const Moment first = span ? span->from : Moment(0);
  if (plan.fromStart || take.score().blocks.empty()) return first;
  if (plan.range == PlayRange::kSelection && span) return first;
  const Moment cursor = momentOf(take, originOf(take, plan, place) + place.cursor);
  return span && (cursor < span->from || cursor >= span->to) ? first : cursor;
}

void PlaySession::lend(PlayPlan other) {
  if (!own_) own_ = plan;
  plan = std::move(other);
}

bool PlaySession::giveBack() {
  if (!own_) return false;
  plan = *std::exchange(own_, std::nullopt);
  return true;
}

void PlaySession::play(SharedTake take, const PlayPlace& place, const PlaySounds& sounds) {
  take_ = std::move(take);
  from_ = playedFrom(*take_, plan, place);
  lead_.clear();
  if (plan.countIn > 0)
    lead_ = countIn(take_->score(), sounds.map, from_, plan.countIn, plan.click.levelDb);
  playing_ = true;
  ++starts_;
  remake(nullptr, place, sounds);
}

void PlaySession::playRecording(SharedTake beside, double lasts, double from) {
  Programme made;
  made.end = toMoment(Milliseconds(lasts * 1'000));
  programme_ = std::make_shared<const Programme>(std::move(made));
  from_ = toMoment(Milliseconds(from * 1'000));
  lead_.clear();
  span_.reset();
  upbeat_ = Moment(0);
  take_ = std::move(beside);
  playing_ = true;
  ++starts_;
}

void PlaySession::remake(const SharedTake& take, const PlayPlace& place, const PlaySounds& sounds) {
  if (take != nullptr) take_ = take;
  span_ = playedSpan(*take_, plan, place);
  upbeat_ = plan.loop ? upbeatOf(*take_, plan, place) : Moment(0);
  Programme made = programmeOf(*take_, sounds.map, sounds.listening, plan.click,
                               plan.loop ? span_ : std::nullopt, sounds.port);
  if (!plan.loop && span_) {
    made.end = span_->to;
    std::erase_if(made.events, [&](const SoundEvent& e) { return e.time >= span_->to; });
  }
  programme_ = std::make_shared<const Programme>(std::move(made));
}

void PlaySession::stop() {
  playing_ = false;
  programme_.reset();
}

void PlaySession::fill(Wish& wish) const {
  wish.programme = programme_;
  wish.start = starts_;
  wish.from = from_;
  wish.lead = lead_;
  wish.rate = plan.percent / 100;
}

std::optional<PlaySession::Playhead> PlaySession::playhead(const Player::State& state) const {
  if (!begun(state)) return std::nullopt;
  const Score& score = take_->score();
  if (score.blocks.empty()) return std::nullopt;
  const Quarters now = score.tempo.quartersAt(toMilliseconds(state.position));
  const auto next = std::partition_point(score.blocks.begin(), score.blocks.end(),
                                         [&](const auto& b) { return Quarters(b.start) <= now; });
  const Score::Block& block = next == score.blocks.begin() ? *next : *std::prev(next);
  const Quarters at = now - Quarters(block.start);
  return Playhead{block.groove->id, at, slotThatSounds(score, block, at), state.counting, now};
}

Moment PlaySession::heardAt(const Player::FrameClock& clock, Player::Time moment) const {
  const Moment at = clock.at(moment);
  if (!programme_ || !programme_->loop) return at;
  const Span& loop = *programme_->loop;
  const Moment length = loop.to - loop.from;
  if (length <= Moment(0)) return at;
  std::int64_t back = 0;  // rounds before the clock's
  if (at < loop.from) {
    back = std::min(clock.rounds, (loop.from - at + length - Moment(1)) / length);
  } else if (at >= loop.to) {
    back = -((at - loop.from) / length);
  }
  return at + back * length;
}

std::optional<Milliseconds> PlaySession::inGroove(const std::string& groove,
                                                  const Player::FrameClock& clock,
                                                  Player::Time moment) const {
  if (clock.rounds == 0 && clock.at(moment) < from_ - kUpbeat) return std::nullopt;
  Moment at = heardAt(clock, moment);
  if (span_ && at >= span_->to - upbeat_ && at < span_->to) at -= span_->to - span_->from;
  for (const Score::Block& b : take_->score().blocks) {
    if (b.groove->id != groove) continue;
    const Moment start = momentOf(*take_, b.start);
    const Moment end = momentOf(*take_, b.start + b.groove->length());
    if (at >= start - kUpbeat && at < end) return toMilliseconds(at - start);
  }
  return std::nullopt;
}

Milliseconds PlaySession::sinceStart(const Player::FrameClock& clock, Player::Time moment) const {
  const Span all = span_.value_or(Span{});
  return toMilliseconds(clock.at(moment) - all.from + clock.rounds * (all.to - all.from));
}

}  // namespace uneven
