// SPDX-License-Identifier: GPL-3.0-or-later
// Moving positions.
#include "core/song/positions.h"

#include <algorithm>
#include <map>
#include <set>

#include "core/base/number.h"
#include "core/song/edit.h"
#include "core/song/slots.h"

namespace uneven {
namespace {

bool stands(const Groove& groove, Beat at) {
  return at.valid() && at >= Beat(0) && at < groove.length() && at.den() <= kDenominatorMax;
}

Beat scaled(Beat length, Beat factor, Beat most) {
  if (length == Beat(0) || factor == Beat(1)) return length;
  Beat out = length * factor;
  if (out.valid() && out.den() > kDenominatorMax) {
    out = Beat(std::max<std::int64_t>(
                   1, roundToInt(out.toDouble() * static_cast<double>(kDenominatorMax))),
               kDenominatorMax);
  }
  return out.valid() ? std::min(out, most) : most;
}

// Of neighbours that are the same in place only the best stays. Returns how many went.
template <typename T, typename Same, typename Better>
int keepOne(std::vector<T>& list, Same same, Better better) {
  if (list.empty()) return 0;
  auto last = list.begin();
  for (auto next = std::next(last); next != list.end(); ++next) {
    if (!same(*last, *next)) {
      ++last;
      if (last != next) *last = std::move(*next);
    } else if (better(*next, *last)) {
      *last = std::move(*next);
    }
  }
  const auto gone = static_cast<int>(list.end() - std::next(last));
  list.erase(std::next(last), list.end());
  return gone;
}

void moveHits(Groove& groove, const PositionMap& map, Moved& out) {
  std::vector<Hit> moved;
  std::vector<Hit> kept;
  for (Hit& hit : groove.hits) {
    if (map.hits && !map.hits(hit)) {
      kept.push_back(std::move(hit));
      continue;
    }
    hit.at = map.to(hit.at);
    if (!stands(groove, hit.at)) {
      ++out.lostHits;
      continue;
    }
    hit.openFor = scaled(hit.openFor, map.lengths, kPositionMost);
    hit.ornamentFor = scaled(hit.ornamentFor, map.lengths, Beat(kLengthMax));
    moved.push_back(std::move(hit));
  }
  groove.hits = std::move(kept);
  out.hits = static_cast<int>(moved.size());
  out.replaced = placeHits(groove, std::move(moved));
}

void moveOpenings(Groove& groove, const PositionMap& map, Moved& out) {
  if (!groove.pedal) return;
  std::map<Beat, PedalMove> byPlace;
  std::vector<PedalMove> moved;
  for (PedalMove& move : groove.pedal->moves) {
    if (map.openings && !map.openings(move)) {
      byPlace[move.at] = std::move(move);
      continue;
    }
    move.at = map.to(move.at);
    move.length = scaled(move.length, map.lengths, kPositionMost);
    if (stands(groove, move.at)) {
      moved.push_back(std::move(move));
    } else {
      ++out.lostOpenings;
    }
  }
  for (PedalMove& move : moved) byPlace[move.at] = std::move(move);
  groove.pedal->moves.clear();
  for (auto& [at, move] : byPlace) groove.pedal->moves.push_back(std::move(move));
}

void moveBeats(Groove& groove, const PositionMap& map, Moved& out) {
  std::map<Beat, Grid> moved;
  for (const auto& [start, grid] : groove.beatGrids) {
    const Beat at = map.beats ? map.beats(start) : start;
    if (stands(groove, at) && beatStart(groove, at) == at) {
      moved[at] = grid;
    } else {
      ++out.lostBeats;
    }
  }
  groove.beatGrids = std::move(moved);
}

// "3/4+1 for 2" with each position moved; empty when one of them falls off. What cannot be read is
// somebody else's and stays.
std::string movedPlacement(const Groove& groove, const std::string& text,
                           const std::function<Beat(Beat)>& to) {
  const std::size_t end = text.find(" for ");
  if (end == std::string::npos) return text;
  std::set<Beat> places;
  for (std::size_t at = 0; at <= end;) {
    const std::size_t plus = std::min(text.find('+', at), end);
    const auto place = Beat::parse(std::string_view(text).substr(at, plus - at));
    if (!place) return text;
    const Beat moved = to(*place);
    if (!stands(groove, moved)) return {};
    places.insert(moved);
    at = plus + 1;
  }
  std::string out;
  for (const Beat place : places) out += (out.empty() ? "" : "+") + place.toString();
  return out + text.substr(end);
}

void moveNotes(Groove& groove, const PositionMap& map, Moved& out) {
  if (!map.beats) return;
  std::vector<WalkNote> kept;
  std::set<std::string> known;
  for (WalkNote& note : groove.walk) {
    note.placement = movedPlacement(groove, note.placement, map.to);
    if (note.placement.empty()) {
      ++out.lostNotes;
    } else if (known.insert(note.placement).second) {
      kept.push_back(std::move(note));
    }
  }
  groove.walk = std::move(kept);
}

}  // namespace

std::string Moved::lostText() const {
  std::string out;
  const auto add = [&](int count, const char* one, const char* many) {
    if (count == 0) return;
    out += (out.empty() ? "" : ", ") + std::to_string(count) + " " + (count == 1 ? one : many);
  };
  add(lostHits, "hit", "hits");
  add(lostOpenings, "drawn opening", "drawn openings");
  add(lostBeats, "beat's own grid", "beats' own grids");
  add(lostNotes, "note on a placement", "notes on placements");
  return out.empty() ? out : out + " fell off the end";
}

Moved mapPositions(Groove& groove, const PositionMap& map) {
  Moved out;
  moveHits(groove, map, out);
  moveOpenings(groove, map, out);
  moveBeats(groove, map, out);
  moveNotes(groove, map, out);
  return out;
}

Groove lastBars(const Groove& groove, Beat length) {
  const Beat bar = groove.meter.barLength();
  std::int64_t bars = length.floorDiv(bar);
  if (Beat(bars) * bar < length) ++bars;
  if (bars >= groove.bars) return groove;
  const Beat cut = groove.length() - Beat(bars) * bar;
  PositionMap earlier;
  earlier.to = [cut](Beat at) { return at - cut; };
  earlier.beats = earlier.to;
  Groove out = groove;
  out.bars = static_cast<int>(bars);
  mapPositions(out, earlier);
  return out;
}

bool beatsLand(const Groove& groove, const std::function<Beat(Beat)>& beats) {
  return std::all_of(groove.beatGrids.begin(), groove.beatGrids.end(), [&](const auto& own) {
    const Beat at = beats(own.first);
    return stands(groove, at) && beatStart(groove, at) == at;
  });
}

int copyPositions(Groove& groove, Beat from, Beat length, Beat onto) {
  const auto source = [&](Beat at) { return at >= from && at < from + length; };
  const auto target = [&](Beat at) { return at >= onto && at < onto + length; };
  const Groove before = groove;
  std::erase_if(groove.hits, [&](const Hit& hit) { return target(hit.at); });
  int copied = 0;
  for (Hit hit : before.hits) {
    if (!source(hit.at)) continue;
    hit.at = hit.at - from + onto;
    groove.hits.push_back(std::move(hit));
    ++copied;
  }
  std::stable_sort(groove.hits.begin(), groove.hits.end(), writtenBefore);
  std::erase_if(groove.beatGrids, [&](const auto& own) { return target(own.first); });
  for (const auto& [at, grid] : before.beatGrids) {
    const Beat copy = at - from + onto;
    if (source(at) && beatStart(groove, copy) == copy) groove.beatGrids[copy] = grid;
  }
  if (!before.pedal) return copied;
  std::vector<PedalMove>& moves = groove.pedal->moves;
  std::erase_if(moves, [&](const PedalMove& move) { return target(move.at); });
  for (PedalMove move : before.pedal->moves) {
    if (!source(move.at)) continue;
    move.at = move.at - from + onto;
    moves.push_back(std::move(move));
  }
  std::stable_sort(moves.begin(), moves.end(),
                   [](const PedalMove& a, const PedalMove& b) { return a.at < b.at; });
  return copied;
}

void takeMove(Pedal& pedal, Beat at) {
  std::erase_if(pedal.moves, [&](const PedalMove& move) { return move.at == at; });
}

void putMove(Pedal& pedal, const PedalMove& move) {
  takeMove(pedal, move.at);
  const auto behind =
      std::upper_bound(pedal.moves.begin(), pedal.moves.end(), move.at,
                       [](Beat at, const PedalMove& other) { return at < other.at; });
  pedal.moves.insert(behind, move);
}

int keepLoudest(std::vector<Hit>& hits) {
  return keepOne(
      hits, [](const Hit& a, const Hit& b) { return a.at == b.at && a.piece == b.piece; },
      [](const Hit& a, const Hit& b) { return a.velocity > b.velocity; });
}

std::string leftOutNote(int hits) {
  return (hits == 1 ? "1 hit was" : std::to_string(hits) + " hits were") +
         std::string(" left out, since a louder one of the same piece stands at the same position");
}

int keepWidest(std::vector<PedalMove>& moves) {
  return keepOne(
      moves, [](const PedalMove& a, const PedalMove& b) { return a.at == b.at; },
      [](const PedalMove& a, const PedalMove& b) { return a.open > b.open; });
}

}  // namespace uneven
