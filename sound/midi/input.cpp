// SPDX-License-Identifier: GPL-3.0-or-later
// The queue and the simulated player.
#include "sound/midi/input.h"

#include <algorithm>
#include <atomic>

namespace uneven {

void NoteQueue::put(const NoteIn& note) {
  const std::lock_guard lock(mutex_);
  if (notes_.size() < kMost) notes_.push_back(note);
  if (heard_) heard_(note);
}

void NoteQueue::setHeard(std::function<void(const NoteIn&)> heard) {
  const std::lock_guard lock(mutex_);
  heard_ = std::move(heard);
}

std::vector<NoteIn> NoteQueue::takeAll() {
  const std::lock_guard lock(mutex_);
  std::vector<NoteIn> out(notes_.begin(), notes_.end());
  notes_.clear();
  return out;
}

std::optional<PlayedStroke> NoteReader::read(const NoteIn& note, const KitMap& map,
                                             const Kit& kit) {
  constexpr double kMost = 127;
  if (note.controller) {
    if (*note.controller == map.pedalController)
      pedal_ = std::abs(note.velocity - map.pedalDown) / kMost;
    return std::nullopt;
  }
  const auto struck = struckBy(map, kit, note.note);
  if (!struck) {
    ++unknown_;
    return std::nullopt;
  }
  PlayedStroke out;
  out.piece = struck->piece;
  out.stroke = struck->stroke;
  out.opening = struck->piece == piece::kHat ? pedal_.value_or(struck->opening) : struck->opening;
  out.velocity = Velocity(note.velocity);
  return out;
}

SimulatedPlayer::SimulatedPlayer(NoteQueue& queue, std::vector<NoteIn> notes)
    : notes_(std::move(notes)) {
  std::sort(notes_.begin(), notes_.end(),
            [](const NoteIn& a, const NoteIn& b) { return a.when < b.when; });
  thread_ = std::thread([this, &queue] {
    for (const NoteIn& note : notes_) {
      while (std::chrono::steady_clock::now() < note.when) {
        if (over_) return;
        std::this_thread::sleep_until(
            std::min(note.when, std::chrono::steady_clock::now() + std::chrono::milliseconds(20)));
      }
      queue.put(note);
    }
  });
}

SimulatedPlayer::~SimulatedPlayer() {
  over_ = true;
  thread_.join();
}

}  // namespace uneven
