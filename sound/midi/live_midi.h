// SPDX-License-Identifier: GPL-3.0-or-later
// The part sent to a MIDI port while it plays.
//
// A stroke becomes, on the kit map's channel,
//
//   [controller of the hats' pedal, where the map has one]   note on   ... note off
//
// at the moment its frame is due. A note that is struck again is ended first; others end after
// kNoteLength, open hats when they are shut. Stopping ends all. The pedal's path is told by its
// knots, as in a file, and at a stroke on the hats where the last value is another (after a start
// in the middle, or a single stroke).
//
// Threads: a thread of its own calls step() once a millisecond; the sink is called from it.
#pragma once

#include <atomic>
#include <chrono>
#include <cstdint>
#include <memory>
#include <span>
#include <string>
#include <thread>
#include <vector>

#include "core/voice/kit_map.h"
#include "sound/play/player.h"

namespace uneven {

// Where bytes go: a port, or what stands in for one.
class MidiSink {
 public:
  virtual ~MidiSink() = default;
  virtual std::string name() const = 0;
  // A whole message. False: it is gone.
  virtual bool send(std::span<const std::uint8_t> message) = 0;
};

// What is to be sent when, without a thread: for tests, and the thread's own.
class MidiScore {
 public:
  static constexpr std::chrono::milliseconds kNoteLength{60};
  using Time = std::chrono::steady_clock::time_point;

  MidiScore(MidiSink& sink, const KitMap& map);
  void add(const QueuedStrike& strike, Time due);
  // Sends what is due. False: the sink is gone.
  bool step(Time now);
  // Ends every note, and says so to whoever counts otherwise.
  bool silence();

 private:
  struct Pending {
    Time due;
    QueuedStrike strike;
  };
  bool send(std::initializer_list<int> message);
  bool play(const QueuedStrike& strike, Time now);
  bool end(int note);

  MidiSink& sink_;
  int channel_, controller_, down_;
  int pedal_ = -1;  // as it was told last
  std::vector<Pending> pending_;
  struct Sounding {
    bool on = false, rings = false;
    Time until;
  };
  std::array<Sounding, 128> sounding_{};
};

class LiveMidi {
 public:
  LiveMidi(Player& player, std::unique_ptr<MidiSink> sink, const KitMap& map);
  ~LiveMidi();  // ends all notes
  std::string name() const { return sink_->name(); }
  bool gone() const { return gone_.load(std::memory_order_relaxed); }

 private:
  void run();

  Player& player_;
  std::unique_ptr<MidiSink> sink_;
  MidiScore score_;
  std::atomic<bool> over_{false}, gone_{false};
  std::thread thread_;
};

}  // namespace uneven
