// SPDX-License-Identifier: GPL-3.0-or-later
// The simulated module.
#include "sound/midi/module.h"

#include <algorithm>

#include "core/base/number.h"

namespace uneven {

class SimulatedModule::Input final : public MidiSink {
 public:
  explicit Input(SimulatedModule& module) : module_(module) {}
  std::string name() const override { return "simulated module"; }
  bool send(std::span<const std::uint8_t> message) override {
    const std::chrono::duration<double> since = std::chrono::steady_clock::now() - module_.begun_;
    module_.hear(message, since.count());
    return true;
  }

 private:
  SimulatedModule& module_;
};

SimulatedModule::SimulatedModule(const KitMap& ports, const Kit& kit, const KitMap& sounds,
                                 Player* player)
    : sounds_(sounds),
      kit_(kit),
      player_(player),
      down_(ports.pedalDown),
      controller_(ports.pedalController) {
  for (std::size_t note = 0; note < notes_.size(); ++note) {
    Sound& sound = notes_[note];
    sound.struck = struckBy(ports, kit, static_cast<int>(note));
    if (!sound.struck) continue;
    sound.hats = sound.struck->piece == piece::kHat || sound.struck->piece == piece::kHatFoot;
  }
}

void SimulatedModule::shut() {
  ringing_ = -1;
  if (player_ != nullptr) player_->outside().put({.kind = QueuedStrike::Kind::kShut});
}

void SimulatedModule::strike(std::size_t note, std::uint8_t velocity) {
  const Sound& sound = notes_[note];
  if (player_ == nullptr || !sound.struck) return;
  double opening = sound.struck->opening;
  // Down is `down_`, wide open the other end.
  if (sound.struck->piece == piece::kHat && pedal_ >= 0) {
    opening = std::clamp((pedal_ - down_) / (127 - 2.0 * down_), 0.0, 1.0);
  }
  const KitMapRow* row = rowFor(sounds_, kit_[sound.struck->piece], sound.struck->stroke, opening);
  if (row == nullptr) return;
  const bool rings = sound.struck->piece == piece::kHat && opening > 0;
  if (sound.hats) ringing_ = rings ? static_cast<int>(note) : -1;
  player_->outside().put({.note = static_cast<std::uint8_t>(row->note),
                          .velocity = velocity,
                          .opening = static_cast<std::uint8_t>(roundToInt(127 * opening)),
                          .hats = sound.hats,
                          .rings = rings});
}

std::unique_ptr<MidiSink> SimulatedModule::input() {
  return std::make_unique<Input>(*this);
}

void SimulatedModule::hear(std::span<const std::uint8_t> message, double seconds) {
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
    on_[note] = true;
    ++count_;
    heard_.push_back({seconds, message[1], message[2], pedal_, true});
    if (heard_.size() > kRemembered) heard_.pop_front();
    strike(note, message[2]);
  } else if (kind == 0x80 || kind == 0x90) {
    on_[note] = false;
    for (Note& n : heard_) n.sounding = n.sounding && n.note != message[1];
    if (ringing_ == message[1]) shut();
  } else if (kind == 0xB0 && message[1] == controller_) {
    pedal_ = message[2];
  } else if (kind == 0xB0 && message[1] == 123) {
    on_.fill(false);
    for (Note& n : heard_) n.sounding = false;
    shut();
  }
}

std::vector<SimulatedModule::Note> SimulatedModule::heard() const {
  const std::lock_guard lock(mutex_);
  return {heard_.begin(), heard_.end()};
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
