// SPDX-License-Identifier: GPL-3.0-or-later
// What stands in a groove of a song file: hits and the hats' pedal.
//
// A song has a hundred thousand hits, and hardly one that is not plain: its members are read as
// they come, in one pass. Where a key is not known, stands twice, is written with escapes or is
// missing, the object's members are looked up one by one, which says what is wrong and keeps what
// is not known. Only for the song's reader.
#pragma once

#include "core/io/song_fields.h"

namespace uneven {

class HitReader : protected SongFields {
 protected:
  using SongFields::SongFields;

  // `length`: of the groove.
  Hit readHit(Id id, Beat length);
  Pedal readPedal(Id id, Beat length);

 private:
  void takeField(Hit& hit, std::size_t field, Id id, Beat length);
  PedalMove readMove(Id id, Beat length);
};

}  // namespace uneven
