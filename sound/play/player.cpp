// SPDX-License-Identifier: GPL-3.0-or-later
// The player.
#include "sound/play/player.h"

#include <algorithm>
#include <cmath>

namespace uneven {
namespace {

// Above this the sum is pressed together rather than cut off.
constexpr float kKnee = 0.8F;
constexpr float kFadeBlocks = 16;  // 21 ms from full to nothing when it stops

float softCeiling(float x) {
  const float size = std::abs(x);
  if (size <= kKnee) return x;
  const float room = 1 - kKnee;
  return std::copysign(kKnee + room * std::tanh((size - kKnee) / room), x);
}

}  // namespace

Player::Player(std::unique_ptr<Instrument> instrument)
    : instrument_(std::move(instrument)), sequencer_(*instrument_, this) {}

Player::~Player() = default;

void Player::wish(Wish wish) {
  alive_.push_back(std::make_unique<const Wish>(std::move(wish)));
  wanted_.store(alive_.back().get(), std::memory_order_seq_cst);
  tidy();
}

void Player::tidy() {
  const Wish* wanted = wanted_.load(std::memory_order_seq_cst);
  const Wish* reading = reading_.load(std::memory_order_seq_cst);
  const Wish* read = read_.load(std::memory_order_seq_cst);
  std::erase_if(alive_, [&](const auto& w) {
    return w.get() != wanted && w.get() != reading && w.get() != read;
  });
}

// The newest wish, held: between reading which it is and saying so another may have come. The one
// obeyed so far is held by read_ until the sequencer has gone over.
const Wish* Player::follow() {
  const Wish* wanted = wanted_.load(std::memory_order_seq_cst);
  for (;;) {
    reading_.store(wanted, std::memory_order_seq_cst);
    const Wish* again = wanted_.load(std::memory_order_seq_cst);
    if (again == wanted) return wanted;
    wanted = again;
  }
}

void Player::obey(const Wish& wish) {
  instrument_->setRoom(wish.room);
  const bool wasPlaying = sequencer_.playing();
  if (wish.programme == nullptr) {
    if (wasPlaying) {
      padded_ = false;
      sequencer_.stop();
      if (queued_.load(std::memory_order_relaxed)) {
        queue_.put({.frame = made_, .kind = QueuedStrike::Kind::kSilence});
      }
    }
    ended_ = false;
  } else if (wish.start != start_ || (!wasPlaying && !ended_)) {
    if (fade_ < 1) instrument_->silence();
    fade_ = 1;
    ended_ = false;
    sequencer_.play(*wish.programme, wish.from, wish.rate,
                    wish.lead.empty() ? nullptr : &wish.lead);
  } else if (wasPlaying) {
    sequencer_.replace(*wish.programme, wish.lead.empty() ? nullptr : &wish.lead);
    sequencer_.setRate(wish.rate);
  }
  start_ = wish.start;
  if (wish.tries != tries_) {
    tries_ = wish.tries;
    if (!sequencer_.playing()) fade_ = 1;
    const bool fromPort =
        heardFromPort_.load(std::memory_order_relaxed) && wish.triedMidi != QueuedStrike::kNoNote;
    if (!fromPort) instrument_->strike(wish.tried, kBlock);
    if (queued_.load(std::memory_order_relaxed)) {
      queue_.put({.frame = made_ + kBlock,
                  .note = wish.triedMidi,
                  .velocity = static_cast<std::uint8_t>(wish.tried.velocity)});
    }
  }
}

void Player::nextBlock() {
  const Wish* wish = follow();
  if (wish != obeyed_ && wish != nullptr) obey(*wish);
  const bool sounding =
      wish != nullptr && (wish->programme != nullptr || wish->tries > 0 || padded_);
  obeyed_ = wish;
  read_.store(wish, std::memory_order_seq_cst);
  sequencer_.setHeardFromPort(heardFromPort_.load(std::memory_order_relaxed));
  playOutside();
  const Moment begins = sequencer_.position();
  sequencer_.render(left_, right_);
  addGuide(wish, begins);
  if (sequencer_.ended()) {
    sequencer_.stop();
    ended_ = true;  // it rings out
  }
  const bool playing = sequencer_.playing();
  if (!sounding) {
    // Stopped: all notes off, without a crack.
    if (fade_ > 0) {
      fade_ = std::max(0.0F, fade_ - 1 / kFadeBlocks);
      if (fade_ == 0) instrument_->silence();
    }
  }
  const float target =
      wish == nullptr ? 0.0F : static_cast<float>(std::pow(10, wish->levelDb / 20)) * fade_;
  const float step = (target - gain_) / kBlock;
  float peak = peak_.load(std::memory_order_relaxed);
  for (int i = 0; i < kBlock; ++i) {
    gain_ += step;
    left_[i] *= gain_;
    right_[i] *= gain_;
    peak = std::max({peak, std::abs(left_[i]), std::abs(right_[i])});
    left_[i] = softCeiling(left_[i]);
    right_[i] = softCeiling(right_[i]);
  }
  peak_.store(peak, std::memory_order_relaxed);
  const Moment position = sequencer_.position();
  playing_.store(playing, std::memory_order_relaxed);
  counting_.store(playing && wish != nullptr && sequencer_.rounds() == 0 && position < wish->from,
                  std::memory_order_relaxed);
  position_.store(position.count(), std::memory_order_relaxed);
  rounds_.store(sequencer_.rounds(), std::memory_order_relaxed);
  // Last: who sees this start sees that it plays.
  started_.store(start_, std::memory_order_release);
  made_ += kBlock;
}

// From where it begins on: a count-in is counted alone.
void Player::addGuide(const Wish* wish, Moment position) {
  if (wish == nullptr || wish->guide == nullptr) return;
  const bool due = sequencer_.playing() && (sequencer_.rounds() > 0 || position >= wish->from);
  if (!due) return wish->guide->rest();
  wish->guide->add(position + wish->guideOffset, sequencer_.rate(),
                   static_cast<float>(std::pow(10, wish->guideDb / 20)), left_, right_);
}

void Player::struck(const SoundEvent& event, std::int64_t frame) {
  if (!queued_.load(std::memory_order_relaxed)) return;
  queue_.put({.frame = frame,
              .note = event.midi,
              .velocity = event.velocity,
              .opening = static_cast<std::uint8_t>(event.opening.value() * 127),
              .hats = event.hats,
              .rings = event.rings});
}

void Player::shut(std::int64_t frame) {
  if (!queued_.load(std::memory_order_relaxed)) return;
  queue_.put({.frame = frame, .kind = QueuedStrike::Kind::kShut});
}

void Player::pedal(int value, std::int64_t frame) {
  if (!queued_.load(std::memory_order_relaxed)) return;
  queue_.put({.frame = frame,
              .kind = QueuedStrike::Kind::kPedal,
              .velocity = static_cast<std::uint8_t>(value)});
}

void Player::shutOutside() {
  if (ringing_) instrument_->shut(*ringing_);
  ringing_.reset();
}

void Player::playOutside() {
  playFrom(outside_);
  playFrom(pads_);
}

void Player::playFrom(StrikeQueue& queue) {
  while (const auto strike = queue.take()) {
    // The hats stop what rings of them.
    if (strike->kind != QueuedStrike::Kind::kStrike || strike->hats) shutOutside();
    if (strike->kind != QueuedStrike::Kind::kStrike) continue;
    if (&queue == &pads_) {
      padded_ = true;
      fade_ = 1;
    }
    StrikeSound sound;
    sound.note = strike->note;
    sound.velocity = strike->velocity;
    sound.levelDb = strike->levelDb;
    sound.pan = strike->pan;
    sound.roomDb = strike->roomDb;
    sound.take = struck_++;
    if (strike->hats) sound.opening = strike->opening / 127.0;
    const auto sounding = instrument_->strike(sound, kBlock);
    if (strike->rings) ringing_ = sounding;
  }
}

Player::FrameClock Player::frameClock() const {
  for (;;) {
    const std::uint32_t turn = clockTurn_.load(std::memory_order_acquire);
    const std::int64_t frame = clockFrame_.load(std::memory_order_relaxed);
    const std::int64_t time = clockTime_.load(std::memory_order_relaxed);
    const std::int64_t position = clockPosition_.load(std::memory_order_relaxed);
    const double rate = clockRate_.load(std::memory_order_relaxed);
    const std::int64_t rounds = clockRounds_.load(std::memory_order_relaxed);
    const std::uint64_t start = clockStart_.load(std::memory_order_relaxed);
    std::atomic_thread_fence(std::memory_order_acquire);
    if (turn % 2 == 0 && clockTurn_.load(std::memory_order_relaxed) == turn) {
      return {frame, Time(std::chrono::nanoseconds(time)), Moment(position), rate, rounds, start};
    }
  }
}

void Player::pull(float* leftOut, float* rightOut, int frames, std::optional<Time> due) {
  const std::chrono::nanoseconds lasts(std::int64_t{1'000'000'000} * frames / kSoundRate);
  const Time after =
      due ? *due + lasts : pullClock_.after(std::chrono::steady_clock::now(), frames);
  for (int made = 0; made < frames;) {
    if (blockAt_ == kBlock) {
      nextBlock();
      blockAt_ = 0;
    }
    const int some = std::min(frames - made, kBlock - blockAt_);
    std::copy_n(left_ + blockAt_, some, leftOut + made);
    std::copy_n(right_ + blockAt_, some, rightOut + made);
    made += some;
    blockAt_ += some;
  }
  pulled_.fetch_add(frames, std::memory_order_relaxed);
  // The clock tells of the frame that comes next, so that it is that of the newest wish.
  clockTurn_.fetch_add(1, std::memory_order_acq_rel);
  const int left = kBlock - blockAt_;  // of the last block, heard first
  const double rate = sequencer_.rate();
  clockFrame_.store(made_ - left, std::memory_order_relaxed);
  clockPosition_.store(sequencer_.position().count() - roundToInt(left * rate * 1e9 / kSoundRate),
                       std::memory_order_relaxed);
  clockRate_.store(rate, std::memory_order_relaxed);
  clockRounds_.store(sequencer_.rounds(), std::memory_order_relaxed);
  clockStart_.store(start_, std::memory_order_relaxed);
  clockTime_.store(std::chrono::nanoseconds(after.time_since_epoch()).count(),
                   std::memory_order_relaxed);
  clockTurn_.fetch_add(1, std::memory_order_release);
}

Player::State Player::state() const {
  State out;
  out.start = started_.load(std::memory_order_acquire);
  out.playing = playing_.load(std::memory_order_relaxed);
  out.counting = counting_.load(std::memory_order_relaxed);
  out.position = Moment(position_.load(std::memory_order_relaxed));
  out.rounds = rounds_.load(std::memory_order_relaxed);
  return out;
}

}  // namespace uneven
