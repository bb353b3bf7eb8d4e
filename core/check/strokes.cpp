// SPDX-License-Identifier: GPL-3.0-or-later
// Findings about strokes in time: unisons, neighbours, what cannot sound.
#include "core/check/song_check.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>

#include "core/check/bounds.h"
#include "core/measure/unison.h"
#include "core/perform/displacement.h"
#include "core/perform/hold.h"
#include "core/perform/ornament.h"
#include "core/song/names.h"
#include "core/voice/notes.h"

namespace uneven {
namespace {

// Displacements of a feel under which its pieces, which it lays as in `lean`, are only so far
// apart: all moved towards the one that lies nearest to the grid.
std::map<PieceId, Milliseconds> pulledTo(const Feel& feel,
                                         const std::map<PieceId, Milliseconds>& lean,
                                         Milliseconds apart) {
  const auto late = [](const auto& a, const auto& b) { return a.second < b.second; };
  const auto [first, last] = std::minmax_element(lean.begin(), lean.end(), late);
  const double share = apart / (last->second - first->second);
  const auto anchor = std::min_element(lean.begin(), lean.end(), [](const auto& a, const auto& b) {
    return std::abs(a.second.count()) < std::abs(b.second.count());
  });
  std::map<PieceId, Milliseconds> out;
  for (const auto& [piece, ms] : lean) {
    const auto now = feel.displacement.find(piece);
    const Milliseconds from = now == feel.displacement.end() ? Milliseconds(0) : now->second;
    const Milliseconds to = from + (anchor->second - ms) * (1 - share);
    // Down to tenths, so that rounding does not bring it back.
    out[piece] = Milliseconds(std::trunc(to.count() * 10) / 10);
  }
  return out;
}

}  // namespace

// Where a feel's displacement puts strokes that are written together.
std::map<PieceId, Milliseconds> SongCheck::leanOf(const Unison& u) const {
  std::map<PieceId, Milliseconds> out;
  const Score::Block& block = score_.blocks[strokes_[u.strokes.front()].block];
  if (block.morphs()) return {};
  const Feel& feel = score_.feels[block.feel];
  for (const std::size_t i : u.strokes) {
    const Stroke& s = strokes_[i];
    const Tempo tempo = score_.tempo.tempoAt(score_.blocks[s.block].start + hitOf(s).at);
    const ShiftParts parts = shiftOf(feel, hitOf(s), s.limb, s.at, shareFactor(feel, tempo));
    out[s.piece] = parts.piece + parts.limb;
  }
  return out;
}

// One finding for a feel's spread of some pieces, wherever it is heard.
bool SongCheck::tellLean(const Unison& u, const std::vector<PieceId>& pieces) {
  const std::map<PieceId, Milliseconds> lean = leanOf(u);
  if (lean.size() < 2 || lean.size() != u.strokes.size()) return false;
  const auto late = [](const auto& a, const auto& b) { return a.second < b.second; };
  const auto [first, last] = std::minmax_element(lean.begin(), lean.end(), late);
  const double apart = (last->second - first->second).count();
  // Where slots, nudges or swing by limbs do more than shade it, it is told place by place.
  if (std::abs(apart - u.plain.count()) > bound::kShade.count() || apart <= kSpreadFinding.count())
    return false;
  const Stroke& s = strokes_[u.strokes.front()];
  const Feel& feel = score_.feels[score_.blocks[s.block].feel];
  const auto key = std::pair(feel.id, pieces);
  const auto known = leans_.find(key);
  if (known != leans_.end()) {
    Finding& f = found_[known->second.finding];
    ++f.times;
    f.value = std::max(f.value, tenth(apart));
    known->second.worst = std::max(known->second.worst, u.plain.count());
    return true;
  }
  leans_[key] = {found_.size(), lean, std::max(apart, u.plain.count())};
  Finding* f =
      at(FindingKind::kUnisonSpread, s, {hitOf(s).at, pieces, -1, 0}, pieces, tenth(apart), false);
  if (f == nullptr) return true;
  f->unit = "ms";
  f->severity = apart > kSpreadError.count()        ? Severity::kError
                : apart > bound::kMeantMost.count() ? Severity::kFinding
                                                    : Severity::kNote;
  f->text =
      fmt::format("{} lays {} {:.0f} ms behind {}: meant?", feel.name.empty() ? feel.id : feel.name,
                  kit_[last->first].name, apart, kit_[first->first].name);
  return true;
}

// Pulled so far that the widest of its places, slots and all, is no finding.
void SongCheck::offerPulls() {
  for (const auto& [key, what] : leans_) {
    Finding& f = found_[what.finding];
    const Milliseconds to =
        kSpreadFinding - Milliseconds(std::max(0.0, what.worst - f.value) + 0.1);
    const auto feel = std::find_if(score_.feels.begin(), score_.feels.end(),
                                   [id = key.first](const Feel& has) { return has.id == id; });
    if (feel == score_.feels.end()) continue;
    Mend& mend =
        offer(f, MendKind::kDisplacement, fmt::format("pull to {:.0f} ms", kSpreadFinding.count()));
    mend.feel = key.first;
    mend.displacement = pulledTo(*feel, what.lean, std::max(to, Milliseconds(0)));
  }
}

void SongCheck::checkUnisons() {
  for (const Unison& u : unisons(take_.performance())) {
    if (isStopped()) return;
    const double worst = std::max(u.spread, u.plain).count();
    if (worst <= kSpreadFinding.count()) continue;
    const Stroke& s = strokes_[u.strokes.front()];
    std::set<PieceId> set;
    for (const std::size_t i : u.strokes) set.insert(strokes_[i].piece);
    const std::vector<PieceId> pieces = inKitOrder(set);
    if (tellLean(u, pieces)) continue;
    const Beat where = hitOf(s).at;
    Finding* f =
        at(FindingKind::kUnisonSpread, s, {where, pieces, 0, 0}, pieces, tenth(worst), true);
    if (f == nullptr) continue;
    f->unit = "ms";
    f->severity = worst > kSpreadError.count() ? Severity::kError : Severity::kFinding;
    f->text = fmt::format("{} are {:.0f} ms apart as written, {:.0f} at worst", names(pieces),
                          u.plain.count(), worst);
    // Drift is the body's; and nudges that suit one feel do not suit another.
    if (u.plain <= kSpreadFinding || u.plain > bound::kPulledMost || mixed_.contains(&grooveOf(s)))
      continue;
    offer(*f, MendKind::kTogether, "pull together").at = where;
  }
  offerPulls();
}

void SongCheck::checkBuzz(const Stroke& s) {
  const Hit& hit = hitOf(s);
  if (hit.ornament != Ornament::kBuzz) return;
  Milliseconds lasts(0);
  for (const std::uint32_t i : take_.ofHit(s.block, s.hit))
    lasts = std::max(lasts, toMilliseconds(strokes_[i].time - s.time));
  // The last press sounds on for as long as those before it are apart.
  const auto presses = static_cast<double>(take_.ofHit(s.block, s.hit).size());
  if (presses > 1) lasts = lasts * (presses / (presses - 1));
  if (lasts >= bound::kBuzzLeast) return;
  Finding* f = at(FindingKind::kShortBuzz, s, {hit.at, {s.piece}, 0, 0}, {s.piece},
                  tenth(lasts.count()), false);
  if (f == nullptr) return;
  f->unit = "ms";
  f->text = fmt::format("the buzz of {} lasts {:.0f} ms: too short to be heard as one",
                        kit_[s.piece].name, lasts.count());
  offer(*f, MendKind::kPlain, "play it plain", {{hit.at, s.piece}});
}

void SongCheck::checkStrokes() {
  std::map<PieceId, const Stroke*> last;
  std::map<std::pair<std::uint32_t, std::uint32_t>, Moment> reach;  // of graces, by hit
  std::map<std::pair<std::uint32_t, std::uint32_t>, int> graces;
  for (const Stroke& s : strokes_) {
    if (s.part == 0) continue;
    const auto key = std::pair(s.block, s.hit);
    if (s.role == Role::kGrace) {
      const auto [known, isNew] = reach.emplace(key, s.time);
      if (!isNew) known->second = std::min(known->second, s.time);
      ++graces[key];
    }
  }
  for (const Stroke& s : strokes_) {
    if (isStopped()) return;
    const Moment time = plain(s);
    if (s.time < Moment(0)) {
      const double early = -toMilliseconds(s.time).count();
      if (Finding* f = at(FindingKind::kBeforeStart, s, {hitOf(s).at, {s.piece}, 0, 0}, {s.piece},
                          tenth(early), true)) {
        f->unit = "ms";
        // An ornament on the first 1 is at home before it.
        const auto all = take_.ofHit(s.block, s.hit);
        const bool itself = std::any_of(all.begin(), all.end(), [&](std::uint32_t i) {
          return strokes_[i].part == 0 && strokes_[i].time < Moment(0);
        });
        if (!itself) f->severity = Severity::kNote;
        f->text = fmt::format("{} falls {:.1f} ms before the file begins: it needs a lead-in bar",
                              kit_[s.piece].name, early);
      }
    }
    if (s.part != 0) continue;
    if (const auto first = reach.find({s.block, s.hit}); first != reach.end()) {
      const Hit& hit = hitOf(s);
      const Milliseconds gap = hit.ornamentGap > Milliseconds(0) ? hit.ornamentGap : kGraceGap;
      const int count = graces[{s.block, s.hit}];
      const Milliseconds got = toMilliseconds(s.time - first->second) / count;
      if (first->second < s.time && (got < gap - Milliseconds(0.01) || got < bound::kGraceLeast)) {
        if (Finding* f = at(FindingKind::kSqueezed, s, {hit.at, {s.piece}, 0, 0}, {s.piece},
                            tenth(got.count()), false)) {
          f->unit = "ms";
          f->text = fmt::format("the {} of {} has {:.0f} ms a stroke in place of {:.0f}",
                                textOf(hit.ornament), kit_[s.piece].name, got.count(), gap.count());
          offer(*f, MendKind::kPlain, "play it plain", {{hit.at, s.piece}});
        }
      }
    }
    checkBuzz(s);
    const auto before = last.find(s.piece);
    if (before != last.end()) {
      const Milliseconds gap = toMilliseconds(time - plain(*before->second));
      const Milliseconds real = toMilliseconds(s.time - before->second->time);
      if (real == kHeldGap) {
        if (Finding* f = at(FindingKind::kHeld, s, {hitOf(s).at, {s.piece}, 0, 0}, {s.piece},
                            real.count(), false)) {
          f->unit = "ms";
          f->text = fmt::format("lean would carry {} past its neighbour: it is held beside it",
                                kit_[s.piece].name);
          offer(*f, MendKind::kNoNudges, "take their nudges off",
                {{hitOf(s).at, s.piece}, {hitOf(*before->second).at, s.piece}});
        }
      } else if (gap < bound::kTooClose) {
        if (Finding* f = at(FindingKind::kTooClose, s, {hitOf(s).at, {s.piece}, 0, 0}, {s.piece},
                            tenth(std::abs(gap.count())), false)) {
          f->unit = "ms";
          f->text = fmt::format("two strokes on {} {:.0f} ms apart sound as one",
                                kit_[s.piece].name, std::abs(gap.count()));
          offer(*f, MendKind::kLeaveOut, "leave the second out", {refOf(grooveOf(s), s.hit)});
        }
      }
    }
    last[s.piece] = &s;
  }
}

void SongCheck::checkNotes() {
  const Notes notes = voice(take_, map_);
  for (const auto& [piece, count] : notes.unmapped) {
    const auto first = std::find_if(strokes_.begin(), strokes_.end(),
                                    [p = piece](const Stroke& s) { return s.piece == p; });
    if (first == strokes_.end()) continue;
    Finding* f = at(FindingKind::kNoSound, *first, {Beat(0), {piece}, 0, 0}, {piece}, count, false);
    if (f == nullptr) continue;
    f->severity = Severity::kError;
    f->unit = "strokes";
    f->times = count;
    f->text = fmt::format("the kit map {} has no note for {}", map_.name, kit_[piece].name);
  }
}

}  // namespace uneven
