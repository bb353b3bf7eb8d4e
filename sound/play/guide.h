// SPDX-License-Identifier: GPL-3.0-or-later
// A recording that sounds beside the part, in time with it.
//
//   second of the recording = song time + offset
//
// At the song's own tempo its samples are heard as they are, to the frame; at another they are
// stretched at equal pitch by Rubber Band, which is started anew wherever the song jumps (a loop, a
// cursor) with what lies before that place, so that strokes begin in time. Where the two come apart
// by more than 10 ms (the tempo has been changed on the way) it starts anew as well.
//
// Threads: make one where nobody waits; add() belongs to the thread that makes the sound, and
// neither locks nor allocates.
#pragma once

#include <cstdint>
#include <memory>
#include <vector>

#include "core/base/result.h"
#include "core/time/units.h"
#include "sound/synth/instrument.h"

namespace uneven {

// Samples at kSoundRate, left and right beside each other, 16 bits: 11.5 MB a minute.
struct GuideSound {
  std::vector<std::int16_t> samples;
  std::int64_t frames() const { return std::ssize(samples) / 2; }
  double seconds() const { return static_cast<double>(frames()) / kSoundRate; }
};

class GuideVoice {
 public:
  // Without Rubber Band it is heard at the song's own tempo alone: status() tells.
  explicit GuideVoice(std::shared_ptr<const GuideSound> sound);
  ~GuideVoice();
  GuideVoice(const GuideVoice&) = delete;
  GuideVoice& operator=(const GuideVoice&) = delete;

  const Status& status() const { return status_; }
  const std::shared_ptr<const GuideSound>& sound() const { return sound_; }

  // Adds the next kBlock frames, which begin at `at` in the recording and go `rate` times as fast.
  void add(Moment at, double rate, float gain, float* left, float* right);
  // What is added next begins anew, softly.
  void rest() { sounding_ = false; }

 private:
  struct Stretcher;

  void addPlain(std::int64_t frame);
  void addStretched(std::int64_t frame, double rate);
  void start(std::int64_t frame, double rate);
  void feed();
  void read(std::int64_t frame, float& left, float& right) const;

  std::shared_ptr<const GuideSound> sound_;
  Status status_ = Done{};
  std::unique_ptr<Stretcher> stretcher_;
  bool sounding_ = false;   // without a jump since the block before
  bool stretched_ = false;  // the block before was
  double expected_ = 0;     // frame of the recording that comes next
  std::int64_t fed_ = 0;    // likewise, into the stretcher
  int toDrop_ = 0;          // frames that come out before the first that counts
  float gain_ = 0;
  std::vector<float> left_, right_;
};

}  // namespace uneven
