// SPDX-License-Identifier: GPL-3.0-or-later
// Findings about what is written in a groove: evenness, feet, lines.
#include "core/check/song_check.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <optional>

#include "core/song/core_groove.h"
#include "core/time/count.h"

#include "core/check/bounds.h"
#include "core/measure/pivot.h"
#include "core/perform/swing.h"

namespace uneven {
// A grid of triplets under a feel that swings what is written straight: its triplets are bent.
// Where a beat alone has such a grid it is left as it is (core/perform/clock.h).
void SongCheck::checkTriplets(const Groove& groove) {
  const Swing& swing = score_.feels[score_.blocks[block_].feel].swing;
  if (groove.grid.tuplet != 3 || swing.written != Written::kStraight || !swing.swings()) return;
  const Beat bar = groove.meter.barLength();
  const SwingCurve curve(swing, bar);
  const Tempo tempo = score_.tempo.tempoAt(score_.blocks[block_].start);
  const double target = curve.target(ratioAt(swing, tempo), 1);
  for (const Hit& hit : groove.hits) {
    const Beat inBar = hit.at - Beat(hit.at.floorDiv(bar)) * bar;
    if ((inBar / curve.pair()).den() % 3 != 0) continue;
    const Beat third = curve.pair() / Beat(3), start = curve.pairStart(inBar);
    double least = 1e9, most = 0;
    for (int i = 0; i < 3; ++i) {
      const double length = (curve.swung(start + Beat(i + 1) * third, target) -
                             curve.swung(start + Beat(i) * third, target))
                                .value();
      least = std::min(least, length);
      most = std::max(most, length);
    }
    if (most / least - 1 <= bound::kUnevenShare) return;
    Finding& f = written(FindingKind::kUnevenNotes, groove, hit.at, {hit.piece},
                         tenth((most / least - 1) * 100), "%",
                         "the groove's grid is triplets, and its feel swings what is written "
                         "straight: the triplets come out uneven");
    f.severity = Severity::kNote;
    offer(f, MendKind::kInTriplets, "write the feel in triplets");
    return;
  }
}

void SongCheck::checkEvenness(const Groove& groove) {
  const Score::Block& block = score_.blocks[block_];
  const Swing& swing = score_.feels[block.feel].swing;
  if (block.morphs() || swing.linked) return;
  const bool straight = swing.written == Written::kTriplet ? swing.ratio == 2 : swing.ratio == 1;
  if (!straight) return;
  std::map<PieceId, std::vector<const Stroke*>> rows;
  for (std::uint32_t h = 0; h < groove.hits.size(); ++h) {
    for (const std::uint32_t i : take_.ofHit(static_cast<std::uint32_t>(block_), h)) {
      if (strokes_[i].part == 0) rows[strokes_[i].piece].push_back(&strokes_[i]);
    }
  }
  for (const auto& [piece, row] : rows) {
    double worst = 0;
    const Stroke* at = nullptr;
    for (std::size_t i = 2; i < row.size(); ++i) {
      const Beat one = hitOf(*row[i - 1]).at - hitOf(*row[i - 2]).at;
      const Beat two = hitOf(*row[i]).at - hitOf(*row[i - 1]).at;
      if (one != two || one > Beat(1, 2)) continue;
      const double a = toMilliseconds(plain(*row[i - 1]) - plain(*row[i - 2])).count();
      const double b = toMilliseconds(plain(*row[i]) - plain(*row[i - 1])).count();
      const double shorter = std::max(1e-3, std::min(a, b));
      const double share = std::abs(a - b) / shorter;
      if (share <= worst) continue;
      worst = share;
      at = row[i - 1];
    }
    if (worst <= bound::kUnevenShare || at == nullptr) continue;
    Finding& f =
        written(FindingKind::kUnevenNotes, groove, hitOf(*at).at, {piece},
                tenth(std::min(worst, 100.0) * 100), "%",
                fmt::format("neighbouring notes on {} differ by {:.0f} % where no swing is "
                            "asked",
                            kit_[piece].name, std::min(worst, 100.0) * 100));
    std::vector<HitRef> nudged;
    for (const Hit& h : groove.hits) {
      if (h.piece == piece && h.nudge != Milliseconds(0)) nudged.push_back({h.at, h.piece});
    }
    if (nudged.empty()) continue;
    offer(f, MendKind::kNoNudges, fmt::format("take the nudges of {} off", kit_[piece].name),
          std::move(nudged));
  }
}

// Kicks nearer than an eighth take the feet in turn (limbs.h). An odd group changes the foot that
// leads, the next odd one brings it back.
void SongCheck::checkFeet(const Groove& groove) {
  if (!kit_.setup.doublePedal) return;
  struct Group {
    Beat at;
    int strokes = 0;
  };
  std::vector<Group> odd;
  std::vector<const Hit*> group;
  const auto close = [&] {
    if (group.size() % 2 == 1) odd.push_back({group.front()->at, static_cast<int>(group.size())});
    group.clear();
  };
  for (const Hit& h : groove.hits) {
    if (h.piece != piece::kKick) continue;
    if (!group.empty() && h.at - group.back()->at >= Beat(1, 2)) close();
    group.push_back(&h);
  }
  close();
  // Single kicks are free: either foot may take them.
  std::erase_if(odd, [](const Group& g) { return g.strokes < 3; });
  for (std::size_t i = 0; i < odd.size(); ++i) {
    const auto [where, strokes] = odd[i];
    std::string then = "the other foot leads next";
    if (i % 2 == 1) {
      then = "the first foot leads again";
    } else if (i + 1 < odd.size()) {
      const Beat next = odd[i + 1].at;
      const std::int64_t bar = next.floorDiv(groove.meter.barLength());
      const std::string count =
          countName(next - Beat(bar) * groove.meter.barLength(), groove.meter).text();
      then += groove.bars > 1 ? fmt::format(", until after bar {}, {}", bar + 1, count)
                              : fmt::format(", until after {}", count);
    } else {
      then += ", and the next time round begins on it";
    }
    written(FindingKind::kLeadFoot, groove, where, {piece::kKick}, strokes, "strokes",
            fmt::format("{} in a row on two pedals: {}", strokes, then))
        .severity = Severity::kNote;
  }
}

namespace {

// A bar's hits as far as they are told apart by ear: where, what and in which role.
using BarLook = std::vector<std::tuple<Beat, PieceId, StrokeKind, Role>>;

std::vector<BarLook> looksOf(const Groove& groove) {
  std::vector<BarLook> out(static_cast<std::size_t>(groove.bars));
  const Beat length = groove.meter.barLength();
  for (const Hit& h : groove.hits) {
    const std::int64_t bar = h.at.floorDiv(length);
    out[static_cast<std::size_t>(bar)].emplace_back(h.at - Beat(bar) * length, h.piece, h.stroke,
                                                    h.role);
  }
  return out;
}

// The bar from which all comes one bar late: bars of a cycle of `period`, one twice.
std::optional<int> lateFrom(const std::vector<BarLook>& bars, int period) {
  const int count = static_cast<int>(bars.size());
  const auto cycle = [&](int bar) { return bars[static_cast<std::size_t>(bar % period)]; };
  for (int k = period + 1; k + period <= count; ++k) {
    bool fits = cycle(k - 1) != cycle(k);
    for (int i = 0; fits && i < count; ++i) {
      fits = bars[static_cast<std::size_t>(i)] == cycle(i < k ? i : i - 1);
    }
    if (fits) return k;
  }
  return std::nullopt;
}

}  // namespace

void SongCheck::checkBars(const Groove& groove) {
  const std::vector<BarLook> bars = looksOf(groove);
  for (const int period : {2, 4}) {
    const auto late = lateFrom(bars, period);
    if (!late) continue;
    const Beat length = groove.meter.barLength();
    Finding& f = written(
        FindingKind::kBarLate, groove, Beat(*late) * length, {}, groove.bars - *late, "bars",
        fmt::format("bar {} is bar {} again; from there on each of the {} comes a bar late",
                    *late + 1, *late, period));
    f.severity = Severity::kNote;
    Mend& mend = offer(f, MendKind::kBarForward, "bring the rest a bar forward");
    mend.bar = *late;
    mend.period = period;
    return;
  }
}

void SongCheck::checkCore(const Groove& groove) {
  if (groove.core.empty()) return;
  const Groove* core = take_.song().findGroove(groove.core);
  if (core == nullptr || core->length() <= Beat(0)) return;
  std::vector<Hit> lost;
  for (const Hit& h : backToCore(*core, groove).hits) {
    if (!indexOf(groove, {h.at, h.piece})) lost.push_back(h);
  }
  if (lost.empty()) return;
  std::set<PieceId> pieces;
  for (const Hit& h : lost) pieces.insert(h.piece);
  Finding& f =
      written(FindingKind::kCoreLost, groove, lost.front().at, inKitOrder(pieces),
              static_cast<double>(lost.size()), "strokes",
              fmt::format("{} of its core {} are not in this version", lost.size(), core->name));
  f.severity = Severity::kNote;
  offer(f, MendKind::kPutIn, lost.size() == 1 ? "put it back" : "put them back").strokes =
      std::move(lost);
}

void SongCheck::checkLinear(const Groove& groove) {
  for (std::size_t i = 1; i < groove.hits.size(); ++i) {
    const Hit& a = groove.hits[i - 1];
    const Hit& b = groove.hits[i];
    if (a.at != b.at || (i > 1 && groove.hits[i - 2].at == a.at)) continue;
    const auto together = std::count_if(groove.hits.begin(), groove.hits.end(),
                                        [&](const Hit& h) { return h.at == a.at; });
    std::set<PieceId> set;
    for (const Hit& h : groove.hits) {
      if (h.at == a.at) set.insert(h.piece);
    }
    const std::vector<PieceId> pieces = inKitOrder(set);
    Finding& f = written(
        FindingKind::kNotLinear, groove, a.at, pieces, static_cast<double>(together), "strokes",
        fmt::format("{} at once in a groove that is marked linear", names(pieces)));
    std::vector<HitRef> softer;
    const Hit* loudest = nullptr;
    for (const Hit& h : groove.hits) {
      if (h.at != a.at) continue;
      if (loudest == nullptr || h.velocity > loudest->velocity) loudest = &h;
    }
    for (const Hit& h : groove.hits) {
      if (h.at == a.at && &h != loudest) softer.push_back({h.at, h.piece});
    }
    offer(f, MendKind::kLeaveOut, "keep the loudest", std::move(softer));
  }
}

}  // namespace uneven
