// SPDX-License-Identifier: GPL-3.0-or-later
// Findings about what is written in a groove: evenness, feet, lines.
#include "core/check/song_check.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>

namespace uneven {
namespace {

constexpr double kUnevenShare = 0.08;

}  // namespace

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
    if (worst <= kUnevenShare || at == nullptr) continue;
    Finding& f =
        written(FindingKind::kUnevenNotes, groove, hitOf(*at).at, {piece},
                tenth(std::min(worst, 100.0) * 100), "%",
                fmt::format("neighbouring notes on {} differ by {:.0f} % where no swing is "
                            "asked",
                            kit_[piece].name, std::min(worst, 100.0) * 100));
    const bool nudged = std::any_of(
        groove.hits.begin(), groove.hits.end(),
        [p = piece](const Hit& h) { return h.piece == p && h.nudge != Milliseconds(0); });
    if (!nudged) continue;
    f.fixText = fmt::format("take the nudges of {} off", kit_[piece].name);
    f.fix = changing([p = piece](const Hit& h) { return h.piece == p; },
                     [](Hit& h) { h.nudge = Milliseconds(0); });
  }
}

// Kicks nearer than an eighth take the feet in turn (limbs.h).
void SongCheck::checkFeet(const Groove& groove) {
  if (!kit_.setup.doublePedal) return;
  std::vector<const Hit*> group;
  const auto close = [&] {
    if (group.size() >= 3 && group.size() % 2 == 1) {
      written(FindingKind::kLeadFoot, groove, group.front()->at, {piece::kKick},
              static_cast<double>(group.size()), "strokes",
              fmt::format("{} in a row on two pedals: the other foot leads next", group.size()));
    }
    group.clear();
  };
  for (const Hit& h : groove.hits) {
    if (h.piece != piece::kKick) continue;
    if (!group.empty() && h.at - group.back()->at >= Beat(1, 2)) close();
    group.push_back(&h);
  }
  close();
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
    f.fixText = "keep the loudest";
    f.fix = [where = a.at](Groove g) {
      Velocity loudest(Velocity::kMin);
      for (const Hit& h : g.hits) {
        if (h.at == where) loudest = std::max(loudest, h.velocity);
      }
      bool kept = false;
      std::erase_if(g.hits, [&](const Hit& h) {
        if (h.at != where) return false;
        if (!kept && h.velocity == loudest) {
          kept = true;
          return false;
        }
        return true;
      });
      return g;
    };
  }
}

}  // namespace uneven
