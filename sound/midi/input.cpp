// SPDX-License-Identifier: GPL-3.0-or-later
// The queue and the simulated player.
#include "sound/midi/input.h"

#include <algorithm>
#include <atomic>

namespace uneven {

void NoteQueue::put(const NoteIn& note) {
  const std::lock_guard lock(mutex_);
  if (notes_.size() < kMost) notes_.push_back(note);
}

std::vector<NoteIn> NoteQueue::takeAll() {
  const std::lock_guard lock(mutex_);
  std::vector<NoteIn> out(notes_.begin(), notes_.end());
  notes_.clear();
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
