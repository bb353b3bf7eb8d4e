// SPDX-License-Identifier: GPL-3.0-or-later
// Backfitting of leans and clock.
#include "core/match/apart.h"

#include <algorithm>
#include <cmath>
#include <optional>
#include <unordered_map>

#include "core/base/number.h"
#include "core/match/numbers.h"
#include "core/perform/swing.h"

namespace uneven {
namespace {

constexpr double kPerQuarter = 4, kClockStiff = 30;  // the clock's cells
constexpr double kNoClocks = 60;                     // ms: what is farther off tells no clock

using Means = std::vector<std::pair<double, const std::vector<double>*>>;

// Slots that lean by themselves do not count for the piece.
double centre(const Means& of) {
  std::vector<double> means;
  for (const auto& [mean, values] : of) {
    const std::size_t times = std::min<std::size_t>(values->size(), 8);
    means.insert(means.end(), times, mean);
  }
  const double middle = medianOfReals(means);
  std::vector<double> kept;
  for (const auto& [mean, values] : of) {
    const double se = robustSpread(*values) / std::sqrt(static_cast<double>(values->size()));
    const bool alone = of.size() < 3;
    if (alone || std::abs(mean - middle) <= std::max(2.0, 3 * se))
      kept.insert(kept.end(), values->begin(), values->end());
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

void Apart::take(const std::vector<Onset>& onsets, const std::vector<Placed>& placed,
                 const Swing& swing, double secondsPerQuarter, int turns) {
  swing_ = swing;
  secondsPerQuarter_ = secondsPerQuarter;
  values_.clear();
  std::vector<std::vector<double>*> valuesOf(onsets.size(), nullptr);
  std::unordered_map<std::int64_t, std::vector<double>*> known;
  for (std::size_t i = 0; i < onsets.size(); ++i) {
    const Placed& p = placed[i];
    if (!p.timed) continue;
    std::vector<double>*& cell = known[cellKey(p.at, onsets[i].piece)];
    if (cell == nullptr) cell = &values_[{p.at, onsets[i].piece}];
    valuesOf[i] = cell;
  }
  const Extent extent = extentOf(placed);
  firstCell_ = extent.first;
  const auto cells = static_cast<std::size_t>(
      std::max<std::int64_t>(3, roundToInt((extent.last - extent.first) * kPerQuarter) + 1));
  clock_.assign(cells, 0);
  for (int turn = 0; turn < turns; ++turn) {
    for (auto& [place, values] : values_) values.clear();
    for (std::size_t i = 0; i < onsets.size(); ++i) {
      const Placed& p = placed[i];
      if (p.timed) valuesOf[i]->push_back(p.ms - clockAt(p.quarters));
    }
    leanOfPieces();
    std::map<const std::vector<double>*, double> leans;
    for (const auto& [place, values] : values_) leans[&values] = at(place);
    // What is left is the clock's and each limb's own.
    std::vector<double> sum(cells, 0), weight(cells, 0);
    for (std::size_t i = 0; i < onsets.size(); ++i) {
      const Placed& p = placed[i];
      if (!p.timed) continue;
      const double left = p.ms - leans.find(valuesOf[i])->second;
      if (std::abs(left) > kNoClocks) continue;
      sum[cellOf(p.quarters)] += left;
      weight[cellOf(p.quarters)] += 1;
    }
    for (std::size_t c = 0; c < cells; ++c) sum[c] /= std::max(1.0, weight[c]);
    clock_ = smoothed(sum, weight, kClockStiff);
    // Its mean cannot be told from a lean of everything: it is left to the lean.
    const double mean = meanOf(clock_);
    for (double& c : clock_) c -= mean;
  }
}

double Apart::ofPiece(PieceId piece) const {
  return orNone(piece_, piece);
}
double Apart::ofSlot(const Place& place) const {
  const auto found = slot_.find(place);
  return found == slot_.end() ? 0 : found->second;
}
double Apart::at(const Place& place) const {
  return ofPiece(place.second) + ofSlot(place) + offBy(place);
}

std::size_t Apart::cellOf(double quarters) const {
  const std::int64_t cell = roundToInt((quarters - firstCell_) * kPerQuarter);
  return static_cast<std::size_t>(std::clamp<std::int64_t>(cell, 0, std::ssize(clock_) - 1));
}
double Apart::clockAt(double quarters) const {
  return clock_[cellOf(quarters)];
}

void Apart::setZero(double ms) {
  for (auto& [piece, lean] : piece_) lean -= ms;
}

void Apart::leanOfPieces() {
  std::map<PieceId, Means> slots;
  mean_.clear();
  for (const auto& [place, values] : values_) {
    const double mean = sureMean(values);
    mean_[place] = mean;
    slots[place.second].emplace_back(mean, &values);
  }
  piece_.clear();
  off_.clear();
  depths_.clear();
  for (const auto& [piece, of] : slots) {
    piece_[piece] = centre(of);
    splitBySwing(piece);
  }
  slot_.clear();
  for (const auto& [place, mean] : mean_) {
    if (std::ssize(values_.at(place)) < Fit::kSlotFewest) continue;
    slot_[place] = mean - piece_.at(place.second) - offBy(place);
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
  Means on, off;
  std::vector<double> onAll, offAll;
  for (const auto& [place, values] : values_) {
    if (place.second != piece) continue;
    (isOff(place.first) ? off : on).emplace_back(mean_.at(place), &values);
    std::vector<double>& all = isOff(place.first) ? offAll : onAll;
    all.insert(all.end(), values.begin(), values.end());
  }
  constexpr std::size_t kEnough = 4;
  if (onAll.size() < kEnough || offAll.size() < kEnough) return;
  const double onBeat = centre(on), apart = centre(off) - onBeat;
  const double se =
      std::hypot(robustSpread(onAll) / std::sqrt(static_cast<double>(onAll.size())),
                 robustSpread(offAll) / std::sqrt(static_cast<double>(offAll.size())));
  // No more than what not swinging at all makes of it.
  const double whole = -moved * swing_.unitLength().toDouble() * 2 * secondsPerQuarter_ * 1'000;
  constexpr double kFarBeyond = 4, kOver = 1.25;
  if (apart > -std::max(kFarBeyond, 3 * se) || apart < kOver * whole) return;
  piece_[piece] = onBeat;
  off_[piece] = apart;
  depths_[piece] = std::clamp(1 - apart / whole, 0.0, 1.0);
}

}  // namespace uneven
