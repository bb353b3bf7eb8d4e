// SPDX-License-Identifier: GPL-3.0-or-later
// Notes and controllers that come in: from a port, or from a simulated player where nothing is
// connected.
//
// Threads: a source puts notes from a thread of its own; whoever owns the queue takes them.
#pragma once

#include <atomic>
#include <chrono>
#include <deque>
#include <functional>
#include <memory>
#include <mutex>
#include <optional>
#include <string>
#include <thread>
#include <vector>

#include "core/base/result.h"
#include "core/rehearse/play_in.h"
#include "core/voice/kit_map.h"

namespace uneven {

struct NoteIn {
  std::chrono::steady_clock::time_point when;
  int note = 0;
  int velocity = 0;                    // 1..127
  std::optional<int> controller = {};  // then it is no note: `velocity` is its value, 0..127
};

// What notes and controllers are strokes of, by a kit map: the hats' opening is the pedal's where
// the pedal has moved, else that of the note's zone. Threads: one.
class NoteReader {
 public:
  // Nothing: a controller, or a note that no piece has (then `unknown` counts it).
  std::optional<PlayedStroke> read(const NoteIn& note, const KitMap& map, const Kit& kit);
  int unknown() const { return unknown_; }

 private:
  std::optional<double> pedal_;
  int unknown_ = 0;
};

class NoteQueue {
 public:
  void put(const NoteIn& note);
  // Told of each note as it is put, on the thread that puts it; {}: nobody.
  void setHeard(std::function<void(const NoteIn&)> heard);
  std::vector<NoteIn> takeAll();

 private:
  static constexpr std::size_t kMost = 10'000;  // beyond that the newest are left out
  std::mutex mutex_;
  std::deque<NoteIn> notes_;
  std::function<void(const NoteIn&)> heard_;
};

class MidiSource {
 public:
  virtual ~MidiSource() = default;
  virtual std::string name() const = 0;
};

// Plays what it is given, once, each note when its moment comes.
class SimulatedPlayer final : public MidiSource {
 public:
  SimulatedPlayer(NoteQueue& queue, std::vector<NoteIn> notes);
  ~SimulatedPlayer() override;
  std::string name() const override { return "simulated player"; }

 private:
  std::vector<NoteIn> notes_;
  std::atomic<bool> over_{false};
  std::thread thread_;
};

// Ports that can be listened to. None where the machine has no sequencer or RtMidi is missing.
std::vector<std::string> midiInputs();
// Errors: kNotFound.
Result<std::unique_ptr<MidiSource>> openMidiInput(const std::string& name, NoteQueue& queue);

}  // namespace uneven
