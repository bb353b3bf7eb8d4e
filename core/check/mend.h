// SPDX-License-Identifier: GPL-3.0-or-later
// How a finding is mended, as data: it can be told, kept, tried on a copy, and applied anywhere.
//
// Which members count depends on the kind; the others are as they were made. Positions are from
// the groove's start, in quarters, but for kTempo's, which is from the song's. A mending of
// strokes that are no longer there changes nothing. Threads: a plain value; `withMend` is pure.
#pragma once

#include <cstdint>
#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/song/edit.h"
#include "core/song/song.h"

namespace uneven {

enum class MendKind : std::uint8_t {
  kLeaveOut,      // hits
  kPutIn,         // strokes
  kFreeHands,     // hits: whichever hand has the time
  kMoveTo,        // hits, one of pieces: on it, struck plainly
  kLouder,        // pieces, role (none: all but ghosts): by `value` dB, also less than 0
  kVelocity,      // hits: `value`, 1 to 127
  kAlternate,     // pieces: of each every second stroke by `value` dB
  kPlain,         // hits: no ornament
  kNoNudges,      // hits
  kTogether,      // at: what is written there is struck together
  kDisplacement,  // feel, displacement
  kTempo,         // at, of the song; `value` BPM
  kOpen,          // hits or drawn; `value` 0..1
  kOpenFor,       // hits or drawn; length
  kHeelUp,
  kBarForward,  // bar, period: the bars from there on a bar earlier, the cycle goes on
  kInTriplets,  // the groove's feel is written in triplets
};

struct Mend {
  MendKind kind = MendKind::kLeaveOut;
  std::string text;    // what people read: "open only 60 %"
  std::string groove;  // id of what it changes, or is about
  std::vector<HitRef> hits;
  std::vector<Hit> strokes;
  std::vector<PieceId> pieces;
  std::optional<Role> role;
  double value = 0;
  Beat at;
  Beat length;
  std::optional<Beat> drawn;  // where an opening that is drawn begins
  std::string feel;           // id
  std::map<PieceId, Milliseconds> displacement;
  int bar = 0;  // of the groove, from 0
  int period = 0;

  // It changes the groove alone, neither its feel nor the song's tempo.
  bool ofGroove() const {
    return kind != MendKind::kTempo && kind != MendKind::kDisplacement &&
           kind != MendKind::kInTriplets;
  }
};

// The word of scripts: "leave-out".
std::string_view mendWord(MendKind kind);

// The song so mended; as it is where the groove is not there.
Song withMend(Song song, const Mend& mend);
// Its groove so mended. Precondition: mend.ofGroove().
Groove mendedGroove(const Song& song, const Mend& mend);

// `db` louder by core/measure/level.h, rounded, held to 1..127.
Velocity louderBy(Velocity velocity, double db);

}  // namespace uneven
