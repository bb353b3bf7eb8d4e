// SPDX-License-Identifier: GPL-3.0-or-later
// MIDI events in ticks, ready to be written or as they were read.
#pragma once

#include <cstdint>
#include <string>
#include <vector>

namespace uneven {

// A channel event. Notes have two data bytes; program change and channel pressure leave data2 at 0.
struct MidiEvent {
  std::int64_t tick = 0;
  std::uint32_t stroke = kNoStroke;  // of the Performance it came from
  std::uint8_t status = 0;           // 0x80..0xEF
  std::uint8_t data1 = 0;
  std::uint8_t data2 = 0;

  static constexpr std::uint32_t kNoStroke = 0xFFFFFFFF;
  bool isNoteOn() const { return (status & 0xF0) == 0x90 && data2 > 0; }
  bool operator==(const MidiEvent&) const = default;
};

// A meta event: its type (0x51 tempo, 0x58 meter, 0x06 marker, 0x03 name, ...) and its raw bytes.
struct MetaEvent {
  std::int64_t tick = 0;
  std::uint8_t type = 0;
  std::string data;
  bool operator==(const MetaEvent&) const = default;
};

// Both lists are in order of tick. Where ticks are equal, metas are written first.
struct MidiTrack {
  std::vector<MetaEvent> metas;
  std::vector<MidiEvent> events;
  std::int64_t endTick = 0;  // of the track; written no earlier than its last event
  bool operator==(const MidiTrack&) const = default;
};

struct MidiSequence {
  int type = 1;
  int ticksPerQuarter = 960;
  std::vector<MidiTrack> tracks;
  bool operator==(const MidiSequence&) const = default;
};

inline constexpr std::uint8_t kMetaName = 0x03, kMetaMarker = 0x06, kMetaEnd = 0x2F,
                              kMetaTempo = 0x51, kMetaMeter = 0x58;

}  // namespace uneven
