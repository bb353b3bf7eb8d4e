// SPDX-License-Identifier: GPL-3.0-or-later
// Standard MIDI Files (MIDI Manufacturers Association, Standard MIDI Files 1.0, RP-001).
#pragma once

#include <cstdint>
#include <string>
#include <string_view>

#include "core/base/result.h"
#include "core/midi/sequence.h"

namespace uneven {

inline constexpr std::int64_t kVlqMax = 0x0FFFFFFF;

// Appends a variable-length quantity, 0..kVlqMax: seven bits a byte, the high bit on all but the
// last. 0x80 -> 81 00.
void appendVlq(std::string& bytes, std::uint32_t value);

// The file's bytes. Full status bytes throughout (no running status), so that a damaged byte costs
// one event. Errors: kLimit when a gap between two events exceeds kVlqMax ticks or a track 2^32-1
// bytes. Type 0 wants exactly one track.
Result<std::string> writeSmf(const MidiSequence& sequence);

// Reads types 0 and 1 with a division in ticks per quarter note: running status, unknown chunks and
// metas, system exclusive (passed over). Metas are all kept; the end of track becomes endTick.
// Refuses truncated
// or lying files with kSyntax and the byte at fault; what stands behind the last track is passed
// over only when it is made of whole chunks.
Result<MidiSequence> readSmf(std::string_view bytes, const std::string& file);

}  // namespace uneven
