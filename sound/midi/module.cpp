// SPDX-License-Identifier: GPL-3.0-or-later
// The simulated module.
#include "sound/midi/module.h"

#include <algorithm>

namespace uneven {

class SimulatedModule::Input final : public MidiSink {
 public:
  explicit Input(SimulatedModule& module) : module_(module) {}
  std::string name() const override { return "simulated module"; }
  bool send(std::span<const std::uint8_t> message) override {
    module_.take(message);
    return true;
  }

 private:
  SimulatedModule& module_;
};

std::unique_ptr<MidiSink> SimulatedModule::input() {
  return std::make_unique<Input>(*this);
}

void SimulatedModule::take(std::span<const std::uint8_t> message) {
  const std::lock_guard lock(mutex_);
  const bool good =
      message.size() == 3 && message[0] >= 0x80 && message[1] < 0x80 && message[2] < 0x80;
  if (!good) {
    ++stray_;
    return;
  }
  const int kind = message[0] & 0xF0;
  const std::size_t note = message[1];
  if (kind == 0x90 && message[2] > 0) {
    const std::chrono::duration<double> since = std::chrono::steady_clock::now() - begun_;
    on_[note] = true;
    ++count_;
    notes_.push_back({since.count(), message[1], message[2], pedal_, true});
    if (notes_.size() > kRemembered) notes_.pop_front();
  } else if (kind == 0x80 || kind == 0x90) {
    on_[note] = false;
    for (Note& n : notes_) n.sounding = n.sounding && n.note != message[1];
  } else if (kind == 0xB0 && message[1] == controller_) {
    pedal_ = message[2];
  } else if (kind == 0xB0 && message[1] == 123) {
    on_.fill(false);
    for (Note& n : notes_) n.sounding = false;
  }
}

std::vector<SimulatedModule::Note> SimulatedModule::heard() const {
  const std::lock_guard lock(mutex_);
  return {notes_.begin(), notes_.end()};
}

std::size_t SimulatedModule::count() const {
  const std::lock_guard lock(mutex_);
  return count_;
}

int SimulatedModule::soundingNotes() const {
  const std::lock_guard lock(mutex_);
  return static_cast<int>(std::count(on_.begin(), on_.end(), true));
}

int SimulatedModule::strayBytes() const {
  const std::lock_guard lock(mutex_);
  return stray_;
}

}  // namespace uneven
