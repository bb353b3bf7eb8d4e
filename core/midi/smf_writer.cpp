// SPDX-License-Identifier: GPL-3.0-or-later
// Standard MIDI File writer.
#include <fmt/format.h>

#include <algorithm>
#include <cassert>
#include <limits>

#include "core/midi/smf.h"

namespace uneven {
namespace {

void appendBigEndian(std::string& bytes, std::uint32_t value, int count) {
  for (int shift = 8 * (count - 1); shift >= 0; shift -= 8) {
    bytes += static_cast<char>((value >> shift) & 0xFF);
  }
}

// Writes delta times through a plain pointer into room that was made beforehand: appending byte by
// byte to a string costs twice as much.
class Cursor {
 public:
  explicit Cursor(char* at) : at_(at) {}
  char* position() const { return at_; }

  // Small numbers first: most notes are close together.
  void vlq(std::uint32_t value) {
    if (value >= 1U << 7) {
      if (value >= 1U << 14) {
        if (value >= 1U << 21) put(0x80 | (value >> 21));
        put(0x80 | ((value >> 14) & 0x7F));
      }
      put(0x80 | ((value >> 7) & 0x7F));
    }
    put(value & 0x7F);
  }
  void put(std::uint32_t byte) { *at_++ = static_cast<char>(byte); }
  void text(const std::string& data) { at_ += data.copy(at_, data.size()); }

 private:
  char* at_;
};

constexpr std::size_t kEventMost = 4 + 3;  // delta and three bytes
constexpr std::size_t kMetaMost = 4 + 2 + 4;

Error tooFar(std::int64_t tick) {
  return {
      ErrorCode::kLimit,
      fmt::format("the silence before tick {} is longer than a MIDI file can hold; choose fewer "
                  "ticks per quarter note",
                  tick),
      {}};
}

Result<std::string> trackBytes(const MidiTrack& track) {
  std::size_t room = kMetaMost + track.events.size() * kEventMost;
  for (const MetaEvent& meta : track.metas) room += kMetaMost + meta.data.size();
  std::string bytes(room, '\0');
  Cursor out(bytes.data());
  std::int64_t now = 0;
  auto meta = track.metas.begin();
  const auto metasUpTo = [&](std::int64_t tick) {
    for (; meta != track.metas.end() && meta->tick <= tick; ++meta) {
      const std::int64_t delta = meta->tick - now;
      if (delta > kVlqMax) return false;
      out.vlq(static_cast<std::uint32_t>(delta));
      out.put(0xFF);
      out.put(meta->type);
      out.vlq(static_cast<std::uint32_t>(meta->data.size()));
      out.text(meta->data);
      now = meta->tick;
    }
    return true;
  };
  constexpr std::int64_t kNever = std::numeric_limits<std::int64_t>::max();
  std::int64_t nextMeta = track.metas.empty() ? kNever : track.metas.front().tick;
  for (const MidiEvent& event : track.events) {
    if (event.tick >= nextMeta) {
      if (!metasUpTo(event.tick)) return tooFar(meta->tick);
      nextMeta = meta == track.metas.end() ? kNever : meta->tick;
    }
    const std::int64_t delta = event.tick - now;
    if (delta > kVlqMax) return tooFar(event.tick);
    out.vlq(static_cast<std::uint32_t>(delta));
    out.put(event.status);
    out.put(event.data1);
    // Program change (0xC) and channel pressure (0xD) have one data byte.
    if ((event.status & 0xE0) != 0xC0) out.put(event.data2);
    now = event.tick;
  }
  if (!track.metas.empty() && !metasUpTo(track.metas.back().tick)) return tooFar(meta->tick);
  const std::int64_t rest = std::max<std::int64_t>(0, track.endTick - now);
  if (rest > kVlqMax) return tooFar(track.endTick);
  out.vlq(static_cast<std::uint32_t>(rest));
  out.put(0xFF);
  out.put(kMetaEnd);
  out.put(0);
  bytes.resize(static_cast<std::size_t>(out.position() - bytes.data()));
  return bytes;
}

}  // namespace

void appendVlq(std::string& bytes, std::uint32_t value) {
  char buffer[4];
  Cursor out(buffer);
  out.vlq(value);
  bytes.append(buffer, out.position());
}

Result<std::string> writeSmf(const MidiSequence& sequence) {
  assert(sequence.type == 1 || sequence.tracks.size() == 1);
  std::string bytes = "MThd";
  appendBigEndian(bytes, 6, 4);
  appendBigEndian(bytes, static_cast<std::uint32_t>(sequence.type), 2);
  appendBigEndian(bytes, static_cast<std::uint32_t>(sequence.tracks.size()), 2);
  appendBigEndian(bytes, static_cast<std::uint32_t>(sequence.ticksPerQuarter), 2);
  for (const MidiTrack& track : sequence.tracks) {
    const Result<std::string> body = trackBytes(track);
    if (!body) return body.error();
    if (body->size() > 0xFFFFFFFF) {
      return Error{ErrorCode::kLimit, "a track is longer than a MIDI file can hold", {}};
    }
    bytes += "MTrk";
    appendBigEndian(bytes, static_cast<std::uint32_t>(body->size()), 4);
    bytes += *body;
  }
  return bytes;
}

}  // namespace uneven
