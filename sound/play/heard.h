// SPDX-License-Identifier: GPL-3.0-or-later
// What is heard of a song: all of it, or, to listen for one thing, a song that differs in it.
#pragma once

#include "core/song/song.h"

namespace uneven {

struct Heard {
  bool straight = false;  // instead of swung
  bool noDrift = false;
  bool nextTake = false;        // drift by the next seed: the same part played once more
  bool noDisplacement = false;  // of pieces, limbs, slots and nudges
  std::string feel;             // in place of the one in force; empty: that one
  std::optional<SharedValue<Groove>> groove;  // in place of the song's of its id
  std::optional<double> bpm;                  // one tempo, in place of the song's
  bool operator==(const Heard&) const = default;
};

// The same song, to be performed so.
Song heardAs(Song song, const Heard& heard);

}  // namespace uneven
