// SPDX-License-Identifier: GPL-3.0-or-later
// A sound module that is simulated: gets the same bytes as a port, and remembers what it heard.
//
// Threads: send() from the thread of LiveMidi, heard() from any.
#pragma once

#include <deque>
#include <mutex>

#include "sound/midi/live_midi.h"

namespace uneven {

class SimulatedModule {
 public:
  struct Note {
    double seconds = 0;  // since the module was made
    int note = 0;
    int velocity = 0;
    int pedal = -1;  // the last value of the pedal's controller; none yet: -1
    bool sounding = true;
    bool operator==(const Note&) const = default;
  };
  static constexpr std::size_t kRemembered = 200;

  explicit SimulatedModule(int pedalController) : controller_(pedalController) {}
  // Its input; the module outlives it.
  std::unique_ptr<MidiSink> input();
  // The last ones, oldest first.
  std::vector<Note> heard() const;
  std::size_t count() const;  // of all notes so far
  int soundingNotes() const;  // begun and not ended
  int strayBytes() const;     // messages that are none

 private:
  class Input;
  void take(std::span<const std::uint8_t> message);

  mutable std::mutex mutex_;
  std::chrono::steady_clock::time_point begun_ = std::chrono::steady_clock::now();
  int controller_;
  int pedal_ = -1;
  std::size_t count_ = 0;
  int stray_ = 0;
  std::deque<Note> notes_;
  std::array<bool, 128> on_{};
};

}  // namespace uneven
