// SPDX-License-Identifier: GPL-3.0-or-later
// Looking notes up, and the maps that come with the program.
#include "core/voice/kit_map.h"

#include <cassert>

#include "core/base/embedded.h"
#include "core/base/number.h"

namespace uneven {
namespace {

// A border as the map's file has it.
double written(HatOpening border) {
  return roundedTo(border.value(), 1'000'000);
}

}  // namespace

const KitMapRow* KitMap::find(std::string_view piece, StrokeKind stroke, HatOpening opening) const {
  const KitMapRow* normal = nullptr;
  for (const KitMapRow& row : rows) {
    if (row.piece != piece || opening > row.openTo) continue;
    if (row.stroke == stroke) return &row;
    if (row.stroke == StrokeKind::kNormal && normal == nullptr) normal = &row;
  }
  return normal;
}

const KitMapRow* rowFor(const KitMap& map, const Piece& piece, StrokeKind stroke,
                        HatOpening opening) {
  const KitMapRow* row = map.find(piece.id, stroke, opening);
  if (row != nullptr || piece.like.empty()) return row;
  return map.find(piece.like, stroke, opening);
}

std::optional<NoteStruck> struckBy(const KitMap& map, const Kit& kit, int note) {
  for (std::size_t i = 0; i < map.rows.size(); ++i) {
    const KitMapRow& row = map.rows[i];
    const auto piece = kit.find(row.piece);
    if (row.note != note || !piece) continue;
    double from = 0;
    bool first = true;
    for (std::size_t k = 0; k < i; ++k) {
      if (map.rows[k].piece != row.piece || map.rows[k].stroke != row.stroke) continue;
      from = written(map.rows[k].openTo);
      first = false;
    }
    return NoteStruck{*piece, row.stroke, first ? 0 : (from + written(row.openTo)) / 2};
  }
  return std::nullopt;
}

std::vector<HatDegree> hatDegrees(const KitMap& map) {
  std::vector<HatDegree> out;
  for (const KitMapRow& row : map.rows) {
    if (row.piece != "hat" || row.stroke != StrokeKind::kNormal) continue;
    out.push_back({row.degree, out.empty() ? 0 : out.back().to, written(row.openTo)});
  }
  return out;
}

const std::vector<KitMap>& builtInKitMaps() {
  static const std::vector<KitMap> maps = [] {
    std::vector<KitMap> out;
    for (const EmbeddedText& file : embeddedKitMaps()) {
      Result<KitMap> map = readKitMap(file.text, file.name + ".json");
      assert(map);  // tests read every map that ships
      if (map) out.push_back(*std::move(map));
    }
    return out;
  }();
  return maps;
}

const KitMap* builtInKitMap(std::string_view id) {
  for (const KitMap& map : builtInKitMaps()) {
    if (map.id == id) return &map;
  }
  return nullptr;
}

}  // namespace uneven
