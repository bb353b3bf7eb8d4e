// SPDX-License-Identifier: GPL-3.0-or-later
// Which note plays a piece: the bridge from strokes to a sound set.
//
// A map is data (JSON, docs/file-format.md): rows of piece + stroke (+ zone of opening for the
// hats)
// -> note. A stroke without a row of its own takes the row of its piece's normal stroke. Zones of
// one piece and stroke are in ascending order of openTo; a stroke takes the first whose openTo it
// does not exceed. Threads: a plain value.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.h"
#include "core/song/extras.h"
#include "core/song/hit.h"

namespace uneven {

struct KitMapRow {
  std::string piece;
  StrokeKind stroke = StrokeKind::kNormal;
  HatOpening openTo = 1;  // the widest opening this row serves
  int note = 0;           // 0..127
  std::string name;       // what the sound set calls it
  std::string degree;     // of the hats: what a zone of opening is called; empty: the name
  Extras extras;
  bool operator==(const KitMapRow&) const = default;
};

// What ends an open sound of the hats when no stroke does; its velocity is the chick's.
enum class ShutBy : std::uint8_t { kPedalNote, kClosedNote, kPolyPressure };

struct KitMap {
  std::string id;
  std::string name;
  int channel = 10;  // 1..16
  std::vector<KitMapRow> rows;
  ShutBy shutBy = ShutBy::kPedalNote;
  // Which controller carries the pedal's path (4 is the foot controller), none: -1, and its value
  // with the foot down.
  int pedalController = 4;
  int pedalDown = 127;
  Extras extras, shutExtras, pedalExtras;  // keys that are not known: of the map, of those objects

  // nullptr when the map has no note for the piece.
  const KitMapRow* find(std::string_view piece, StrokeKind stroke, HatOpening opening) const;
  bool operator==(const KitMap&) const = default;
};

// The row for a piece of the kit; a piece that the map does not know takes the row of the house
// piece it is like. nullptr when there is none either.
const KitMapRow* rowFor(const KitMap& map, const Piece& piece, StrokeKind stroke,
                        HatOpening opening);

// What a note of the map is struck by: the other way round. Nothing where no piece of the kit has
// it.
struct NoteStruck {
  PieceId piece;
  StrokeKind stroke = StrokeKind::kNormal;
  double opening = 0;  // of the hats: the middle of the note's zone; pressed shut for the first
};
std::optional<NoteStruck> struckBy(const KitMap& map, const Kit& kit, int note);

// Reads a map. `file` is only for messages. Errors: kSyntax, kLimit, kVersion with line and column.
Result<KitMap> readKitMap(std::string_view text, const std::string& file);
// As such a file; read again it is the same map.
std::string writeKitMap(const KitMap& map);

// What a degree of opening of the hats is called, and how far open it is.
struct HatDegree {
  std::string name;
  double above = 0;  // not included, but for the first
  double to = 0;
  // An opening that is of this degree beyond doubt: pressed shut for the first, else the middle.
  double typical() const { return above <= 0 ? 0 : (above + to) / 2; }
  bool operator==(const HatDegree&) const = default;
};
// The zones of the hats' normal stroke, from shut to wide; none when the map knows no hats.
std::vector<HatDegree> hatDegrees(const KitMap& map);

// The maps that come with the program, the default (General MIDI Level 1) first.
const std::vector<KitMap>& builtInKitMaps();
// nullptr when no built-in map has that id.
const KitMap* builtInKitMap(std::string_view id);

}  // namespace uneven
