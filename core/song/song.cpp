// SPDX-License-Identifier: GPL-3.0-or-later
// Look-ups in a song.
#include "core/song/song.h"

namespace uneven {

Groove Groove::withoutHits() const {
  return {id, name, meter, bars, grid, beatGrids, core, feel, {}, pedal, walk, linear, extras};
}

Song Song::withoutGrooves() const {
  return {title, tempo, feels, {}, arrangement, kit, map, aim, mixer, check, audio, extras};
}

TempoMap Song::tempoMap() const {
  std::vector<TempoMap::Step> steps;
  steps.reserve(tempo.size());
  for (const TempoMark& mark : tempo) steps.push_back({mark.at, Tempo::fromBpm(mark.bpm)});
  return TempoMap(std::move(steps));
}

const Groove* Song::findGroove(const std::string& id) const {
  for (const auto& groove : grooves) {
    if (groove->id == id) return &*groove;
  }
  return nullptr;
}

MixSetting Song::mixOf(PieceId piece) const {
  const auto own = mixer.find(piece);
  return own == mixer.end() ? houseMix(*kit, piece) : own->second;
}

const Feel* Song::findFeel(const std::string& id) const {
  for (const Feel& feel : feels) {
    if (feel.id == id) return &feel;
  }
  return nullptr;
}

std::vector<Section> Song::sections() const {
  if (!arrangement.empty()) return arrangement;
  std::vector<Section> all;
  for (const auto& groove : grooves) {
    Section section;
    section.name = groove->name;
    section.groove = groove->id;
    all.push_back(std::move(section));
  }
  return all;
}

}  // namespace uneven
