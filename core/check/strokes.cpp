// SPDX-License-Identifier: GPL-3.0-or-later
// Findings about strokes in time: unisons, neighbours, what cannot sound.
#include "core/check/song_check.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>

#include "core/measure/pull_together.h"
#include "core/measure/unison.h"
#include "core/perform/hold.h"
#include "core/perform/ornament.h"
#include "core/song/names.h"
#include "core/voice/notes.h"

namespace uneven {
namespace {

constexpr Milliseconds kTooClose{25};
constexpr Milliseconds kPulledMost{100};  // what stands farther apart is meant so

}  // namespace

void SongCheck::checkUnisons() {
  for (const Unison& u : unisons(take_.performance())) {
    const double worst = std::max(u.spread, u.plain).count();
    if (worst <= kSpreadFinding.count()) continue;
    const Stroke& s = strokes_[u.strokes.front()];
    std::set<PieceId> set;
    for (const std::size_t i : u.strokes) set.insert(strokes_[i].piece);
    const std::vector<PieceId> pieces = inKitOrder(set);
    const Beat where = hitOf(s).at;
    Finding* f =
        at(FindingKind::kUnisonSpread, s, {where, pieces, 0, 0}, pieces, tenth(worst), true);
    if (f == nullptr) continue;
    f->unit = "ms";
    f->severity = worst > kSpreadError.count() ? Severity::kError : Severity::kFinding;
    f->text = fmt::format("{} are {:.0f} ms apart as written, {:.0f} at worst", names(pieces),
                          u.plain.count(), worst);
    // Drift is the body's; and nudges that suit one feel do not suit another.
    if (u.plain <= kSpreadFinding || u.plain > kPulledMost || mixed_.contains(&grooveOf(s)))
      continue;
    f->fixText = "pull together";
    f->fix = [song = song_, where](const Groove& groove) {
      const std::string id = groove.id;
      const auto pulled = pullTogether(withGroove(*song, groove), id, {where}, {}, Milliseconds(0));
      return pulled ? pulled->groove : groove;
    };
  }
}

// Whether the groove by itself still has a stroke held there.
bool SongCheck::heldAt(const Groove& groove, Beat at, PieceId piece) const {
  const Result<SharedTake> take = Take::ofGroove(withGroove(take_.song(), groove), groove.id);
  if (!take) return true;
  const Stroke* before = nullptr;
  for (const Stroke& s : (*take)->strokes()) {
    if (s.piece != piece || s.part != 0) continue;
    const Beat here = (*take)->score().blocks[s.block].groove->hits[s.hit].at;
    if (before != nullptr && here == at && toMilliseconds(s.time - before->time) == kHeldGap) {
      return true;
    }
    before = &s;
  }
  return false;
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
    const Moment time = plain(s);
    if (s.time < Moment(0)) {
      const double early = -toMilliseconds(s.time).count();
      if (Finding* f = at(FindingKind::kBeforeStart, s, {hitOf(s).at, {s.piece}, 0, 0}, {s.piece},
                          tenth(early), true)) {
        f->unit = "ms";
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
      if (first->second < s.time && got < gap - Milliseconds(0.01)) {
        if (Finding* f = at(FindingKind::kSqueezed, s, {hit.at, {s.piece}, 0, 0}, {s.piece},
                            tenth(got.count()), false)) {
          f->unit = "ms";
          f->text = fmt::format("the {} of {} has {:.0f} ms a stroke in place of {:.0f}",
                                textOf(hit.ornament), kit_[s.piece].name, got.count(), gap.count());
          f->fixText = "play it plain";
          f->fix = changing(
              [where = hit.at, p = s.piece](const Hit& h) { return h.at == where && h.piece == p; },
              [](Hit& h) { h.ornament = Ornament::kNone; });
        }
      }
    }
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
          const Beat here = hitOf(s).at;
          const Beat there = hitOf(*before->second).at;
          const auto two = [here, there, p = s.piece](const Hit& h) {
            return h.piece == p && (h.at == here || h.at == there);
          };
          offer(*f, grooveOf(s), "take their nudges off",
                changing(two, [](Hit& h) { h.nudge = Milliseconds(0); }), [&](const Groove& after) {
                  return !mixed_.contains(&grooveOf(s)) && !heldAt(after, here, s.piece);
                });
        }
      } else if (gap < kTooClose) {
        if (Finding* f = at(FindingKind::kTooClose, s, {hitOf(s).at, {s.piece}, 0, 0}, {s.piece},
                            tenth(std::abs(gap.count())), false)) {
          f->unit = "ms";
          f->text = fmt::format("two strokes on {} {:.0f} ms apart sound as one",
                                kit_[s.piece].name, std::abs(gap.count()));
          f->fixText = "leave the second out";
          f->fix = [ref = refOf(grooveOf(s), s.hit)](Groove g) {
            return withoutHits(std::move(g), {ref});
          };
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
