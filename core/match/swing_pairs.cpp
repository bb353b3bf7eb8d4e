// SPDX-License-Identifier: GPL-3.0-or-later
// Off-notes between their neighbours.
#include "core/match/swing_pairs.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>

#include "core/match/numbers.h"
#include "core/match/weights.h"

namespace uneven {
namespace {

struct AtPart {
  std::int64_t at = 0;  // parts of a quarter, written
  std::size_t of = 0;   // which stroke
};

}  // namespace

std::map<PieceId, Pairs> pairsOf(const PairsAsked& asked) {
  const std::vector<Onset>& onsets = asked.onsets;
  const std::vector<Placed>& placed = asked.placed;
  const Swing& swing = asked.swing;
  const std::int64_t pair = partsOf(swing.unitLength() * Beat(2));
  const std::int64_t off = swing.written == Written::kTriplet ? pair * 2 / 3 : pair / 2;
  const std::int64_t bar = partsOf(asked.bar);
  // Where the timekeeper is covered by a drum.
  std::array<int, kPiecesMax> struck{};
  for (const Onset& o : onsets) struck[o.piece.value] += o.used ? 1 : 0;
  const auto keeper =
      static_cast<std::size_t>(std::max_element(struck.begin(), struck.end()) - struck.begin());
  std::vector<std::int64_t> covers;
  std::vector<std::vector<AtPart>> rows(kPiecesMax);
  for (std::size_t i = 0; i < onsets.size(); ++i) {
    const Placed& p = placed[i];
    if (!p.used) continue;
    const std::int64_t at = p.bar * bar + partsOf(p.at);
    if (asked.bySound) covers.push_back(at);
    if (p.timed) rows[onsets[i].piece.value].push_back({at, i});
  }
  std::sort(covers.begin(), covers.end());
  std::map<PieceId, Pairs> out;
  for (std::size_t id = 0; id < kPiecesMax; ++id) {
    std::vector<AtPart>& row = rows[id];
    if (row.empty()) continue;
    const PieceId piece{static_cast<std::uint8_t>(id)};
    const auto earlier = [](const AtPart& a, const AtPart& b) { return a.at < b.at; };
    if (!std::is_sorted(row.begin(), row.end(), earlier))
      std::stable_sort(row.begin(), row.end(), earlier);
    Pairs& pairs = out[piece];
    std::vector<double> onBeat, offBeat;
    for (const auto& [place, mean] : asked.apart.means()) {
      if (place.second != piece) continue;
      (partsOf(place.first) % pair == 0 ? onBeat : offBeat).push_back(mean);
    }
    // What is far from all others of the voice is no stroke of it: a drum's tail, say.
    const double others = medianOfReals(offBeat);
    std::vector<double> like = onBeat;
    std::erase_if(like, [&](double mean) { return std::abs(mean - others) > ear::kNoLeanMs; });
    const bool known = !like.empty();
    const double usual = medianOfReals(known ? like : onBeat);
    // A stroke's moment without the clock; on the beat also without what its slot leans beside
    // the usual of such slots, which off the beat cannot be told from the swing.
    const auto cleared = [&](const AtPart& stroke, bool onTheBeat) {
      double late = asked.apart.clockAt(placed[stroke.of].quarters).count();
      if (onTheBeat) late += asked.apart.meanAt(stroke.of).count() - usual;
      return onsets[stroke.of].seconds - late / 1'000;
    };
    const auto secondsAt = [&](std::int64_t at) {
      return asked.line.secondsAt(static_cast<double>(at) / kDenominatorMax);
    };
    for (auto stroke = row.begin(); stroke != row.end(); ++stroke) {
      const std::int64_t inBar = partsOf(placed[stroke->of].at);
      if (inBar % pair != off || inBar - off + pair > bar) continue;
      const std::int64_t left = stroke->at - off, right = left + pair;
      auto before = stroke, after = stroke;
      while (before != row.begin() && before->at > left) --before;
      while (after != row.end() && after->at < right) ++after;
      const bool hasBefore = before->at == left;
      const bool hasAfter = after != row.end() && after->at == right;
      // Where the timekeeper is covered on the beat, it is where it is on others.
      const bool covered =
          id == keeper && known && std::binary_search(covers.begin(), covers.end(), left);
      if (!hasBefore && !covered) continue;
      const double from = hasBefore ? cleared(*before, true) : secondsAt(left) + usual / 1'000;
      const double here = cleared(*stroke, false);
      const double whole =
          hasAfter ? cleared(*after, true) - from : secondsAt(right) - secondsAt(left);
      if (whole <= 0) continue;
      pairs.points.push_back((here - from) / whole);
    }
    const double middle = medianOfReals(pairs.points);
    const double spread = robustSpread(pairs.points);
    std::vector<double> near;
    for (const double v : pairs.points) {
      if (std::abs(v - middle) <= std::max(0.01, 3 * spread)) near.push_back(v);
    }
    pairs.mean = meanOf(near);
    const double n = std::max(1.0, static_cast<double>(near.size()));
    // Neighbouring pairs share a note.
    pairs.se = std::sqrt(varianceOf(near) / n) * ear::kSharedNotes;
    pairs.points = std::move(near);
  }
  return out;
}

Together togetherOf(const std::map<PieceId, Pairs>& pairs) {
  Together out;
  const Pairs* main = nullptr;
  for (const auto& [piece, of] : pairs) {
    if (of.points.size() < kPairsFewest) continue;
    if (main == nullptr || of.points.size() > main->points.size()) main = &of;
  }
  if (main == nullptr) return out;
  double weight = 0, sum = 0;
  for (const auto& [piece, of] : pairs) {
    if (of.points.size() < kPairsFewest) continue;
    const double se = std::max(1e-4, of.se);
    const double apart = std::abs(of.mean - main->mean);
    if (&of != main && apart > 3 * std::hypot(se, main->se) + 0.004) continue;
    weight += 1 / (se * se);
    sum += of.mean / (se * se);
    out.pairs += static_cast<int>(of.points.size());
  }
  out.point = std::clamp(sum / weight, 0.45, 0.85);
  out.se = std::sqrt(1 / weight);
  return out;
}

}  // namespace uneven
