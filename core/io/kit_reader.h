// SPDX-License-Identifier: GPL-3.0-or-later
// The kit of a song file: the house kit, what is changed of it, and pieces of the song's own. Only
// for the song's reader.
#pragma once

#include "core/io/hit_reader.h"

namespace uneven {

class KitReader : protected HitReader {
 protected:
  using HitReader::HitReader;

  // Into song_: pieces are known by it from then on.
  void readKit(Id id);

 private:
  void readPiece(Id id, Kit& kit);
  void readOrder(JsonObject& o, Kit& kit);
};

}  // namespace uneven
