// SPDX-License-Identifier: GPL-3.0-or-later
// What sounds, in moments: strokes through a kit map, before any tick.
//
//   Take --voice--> Notes --render--> MIDI events in ticks           (also: sound, ports)
//
// A note on the hats whose zone of opening has a note of its own rings until the hats are shut: by
// the next stroke on them, by hand or foot, or by the foot alone, and then as the map says (a note
// of the pedal, of the shut hats, or pressure). All other notes ring out by themselves: how long
// a file holds them is the file's affair. The pedal's path is thinned to knots
// (pedal_knots.h). Threads: pure functions over values.
#pragma once

#include <map>
#include <vector>

#include "core/take/take.h"
#include "core/voice/kit_map.h"
#include "core/voice/pedal_knots.h"

namespace uneven {

// In order of time; what is struck together is in the order of the strokes.
struct NoteEvent {
  enum class Kind : std::uint8_t {
    kStrike,    // the note begins; of one that sounds already it begins anew
    kShut,      // ends a note that rings
    kPressure,  // polyphonic pressure of `velocity` on a note that rings
  };
  static constexpr std::uint32_t kNoStroke = 0xFFFFFFFF;

  Moment time{0};
  std::uint32_t stroke = kNoStroke;  // of the take; none: the foot shuts the hats
  Kind kind = Kind::kStrike;
  std::uint8_t note = 0;      // 0..127
  std::uint8_t velocity = 0;  // 1..127
  bool rings = false;         // until it is shut
  bool operator==(const NoteEvent&) const = default;
};

struct Notes {
  std::vector<NoteEvent> events;
  std::vector<PedalKnot> pedal;     // empty where the map carries none or the hats stay shut
  std::map<PieceId, int> unmapped;  // strokes left out since the map has no note for the piece
  bool operator==(const Notes&) const = default;
};

// `start`: where listening begins; the pedal's path before it is cut off. Notes are not.
Notes voice(const Take& take, const KitMap& map, Moment start = Moment(0));

}  // namespace uneven
