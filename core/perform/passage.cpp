// SPDX-License-Identifier: GPL-3.0-or-later
// Grooves as sections play them.
#include "core/perform/passage.h"

#include <algorithm>
#include <cmath>
#include <set>

#include "core/base/number.h"
#include "core/song/limbs.h"
#include "core/song/names.h"
#include "core/song/positions.h"

namespace uneven {
namespace {

void mute(Groove& groove, const Section& section, const Kit& kit) {
  if (section.mute.empty()) return;
  std::set<Limb> limbs;
  std::set<PieceId> pieces;
  for (const std::string& word : section.mute) {
    if (const auto limb = fromText<Limb>(word)) {
      limbs.insert(*limb);
    } else if (const auto piece = kit.find(word)) {
      pieces.insert(*piece);
    }
  }
  const std::vector<Limb> by = limbsOf(groove, kit);
  std::vector<Hit> kept;
  for (std::size_t i = 0; i < groove.hits.size(); ++i) {
    const bool muted = pieces.contains(groove.hits[i].piece) || limbs.contains(by[i]);
    if (!muted) kept.push_back(groove.hits[i]);
  }
  groove.hits = std::move(kept);
  const bool foot =
      pieces.contains(piece::kHatFoot) || limbs.contains(kit.usualLimb(piece::kHatFoot));
  if (foot && groove.pedal) groove.pedal->pump.reset();
}

void swap(Groove& groove, const Section& section, const Kit& kit) {
  if (section.swap.empty()) return;
  for (Hit& hit : groove.hits) {
    const auto to = section.swap.find(kit[hit.piece].id);
    const auto piece = to == section.swap.end() ? std::nullopt : kit.find(to->second);
    if (!piece) continue;
    hit.piece = *piece;
    const auto& offered = kit[*piece].strokes;
    if (std::find(offered.begin(), offered.end(), hit.stroke) == offered.end())
      hit.stroke = StrokeKind::kNormal;
    if (*piece != piece::kHat) {
      hit.open = 0;
      hit.openFor = Beat(0);
    }
  }
  std::stable_sort(groove.hits.begin(), groove.hits.end(), writtenBefore);
  keepLoudest(groove.hits);
}

// In place of the ride hand's stroke on the first position.
void putFirst(Groove& groove, const Hit& hit, const Kit& kit) {
  std::erase_if(groove.hits, [&](const Hit& there) {
    const std::string_view kind = kit[there.piece].kind();
    return there.at == Beat(0) &&
           (there.piece == hit.piece || kind == "hat" || kind == "ride" || kind == "cowbell");
  });
  groove.hits.insert(std::upper_bound(groove.hits.begin(), groove.hits.end(), hit, writtenBefore),
                     hit);
}

void putCrash(Groove& groove, const SectionCrash& wanted, const Kit& kit) {
  const auto piece = kit.find(wanted.piece);
  if (!piece) return;
  Hit crash;
  crash.piece = *piece;
  crash.velocity = wanted.velocity;
  crash.role = Role::kAccent;
  putFirst(groove, crash, kit);
}

void putAfter(Groove& groove, FillAfter after, const Kit& kit) {
  const auto onOne = [&](PieceId piece) {
    return std::find_if(groove.hits.begin(), groove.hits.end(),
                        [&](const Hit& hit) { return hit.at == Beat(0) && hit.piece == piece; });
  };
  if (after == FillAfter::kOpenHats) {
    constexpr double kOpen = 0.6;
    const auto there = onOne(piece::kHat);
    Hit open = there == groove.hits.end() ? Hit{} : *there;
    if (there == groove.hits.end()) open.velocity = Velocity(100);
    open.piece = piece::kHat;
    open.open = kOpen;
    open.openFor = Beat(0);
    putFirst(groove, open, kit);
  }
  if (after != FillAfter::kCrash) return;
  putCrash(groove, {std::string(kit[piece::kCrash].id), Velocity(112), {}}, kit);
  if (onOne(piece::kKick) != groove.hits.end()) return;
  Hit kick;
  kick.piece = piece::kKick;
  kick.velocity = Velocity(108);
  groove.hits.insert(std::upper_bound(groove.hits.begin(), groove.hits.end(), kick, writtenBefore),
                     kick);
}

void putFill(Groove& groove, const FillSpan& span) {
  const auto inside = [&](Beat at) { return at >= span.from && at < span.to; };
  const Beat end = span.start + (span.to - span.from);
  const auto taken = [&](Beat at) { return at >= span.start && at < end; };
  const Beat by = span.from - span.start;
  std::erase_if(groove.hits, [&](const Hit& hit) { return inside(hit.at); });
  for (const Hit& hit : span.fill->hits) {
    if (!taken(hit.at)) continue;
    groove.hits.push_back(hit);
    groove.hits.back().at += by;
  }
  std::stable_sort(groove.hits.begin(), groove.hits.end(), writtenBefore);
  if (groove.pedal)
    std::erase_if(groove.pedal->moves, [&](const PedalMove& move) { return inside(move.at); });
  if (span.fill->pedal) {
    for (PedalMove move : span.fill->pedal->moves) {
      if (!taken(move.at)) continue;
      if (!groove.pedal) groove.pedal.emplace();
      move.at += by;
      putMove(*groove.pedal, move);
    }
  }
  // Slots, and with them what an ornament lasts, are the fill's.
  const Beat unit = groove.meter.countUnit();
  for (Beat beat = Beat(span.from.floorDiv(unit)) * unit; beat < span.to; beat += unit) {
    if (beat < span.from) continue;
    const auto own = span.fill->beatGrids.find(beat - by);
    const Grid grid = own == span.fill->beatGrids.end() ? span.fill->grid : own->second;
    if (grid == groove.grid) {
      groove.beatGrids.erase(beat);
    } else {
      groove.beatGrids[beat] = grid;
    }
  }
}

}  // namespace

bool changesAll(const Section& section) {
  return !section.mute.empty() || !section.swap.empty();
}

Groove passageOf(const Groove& base, const Section& section, const Kit& kit,
                 const PassChange& change) {
  Groove out = base;
  out.core.clear();  // a version that leaves out what its section does is no lesser one
  mute(out, section, kit);
  swap(out, section, kit);
  putAfter(out, change.after, kit);
  if (change.crash && section.crash) putCrash(out, *section.crash, kit);
  if (change.fill) putFill(out, *change.fill);
  return out;
}

double sectionLevel(const Section& section, double along) {
  return section.toLevelDb ? std::lerp(section.levelDb, *section.toLevelDb, along)
                           : section.levelDb;
}

Velocity atLevel(Velocity velocity, double db) {
  if (db == 0) return velocity;
  return Velocity(static_cast<int>(roundToInt(velocity.value() * std::pow(10.0, db / 40))));
}

}  // namespace uneven
