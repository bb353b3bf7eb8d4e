// SPDX-License-Identifier: GPL-3.0-or-later
// What the sound's thread has told its instrument, on the way to a MIDI port: a ring between two
// threads, without locks. When it is full, strokes are left out rather than waited for.
//
// Threads: put() from the sound's thread, take() from one other.
#pragma once

#include <array>
#include <atomic>
#include <cstdint>
#include <optional>

namespace uneven {

struct QueuedStrike {
  enum class Kind : std::uint8_t { kStrike, kShut, kPedal, kSilence };
  static constexpr std::uint8_t kNoNote = 255;
  std::int64_t frame = 0;  // of the player
  Kind kind = Kind::kStrike;
  std::uint8_t note = kNoNote;  // of the song's kit map
  std::uint8_t velocity = 0;    // or the pedal's value
  std::uint8_t opening = 0;     // of the hats, 0..127
  bool hats = false;
  bool rings = false;
  float levelDb = 0, pan = 0, roomDb = 0;  // of what is struck from outside
};

class StrikeQueue {
 public:
  bool put(const QueuedStrike& strike) {
    const std::uint32_t end = end_.load(std::memory_order_relaxed);
    if (end - begin_.load(std::memory_order_acquire) == kSize) return false;
    ring_[end % kSize] = strike;
    end_.store(end + 1, std::memory_order_release);
    return true;
  }
  std::optional<QueuedStrike> take() {
    const std::uint32_t begin = begin_.load(std::memory_order_relaxed);
    if (begin == end_.load(std::memory_order_acquire)) return std::nullopt;
    const QueuedStrike out = ring_[begin % kSize];
    begin_.store(begin + 1, std::memory_order_release);
    return out;
  }

 private:
  static constexpr std::uint32_t kSize = 4'096;
  std::array<QueuedStrike, kSize> ring_{};
  std::atomic<std::uint32_t> begin_{0}, end_{0};
};

}  // namespace uneven
