// SPDX-License-Identifier: GPL-3.0-or-later
// Measures of variants.
#include "core/vary/measures.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>

#include "core/measure/syncopation.h"
#include "core/playing/ways.h"
#include "core/song/names.h"
#include "core/time/count.h"

namespace uneven {
namespace {

using Rows = std::map<PieceId, std::vector<Beat>>;

Rows rowsOf(const Groove& groove) {
  Rows out;
  for (const Hit& hit : groove.hits) out[hit.piece].push_back(hit.at);
  return out;
}

// A groove over and over, up to a length.
Groove repeated(const Groove& groove, Beat length) {
  Groove out = groove.withoutHits();
  for (Beat start; start < length; start += groove.length()) {
    for (const Hit& hit : groove.hits) {
      if (start + hit.at >= length) break;
      out.hits.push_back(hit);
      out.hits.back().at = start + hit.at;
    }
  }
  return out;
}

}  // namespace

double rhythmDistance(const std::vector<Beat>& a, const std::vector<Beat>& b, Beat slot) {
  const std::vector<Beat>& few = a.size() <= b.size() ? a : b;
  const std::vector<Beat>& many = a.size() <= b.size() ? b : a;
  std::vector<double> x, y;
  for (const Beat at : few) x.push_back((at / slot).toDouble());
  for (const Beat at : many) y.push_back((at / slot).toDouble());
  const std::size_t spare = y.size() - x.size();
  if (spare == 0) {
    double sum = 0;
    for (std::size_t i = 0; i < x.size(); ++i) sum += std::abs(x[i] - y[i]);
    return sum;
  }
  // cost[k]: the strokes so far are matched, and k of the others' were left out.
  std::vector<double> cost(spare + 1, 0);
  for (std::size_t i = 0; i < x.size(); ++i) {
    for (std::size_t k = 0; k <= spare; ++k) {
      const double here = cost[k] + std::abs(x[i] - y[i + k]);
      cost[k] = k == 0 ? here : std::min(here, cost[k - 1]);
    }
  }
  return *std::min_element(cost.begin(), cost.end()) + static_cast<double>(spare);
}

double grooveDistance(const Groove& core, const Groove& variant) {
  const Beat slot = core.grid.step();
  const bool same = core.length() == variant.length();
  const Rows mine = rowsOf(same ? core : repeated(core, variant.length()));
  const Rows theirs = rowsOf(variant);
  double sum = 0;
  static const std::vector<Beat> kNone;
  for (const auto& [piece, row] : mine) {
    const auto other = theirs.find(piece);
    sum += rhythmDistance(row, other == theirs.end() ? kNone : other->second, slot);
  }
  for (const auto& [piece, row] : theirs) {
    if (!mine.contains(piece)) sum += static_cast<double>(row.size());
  }
  return sum;
}

Measures Measurer::of(const Groove& variant) const {
  Measures out;
  const bool same = core_.length() == variant.length();
  const Groove whole = same ? Groove{} : repeated(core_, variant.length());
  const Groove& held = same ? core_ : whole;
  for (const auto& [ref, hit] : changesBetween(held, variant)) {
    const bool before = indexOf(held, ref).has_value();
    ++(!hit ? out.removed : before ? out.changed : out.added);
  }
  const bool sameGrid = same && variant.meter == core_.meter && variant.grid == core_.grid &&
                        variant.beatGrids == core_.beatGrids;
  const std::optional<WeighedSlots> own =
      sameGrid ? std::nullopt : std::optional<WeighedSlots>(std::in_place, variant);
  const WeighedSlots& slots = own ? *own : slots_;
  out.syncopation = syncopation(variant, {voice_}, slots);
  out.kitSyncopation = kitSyncopation(variant, slots);
  out.density = density(variant);
  out.distance = grooveDistance(core_, variant);
  return out;
}

Measures measure(const Groove& core, const Groove& variant, PieceId voice) {
  return Measurer(core, voice).of(variant);
}

Result<VariantCeiling> ceilingOf(const Song& song, const Groove& variant, const Profile& profile) {
  const Result<HandReport> report = handReport(withGroove(song, variant), variant.id, profile);
  if (!report) return report.error();
  VariantCeiling out;
  if (!report->part.thirdHand.empty()) {
    out.limit = "a third hand at once";
    return out;
  }
  out.comfortable = comfortableBpm(*report, report->ceiling.comfortable);
  out.playable = ceilingBpm(*report, report->ceiling.playable);
  if (out.playable >= kBpmMax || (!report->ceiling.hand && !report->ceiling.foot)) return out;
  const BodyStroke& s = report->ceiling.hand ? report->part.hands[*report->ceiling.hand]
                                             : report->part.feet[*report->ceiling.foot];
  const Limb limb = report->ceiling.at.limb;
  const Stroke& stroke = report->take->strokes()[s.stroke];
  out.limit = fmt::format("{}, {}, on {}", spokenName(limb), reasonText(report->ceiling.at.reason),
                          countName(stroke.at, variant.meter).text());
  return out;
}

}  // namespace uneven
