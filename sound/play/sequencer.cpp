// SPDX-License-Identifier: GPL-3.0-or-later
// From song time to frames.
#include "sound/play/sequencer.h"

#include <algorithm>

#include "core/base/number.h"
#include "sound/play/strike_queue.h"

namespace uneven {
namespace {

// A loop shorter than this would ask for strokes without end in one block.
constexpr Moment kLoopLeast = std::chrono::milliseconds(20);

}  // namespace

Moment Sequencer::timeAt(double frame) const {
  return anchor_ + Moment(roundToInt((frame - anchorFrame_) * nsPerFrame()));
}

double Sequencer::frameOf(Moment time) const {
  return anchorFrame_ + static_cast<double>((time - anchor_).count()) / nsPerFrame();
}

// The nearest frame decides, so that rounding can never move a stroke into a block that is past.
bool Sequencer::due(const SoundEvent& event, double end) const {
  return static_cast<double>(roundToInt(frameOf(event.time))) < end;
}

std::size_t Sequencer::firstNotIssued(const std::vector<SoundEvent>& events) const {
  const auto first = std::partition_point(events.begin(), events.end(),
                                          [&](const SoundEvent& e) { return due(e, issuedTo_); });
  return static_cast<std::size_t>(first - events.begin());
}

std::size_t Sequencer::firstAt(const std::vector<SoundEvent>& events, Moment from) {
  const auto first = std::partition_point(events.begin(), events.end(),
                                          [&](const SoundEvent& e) { return e.time < from; });
  return static_cast<std::size_t>(first - events.begin());
}

void Sequencer::play(const Programme& programme, Moment from, double rate,
                     const std::vector<SoundEvent>* lead) {
  shutAll();
  programme_ = &programme;
  lead_ = lead != nullptr && !lead->empty() ? lead : nullptr;
  rate_ = rate;
  round_ = 0;
  if (programme.loop && (from < programme.loop->from || from >= programme.loop->to)) {
    from = programme.loop->from;
  }
  // The first frame that can still be told of is the song's `from`, or the first of the count-in.
  anchor_ = lead_ == nullptr ? from : lead_->front().time;
  anchorFrame_ = static_cast<double>(frame_ + kLatency);
  issuedTo_ = anchorFrame_;
  nextLead_ = 0;
  from_ = from;
  next_ = firstAt(programme.events, from);
}

void Sequencer::replace(const Programme& programme, const std::vector<SoundEvent>* lead) {
  programme_ = &programme;
  lead_ = lead != nullptr && !lead->empty() ? lead : nullptr;
  if (lead_ != nullptr) nextLead_ = firstNotIssued(*lead_);
  next_ = firstNotIssued(programme.events);
  if (round_ == 0) next_ = std::max(next_, firstAt(programme.events, from_));
}

void Sequencer::setRate(double rate) {
  if (rate == rate_) return;
  // What has been told of stays; from there on time runs otherwise.
  const Moment here = timeAt(issuedTo_);
  anchor_ = here;
  anchorFrame_ = issuedTo_;
  rate_ = rate;
}

void Sequencer::stop() {
  shutAll();
  programme_ = nullptr;
  lead_ = nullptr;
}

bool Sequencer::ended() const {
  return programme_ != nullptr && !programme_->loop && next_ >= programme_->events.size() &&
         position() >= programme_->end;
}

void Sequencer::shutAll() {
  for (std::size_t i = 0; i < ringingCount_; ++i) {
    if (ringing_[i].sounding) instrument_.shut(*ringing_[i].sounding);
  }
  if (ringingCount_ > 0 && witness_ != nullptr) witness_->shut(frame_);
  ringingCount_ = 0;
}

void Sequencer::issue(const SoundEvent& e) {
  using Round = SoundEvent::Round;
  if (e.round == Round::kFirst && round_ > 0) return;
  if (e.round == Round::kLater && round_ == 0) return;
  if (e.kind == SoundEvent::Kind::kShut) return shutAll();
  const auto frame = roundToInt(frameOf(e.time));
  if (e.kind == SoundEvent::Kind::kPedal) {
    if (e.midi == QueuedStrike::kNoNote) {
      instrument_.pedal(e.opening.value());
    } else if (witness_ != nullptr) {
      witness_->pedal(e.velocity, frame);
    }
    return;
  }
  if (e.hats && ringingCount_ > 0 && ringing_[ringingCount_ - 1].note != e.note) shutAll();
  if (e.silent) return;
  std::optional<Instrument::Sounding> sounding;
  if (!heardFromPort_ || e.midi == QueuedStrike::kNoNote) {
    const auto delay = static_cast<int>(frame - frame_);
    const double opening = e.piece == piece::kHat ? e.opening.value() : -1;
    sounding = instrument_.strike({e.note, e.velocity, e.levelDb, e.pan, opening, e.roomDb, e.take},
                                  std::clamp(delay, kBlock, 2 * kBlock - 1));
  }
  if (witness_ != nullptr) witness_->struck(e, frame);
  if (!e.rings) return;
  if (ringingCount_ == kRinging) {
    if (ringing_[0].sounding) instrument_.shut(*ringing_[0].sounding);
    std::move(ringing_.begin() + 1, ringing_.end(), ringing_.begin());
    --ringingCount_;
  }
  ringing_[ringingCount_++] = {sounding, e.note};
}

void Sequencer::issueUpTo(double end) {
  while (lead_ != nullptr && nextLead_ < lead_->size() && due((*lead_)[nextLead_], end)) {
    issue((*lead_)[nextLead_++]);
  }
  const std::vector<SoundEvent>& events = programme_->events;
  for (;;) {
    const bool loops =
        programme_->loop && programme_->loop->to - programme_->loop->from >= kLoopLeast;
    const double loopEnd = loops ? frameOf(programme_->loop->to) : 0;
    while (next_ < events.size() && due(events[next_], end)) {
      if (loops && events[next_].time >= programme_->loop->to) break;
      issue(events[next_++]);
    }
    if (!loops || loopEnd >= end) return;
    anchorFrame_ = loopEnd;
    anchor_ = programme_->loop->from;
    ++round_;
    next_ = firstAt(events, anchor_);
  }
}

void Sequencer::render(float* left, float* right) {
  if (programme_ != nullptr) {
    const double end = static_cast<double>(frame_ + std::int64_t{2} * kBlock);
    issueUpTo(end);
    issuedTo_ = end;
  }
  instrument_.render(left, right);
  frame_ += kBlock;
}

}  // namespace uneven
