// SPDX-License-Identifier: GPL-3.0-or-later
// Look-ups in a song.
#include "core/song/song.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace uneven {

namespace {

const Beat kRampStep(1, 4);

}  // namespace

Groove Groove::withoutHits() const {
  return {id, name,  meter, bars,   grid,   beatGrids, core,  feel,
          {}, pedal, walk,  linear, extras, grouping,  origin};
}

Song Song::withoutGrooves() const {
  return {title, tempo, feels, {}, arrangement, kit, map, aim, mixer, check, audio, extras};
}

std::vector<int> Groove::groups() const {
  const int counts = meter.n;
  if (std::accumulate(grouping.begin(), grouping.end(), 0) == counts) return grouping;
  const int each = meter.d == 8 && counts % 3 == 0 && counts > 3 ? 3 : 1;
  return std::vector<int>(static_cast<std::size_t>(counts / each), each);
}

TempoMap Song::tempoMap() const {
  std::vector<TempoMap::Step> steps;
  steps.reserve(tempo.size());
  for (std::size_t i = 0; i < tempo.size(); ++i) {
    const TempoMark& mark = tempo[i];
    if (!mark.ramp || i + 1 == tempo.size()) {
      steps.push_back({mark.at, Tempo::fromBpm(mark.bpm)});
      continue;
    }
    const TempoMark& next = tempo[i + 1];
    const double length = (next.at - mark.at).toDouble();
    for (Beat at = mark.at; at < next.at; at += kRampStep) {
      const Beat end = std::min(next.at, at + kRampStep);
      const double middle = ((at - mark.at).toDouble() + (end - mark.at).toDouble()) / 2;
      const double bpm = std::lerp(mark.bpm.value, next.bpm.value, middle / length);
      steps.push_back({at, Tempo::fromBpm(Bpm{bpm})});
    }
  }
  return TempoMap(std::move(steps));
}

std::int64_t Song::rampSteps() const {
  std::int64_t out = 0;
  for (std::size_t i = 0; i + 1 < tempo.size(); ++i) {
    if (tempo[i].ramp) out += (tempo[i + 1].at - tempo[i].at).floorDiv(kRampStep) + 1;
  }
  return out;
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

bool Song::plays(const std::string& groove, const GroovePlace& place) const {
  // Where there is no arrangement every groove is a section, once.
  if (arrangement.empty())
    return place.section < grooves.size() && place.pass == 0 &&
           grooves[place.section]->id == groove;
  if (place.section >= arrangement.size()) return false;
  const Section& section = arrangement[place.section];
  if (place.pass < 0 || place.pass >= section.repeat) return false;
  return section.grooves.empty() ? section.groove == groove
                                 : std::find(section.grooves.begin(), section.grooves.end(),
                                             groove) != section.grooves.end();
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
