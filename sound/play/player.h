// SPDX-License-Identifier: GPL-3.0-or-later
// Playing while it is edited: what the interface wishes, and the thread that makes the sound.
//
//   interface --wish--> Player <--pull-- AudioOutput's thread
//             <--state--
//
// A wish is a whole: programme, where from, how fast, how loud. The newest one holds from the next
// block on. The thread that pulls reads it through an atomic pointer and says which one it reads;
// what it reads is kept alive until it has gone on to another (a hazard pointer, after M. M.
// Michael 2004, IEEE TPDS 15(6)).
//
// Threads: wish() and the state from one thread, pull() from another. pull() neither locks nor
// allocates nor frees.
#pragma once

#include <atomic>
#include <chrono>
#include <cstdint>
#include <memory>
#include <optional>
#include <vector>

#include "core/base/number.h"
#include "sound/play/guide.h"
#include "sound/play/pull_clock.h"
#include "sound/play/sequencer.h"
#include "sound/play/strike_queue.h"

namespace uneven {

struct Wish {
  std::shared_ptr<const Programme> programme;  // nullptr: stopped
  std::uint64_t start = 0;                     // another number: begin anew
  Moment from{0};
  std::vector<SoundEvent> lead;  // the count-in, before `from`
  double rate = 1;               // 0.25..1.5
  double levelDb = -12;          // of all
  // Single strokes to be heard at once, beside what plays: as many as are new by `tries`.
  std::uint64_t tries = 0;
  StrikeSound tried;
  bool room = true;  // of the house kit
  std::uint8_t triedMidi = QueuedStrike::kNoNote;
  // What sounds beside it while it plays.
  std::shared_ptr<GuideVoice> guide;
  Moment guideOffset{0};
  double guideDb = -6;
};

class Player : private Sequencer::Witness {
 public:
  explicit Player(std::unique_ptr<Instrument> instrument);
  ~Player() override;

  void wish(Wish wish);
  // Frees what is no longer read. Call it now and then.
  void tidy();

  struct State {
    bool playing = false;
    bool counting = false;  // in the count-in
    std::uint64_t start = 0;
    Moment position{0};  // song time that is heard now, but for the device's own delay
    std::int64_t rounds = 0;
  };
  State state() const;
  // The highest peak, 0..1 and beyond, on either side since the last time it was asked.
  float takePeak() { return peak_.exchange(0, std::memory_order_relaxed); }
  std::int64_t framesPulled() const { return pulled_.load(std::memory_order_relaxed); }

  // What has been struck, while somebody wants to know (live MIDI).
  StrikeQueue& queue() { return queue_; }
  void setQueued(bool on) { queued_.store(on, std::memory_order_relaxed); }
  // Strokes from outside, by the instrument's notes: struck at the next block. While they are heard
  // from there, what is queued is not played besides.
  StrikeQueue& outside() { return outside_; }
  // Pads, by the instrument's notes: heard at once, whether anything plays or not.
  StrikeQueue& pads() { return pads_; }
  void setHeardFromPort(bool on) { heardFromPort_.store(on, std::memory_order_relaxed); }
  using Time = PullClock::Time;
  // When a frame that is being pulled is heard, but for the device's own delay.
  struct FrameClock {
    std::int64_t frame = 0;
    Time when;
    Moment position{0};  // song time that is heard then
    double rate = 1;
    std::int64_t rounds = 0;  // of the loop, before it
    std::uint64_t start = 0;  // of the wish that it is of: a state may already tell of the next one
    // Song time at another moment nearby.
    Moment at(Time moment) const {
      const auto after = std::chrono::duration_cast<std::chrono::nanoseconds>(moment - when);
      return position + Moment(roundToInt(static_cast<double>(after.count()) * rate));
    }
  };
  FrameClock frameClock() const;

  // For the thread that makes the sound: the next frames. `due`: when they should have been asked
  // for, where that is known; else it is found from when they are.
  void pull(float* left, float* right, int frames, std::optional<Time> due = std::nullopt);

 private:
  const Wish* follow();
  void obey(const Wish& wish);
  void nextBlock();
  void addGuide(const Wish* wish, Moment position);
  void struck(const SoundEvent& event, std::int64_t frame) override;
  void shut(std::int64_t frame) override;
  void pedal(int value, std::int64_t frame) override;
  void playOutside();
  void playFrom(StrikeQueue& queue);
  void shutOutside();

  std::unique_ptr<Instrument> instrument_;
  Sequencer sequencer_;

  // The interface's.
  std::vector<std::unique_ptr<const Wish>> alive_;
  // Between them.
  std::atomic<const Wish*> wanted_{nullptr};
  std::atomic<const Wish*> read_{nullptr}, reading_{nullptr};  // what is obeyed, and what is next
  std::atomic<bool> playing_{false}, counting_{false};
  std::atomic<std::uint64_t> started_{0};
  std::atomic<std::int64_t> position_{0}, rounds_{0}, pulled_{0};
  std::atomic<float> peak_{0};
  StrikeQueue queue_, outside_, pads_;
  std::atomic<bool> queued_{false}, heardFromPort_{false};
  // A frame and its time, written by one thread: odd while it is being written.
  std::atomic<std::uint32_t> clockTurn_{0};
  std::atomic<std::int64_t> clockFrame_{0}, clockTime_{0}, clockPosition_{0}, clockRounds_{0};
  std::atomic<std::uint64_t> clockStart_{0};
  std::atomic<double> clockRate_{1};
  // The sound thread's.
  const Wish* obeyed_ = nullptr;
  std::uint64_t start_ = 0, tries_ = 0;
  bool ended_ = false;
  bool padded_ = false;                          // a pad has been struck since it stopped
  int struck_ = 0;                               // pads so far: the next take
  std::optional<Instrument::Sounding> ringing_;  // of those from outside: the hats
  float gain_ = 0;                               // as it is now
  float fade_ = 1;                               // to nothing when it stops
  std::int64_t made_ = 0;                        // frames, of whole blocks
  int blockAt_ = kBlock;
  PullClock pullClock_{kSoundRate};
  float left_[kBlock] = {}, right_[kBlock] = {};
};

}  // namespace uneven
