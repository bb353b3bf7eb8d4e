// SPDX-License-Identifier: GPL-3.0-or-later
// Joints between sections.
#include "core/arrange/joints.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/arrange/fills.h"
#include "core/arrange/sections.h"
#include "core/song/edit.h"
#include "core/song/positions.h"

namespace uneven {
namespace {

Error refusal(std::string text) {
  return {ErrorCode::kLimit, std::move(text), {}};
}

// Quarter notes of a morph that are tried.
constexpr int kTried[] = {0, 1, 2, 3, 4, 6, 8, 12, 16, 24, 32, 48, 64, 96, 128};

// A section and the one before it, at the tempo of their seam.
std::optional<Song> aroundSeam(const Song& song, std::size_t index) {
  const std::vector<Section> sections = song.sections();
  if (index == 0 || index >= sections.size()) return std::nullopt;
  Song out = song;
  out.arrangement = {sections[index - 1], sections[index]};
  out.arrangement[0].repeat = 1;
  // No more passes than morphs are tried over, and one: the section card asks at each change.
  Section& after = out.arrangement[1];
  const double reach =
      std::max(static_cast<double>(kTried[std::size(kTried) - 1]), after.morph.toDouble());
  after.repeat = static_cast<int>(
      std::min<double>(after.repeat, 1 + std::ceil(reach / passLength(song, after).toDouble())));
  const Beat at = sectionStarts(song)[index];
  TempoMark mark;
  mark.bpm = bpmAt(song.tempo, at);
  out.tempo = {mark};
  return out;
}

std::optional<Seam> seamOf(const Song& around) {
  const Result<Score> score = arrange(around);
  if (!score) return std::nullopt;
  for (const Seam& seam : seams(*score)) {
    if (seam.section == 1) return seam;
  }
  return std::nullopt;
}

}  // namespace

std::optional<Seam> seamAt(const Song& song, std::size_t index) {
  const auto around = aroundSeam(song, index);
  return around ? seamOf(*around) : std::nullopt;
}

Result<Beat> smoothMorph(const Song& song, std::size_t index, Milliseconds most) {
  auto around = aroundSeam(song, index);
  if (!around) return refusal("there is no section before it");
  const Beat length = sectionLength(song, song.sections()[index]);
  Milliseconds least{1e9};
  for (const int beats : kTried) {
    if (Beat(beats) > length) break;
    around->arrangement[1].morph = Beat(beats);
    const auto seam = seamOf(*around);
    if (!seam || seam->jump <= most) return Beat(beats);
    least = std::min(least, seam->jump);
  }
  return refusal(
      fmt::format("an interval still jumps by {:.1f} ms where \"{}\" turns as slowly as "
                  "it can; {:.1f} ms were asked for",
                  least.count(), around->arrangement[1].name, most.count()));
}

Result<Song> withSmoothSeam(Song song, std::size_t index, Milliseconds most) {
  const Result<Beat> beats = smoothMorph(song, index, most);
  if (!beats) return beats.error();
  song.arrangement = song.sections();
  song.arrangement[index].morph = *beats;
  return song;
}

Groove linearSister(const Groove& groove, const Kit& kit) {
  // Who gives way first: what keeps time, then cymbals and ghosts; kick and accents stay.
  const auto weight = [&](const Hit& hit) {
    const std::string_view kind = kit[hit.piece].kind();
    const bool time = kind == "hat" || kind == "ride" || kind == "cowbell" || kind == "hat-foot";
    const int rank = hit.piece == piece::kKick ? 3 : time ? 0 : hit.role == Role::kAccent ? 4 : 2;
    return std::pair(rank, hit.velocity.value());
  };
  Groove out = groove;
  out.hits.clear();
  for (const Hit& hit : groove.hits) {
    if (out.hits.empty() || out.hits.back().at != hit.at) {
      out.hits.push_back(hit);
    } else if (weight(hit) > weight(out.hits.back())) {
      out.hits.back() = hit;
    }
  }
  out.linear = true;
  return out;
}

Groove shuffledSister(const Groove& groove) {
  const bool sixteenths = std::any_of(groove.hits.begin(), groove.hits.end(), [](const Hit& hit) {
    return (hit.at * Beat(4)).den() == 1 && (hit.at * Beat(2)).den() != 1;
  });
  const Beat pair = sixteenths ? Beat(1, 2) : Beat(1);
  Groove out = groove;
  const Grid straight{sixteenths ? 16 : 8, 0};
  const auto swung = [&](Beat at) {
    const Beat start = Beat(at.floorDiv(pair)) * pair;
    const Beat p = (at - start) / pair;
    const Beat half(1, 2), third(2, 3);
    return start + pair * (p <= half ? p * Beat(4, 3) : third + (p - half) * third);
  };
  for (Hit& hit : out.hits) {
    // Beats in threes are what they should be.
    const auto own = groove.beatGrids.find(Beat(hit.at.floorDiv(Beat(1))));
    if (own != groove.beatGrids.end() && own->second.tuplet == 3) continue;
    const Beat to = swung(hit.at);
    if (to.den() <= kDenominatorMax && to < groove.length()) hit.at = to;
  }
  if (groove.grid.tuplet == 0) out.grid = Grid{straight.division, 3};
  std::stable_sort(out.hits.begin(), out.hits.end(), writtenBefore);
  keepLoudest(out.hits);
  return out;
}

Groove between(const Groove& from, const Groove& to, int step, int steps) {
  if (step <= 0) return from;
  if (step >= steps) return to;
  // What differs, with the stroke that takes the place of one that leaves.
  struct Exchange {
    std::optional<Hit> leaves, enters;
    int loud() const {
      return std::max(leaves ? leaves->velocity.value() : 0, enters ? enters->velocity.value() : 0);
    }
    Beat at() const { return leaves ? leaves->at : enters->at; }
  };
  const auto has = [](const Groove& groove, const Hit& hit) {
    return std::find(groove.hits.begin(), groove.hits.end(), hit) != groove.hits.end();
  };
  std::vector<Exchange> all;
  for (const Hit& hit : from.hits) {
    if (!has(to, hit)) all.push_back({hit, std::nullopt});
  }
  const Beat near(1, 2);
  for (const Hit& hit : to.hits) {
    if (has(from, hit)) continue;
    const auto partner = std::find_if(all.begin(), all.end(), [&](const Exchange& e) {
      return e.leaves && !e.enters && e.leaves->piece == hit.piece &&
             std::max(e.leaves->at, hit.at) - std::min(e.leaves->at, hit.at) < near;
    });
    if (partner != all.end()) {
      partner->enters = hit;
    } else {
      all.push_back({std::nullopt, hit});
    }
  }
  std::stable_sort(all.begin(), all.end(), [](const Exchange& a, const Exchange& b) {
    return std::pair(a.loud(), a.at()) < std::pair(b.loud(), b.at());
  });
  const auto done = all.size() * static_cast<std::size_t>(step) / static_cast<std::size_t>(steps);
  Groove out = from;
  for (std::size_t i = 0; i < done; ++i) {
    if (all[i].leaves) std::erase(out.hits, *all[i].leaves);
    if (all[i].enters) out.hits.push_back(*all[i].enters);
  }
  std::stable_sort(out.hits.begin(), out.hits.end(), writtenBefore);
  keepLoudest(out.hits);
  out.linear = false;
  // The later half is read on the second one's grid.
  if (2 * step > steps) out.grid = to.grid;
  return out;
}

Result<Song> withTurnInto(Song song, std::size_t index, const std::string& into, int bars) {
  song.arrangement = song.sections();
  if (index >= song.arrangement.size()) return refusal("there is no such section");
  const Section before = song.arrangement[index];
  if (!before.grooves.empty())
    return refusal(fmt::format("\"{}\" plays several grooves in turn", before.name));
  const Groove* base = song.findGroove(before.groove);
  if (base == nullptr)
    return Error{ErrorCode::kUnknown, fmt::format("there is no groove \"{}\"", before.groove), {}};
  const Groove from = *base;
  Groove to;
  std::string goal;
  if (into == "linear" || into == "shuffled") {
    to = into == "linear" ? linearSister(from, *song.kit) : shuffledSister(from);
    to.name = fmt::format("{}, {}", from.name, into);
    to.origin = from.id;
    to.core.clear();
    to.walk.clear();
    goal = addGroove(song, to, from.id + "-" + into);
  } else {
    const Groove* other = song.findGroove(into);
    if (other == nullptr)
      return Error{ErrorCode::kUnknown,
                   fmt::format("there is no groove \"{}\"; linear and shuffled make one", into),
                   {}};
    if (other->meter != from.meter || other->bars != from.bars)
      return refusal(fmt::format("\"{}\" and \"{}\" are not of one length", from.id, into));
    to = *other;
    goal = into;
  }
  if (to.hits == from.hits) return refusal(fmt::format("\"{}\" is that already", from.name));
  const int passes = bars / from.bars;
  if (bars < 1 || bars % from.bars != 0 || passes > before.repeat) {
    return refusal(fmt::format("over {} bars: \"{}\" is {} bars long and plays {} of them", bars,
                               from.name, from.bars, before.repeat * from.bars));
  }
  Section turning = before;
  turning.grooves.clear();
  for (int step = 1; step <= passes; ++step) {
    Groove one = between(from, to, step, passes + 1);
    one.name = fmt::format("{}, step {} of {}", to.name, step, passes);
    one.origin = from.id;
    one.core.clear();
    one.walk.clear();
    turning.grooves.push_back(addGroove(song, std::move(one), goal + "-step"));
  }
  turning.repeat = 1;
  turning.groove = turning.grooves.front();
  if (turning.grooves.size() == 1) turning.grooves.clear();
  if (passes == before.repeat) {
    if (turning.fill) turning.fill->every = 0;
    song.arrangement[index] = std::move(turning);
    return song;
  }
  Result<Song> split = withSectionSplit(std::move(song), index, passes);
  if (!split) return split.error();
  Section& first = split->arrangement[index];
  first.groove = turning.groove;
  first.grooves = turning.grooves;
  first.repeat = 1;
  first.name = before.name + ", turning";
  if (first.fill) first.fill->every = 0;
  split->arrangement[index + 1].groove = goal;
  return split;
}

Result<Song> withPickup(Song song, std::size_t index, Beat beats) {
  song.arrangement = song.sections();
  if (index >= song.arrangement.size()) return refusal("there is no such section");
  const Section& section = song.arrangement[index];
  const Groove* base = song.findGroove(section.pass().back());
  if (base == nullptr) return Error{ErrorCode::kUnknown, "its groove is not there", {}};
  if (beats <= Beat(0) || beats > base->length()) {
    return refusal(fmt::format("\"{}\" has {} quarter notes, not {}", base->name,
                               base->length().toString(), beats.toString()));
  }
  if (index > 0) {
    Section& before = song.arrangement[index - 1];
    if (before.fill) return refusal(fmt::format("\"{}\" ends with a fill already", before.name));
    if (beats > passLength(song, before))
      return refusal(fmt::format("a pass of \"{}\" is shorter than that", before.name));
    SectionFill pickup;
    pickup.groove = base->id;
    pickup.beats = beats;
    before.fill = pickup;
    return song;
  }
  Groove bar = lastBars(*base, beats);
  const Beat from = bar.length() - beats;
  std::erase_if(bar.hits, [&](const Hit& hit) { return hit.at < from; });
  if (bar.pedal)
    std::erase_if(bar.pedal->moves, [&](const PedalMove& move) { return move.at < from; });
  bar.core.clear();
  bar.walk.clear();
  bar.origin = base->id;
  bar.name = base->name + ", pickup";
  Section pickup;
  pickup.name = "Pickup";
  pickup.feel = section.feel;
  pickup.groove = addGroove(song, std::move(bar), base->id + "-pickup");
  return withSectionAt(std::move(song), 0, std::move(pickup), TempoGoes::kAlong);
}

}  // namespace uneven
