// SPDX-License-Identifier: GPL-3.0-or-later
// Pure edits.
#include "core/song/edit.h"

#include <algorithm>

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
    // The last grid position inside; a groove shorter than its grid has only its start.
    const Beat step = groove.grid.step();
    const std::int64_t slots = groove.length().floorDiv(step);
    const bool endsOnGrid = Beat(slots) * step == groove.length();
    hit.at = Beat(std::max<std::int64_t>(0, endsOnGrid ? slots - 1 : slots)) * step;
  }
  hit.nudge = std::clamp(hit.nudge, -kShiftMax, kShiftMax);
  hit.open = std::clamp(hit.open, 0.0, 1.0);
}

Section* firstSection(Song& song, const std::string& grooveId) {
  for (Section& section : song.arrangement) {
    if (section.groove == grooveId) return &section;
  }
  return nullptr;
}

}  // namespace

HitRef refOf(const Groove& groove, std::size_t index) {
  const Hit& hit = groove.hits[index];
  HitRef ref{hit.at, hit.piece, 0};
  while (index > 0 && groove.hits[index - 1].at == hit.at &&
         groove.hits[index - 1].piece == hit.piece) {
    --index;
    ++ref.nth;
  }
  return ref;
}

std::optional<std::size_t> indexOf(const Groove& groove, const HitRef& ref) {
  Hit probe;
  probe.at = ref.at;
  probe.piece = ref.piece;
  const auto first = std::lower_bound(groove.hits.begin(), groove.hits.end(), probe, writtenBefore);
  const auto index =
      static_cast<std::size_t>(first - groove.hits.begin()) + static_cast<std::size_t>(ref.nth);
  if (index >= groove.hits.size() || groove.hits[index].at != ref.at ||
      groove.hits[index].piece != ref.piece) {
    return std::nullopt;
  }
  return index;
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
  const std::vector<std::size_t> doomed = indicesOf(groove, selection);
  for (auto index = doomed.rbegin(); index != doomed.rend(); ++index) {
    groove.hits.erase(groove.hits.begin() + static_cast<std::ptrdiff_t>(*index));
  }
  return groove;
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
  for (Hit& hit : changed) {
    out.selection.insert({hit.at, hit.piece, 0});
    removeAt(out.groove, hit.at, hit.piece);
    putInOrder(out.groove, std::move(hit));
  }
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
  for (Hit hit : hits) {
    hit.at += at;
    if (!hit.at.valid() || hit.at >= length) {
      ++out.leftOut;
      continue;
    }
    out.selection.insert({hit.at, hit.piece, 0});
    out.groove = withHit(std::move(out.groove), std::move(hit));
  }
  return out;
}

Groove repeatFirstBar(const Groove& groove) {
  const Beat bar = groove.meter.barLength();
  Groove out = groove;
  std::erase_if(out.hits, [&](const Hit& h) { return h.at >= bar; });
  const std::vector<Hit> first = out.hits;
  for (int i = 1; i < groove.bars; ++i) {
    for (Hit hit : first) {
      hit.at += Beat(i) * bar;
      out.hits.push_back(std::move(hit));
    }
  }
  return out;
}

Groove withMeter(Groove groove, Meter meter, int bars) {
  groove.meter = meter;
  groove.bars = std::clamp(bars, 1, kBarsMax);
  const Beat length = groove.length();
  std::erase_if(groove.hits, [&](const Hit& h) { return h.at >= length; });
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

Song withTempoAt(Song song, Beat at, Bpm bpm) {
  TempoMark* inForce = &song.tempo.front();
  for (TempoMark& mark : song.tempo) {
    if (mark.at <= at) inForce = &mark;
  }
  inForce->bpm = Bpm{std::clamp(bpm.value, kBpmMin, kBpmMax)};
  return song;
}

std::string feelInForce(const Song& song, const std::string& grooveId) {
  for (const Section& section : song.arrangement) {
    if (section.groove == grooveId && !section.feel.empty()) return section.feel;
    if (section.groove == grooveId) break;
  }
  const Groove* groove = song.findGroove(grooveId);
  return groove == nullptr ? std::string() : groove->feel;
}

Song withFeelInForce(Song song, const std::string& grooveId, const std::string& feelId) {
  Section* section = firstSection(song, grooveId);
  if (section != nullptr && !section->feel.empty()) {
    section->feel = feelId;
    return song;
  }
  for (auto& groove : song.grooves) {
    if (groove->id == grooveId) groove.edit([&](Groove& g) { g.feel = feelId; });
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
  std::erase_if(song.arrangement, [&](const Section& section) { return section.groove == id; });
  return song;
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
