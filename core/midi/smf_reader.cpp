// SPDX-License-Identifier: GPL-3.0-or-later
// Standard MIDI File reader. Every read is checked against the end of its chunk.
#include <fmt/format.h>

#include <algorithm>
#include <optional>

#include "core/midi/smf.h"

namespace uneven {
namespace {

class Reader {
 public:
  Reader(std::string_view bytes, const std::string& file) : bytes_(bytes), file_(file) {}

  Result<MidiSequence> read() {
    MidiSequence sequence;
    const int tracks = readHeader(sequence);
    while (!error_ && at_ < bytes_.size()) readChunk(sequence);
    if (!error_ && static_cast<int>(sequence.tracks.size()) != tracks) {
      fail(10, fmt::format("the header promises {} tracks, the file holds {}", tracks,
                           sequence.tracks.size()));
    }
    if (error_) return *error_;
    return sequence;
  }

 private:
  void fail(std::size_t at, std::string message) {
    if (error_) return;
    error_ = Error{ErrorCode::kSyntax, std::move(message), {}};
    error_->where.file = file_;
    error_->where.byte = at;
  }

  // Big-endian number of `count` bytes before `end`; 0 after a failure.
  std::uint32_t number(int count, std::size_t end) {
    if (error_) return 0;
    if (end - at_ < static_cast<std::size_t>(count)) {
      fail(end, "ends in the middle of a number");
      return 0;
    }
    std::uint32_t value = 0;
    for (int i = 0; i < count; ++i) value = (value << 8) | static_cast<std::uint8_t>(bytes_[at_++]);
    return value;
  }
  std::uint8_t byte(std::size_t end) { return static_cast<std::uint8_t>(number(1, end)); }

  std::uint32_t vlq(std::size_t end) {
    const std::size_t start = at_;
    std::uint32_t value = 0;
    for (int i = 0; i < 4; ++i) {
      const std::uint8_t b = byte(end);
      if (error_) return 0;
      value = (value << 7) | (b & 0x7FU);
      if ((b & 0x80) == 0) return value;
    }
    fail(start, "a variable-length number is longer than four bytes");
    return 0;
  }

  int readHeader(MidiSequence& sequence) {
    if (!bytes_.starts_with("MThd")) {
      fail(0, "not a Standard MIDI File: it does not start with \"MThd\"");
      return 0;
    }
    at_ = 4;
    const std::uint32_t length = number(4, bytes_.size());
    if (!error_ && length < 6)
      fail(4, fmt::format("a header of {} bytes; at least 6 are needed", length));
    if (!error_ && length > bytes_.size() - at_) fail(4, "the header is longer than the file");
    const std::size_t end = error_ ? at_ : at_ + length;
    sequence.type = static_cast<int>(number(2, end));
    const int tracks = static_cast<int>(number(2, end));
    const std::uint32_t division = number(2, end);
    if (error_) return 0;
    if (sequence.type > 1) {
      fail(8, fmt::format("type {} is not supported; types 0 and 1 are", sequence.type));
    } else if (sequence.type == 0 && tracks != 1) {
      fail(10, fmt::format("a file of type 0 has one track, this one says {}", tracks));
    } else if (division == 0 || (division & 0x8000) != 0) {
      fail(12, "the division is not in ticks per quarter note");
    }
    sequence.ticksPerQuarter = static_cast<int>(division);
    at_ = end;
    return tracks;
  }

  void readChunk(MidiSequence& sequence) {
    const std::size_t start = at_;
    if (bytes_.size() - at_ < 8) return fail(start, "ends in the middle of a chunk's head");
    const std::string_view kind = bytes_.substr(at_, 4);
    at_ += 4;
    const std::uint32_t length = number(4, bytes_.size());
    if (length > bytes_.size() - at_) {
      return fail(start + 4, fmt::format("a chunk says {} bytes, but only {} follow", length,
                                         bytes_.size() - at_));
    }
    const std::size_t end = at_ + length;
    if (kind == "MTrk") readTrack(sequence, end);
    at_ = end;
  }

  void readTrack(MidiSequence& sequence, std::size_t end) {
    MidiTrack track;
    std::int64_t tick = 0;
    std::uint8_t running = 0;
    bool ended = false;
    // Most events are a short delta, a status and two data bytes.
    track.events.reserve((end - at_) / 4);
    while (!error_ && !ended && at_ < end) {
      readPlainNotes(track, tick, running, end);
      if (at_ == end) break;
      tick += vlq(end);
      const std::size_t statusAt = at_;
      std::uint8_t status = byte(end);
      if (error_) return;
      if (status == 0xFF) {
        ended = readMeta(track, tick, end);
        running = 0;
      } else if (status == 0xF0 || status == 0xF7) {
        pass(vlq(end), end);
        running = 0;
      } else if (status >= 0xF0) {
        fail(statusAt, fmt::format("status {:02X} has no place in a file", status));
      } else if (status >= 0x80) {
        running = status;
        readChannelEvent(track, tick, status, byte(end), end);
      } else if (running != 0) {
        readChannelEvent(track, tick, running, status, end);
      } else {
        fail(statusAt, "a data byte where a status byte must stand");
      }
    }
    track.endTick = tick;
    if (!error_ && !ended) fail(end, "a track without its end");
    if (!error_ && at_ != end) fail(at_, "more bytes after the end of a track");
    sequence.tracks.push_back(std::move(track));
  }

  // The bulk of a file: events of two data bytes with their status, well inside the track. Stops
  // before the first that is anything else, which is then read with every check.
  void readPlainNotes(MidiTrack& track, std::int64_t& tick, std::uint8_t& running,
                      std::size_t end) {
    constexpr std::size_t kMost = 4 + 3;
    const auto* bytes = reinterpret_cast<const std::uint8_t*>(bytes_.data());
    std::size_t at = at_;
    while (end - at >= kMost) {
      std::size_t next = at;
      std::uint32_t delta = bytes[next] & 0x7FU;
      for (int i = 0; i < 3 && (bytes[next] & 0x80) != 0; ++i) {
        delta = (delta << 7) | (bytes[++next] & 0x7FU);
      }
      if ((bytes[next++] & 0x80) != 0) break;
      const std::uint8_t status = bytes[next];
      const std::uint8_t data1 = bytes[next + 1];
      const std::uint8_t data2 = bytes[next + 2];
      // 0x8_ to 0xB_ and 0xE_, with both data bytes below 0x80.
      const bool plain = (status >= 0x80 && status < 0xC0) || (status & 0xF0) == 0xE0;
      if (!plain || ((data1 | data2) & 0x80) != 0) break;
      tick += delta;
      track.events.push_back({tick, MidiEvent::kNoStroke, status, data1, data2});
      running = status;
      at = next + 3;
    }
    at_ = at;
  }

  void readChannelEvent(MidiTrack& track, std::int64_t tick, std::uint8_t status,
                        std::uint8_t data1, std::size_t end) {
    MidiEvent event;
    event.tick = tick;
    event.status = status;
    event.data1 = data1;
    const int kind = status & 0xF0;
    if (kind != 0xC0 && kind != 0xD0) event.data2 = byte(end);
    if (error_) return;
    if (event.data1 > 127 || event.data2 > 127) {
      return fail(at_ - 1, "a status byte where a data byte must stand");
    }
    track.events.push_back(event);
  }

  // True when it was the end of the track.
  bool readMeta(MidiTrack& track, std::int64_t tick, std::size_t end) {
    const std::uint8_t type = byte(end);
    const std::size_t lengthAt = at_;
    const std::uint32_t length = vlq(end);
    if (error_) return false;
    if (length > end - at_) {
      fail(lengthAt,
           fmt::format("a meta event of {} bytes, but its track has {} left", length, end - at_));
      return false;
    }
    checkMeta(type, length, lengthAt);
    if (type != kMetaEnd) {
      track.metas.push_back({tick, type, std::string(bytes_.substr(at_, length))});
    }
    at_ += length;
    return type == kMetaEnd;
  }

  void checkMeta(std::uint8_t type, std::uint32_t length, std::size_t lengthAt) {
    const std::optional<std::uint32_t> wanted = type == kMetaTempo   ? std::optional(3U)
                                                : type == kMetaMeter ? std::optional(4U)
                                                : type == kMetaEnd   ? std::optional(0U)
                                                                     : std::nullopt;
    if (wanted && length != *wanted) {
      fail(lengthAt, fmt::format("meta event {:02X} must have {} bytes, this one has {}", type,
                                 *wanted, length));
    }
  }

  void pass(std::uint32_t length, std::size_t end) {
    if (error_) return;
    if (length > end - at_) return fail(at_, "a system exclusive message runs past its track");
    at_ += length;
  }

  std::string_view bytes_;
  std::string file_;
  std::size_t at_ = 0;
  std::optional<Error> error_;
};

}  // namespace

Result<MidiSequence> readSmf(std::string_view bytes, const std::string& file) {
  return Reader(bytes, file).read();
}

}  // namespace uneven
