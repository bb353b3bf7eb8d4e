// SPDX-License-Identifier: GPL-3.0-or-later
// Strokes as MIDI messages in time.
#include "sound/midi/live_midi.h"

#include <algorithm>

#include "core/base/number.h"
#include "core/voice/pedal_knots.h"

namespace uneven {

MidiScore::MidiScore(MidiSink& sink, const KitMap& map)
    : sink_(sink),
      channel_(map.channel - 1),
      controller_(map.pedalController),
      down_(map.pedalDown) {}

bool MidiScore::send(std::initializer_list<int> message) {
  std::array<std::uint8_t, 3> bytes{};
  std::transform(message.begin(), message.end(), bytes.begin(),
                 [](int b) { return static_cast<std::uint8_t>(b); });
  return sink_.send(std::span(bytes).first(message.size()));
}

void MidiScore::add(const QueuedStrike& strike, Time due) {
  const auto place = std::upper_bound(pending_.begin(), pending_.end(), due,
                                      [](Time t, const Pending& p) { return t < p.due; });
  pending_.insert(place, {due, strike});
}

bool MidiScore::end(int note) {
  Sounding& sounding = sounding_[static_cast<std::size_t>(note)];
  if (!sounding.on) return true;
  sounding.on = false;
  return send({0x80 | channel_, note, 64});
}

bool MidiScore::play(const QueuedStrike& strike, Time now) {
  switch (strike.kind) {
    case QueuedStrike::Kind::kSilence:
      return silence();
    case QueuedStrike::Kind::kShut:
      for (int note = 0; note < 128; ++note) {
        if (sounding_[static_cast<std::size_t>(note)].rings && !end(note)) return false;
      }
      return true;
    case QueuedStrike::Kind::kPedal:
      pedal_ = strike.velocity;
      return send({0xB0 | channel_, controller_, pedal_});
    case QueuedStrike::Kind::kStrike:
      break;
  }
  if (strike.note == QueuedStrike::kNoNote) return true;
  if (!end(strike.note)) return false;
  if (strike.hats && controller_ >= 0) {
    // Down is `down_`, wide open the other end.
    const int path = std::clamp(
        static_cast<int>(roundToInt(down_ + (127 - 2.0 * down_) * strike.opening / 127.0)), 0, 127);
    if (pedal_ < 0 || std::abs(path - pedal_) > kTolerance) {
      pedal_ = path;
      if (!send({0xB0 | channel_, controller_, path})) return false;
    }
  }
  sounding_[strike.note] = {true, strike.rings, now + kNoteLength};
  return send({0x90 | channel_, strike.note, strike.velocity});
}

bool MidiScore::step(Time now) {
  std::size_t done = 0;
  for (; done < pending_.size() && pending_[done].due <= now; ++done) {
    const Pending next = pending_[done];
    if (next.strike.kind == QueuedStrike::Kind::kSilence) {
      // What was on its way is not struck any more.
      pending_.clear();
      return silence();
    }
    if (!play(next.strike, now)) return false;
  }
  pending_.erase(pending_.begin(), pending_.begin() + static_cast<std::ptrdiff_t>(done));
  for (int note = 0; note < 128; ++note) {
    const Sounding& sounding = sounding_[static_cast<std::size_t>(note)];
    if (sounding.on && !sounding.rings && sounding.until <= now && !end(note)) return false;
  }
  return true;
}

bool MidiScore::silence() {
  for (int note = 0; note < 128; ++note) {
    if (!end(note)) return false;
  }
  return send({0xB0 | channel_, 123, 0});  // all notes off
}

LiveMidi::LiveMidi(Player& player, std::unique_ptr<MidiSink> sink, const KitMap& map)
    : player_(player), sink_(std::move(sink)), score_(*sink_, map), thread_([this] { run(); }) {}

LiveMidi::~LiveMidi() {
  over_ = true;
  thread_.join();
  (void)score_.silence();
}

void LiveMidi::run() {
  using namespace std::chrono;
  while (!over_) {
    const Player::FrameClock clock = player_.frameClock();
    while (const auto strike = player_.queue().take()) {
      const nanoseconds after(
          roundToInt(static_cast<double>(strike->frame - clock.frame) * 1e9 / kSoundRate));
      const bool now = strike->kind == QueuedStrike::Kind::kSilence;
      score_.add(*strike, now ? steady_clock::time_point::min() : clock.when + after);
    }
    if (!score_.step(steady_clock::now())) {
      gone_ = true;
      return;
    }
    std::this_thread::sleep_for(milliseconds(1));
  }
}

}  // namespace uneven
