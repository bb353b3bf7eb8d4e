// SPDX-License-Identifier: GPL-3.0-or-later
// Plays a programme on an instrument, block by block.
//
// Song time runs with the frames:   time(f) = anchor + (f - anchorFrame) * rate / kSoundRate
//
// A stroke is told to the instrument in the block before the one it begins in (instrument.h), so
// what begins at song time `from` is heard kLatency frames after play(). A programme that takes the
// place of another goes on from the same frame: what has been told is not told again, and what has
// not is.
//
// Threads: one at a time; render() neither locks nor allocates.
#pragma once

#include <array>
#include <cstdint>
#include <optional>

#include "sound/play/programme.h"
#include "sound/synth/instrument.h"

namespace uneven {

class Sequencer {
 public:
  static constexpr int kLatency = kBlock;  // frames from play() to the first stroke

  // Told of each stroke as it is struck: its event, and the frame, counted from the first
  // render(), at which it sounds.
  class Witness {
   public:
    virtual ~Witness() = default;
    virtual void struck(const SoundEvent& event, std::int64_t frame) = 0;
    virtual void shut(std::int64_t frame) = 0;
    virtual void pedal(int value, std::int64_t frame) = 0;  // 0..127, of the port's controller
  };

  explicit Sequencer(Instrument& instrument, Witness* witness = nullptr)
      : instrument_(instrument), witness_(witness) {}

  // `rate`: 1 is the song's own tempo, 0.5 half of it. `lead`: events before `from`, with which it
  // begins (a count-in), or nullptr. Both stay alive until replaced.
  void play(const Programme& programme, Moment from, double rate,
            const std::vector<SoundEvent>* lead = nullptr);
  // In place of the one that plays.
  void replace(const Programme& programme, const std::vector<SoundEvent>* lead = nullptr);
  void setRate(double rate);
  // What a port is sent is heard from there: the instrument plays only the rest.
  void setHeardFromPort(bool on) { heardFromPort_ = on; }
  double rate() const { return rate_; }
  void stop();
  bool playing() const { return programme_ != nullptr; }
  // Past the end of the music, which is not looped.
  bool ended() const;

  // The next block.
  void render(float* left, float* right);

  // Song time that is heard at the start of the next block. In a count-in it lies before `from`.
  Moment position() const { return timeAt(static_cast<double>(frame_)); }
  std::int64_t rounds() const { return round_; }

 private:
  double nsPerFrame() const { return 1e9 / kSoundRate * rate_; }
  Moment timeAt(double frame) const;
  double frameOf(Moment time) const;
  bool due(const SoundEvent& event, double end) const;
  void issue(const SoundEvent& event);
  void shutAll();
  void issueUpTo(double end);
  std::size_t firstNotIssued(const std::vector<SoundEvent>& events) const;
  static std::size_t firstAt(const std::vector<SoundEvent>& events, Moment from);

  static constexpr std::size_t kRinging = 16;
  struct Ringing {
    std::optional<Instrument::Sounding> sounding;  // none: it is heard from the port
    int note = -1;
  };

  Instrument& instrument_;
  Witness* witness_;
  const Programme* programme_ = nullptr;
  const std::vector<SoundEvent>* lead_ = nullptr;
  bool heardFromPort_ = false;
  double rate_ = 1;
  std::int64_t frame_ = 0;  // of the next block's start
  double anchorFrame_ = 0;
  Moment anchor_{0};
  Moment from_{0};
  double issuedTo_ = 0;  // frames
  std::size_t next_ = 0, nextLead_ = 0;
  std::int64_t round_ = 0;
  std::array<Ringing, kRinging> ringing_{};
  std::size_t ringingCount_ = 0;
};

}  // namespace uneven
