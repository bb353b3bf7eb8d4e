// SPDX-License-Identifier: GPL-3.0-or-later
// Backfitting of leans and clock.
#include "core/match/apart.h"

#include <algorithm>
#include <cmath>
#include <optional>
#include <unordered_map>

#include "core/base/number.h"
#include "core/match/numbers.h"
#include "core/match/weights.h"
#include "core/perform/swing.h"

namespace uneven {
namespace {

constexpr double kPerQuarter = 4;  // the clock's cells

// Slots that lean by themselves do not count for the piece.
template <class Cells>
double centre(const Cells& of) {
  std::vector<double> means;
  for (const auto* cell : of) {
    const std::size_t times = std::min<std::size_t>(cell->values.size(), 8);
    means.insert(means.end(), times, cell->mean);
  }
  const double middle = medianOfReals(means);
  std::vector<double> kept;
  std::size_t most = 0;
  for (const auto* cell : of) most += cell->values.size();
  kept.reserve(most);
  for (const auto* cell : of) {
    const double se = cell->spread / std::sqrt(static_cast<double>(cell->values.size()));
    const bool alone = of.size() < 3;
    if (alone || std::abs(cell->mean - middle) <= std::max(2.0, 3 * se))
      kept.insert(kept.end(), cell->values.begin(), cell->values.end());
  }
  return kept.empty() ? middle : sureMean(kept);
}

double orNone(const std::map<PieceId, double>& of, PieceId piece) {
  const auto found = of.find(piece);
  return found == of.end() ? 0 : found->second;
}

}  // namespace

Extent extentOf(const std::vector<Placed>& placed) {
  std::optional<Extent> out;
  for (const Placed& p : placed) {
    if (!p.used) continue;
    if (!out) out = Extent{p.quarters, p.quarters};
    out->first = std::min(out->first, p.quarters);
    out->last = std::max(out->last, p.quarters);
  }
  return out.value_or(Extent{});
}

std::map<PieceId, double> Apart::besideOf(PieceId reference) const {
  std::map<PieceId, std::map<Beat, double>> parts;
  std::map<PieceId, double> counts, out;
  for (const Cell& cell : cells_) {
    const auto& [at, piece] = cell.place;
    const auto count = static_cast<double>(cell.values.size());
    parts[piece][at - Beat(at.floorDiv(Beat(1)))] += count;
    counts[piece] += count;
  }
  std::map<Beat, double>& theirs = parts[reference];
  std::erase_if(theirs,
                [&](const auto& p) { return p.second < ear::kFewThere * counts[reference]; });
  for (const auto& [piece, of] : parts) {
    for (const auto& [part, count] : of)
      out[piece] += theirs.contains(part) ? 0 : count / counts[piece];
  }
  return out;
}

void Apart::take(const std::vector<Onset>& onsets, const std::vector<Placed>& placed,
                 const Swing& swing, Seconds quarter, int turns, bool further) {
  swing_ = swing;
  quarter_ = quarter;
  zero_ = Milliseconds(0);
  findCells(onsets, placed);
  const Extent extent = extentOf(placed);
  firstCell_ = extent.first;
  const auto clockCells = static_cast<std::size_t>(
      std::max<std::int64_t>(3, roundToInt((extent.last - extent.first) * kPerQuarter) + 1));
  if (!further || clock_.size() != clockCells) clock_.assign(clockCells, 0);
  struct Timed {
    std::uint32_t cell, clock;
    double ms;
  };
  std::vector<Timed> timed;
  timed.reserve(onsets.size());
  for (std::size_t i = 0; i < onsets.size(); ++i) {
    const Placed& p = placed[i];
    if (p.timed)
      timed.push_back(
          {cellOf_[i], static_cast<std::uint32_t>(clockCellAt(p.quarters)), p.late.count()});
  }
  std::vector<std::size_t> counts(cells_.size(), 0);
  for (const Timed& t : timed) ++counts[t.cell];
  for (std::size_t c = 0; c < cells_.size(); ++c) cells_[c].values.reserve(counts[c]);
  for (int turn = 0; turn < turns; ++turn) {
    for (Cell& cell : cells_) cell.values.clear();
    for (const Timed& t : timed) cells_[t.cell].values.push_back(t.ms - clock_[t.clock]);
    leanOfPieces();
    for (Cell& cell : cells_) cell.lean = at(cell.place).count();
    // What is left is the clock's and each limb's own.
    std::vector<double> sum(clockCells, 0), weight(clockCells, 0);
    for (const Timed& t : timed) {
      const double left = t.ms - cells_[t.cell].lean;
      if (std::abs(left) > ear::kNoClocksMs) continue;
      sum[t.clock] += left;
      weight[t.clock] += 1;
    }
    for (std::size_t c = 0; c < clockCells; ++c) sum[c] /= std::max(1.0, weight[c]);
    clock_ = smoothed(sum, weight, ear::kClockStiff);
    // Its mean cannot be told from a lean of everything: it is left to the lean.
    const double mean = meanOf(clock_);
    for (double& c : clock_) c -= mean;
  }
}

void Apart::findCells(const std::vector<Onset>& onsets, const std::vector<Placed>& placed) {
  cells_.clear();
  cellOf_.assign(onsets.size(), 0);
  std::unordered_map<std::int64_t, std::uint32_t> known;
  for (std::size_t i = 0; i < onsets.size(); ++i) {
    if (!placed[i].timed) continue;
    const auto next = static_cast<std::uint32_t>(cells_.size());
    const auto [cell, isNew] = known.try_emplace(cellKey(placed[i].at, onsets[i].piece), next);
    if (isNew) cells_.emplace_back().place = {placed[i].at, onsets[i].piece};
    cellOf_[i] = cell->second;
  }
}

Milliseconds Apart::ofPiece(PieceId piece) const {
  return Milliseconds(orNone(piece_, piece));
}
Milliseconds Apart::ofSlot(const Place& place) const {
  const auto found = slot_.find(place);
  return Milliseconds(found == slot_.end() ? 0 : found->second);
}
Milliseconds Apart::at(const Place& place) const {
  return ofPiece(place.second) + ofSlot(place) + Milliseconds(offBy(place));
}

std::size_t Apart::clockCellAt(double quarters) const {
  const std::int64_t cell = roundToInt((quarters - firstCell_) * kPerQuarter);
  return static_cast<std::size_t>(std::clamp<std::int64_t>(cell, 0, std::ssize(clock_) - 1));
}
Milliseconds Apart::clockAt(double quarters) const {
  return Milliseconds(clock_[clockCellAt(quarters)]);
}

void Apart::setZero(Milliseconds lean) {
  for (auto& [piece, of] : piece_) of -= lean.count();
  zero_ += lean;
}

void Apart::leanOfPieces() {
  std::map<PieceId, std::vector<const Cell*>> slots;
  mean_.clear();
  for (Cell& cell : cells_) {
    const Sure sure = sureOf(cell.values);
    cell.mean = mean_[cell.place] = sure.mean;
    cell.spread = sure.spread;
    slots[cell.place.second].push_back(&cell);
  }
  piece_.clear();
  off_.clear();
  depths_.clear();
  for (const auto& [piece, of] : slots) {
    piece_[piece] = centre(of);
    splitBySwing(piece);
  }
  slot_.clear();
  for (const Cell& cell : cells_) {
    if (std::ssize(cell.values) < Fit::kSlotFewest) continue;
    slot_[cell.place] = cell.mean - piece_.at(cell.place.second) - offBy(cell.place);
  }
}

bool Apart::isOff(Beat at) const {
  const Beat pair = swing_.unitLength() * Beat(2);
  return Beat(at.floorDiv(pair)) * pair != at;
}
double Apart::offBy(const Place& place) const {
  return isOff(place.first) ? orNone(off_, place.second) : 0;
}

// A voice that swings less than the others is early off the beat, and on it is not: its lean is
// what it has on the beat.
void Apart::splitBySwing(PieceId piece) {
  const double pivot = swing_.written == Written::kTriplet ? 2.0 / 3 : 0.5;
  const double moved = pointOfRatio(swing_.ratio) - pivot;
  if (std::abs(moved) < 0.02) return;
  std::vector<const Cell*> on, off;
  std::vector<double> onAll, offAll;
  for (const Cell& cell : cells_) {
    if (cell.place.second != piece) continue;
    const bool isOffBeat = isOff(cell.place.first);
    (isOffBeat ? off : on).push_back(&cell);
    std::vector<double>& all = isOffBeat ? offAll : onAll;
    all.insert(all.end(), cell.values.begin(), cell.values.end());
  }
  if (onAll.size() < ear::kVoiceFewest || offAll.size() < ear::kVoiceFewest) return;
  const double onBeat = centre(on), apart = centre(off) - onBeat;
  const double se =
      std::hypot(robustSpread(onAll) / std::sqrt(static_cast<double>(onAll.size())),
                 robustSpread(offAll) / std::sqrt(static_cast<double>(offAll.size())));
  // No more than what not swinging at all makes of it.
  const double whole = -moved * swing_.unitLength().toDouble() * 2 * Milliseconds(quarter_).count();
  if (apart > -std::max(ear::kBeyondMs, 3 * se) || apart < ear::kOverWhole * whole) return;
  piece_[piece] = onBeat;
  off_[piece] = apart;
  depths_[piece] = std::clamp(1 - apart / whole, 0.0, 1.0);
}

}  // namespace uneven
