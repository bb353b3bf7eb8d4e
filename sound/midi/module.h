// SPDX-License-Identifier: GPL-3.0-or-later
// A sound module that is simulated: gets the same bytes as a port, remembers what it heard, and
// plays it.
//
// What a note means it knows from the kit map alone, as a real one would; how far open the hats are
// from the pedal's controller, where there is one.
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

  // `ports`: the map that the bytes go by; `sounds`: that of the instrument which plays. `player`
  // outlives the input; nullptr: it only listens.
  SimulatedModule(const KitMap& ports, const Kit& kit, const KitMap& sounds, Player* player);
  // Its input; the module outlives it.
  std::unique_ptr<MidiSink> input();
  // A message as its input gets it, at a moment that is given.
  void hear(std::span<const std::uint8_t> message, double seconds);
  // The last ones, oldest first.
  std::vector<Note> heard() const;
  std::size_t count() const;  // of all notes so far
  int soundingNotes() const;  // begun and not ended
  int strayBytes() const;     // messages that are none

 private:
  class Input;
  void strike(std::size_t note, std::uint8_t velocity);
  void shut();

  // A note of the port: what it strikes, and with which opening where no pedal says.
  struct Sound {
    std::optional<NoteStruck> struck;
    bool hats = false;
  };
  const KitMap sounds_;
  const Kit kit_;
  Player* player_;
  std::array<Sound, 128> notes_;
  int ringing_ = -1;  // the port's note that rings until it ends
  int down_;

  mutable std::mutex mutex_;
  std::chrono::steady_clock::time_point begun_ = std::chrono::steady_clock::now();
  int controller_;
  int pedal_ = -1;
  std::size_t count_ = 0;
  int stray_ = 0;
  std::deque<Note> heard_;
  std::array<bool, 128> on_{};
};

}  // namespace uneven
