// SPDX-License-Identifier: GPL-3.0-or-later
// Pure edits.
#include "core/song/edit.h"

#include <algorithm>
#include <cmath>
#include <iterator>
#include <map>

#include "core/song/hit_fields.h"
#include "core/song/slots.h"

namespace uneven {
namespace {

void putInOrder(Groove& groove, Hit hit) {
  const auto place = std::upper_bound(groove.hits.begin(), groove.hits.end(), hit, writtenBefore);
  groove.hits.insert(place, std::move(hit));
}

void removeAt(Groove& groove, Beat at, PieceId piece) {
  Hit probe;
  probe.at = at;
  probe.piece = piece;
  const auto [first, last] =
      std::equal_range(groove.hits.begin(), groove.hits.end(), probe, writtenBefore);
  groove.hits.erase(first, last);
}

void hold(Hit& hit, const Groove& groove) {
  if (!hit.at.valid() || hit.at < Beat(0)) hit.at = Beat(0);
  if (hit.at >= groove.length()) {
    hit.at = slotBefore(groove, groove.length());
  }
  hit.nudge = Milliseconds(hit_field::kNudge.held(hit.nudge.count()));
  hit.open = hit_field::kOpen.held(hit.open);
  hit.ornamentGap = Milliseconds(hit_field::kOrnamentGap.held(hit.ornamentGap.count()));
  hit.ornamentPercent =
      static_cast<std::uint8_t>(hit_field::kOrnamentVelocity.held(hit.ornamentPercent));
}

// Of a song that may be changed, or not; the first one, or that of a place that plays it.
template <typename AnySong>
auto sectionOf(AnySong& song, const std::string& grooveId, const AtPlace& at)
    -> decltype(song.arrangement.data()) {
  if (at && !song.arrangement.empty() && song.plays(grooveId, *at))
    return &song.arrangement[at->section];
  for (auto& section : song.arrangement) {
    const std::vector<std::string> pass = section.pass();
    if (std::find(pass.begin(), pass.end(), grooveId) != pass.end()) return &section;
  }
  return nullptr;
}

}  // namespace

HitRef refOf(const Groove& groove, std::size_t index) {
  return {groove.hits[index].at, groove.hits[index].piece};
}

std::optional<std::size_t> indexOf(const Groove& groove, const HitRef& ref) {
  Hit probe;
  probe.at = ref.at;
  probe.piece = ref.piece;
  const auto found = std::lower_bound(groove.hits.begin(), groove.hits.end(), probe, writtenBefore);
  if (found == groove.hits.end() || found->at != ref.at || found->piece != ref.piece) {
    return std::nullopt;
  }
  return static_cast<std::size_t>(found - groove.hits.begin());
}

std::vector<std::size_t> indicesOf(const Groove& groove, const Selection& selection) {
  std::vector<std::size_t> out;
  for (const HitRef& ref : selection) {
    if (const auto index = indexOf(groove, ref)) out.push_back(*index);
  }
  return out;
}

Groove withHit(Groove groove, Hit hit) {
  hold(hit, groove);
  removeAt(groove, hit.at, hit.piece);
  putInOrder(groove, std::move(hit));
  return groove;
}

Groove withoutHits(Groove groove, const Selection& selection) {
  std::erase_if(groove.hits, [&](const Hit& hit) {
    return selection.contains({hit.at, hit.piece});
  });
  return groove;
}

int placeHits(Groove& groove, std::vector<Hit> hits) {
  const auto sameSpot = [](const Hit& a, const Hit& b) {
    return a.at == b.at && a.piece == b.piece;
  };
  std::stable_sort(hits.begin(), hits.end(), writtenBefore);
  std::vector<Hit> out;
  out.reserve(groove.hits.size() + hits.size());
  auto old = groove.hits.begin();
  for (std::size_t i = 0; i < hits.size(); ++i) {
    if (i + 1 < hits.size() && sameSpot(hits[i], hits[i + 1])) continue;
    for (; old != groove.hits.end() && writtenBefore(*old, hits[i]); ++old) {
      out.push_back(std::move(*old));
    }
    while (old != groove.hits.end() && sameSpot(*old, hits[i])) ++old;
    out.push_back(std::move(hits[i]));
  }
  std::move(old, groove.hits.end(), std::back_inserter(out));
  const std::size_t before = groove.hits.size() + hits.size();
  groove.hits = std::move(out);
  return static_cast<int>(before - groove.hits.size());
}

Edited changeHits(const Groove& groove, const Selection& selection,
                  const std::function<void(Hit&)>& change) {
  const std::vector<std::size_t> indices = indicesOf(groove, selection);
  std::vector<Hit> changed;
  changed.reserve(indices.size());
  bool moved = false;
  for (const std::size_t index : indices) {
    const Hit& before = groove.hits[index];
    Hit hit = before;
    change(hit);
    hold(hit, groove);
    moved = moved || hit.at != before.at || hit.piece != before.piece;
    changed.push_back(std::move(hit));
  }
  if (!moved) {
    Edited out{groove, selection};
    for (std::size_t i = 0; i < indices.size(); ++i) {
      out.groove.hits[indices[i]] = std::move(changed[i]);
    }
    return out;
  }
  Edited out{withoutHits(groove, selection), {}};
  for (const Hit& hit : changed) out.selection.insert({hit.at, hit.piece});
  placeHits(out.groove, std::move(changed));
  return out;
}

std::vector<Hit> copyHits(const Groove& groove, const Selection& selection) {
  std::vector<Hit> out;
  for (const std::size_t index : indicesOf(groove, selection)) out.push_back(groove.hits[index]);
  const Beat first = out.empty() ? Beat() : out.front().at;
  for (Hit& hit : out) hit.at -= first;
  return out;
}

Pasted pasteHits(Groove groove, const std::vector<Hit>& hits, Beat at) {
  Pasted out{std::move(groove), {}, 0};
  const Beat length = out.groove.length();
  std::vector<Hit> placed;
  for (Hit hit : hits) {
    hit.at += at;
    if (!hit.at.valid() || hit.at >= length) {
      ++out.leftOut;
      continue;
    }
    out.selection.insert({hit.at, hit.piece});
    placed.push_back(std::move(hit));
  }
  placeHits(out.groove, std::move(placed));
  return out;
}

Carried carryPieces(Song& song, const Kit& from, std::vector<Hit>& hits) {
  Carried out;
  Kit kit = *song.kit;
  std::map<PieceId, std::optional<PieceId>> known;
  const auto place = [&](PieceId id) -> std::optional<PieceId> {
    const Piece& piece = from[id];
    if (const auto found = kit.find(piece.id)) return found;
    if (kit.pieces.size() >= kPiecesMax) return std::nullopt;
    const PieceId fresh{static_cast<std::uint8_t>(kit.pieces.size())};
    kit.pieces.push_back(piece);
    kit.order.push_back(fresh);
    out.added += (out.added.empty() ? "" : ", ") + piece.name;
    return fresh;
  };
  std::vector<Hit> kept;
  for (Hit& hit : hits) {
    const auto found = known.find(hit.piece);
    const auto piece = found == known.end() ? (known[hit.piece] = place(hit.piece)) : found->second;
    if (!piece) {
      ++out.leftOut;
      continue;
    }
    hit.piece = *piece;
    kept.push_back(std::move(hit));
  }
  hits = std::move(kept);
  std::stable_sort(hits.begin(), hits.end(), writtenBefore);
  if (!out.added.empty()) song.kit = SharedValue<Kit>(std::move(kit));
  return out;
}

Groove repeatFirstBar(const Groove& groove) {
  const Beat bar = groove.meter.barLength();
  Groove out = groove;
  for (int i = 1; i < groove.bars; ++i) copyPositions(out, Beat(0), bar, Beat(i) * bar);
  return out;
}

Groove withMeter(Groove groove, Meter meter, int bars, MeterChange change, Moved* moved) {
  const Beat oldBar = groove.meter.barLength();
  groove.meter = meter;
  groove.bars = std::clamp(bars, 1, kBarsMax);
  const Beat bar = meter.barLength();
  PositionMap map;
  map.to = [=](Beat at) {
    if (change == MeterChange::kKeepDistance) return at;
    const Beat barNumber(at.floorDiv(oldBar));
    const Beat inBar = at - barNumber * oldBar;
    const Beat placed = change == MeterChange::kScaleBars ? inBar * bar / oldBar : inBar;
    return placed < bar ? barNumber * bar + placed : Beat::invalid();
  };
  if (change == MeterChange::kScaleBars) map.lengths = bar / oldBar;
  // A beat's own grid stays where a beat of the new meter starts.
  map.beats = map.to;
  const Moved told = mapPositions(groove, map);
  if (moved != nullptr) *moved = told;
  return groove;
}

Song withGroove(Song song, Groove groove) {
  for (auto& old : song.grooves) {
    if (old->id != groove.id) continue;
    old = SharedValue<Groove>(std::move(groove));
    return song;
  }
  song.grooves.emplace_back(std::move(groove));
  return song;
}

Song withFeel(Song song, Feel feel) {
  for (Feel& old : song.feels) {
    if (old.id != feel.id) continue;
    old = std::move(feel);
    return song;
  }
  song.feels.push_back(std::move(feel));
  return song;
}

Song atOneTempo(Song song, Bpm bpm) {
  TempoMark mark;
  mark.bpm = bpm;
  song.tempo = {mark};
  return song;
}

namespace {

// The mark behind the one in force.
template <class Marks>
auto tempoAfter(Marks& marks, Beat at) {
  return std::upper_bound(marks.begin() + 1, marks.end(), at,
                          [](Beat x, const TempoMark& mark) { return x < mark.at; });
}

}  // namespace

Bpm bpmAt(const std::vector<TempoMark>& marks, Beat at) {
  const auto next = tempoAfter(marks, at);
  const TempoMark& mark = *std::prev(next);
  if (!mark.ramp || next == marks.end() || at <= mark.at) return mark.bpm;
  const double along = (at - mark.at).toDouble() / (next->at - mark.at).toDouble();
  return {std::lerp(mark.bpm.value, next->bpm.value, along)};
}

Song withTempoAt(Song song, Beat at, Bpm bpm) {
  bpm.value = std::clamp(bpm.value, kBpmMin, kBpmMax);
  const auto next = tempoAfter(song.tempo, at);
  TempoMark& inForce = *std::prev(next);
  if (inForce.ramp && next != song.tempo.end() && at > inForce.at) {
    TempoMark here;
    here.at = at;
    here.bpm = bpm;
    here.ramp = true;
    song.tempo.insert(next, here);
  } else {
    inForce.bpm = bpm;
  }
  return song;
}

std::string feelInForce(const Song& song, const std::string& grooveId, AtPlace at) {
  const Section* section = sectionOf(song, grooveId, at);
  if (section != nullptr && !section->feel.empty()) return section->feel;
  const Groove* groove = song.findGroove(grooveId);
  return groove == nullptr ? std::string() : groove->feel;
}

Song withFeelInForce(Song song, const std::string& grooveId, const std::string& feelId,
                     AtPlace at) {
  Section* section = sectionOf(song, grooveId, at);
  if (section != nullptr && !section->feel.empty()) {
    section->feel = feelId;
    return song;
  }
  for (auto& groove : song.grooves) {
    if (groove->id == grooveId) groove.edit([&](Groove& g) { g.feel = feelId; });
  }
  return song;
}

Song withMorph(Song song, std::size_t section, Beat length) {
  if (song.arrangement.empty()) song.arrangement = song.sections();
  if (section < song.arrangement.size()) song.arrangement[section].morph = length;
  return song;
}

Song withFeelChanged(Song song, const std::string& grooveId,
                     const std::function<void(Feel&)>& change, AtPlace at) {
  std::string id = feelInForce(song, grooveId, at);
  if (song.findFeel(id) == nullptr) {
    Feel fresh;
    fresh.name = "Feel";
    song = withNewFeel(std::move(song), std::move(fresh), "feel", id);
    song = withFeelInForce(std::move(song), grooveId, id, at);
  }
  for (Feel& feel : song.feels) {
    if (feel.id == id) change(feel);
  }
  return song;
}

Song withNewFeel(Song song, Feel feel, const std::string& wanted, std::string& id) {
  id = freeId(song, wanted);
  feel.id = id;
  const std::string name = feel.name;
  const auto taken = [&] {
    return std::any_of(song.feels.begin(), song.feels.end(),
                       [&](const Feel& f) { return f.name == feel.name; });
  };
  for (int i = 2; taken(); ++i) feel.name = name + " " + std::to_string(i);
  song.feels.push_back(std::move(feel));
  return song;
}

namespace {

template <typename Key>
void setOrErase(std::map<Key, Milliseconds>& values, Key key, Milliseconds ms) {
  if (ms.count() == 0) {
    values.erase(key);
  } else {
    values[key] = ms;
  }
}

void changeSlot(Feel& feel, Beat at, std::optional<PieceId> piece,
                const std::function<void(Slot&)>& change) {
  auto found = std::find_if(feel.slots.begin(), feel.slots.end(),
                            [&](const Slot& slot) { return slot.at == at && slot.piece == piece; });
  if (found == feel.slots.end()) {
    feel.slots.emplace_back();
    found = std::prev(feel.slots.end());
    found->at = at;
    found->piece = piece;
  }
  change(*found);
  if (found->shift.count() == 0 && found->velocity == 0) feel.slots.erase(found);
}

}  // namespace

void setDisplacement(Feel& feel, PieceId piece, Milliseconds ms) {
  setOrErase(feel.displacement, piece, ms);
}

void setDisplacement(Feel& feel, Limb limb, Milliseconds ms) {
  setOrErase(feel.limbDisplacement, limb, ms);
}

void setSlot(Feel& feel, Beat at, std::optional<PieceId> piece, Milliseconds ms) {
  changeSlot(feel, at, piece, [ms](Slot& slot) { slot.shift = ms; });
}

void setSlotVelocity(Feel& feel, Beat at, std::optional<PieceId> piece, int by) {
  changeSlot(feel, at, piece, [by](Slot& slot) { slot.velocity = by; });
}

Song withoutFeel(Song song, const std::string& id) {
  std::erase_if(song.feels, [&](const Feel& feel) { return feel.id == id; });
  for (auto& groove : song.grooves) {
    if (groove->feel == id) groove.edit([](Groove& g) { g.feel.clear(); });
  }
  for (Section& section : song.arrangement) {
    if (section.feel == id) section.feel.clear();
  }
  return song;
}

std::string freeId(const Song& song, const std::string& wanted) {
  const auto taken = [&](const std::string& id) {
    return song.findGroove(id) != nullptr || song.findFeel(id) != nullptr;
  };
  std::string id = wanted;
  for (int i = 2; taken(id); ++i) id = wanted + "-" + std::to_string(i);
  return id;
}

Song withNewGroove(Song song, Groove groove, const std::string& wanted, std::string& id) {
  id = freeId(song, wanted);
  groove.id = id;
  // Where there is no arrangement every groove is played once anyway.
  if (!song.arrangement.empty()) {
    Section section;
    section.name = groove.name;
    section.groove = id;
    song.arrangement.push_back(std::move(section));
  }
  song.grooves.emplace_back(std::move(groove));
  return song;
}

Song withoutGroove(Song song, const std::string& id) {
  if (song.grooves.size() < 2) return song;
  std::erase_if(song.grooves, [&](const auto& groove) { return groove->id == id; });
  for (Section& section : song.arrangement) {
    if (section.fill) {
      SectionFill& fill = *section.fill;
      if (std::erase(fill.grooves, id) > 0 && !fill.grooves.empty() && fill.groove == id)
        fill.groove = fill.grooves.front();
      if (fill.groove == id) section.fill.reset();
    }
    if (std::erase(section.grooves, id) > 0 && !section.grooves.empty() && section.groove == id)
      section.groove = section.grooves.front();
  }
  std::erase_if(song.arrangement, [&](const Section& section) { return section.groove == id; });
  for (auto& groove : song.grooves) {
    if (groove->core == id) groove.edit([](Groove& g) { g.core.clear(); });
  }
  return song;
}

Song withGrooveMoved(Song song, const std::string& id, int by) {
  const auto found = std::find_if(song.grooves.begin(), song.grooves.end(),
                                  [&](const auto& groove) { return groove->id == id; });
  if (found == song.grooves.end()) return song;
  const std::ptrdiff_t from = found - song.grooves.begin();
  const std::ptrdiff_t to = std::clamp<std::ptrdiff_t>(from + by, 0, std::ssize(song.grooves) - 1);
  SharedValue<Groove> moved = *found;
  song.grooves.erase(found);
  song.grooves.insert(song.grooves.begin() + to, std::move(moved));
  return song;
}

std::optional<Song> withoutPiece(const Song& song, PieceId piece) {
  if (piece.value < houseKit().pieces.size()) return std::nullopt;
  for (const auto& groove : song.grooves) {
    for (const Hit& hit : groove->hits) {
      if (hit.piece == piece) return std::nullopt;
    }
  }
  const std::string& named = (*song.kit)[piece].id;
  for (const Section& section : song.arrangement) {
    if (section.crash && section.crash->piece == named) return std::nullopt;
    for (const auto& [from, to] : section.swap) {
      if (to == named) return std::nullopt;
    }
  }
  // Pieces behind it move up by one.
  const auto renamed = [&](PieceId id) {
    return id > piece ? PieceId{static_cast<std::uint8_t>(id.value - 1)} : id;
  };
  const auto remap = [&](auto& byPiece) {
    std::decay_t<decltype(byPiece)> out;
    for (const auto& [id, value] : byPiece) {
      if (id != piece) out[renamed(id)] = value;
    }
    byPiece = std::move(out);
  };
  Song out = song;
  out.kit.edit([&](Kit& kit) {
    kit.pieces.erase(kit.pieces.begin() + piece.value);
    std::erase(kit.order, piece);
    for (PieceId& id : kit.order) id = renamed(id);
  });
  remap(out.mixer);
  for (Feel& feel : out.feels) {
    remap(feel.swing.depth);
    remap(feel.displacement);
    std::erase_if(feel.slots, [&](const Slot& slot) { return slot.piece == piece; });
    for (Slot& slot : feel.slots) {
      if (slot.piece) slot.piece = renamed(*slot.piece);
    }
  }
  for (Section& section : out.arrangement) {
    std::erase(section.mute, named);
    section.swap.erase(named);
  }
  for (auto& groove : out.grooves) {
    groove.edit([&](Groove& g) {
      for (Hit& hit : g.hits) hit.piece = renamed(hit.piece);
      std::stable_sort(g.hits.begin(), g.hits.end(), writtenBefore);
    });
  }
  return out;
}

Song blankSong() {
  Song song;
  song.title = "Untitled";
  Feel feel;
  feel.id = "straight";
  feel.name = "Straight";
  feel.swing.unit = SwingUnit::kSixteenth;
  song.feels.push_back(feel);
  Groove groove;
  groove.id = "groove";
  groove.name = "Groove";
  groove.bars = 2;
  groove.feel = feel.id;
  song.grooves.emplace_back(groove);
  Section section;
  section.name = groove.name;
  section.groove = groove.id;
  song.arrangement.push_back(section);
  return song;
}

}  // namespace uneven
