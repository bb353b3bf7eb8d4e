// SPDX-License-Identifier: GPL-3.0-or-later
// Fitting a feel.
#include "core/match/fit.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <limits>
#include <set>
#include <tuple>
#include <unordered_map>
#include <utility>

#include "core/base/number.h"
#include "core/match/numbers.h"
#include "core/perform/swing.h"

namespace uneven {
namespace {

constexpr double kStraightTo = 0.515;  // a pair's point up to here is straight
constexpr double kPointMost = 0.80;
constexpr double kOutside = 0.4;  // of a slot's length: farther strokes belong to none

// Written positions of a quarter and where the swing puts them.
class Slots {
 public:
  Slots(Grid grid, Swing swing) : grid_(grid), swing_(std::move(swing)) {
    const Beat step = grid_.step();
    const Beat cycle = step > Beat(1) ? step : Beat(1);
    for (Beat at; at < cycle; at += step) at_.push_back({at, swungAt(at)});
    length_ = cycle;
    cycle_ = cycle.toDouble();
  }
  struct At {
    Beat written;
    double swung = 0;
  };
  const std::vector<At>& cycle() const { return at_; }
  double length() const { return cycle_; }

  // The slot nearest to a position, and how long slots are there.
  struct Near {
    Beat written;
    double swung = 0, room = 0;
  };
  Near nearest(double quarters) const {
    const double whole = std::floor(quarters / length());
    const double inside = quarters - whole * length();
    const Beat base = Beat(static_cast<std::int64_t>(whole)) * length_;
    const double start = whole * length();
    std::size_t best = 0;
    double away = std::numeric_limits<double>::infinity();
    for (std::size_t i = 0; i <= at_.size(); ++i) {
      const double here = i == at_.size() ? length() : at_[i].swung;
      if (std::abs(inside - here) >= away) continue;
      away = std::abs(inside - here);
      best = i;
    }
    Near out;
    out.written = best == at_.size() ? base + length_ : base + at_[best].written;
    out.swung = start + (best == at_.size() ? length() : at_[best].swung);
    const std::size_t k = best % at_.size();
    const double before = k == 0 ? length() - at_.back().swung : at_[k].swung - at_[k - 1].swung;
    const double after = (k + 1 == at_.size() ? length() : at_[k + 1].swung) - at_[k].swung;
    out.room = inside < (best == at_.size() ? length() : at_[best].swung) ? before : after;
    return out;
  }
  // How far the nearest slot is.
  double away(double quarters) const {
    const double inside = quarters - std::floor(quarters / cycle_) * cycle_;
    double least = cycle_ - inside;
    for (const At& at : at_) least = std::min(least, std::abs(inside - at.swung));
    return least;
  }
  double swungAt(Beat inCycle) const {
    const Beat pair = swing_.unitLength() * Beat(2);
    const std::int64_t k = inCycle.floorDiv(pair);
    const double p = ((inCycle - Beat(k) * pair) / pair).toDouble();
    const double t = pointOfRatio(swing_.ratio);
    const double w = swing_.written == Written::kTriplet ? 2.0 / 3 : 0.5;
    const double bent = p <= w ? p * t / w : t + (p - w) * (1 - t) / (1 - w);
    return (static_cast<double>(k) + bent) * pair.toDouble();
  }

 private:
  Grid grid_;
  Swing swing_;
  Beat length_;
  double cycle_ = 1;
  std::vector<At> at_;
};

double ratioOfPoint(double point) {
  return point / (1 - point);
}

// How well slots suit positions: mean log likelihood, with an even part for false strokes.
double suits(const std::vector<double>& quarters, const Slots& slots, double width) {
  constexpr double kFalse = 0.06;
  double sum = 0;
  const double peak = (1 - kFalse) / (width * std::sqrt(2 * 3.14159265358979)) /
                      static_cast<double>(slots.cycle().size());
  for (const double q : quarters) {
    const double away = slots.away(q) / width;
    sum += std::log(peak * std::exp(-away * away / 2) + kFalse / slots.length());
  }
  return sum / static_cast<double>(std::max<std::size_t>(1, quarters.size()));
}

struct SwingGuess {
  Swing swing;
  double shift = 0;  // quarters by which all lies late
  double suits = -1e300;
};

// The point, and how far the line itself may be off.
SwingGuess bestPoint(const std::vector<double>& quarters, Grid grid, SwingUnit unit,
                     Written written, double width) {
  constexpr double kStep = 0.01, kShift = 0.08, kShiftStep = 0.02;
  SwingGuess best;
  const double from = written == Written::kTriplet ? 2.0 / 3 : 0.5;
  const double to = written == Written::kTriplet ? 2.0 / 3 : kPointMost;
  std::vector<double> shifted(quarters.size());
  for (double shift = -kShift; shift <= kShift + 1e-9; shift += kShiftStep) {
    for (std::size_t i = 0; i < quarters.size(); ++i) shifted[i] = quarters[i] - shift;
    for (double point = from; point <= to + 1e-9; point += kStep) {
      Swing swing;
      swing.unit = unit;
      swing.written = written;
      swing.ratio = ratioOfPoint(point);
      // What needs no shift and no swing comes first.
      const double value =
          suits(shifted, Slots(grid, swing), width) - 0.1 * std::abs(shift) - 0.05 * (point - from);
      if (value > best.suits) best = {swing, shift, value};
    }
  }
  return best;
}

class Fitter {
 public:
  Fitter(const std::vector<Onset>& onsets, const FitWanted& wanted)
      : onsets_(onsets), wanted_(wanted) {}

  std::optional<Fit> run() {
    std::optional<FoundGrid> grid = findGrid(onsets_, wanted_.where);
    if (!grid) return std::nullopt;
    fit_.grid = *std::move(grid);
    fit_.onsets = static_cast<int>(onsets_.size());
    fit_.slots = wanted_.grid;
    anchored_ = fit_.grid.asPlayed || wanted_.where.start.has_value();
    countAlone();
    chooseSwing();
    constexpr int kRounds = 5, kTurns = 3;
    constexpr double kLongest = 100'000;  // quarters
    for (int round = 0; round < kRounds; ++round) {
      place();
      if (placedCount() < 4 || highest() - lowest() > kLongest) return std::nullopt;
      takeApart(kTurns);
      const double ratio = fit_.swing.ratio, end = fit_.grid.line.secondsAt(highest());
      refineLine(round);
      refineSwing();
      // With many strokes it is there sooner.
      constexpr std::size_t kMany = 5'000;
      const bool settled = std::abs(fit_.swing.ratio - ratio) < 1e-4 &&
                           std::abs(fit_.grid.line.secondsAt(highest()) - end) < 1e-4;
      if (onsets_.size() > kMany && round > 0 && settled) break;
    }
    place();
    takeApart(2 * kTurns);
    tellPieces();
    tellTempo();
    tellDrift();
    tellConfidence();
    return std::move(fit_);
  }

 private:
  double period() const {
    const auto& points = fit_.grid.line.points();
    return (points.back().seconds - points.front().seconds) /
           (points.back().quarters - points.front().quarters);
  }

  void chooseSwing() {
    std::vector<double> quarters;
    // A sample tells it as well as all.
    constexpr std::size_t kSample = 1'200;
    const std::size_t every = onsets_.size() / kSample + 1;
    for (std::size_t i = 0; i < onsets_.size(); i += every) {
      if (onsets_[i].used) quarters.push_back(fit_.grid.line.quartersAt(onsets_[i].seconds));
    }
    const double width = std::max(0.012 / period(), 0.02);
    if (fit_.slots.tuplet == 3) {
      const SwingGuess best =
          bestPoint(quarters, fit_.slots, SwingUnit::kEighth, Written::kTriplet, width);
      fit_.swing = best.swing;
      moveLine(best.shift);
      return;
    }
    SwingGuess best =
        bestPoint(quarters, fit_.slots, SwingUnit::kEighth, Written::kStraight, width);
    if (fit_.slots.step() <= Beat(1, 4)) {
      const SwingGuess sixteenths =
          bestPoint(quarters, fit_.slots, SwingUnit::kSixteenth, Written::kStraight, width);
      if (sixteenths.suits >= best.suits) best = sixteenths;
    }
    if (!wanted_.gridGiven && fit_.slots.tuplet == 0) {
      // All partials of a triplet, not only the outer ones that swing has as well.
      const Grid triplets{8, 3};
      const SwingGuess three =
          bestPoint(quarters, triplets, SwingUnit::kEighth, Written::kTriplet, width);
      int middle = 0;
      for (const double q : quarters) {
        middle += std::abs(q - std::floor(q) - 1.0 / 3) < 0.05 ? 1 : 0;
      }
      const bool struck = middle * 12 > static_cast<int>(quarters.size());
      if (struck && three.suits > best.suits + 0.05) {
        best = three;
        fit_.slots = triplets;
      }
    }
    fit_.swing = best.swing;
    moveLine(best.shift);
    if (fit_.swing.written == Written::kStraight && pointOfRatio(fit_.swing.ratio) < kStraightTo) {
      straighten();
    }
  }
  void moveLine(double quarters) {
    if (!anchored_) fit_.grid.line = fit_.grid.line.shifted(quarters);
  }
  void straighten() {
    fit_.swing.ratio = 1;
    fit_.swing.unit = SwingUnit::kSixteenth;
  }

  void place() {
    const Slots slots(fit_.slots, fit_.swing);
    const Beat bar = fit_.grid.meter.barLength();
    fit_.placed.resize(onsets_.size());
    for (std::size_t i = 0; i < onsets_.size(); ++i) {
      const double q = fit_.grid.line.quartersAt(onsets_[i].seconds);
      const double at = q - expected(i) / 1'000 / fit_.grid.line.periodAt(q);
      const Slots::Near near = slots.nearest(at);
      Placed& p = fit_.placed[i];
      p.bar = near.written.floorDiv(bar);
      p.at = near.written - Beat(p.bar) * bar;
      p.quarters = near.swung;
      p.ms = (onsets_[i].seconds - fit_.grid.line.secondsAt(near.swung)) * 1'000;
      p.used = onsets_[i].used && std::abs(at - near.swung) < kOutside * near.room;
    }
    // Of a flam or a drag the main stroke counts: it is the loudest.
    std::unordered_map<std::int64_t, std::size_t> loudest;
    loudest.reserve(onsets_.size());
    for (std::size_t i = 0; i < onsets_.size(); ++i) {
      Placed& p = fit_.placed[i];
      if (!p.used) continue;
      const std::int64_t place = partsOf(Beat(p.bar) * bar + p.at);
      const auto [known, isNew] = loudest.emplace(place * kPieces + onsets_[i].piece.value, i);
      if (isNew) continue;
      const bool louder = onsets_[i].velocity > onsets_[known->second].velocity;
      fit_.placed[louder ? known->second : i].used = false;
      if (louder) known->second = i;
    }
  }
  // A written position in parts of a quarter, all of which are whole: quicker than fractions.
  static constexpr std::int64_t kPieces = 4'096;
  static std::int64_t partsOf(Beat at) { return at.num() * (kDenominatorMax / at.den()); }
  // What is known of a stroke's lean so far.
  double expected(std::size_t i) const {
    const auto piece = lean_.find(onsets_[i].piece);
    return piece == lean_.end() ? 0 : piece->second;
  }
  int placedCount() const {
    return static_cast<int>(std::count_if(fit_.placed.begin(), fit_.placed.end(),
                                          [](const Placed& p) { return p.used; }));
  }

  using Place = std::pair<Beat, PieceId>;

  void countAlone() {
    std::map<PieceId, int> alone, shared;
    for (const Onset& o : onsets_) {
      if (o.used) ++(o.shared ? shared : alone)[o.piece];
    }
    // A kind that others nearly always cover.
    constexpr int kEnough = 6;
    for (const auto& [piece, count] : shared) {
      if (alone[piece] < kEnough) neverAlone_.insert(piece);
    }
  }

  // Lean of pieces and slots, and the clock along the take.
  void takeApart(int turns) {
    byPlace_.clear();
    cells_.assign(onsets_.size(), nullptr);
    std::unordered_map<std::int64_t, std::vector<double>*> known;
    for (std::size_t i = 0; i < onsets_.size(); ++i) {
      const Placed& p = fit_.placed[i];
      if (!p.used) continue;
      std::vector<double>*& cell = known[partsOf(p.at) * kPieces + onsets_[i].piece.value];
      if (cell == nullptr) cell = &byPlace_[{p.at, onsets_[i].piece}];
      cells_[i] = cell;
    }
    const double first = fit_.placed.empty() ? 0 : lowest();
    const auto cells = static_cast<std::size_t>(
        std::max<std::int64_t>(3, roundToInt((highest() - first) * kPerQuarter) + 1));
    firstCell_ = first;
    clock_.assign(cells, 0);
    for (int turn = 0; turn < turns; ++turn) {
      for (auto& [place, values] : byPlace_) values.clear();
      for (std::size_t i = 0; i < onsets_.size(); ++i) {
        const Placed& p = fit_.placed[i];
        if (p.used) cells_[i]->push_back(p.ms - clockAt(p.quarters));
      }
      leanOfPieces();
      std::map<const std::vector<double>*, double> leans;
      for (const auto& [place, values] : byPlace_) leans[&values] = leanAt(place);
      // What is left is the clock's and each limb's own.
      std::vector<double> sum(cells, 0), weight(cells, 0);
      for (std::size_t i = 0; i < onsets_.size(); ++i) {
        const Placed& p = fit_.placed[i];
        if (!p.used) continue;
        const double left = p.ms - leans.find(cells_[i])->second;
        if (std::abs(left) > kFar) continue;
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
  static constexpr double kPerQuarter = 4, kClockStiff = 30, kFar = 60;
  double firstCell_ = 0;
  std::size_t cellOf(double quarters) const {
    const std::int64_t cell = roundToInt((quarters - firstCell_) * kPerQuarter);
    return static_cast<std::size_t>(std::clamp<std::int64_t>(cell, 0, std::ssize(clock_) - 1));
  }
  double clockAt(double quarters) const { return clock_[cellOf(quarters)]; }
  double lowest() const {
    double out = std::numeric_limits<double>::infinity();
    for (const Placed& p : fit_.placed) out = p.used ? std::min(out, p.quarters) : out;
    return out;
  }
  double highest() const {
    double out = -std::numeric_limits<double>::infinity();
    for (const Placed& p : fit_.placed) out = p.used ? std::max(out, p.quarters) : out;
    return out;
  }
  double leanAt(const Place& place) const {
    const auto piece = lean_.find(place.second);
    const auto slot = slotLean_.find(place);
    return (piece == lean_.end() ? 0 : piece->second) +
           (slot == slotLean_.end() ? 0 : slot->second) + offBy(place);
  }

  // The mean of what lies within three spreads of the median.
  static double sureMean(const std::vector<double>& values) {
    const double middle = medianOfReals(values);
    const double within = std::max(1.0, 3 * robustSpread(values));
    double sum = 0;
    int n = 0;
    for (const double v : values) {
      if (std::abs(v - middle) > within) continue;
      sum += v;
      ++n;
    }
    return n > 0 ? sum / n : middle;
  }

  void leanOfPieces() {
    std::map<PieceId, std::vector<std::pair<double, const std::vector<double>*>>> slots;
    slotMean_.clear();
    for (const auto& [place, values] : byPlace_) {
      const double mean = sureMean(values);
      slotMean_[place] = mean;
      slots[place.second].emplace_back(mean, &values);
    }
    lean_.clear();
    offBy_.clear();
    fit_.depths.clear();
    for (const auto& [piece, of] : slots) {
      lean_[piece] = centre(of);
      splitBySwing(piece);
    }
    slotLean_.clear();
    for (const auto& [place, mean] : slotMean_) {
      if (std::ssize(byPlace_.at(place)) < Fit::kSlotFewest) continue;
      slotLean_[place] = mean - lean_.at(place.second) - offBy(place);
    }
  }

  using Means = std::vector<std::pair<double, const std::vector<double>*>>;
  // Slots that lean by themselves do not count for the piece.
  static double centre(const Means& of) {
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

  // A voice that swings less than the others is early off the beat, and on it is not: its lean is
  // what it has on the beat.
  bool isOff(Beat at) const {
    const Beat pair = fit_.swing.unitLength() * Beat(2);
    return Beat(at.floorDiv(pair)) * pair != at;
  }
  double offBy(const Place& place) const {
    const auto found = offBy_.find(place.second);
    return found == offBy_.end() || !isOff(place.first) ? 0 : found->second;
  }
  void splitBySwing(PieceId piece) {
    const double pivot = fit_.swing.written == Written::kTriplet ? 2.0 / 3 : 0.5;
    const double moved = pointOfRatio(fit_.swing.ratio) - pivot;
    if (std::abs(moved) < 0.02) return;
    Means on, off;
    std::vector<double> onAll, offAll;
    for (const auto& [place, values] : byPlace_) {
      if (place.second != piece) continue;
      (isOff(place.first) ? off : on).emplace_back(slotMean_.at(place), &values);
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
    const double whole = -moved * fit_.swing.unitLength().toDouble() * 2 * period() * 1'000;
    constexpr double kSurely = 4, kOver = 1.25;
    if (apart > -std::max(kSurely, 3 * se) || apart < kOver * whole) return;
    lean_[piece] = onBeat;
    offBy_[piece] = apart;
    fit_.depths[piece] = std::clamp(1 - apart / whole, 0.0, 1.0);
  }

  void refineLine(int round) {
    if (fit_.grid.asPlayed) return;
    std::vector<double> x, y, weight;
    for (std::size_t i = 0; i < onsets_.size(); ++i) {
      const Placed& p = fit_.placed[i];
      if (!p.used) continue;
      const double lean = leanAt({p.at, onsets_[i].piece});
      const double left = p.ms - lean - clockAt(p.quarters);
      x.push_back(p.quarters);
      y.push_back(onsets_[i].seconds - lean / 1'000);
      weight.push_back(std::abs(left) < 20 ? 1 : 20 / std::abs(left));
    }
    Line line = lineThrough(x, y, weight);
    // How far a straight line is from the beats as they are followed.
    const std::int64_t first = roundToInt(std::floor(x.empty() ? 0 : lowest()));
    const std::int64_t last = roundToInt(std::ceil(highest()));
    const auto count = static_cast<std::size_t>(last - first + 1);
    std::vector<double> away(count, 0), weights(count, 0);
    for (std::size_t i = 0; i < x.size(); ++i) {
      const auto k = static_cast<std::size_t>(roundToInt(x[i]) - first);
      away[k] += weight[i] * (y[i] - line.at(x[i]));
      weights[k] += weight[i];
    }
    for (std::size_t k = 0; k < count; ++k) away[k] /= std::max(1e-9, weights[k]);
    constexpr double kStiff = 4, kBends = 0.030;
    const std::vector<double> bend = smoothed(away, weights, kStiff);
    double most = 0;
    for (std::size_t k = 0; k < count; ++k)
      most = weights[k] > 0 ? std::max(most, std::abs(bend[k])) : most;
    if (round == 0) fit_.grid.steady = most < kBends || wanted_.where.bpm.has_value();
    if (fit_.grid.steady) {
      if (wanted_.where.start) line.at0 = *wanted_.where.start;
      fit_.grid.line = BeatLine({{0, line.at0}, {1, line.at0 + line.slope}});
      return;
    }
    std::vector<BeatLine::Point> points;
    for (std::size_t k = 0; k < count; ++k) {
      const double q = static_cast<double>(first + static_cast<std::int64_t>(k));
      const double at = line.at(q) + bend[k];
      if (!points.empty() && at <= points.back().seconds + 1e-3) continue;
      points.push_back({q, at});
    }
    if (points.size() >= 2) fit_.grid.line = BeatLine(points);
  }

  // Where each off-note lies between its voice's notes on both sides.
  struct Pairs {
    std::vector<double> points;
    double mean = 0, se = 0;
  };
  std::map<PieceId, Pairs> pairsOf(const Swing& swing) const {
    const Beat pair = swing.unitLength() * Beat(2);
    const Beat off = swing.written == Written::kTriplet ? pair * Beat(2, 3) : swing.unitLength();
    const Beat bar = fit_.grid.meter.barLength();
    using Row = std::unordered_map<std::int64_t, std::size_t>;
    std::map<PieceId, Row> rows;
    std::map<PieceId, std::vector<std::size_t>> inOrder;
    for (std::size_t i = 0; i < onsets_.size(); ++i) {
      const Placed& p = fit_.placed[i];
      if (!p.used) continue;
      rows[onsets_[i].piece][partsOf(Beat(p.bar) * bar + p.at)] = i;
      inOrder[onsets_[i].piece].push_back(i);
    }
    std::map<PieceId, Pairs> out;
    for (const auto& [piece, row] : rows) {
      Pairs& pairs = out[piece];
      std::vector<double> onBeat;
      for (const auto& [place, mean] : slotMean_) {
        if (place.second == piece && Beat(place.first.floorDiv(pair)) * pair == place.first)
          onBeat.push_back(mean);
      }
      const double usual = medianOfReals(std::move(onBeat));
      for (const std::size_t i : inOrder[piece]) {
        const Beat inBar = fit_.placed[i].at;
        const Beat start = Beat(inBar.floorDiv(pair)) * pair;
        if (inBar - start != off || start + pair > bar) continue;
        const Beat left = Beat(fit_.placed[i].bar) * bar + inBar - off;
        const auto before = row.find(partsOf(left)), after = row.find(partsOf(left + pair));
        if (before == row.end()) continue;
        const double from = cleared(before->second, usual);
        const double here = cleared(i, std::nullopt);
        const double whole = after == row.end()
                                 ? (fit_.grid.line.secondsAt((left + pair).toDouble()) -
                                    fit_.grid.line.secondsAt(left.toDouble()))
                                 : cleared(after->second, usual) - from;
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
      pairs.se = std::sqrt(varianceOf(near) / n) * kSharedNotes;
      pairs.points = std::move(near);
    }
    return out;
  }
  static constexpr double kSharedNotes = 1.15;
  // A stroke's moment without the clock; on the beat also without what its slot leans beside the
  // `usual` of such slots, which off the beat cannot be told from the swing.
  double cleared(std::size_t i, std::optional<double> usual) const {
    const Placed& p = fit_.placed[i];
    double off = clockAt(p.quarters);
    if (usual) {
      const auto slot = slotMean_.find({p.at, onsets_[i].piece});
      if (slot != slotMean_.end()) off += slot->second - *usual;
    }
    return onsets_[i].seconds - off / 1'000;
  }

  void refineSwing() {
    const bool triplets = fit_.swing.written == Written::kTriplet;
    const std::map<PieceId, Pairs> pairs = pairsOf(fit_.swing);
    const Pairs* main = nullptr;
    for (const auto& [piece, of] : pairs) {
      if (of.points.size() < kPairsFewest) continue;
      if (main == nullptr || of.points.size() > main->points.size()) main = &of;
    }
    fit_.swingPairs = 0;
    fit_.ratioSe = 0;
    if (main == nullptr) {
      // Straight eighths have their error, too.
      if (fit_.swing.ratio == 1 && fit_.swing.unit == SwingUnit::kSixteenth) {
        fit_.swing.unit = SwingUnit::kEighth;
        const std::map<PieceId, Pairs> eighths = pairsOf(fit_.swing);
        fit_.swing.unit = SwingUnit::kSixteenth;
        for (const auto& [piece, of] : eighths) {
          if (of.points.size() < kPairsFewest) continue;
          fit_.swingPairs += static_cast<int>(of.points.size());
          const double se = 4 * of.se;
          fit_.ratioSe = fit_.ratioSe == 0 ? se : std::min(fit_.ratioSe, se);
        }
      }
      return;
    }
    // Voices that swing alike are one.
    double weight = 0, sum = 0;
    for (const auto& [piece, of] : pairs) {
      if (of.points.size() < kPairsFewest) continue;
      const double se = std::max(1e-4, of.se);
      const double apart = std::abs(of.mean - main->mean);
      if (&of != main && apart > 3 * std::hypot(se, main->se) + 0.004) continue;
      weight += 1 / (se * se);
      sum += of.mean / (se * se);
      fit_.swingPairs += static_cast<int>(of.points.size());
    }
    const double point = std::clamp(sum / weight, 0.45, 0.85);
    const double se = std::sqrt(1 / weight);
    const double held = std::max(point, 0.5);
    fit_.swing.ratio = ratioOfPoint(held);
    fit_.ratioSe = se / ((1 - held) * (1 - held));
    if (triplets) return;
    if (point < kStraightTo && point - 0.5 < std::max(0.004, 2 * se)) straighten();
  }
  static constexpr std::size_t kPairsFewest = 6;

  void tellPieces() {
    fit_.used = placedCount();
    if (fit_.used == 0) return;
    const std::map<PieceId, Pairs> pairs = pairsOf(fit_.swing);
    std::map<PieceId, std::vector<double>> left, velocities;
    std::map<Place, std::vector<double>> slotLeft, slotVelocities;
    for (std::size_t i = 0; i < onsets_.size(); ++i) {
      const Placed& p = fit_.placed[i];
      if (!p.used) continue;
      const Place place{p.at, onsets_[i].piece};
      const double rest = p.ms - leanAt(place) - clockAt(p.quarters);
      left[onsets_[i].piece].push_back(rest);
      velocities[onsets_[i].piece].push_back(onsets_[i].velocity);
      slotLeft[place].push_back(rest);
      slotVelocities[place].push_back(onsets_[i].velocity);
    }
    // What the smooth clock leaves of itself is shared by neighbours: errors are a little larger
    // than those of as many independent strokes.
    constexpr double kShared = 1.35;
    for (const auto& [piece, values] : left) {
      PieceFit& f = fit_.pieces[piece];
      f.n = static_cast<int>(values.size());
      f.ms = lean_.at(piece);
      const double n = std::max(1.0, static_cast<double>(f.n));
      f.se = f.n < 2 ? kUnknownMs : kShared * std::sqrt(varianceOf(values) / n);
      if (neverAlone_.contains(piece)) f.se = std::hypot(f.se, kSharedMs);
      f.velocity = medianOfReals(velocities[piece]);
      if (const auto of = pairs.find(piece);
          of != pairs.end() && of->second.points.size() >= kPairsFewest) {
        f.point = of->second.mean;
        f.pointSe = of->second.se;
        f.pairs = static_cast<int>(of->second.points.size());
      }
    }
    for (const auto& [place, values] : slotLeft) {
      if (std::ssize(values) < Fit::kSlotFewest) continue;
      SlotFit s;
      s.at = place.first;
      s.piece = place.second;
      s.n = static_cast<int>(values.size());
      s.ms = slotMean_.at(place) - lean_.at(place.second) - offBy(place);
      const double n = static_cast<double>(s.n);
      s.se =
          std::hypot(kShared * std::sqrt(varianceOf(values) / n), fit_.pieces.at(place.second).se);
      s.velocity = medianOfReals(slotVelocities[place]);
      fit_.leaning.push_back(s);
    }
    tellLevels(velocities);
    setReference();
  }
  // Where the snare's ghosts lie, and its backbeats.
  void tellLevels(const std::map<PieceId, std::vector<double>>& velocities) {
    const auto snares = velocities.find(piece::kSnare);
    if (snares == velocities.end()) return;
    std::vector<double> sorted = snares->second;
    std::sort(sorted.begin(), sorted.end());
    const double loud = sorted[sorted.size() * 9 / 10];
    std::map<Role, std::pair<std::vector<double>, std::vector<double>>> groups;
    for (std::size_t i = 0; i < onsets_.size(); ++i) {
      const Placed& p = fit_.placed[i];
      if (!p.used || onsets_[i].piece != piece::kSnare) continue;
      auto& [ms, velocity] = groups[roleByLoudness(onsets_[i].velocity, loud)];
      ms.push_back(p.ms - clockAt(p.quarters));
      velocity.push_back(onsets_[i].velocity);
    }
    if (groups.size() < 2 || !groups.contains(Role::kGhost)) return;
    for (const auto& [role, group] : groups) {
      const double n = static_cast<double>(group.first.size());
      if (n < Fit::kSlotFewest) continue;
      LevelFit out;
      out.piece = piece::kSnare;
      out.role = role;
      out.ms = sureMean(group.first);
      out.se = std::sqrt(varianceOf(group.first) / n);
      out.velocity = medianOfReals(group.second);
      out.n = static_cast<int>(n);
      fit_.levels.push_back(out);
    }
  }
  static constexpr double kUnknownMs = 20, kSharedMs = 4;

  void setReference() {
    fit_.against = wanted_.against.value_or(anchored_ ? LeanAgainst::kGrid : LeanAgainst::kHats);
    double zero = 0, se = 0;
    std::optional<PieceId> to;
    switch (fit_.against) {
      case LeanAgainst::kGrid:
        return;
      case LeanAgainst::kHats:
        to = piece::kHat;
        break;
      case LeanAgainst::kKick:
        to = piece::kKick;
        break;
      case LeanAgainst::kAverage: {
        double n = 0;
        for (const auto& [piece, f] : fit_.pieces) {
          zero += f.ms * f.n;
          n += f.n;
        }
        zero /= std::max(1.0, n);
        break;
      }
    }
    if (to) {
      auto found = fit_.pieces.find(*to);
      if (found == fit_.pieces.end() || found->second.n < 4) {
        found =
            std::max_element(fit_.pieces.begin(), fit_.pieces.end(),
                             [](const auto& a, const auto& b) { return a.second.n < b.second.n; });
      }
      zero = found->second.ms;
      se = found->second.se;
    }
    for (auto& [piece, f] : fit_.pieces) {
      f.ms -= zero;
      f.se = std::hypot(f.se, se);
    }
    for (LevelFit& l : fit_.levels) {
      l.ms -= zero;
      l.se = std::hypot(l.se, se);
    }
    // The line is where the reference is.
    std::vector<BeatLine::Point> points = fit_.grid.line.points();
    for (BeatLine::Point& p : points) p.seconds += zero / 1'000;
    fit_.grid.line = BeatLine(points);
    for (Placed& p : fit_.placed) p.ms -= zero;
    for (auto& [piece, lean] : lean_) lean -= zero;
  }

  void tellTempo() {
    const BeatLine& line = fit_.grid.line;
    fit_.start = line.secondsAt(0);
    const double length = std::max(1.0, highest() - lowest());
    // The mean over what was struck.
    const double seconds = line.secondsAt(highest()) - line.secondsAt(lowest());
    fit_.bpm = 60 * length / seconds;
    if (fit_.grid.steady) {
      fit_.bpm = 60 / line.periodAt(lowest());
      fit_.marks = {{Beat(0), fit_.bpm}};
    }
    if (fit_.grid.asPlayed) {
      fit_.marks.clear();
      for (const BeatLine::Point& p : line.points()) {
        const double bpm = 60 / line.periodAt(p.quarters);
        const Beat at(roundToInt(p.quarters * 960), 960);
        if (at < Beat(0) && fit_.marks.empty()) continue;
        if (!fit_.marks.empty() && std::abs(fit_.marks.back().bpm / bpm - 1) < 1e-9) continue;
        fit_.marks.push_back({fit_.marks.empty() ? Beat(0) : at, bpm});
      }
      if (fit_.marks.empty()) fit_.marks = {{Beat(0), 60 / line.periodAt(0)}};
    } else if (!fit_.grid.steady) {
      const Beat bar = fit_.grid.meter.barLength();
      for (Beat at; at.toDouble() < highest(); at += bar) {
        const double from = line.secondsAt(at.toDouble());
        const double to = line.secondsAt((at + bar).toDouble());
        fit_.marks.push_back({at, 60 * bar.toDouble() / (to - from)});
      }
    }
  }

  // How the variance of a take's residuals falls to its trend: all that a straight line takes of
  // 1/f^exponent noise, between white noise and what wanders.
  double trendShare(double exponent, double count) const {
    const double white = 1 / count, pink = 0.22, brown = 0.6;
    if (exponent <= 1) return white * std::pow(pink / white, std::max(0.0, exponent));
    return pink + (brown - pink) * std::min(1.0, exponent - 1);
  }

  void tellDrift() {
    const double length = std::max(1.0, highest() - lowest());
    // Residuals without lean, in order.
    std::map<std::pair<std::int64_t, Beat>, std::vector<std::pair<PieceId, double>>> places;
    std::vector<double> all;
    for (std::size_t i = 0; i < onsets_.size(); ++i) {
      const Placed& p = fit_.placed[i];
      if (!p.used) continue;
      const double rest = p.ms - leanAt({p.at, onsets_[i].piece});
      if (std::abs(rest) > kFar) continue;
      places[{p.bar, p.at}].emplace_back(onsets_[i].piece, rest);
      all.push_back(rest);
    }
    std::vector<double> apart;
    for (const auto& [at, of] : places) {
      for (std::size_t i = 1; i < of.size(); ++i) apart.push_back(of[i].second - of[i - 1].second);
    }
    const double total = varianceOf(all);
    double motor = 0;
    constexpr std::size_t kPairsForMotor = 12;
    if (apart.size() >= kPairsForMotor) {
      motor = varianceOf(apart) / 2;
      fit_.drift.told = true;
    } else if (const auto lag = lagOne()) {
      motor = std::max(0.0, -*lag);
      fit_.drift.told = true;
    }
    motor = std::min(motor, total);
    const double found = 1e6 * wanted_.foundWithin * wanted_.foundWithin;
    const double clock = std::max(0.0, total - motor);
    const double exponent = exponentOf(places, motor, length);
    // A straight line takes part of the clock with it, and so does each piece's mean.
    const double count = std::max(4.0, length * 2);
    const double share = trendShare(exponent, count);
    const double whole = fit_.grid.asPlayed ? clock : clock / (1 - share);
    fit_.drift.clockMs = std::sqrt(whole);
    fit_.drift.motorMs = std::sqrt(std::max(0.0, motor - found));
    if (!fit_.drift.told)
      fit_.doubts.emplace_back("clock and limbs could not be told apart: too few strokes together");
    // The tempo's error is the trend that the clock may have had.
    const double spread = length / std::sqrt(12.0);
    constexpr double kOfTrend = 0.75;  // by takes with known tempo (tests)
    const double slope =
        kOfTrend *
        std::sqrt(whole * share + motor / std::max(4.0, static_cast<double>(all.size()))) / 1'000 /
        spread;
    const double seconds = 60 / fit_.bpm;
    fit_.bpmSe = fit_.bpm * slope / seconds;
  }
  // The lag-1 autocovariance of the most regular voice's intervals, ms^2; nothing where there are
  // too few.
  std::optional<double> lagOne() const {
    std::map<PieceId, std::vector<std::pair<double, double>>> rows;
    for (std::size_t i = 0; i < onsets_.size(); ++i) {
      const Placed& p = fit_.placed[i];
      if (p.used)
        rows[onsets_[i].piece].emplace_back(p.quarters, p.ms - leanAt({p.at, onsets_[i].piece}));
    }
    std::optional<double> out;
    std::size_t most = 40;
    for (auto& [piece, row] : rows) {
      if (row.size() < most) continue;
      most = row.size();
      std::sort(row.begin(), row.end());
      std::vector<double> intervals;
      for (std::size_t i = 1; i < row.size(); ++i)
        intervals.push_back(row[i].second - row[i - 1].second);
      out = autocovariance(intervals, 1)[1];
    }
    return out;
  }

  template <typename Places>
  double exponentOf(const Places& places, double motor, double length) {
    // Means by eighths, holes filled straight.
    constexpr double kBeats = 128, kEighths = 2;
    const double first = lowest();
    const auto cells = static_cast<std::size_t>(length * kEighths) + 1;
    std::vector<double> sum(cells, 0), count(cells, 0);
    const Beat bar = fit_.grid.meter.barLength();
    for (const auto& [at, of] : places) {
      const double q = (Beat(at.first) * bar + at.second).toDouble();
      const std::int64_t cell = std::clamp<std::int64_t>(roundToInt((q - first) * kEighths), 0,
                                                         static_cast<std::int64_t>(cells) - 1);
      for (const auto& [piece, rest] : of) {
        sum[static_cast<std::size_t>(cell)] += rest;
        count[static_cast<std::size_t>(cell)] += 1;
      }
    }
    std::vector<double> series(cells, 0);
    double last = 0, strokes = 0, filled = 0;
    for (std::size_t c = 0; c < cells; ++c) {
      if (count[c] > 0) {
        last = sum[c] / count[c];
        strokes += count[c];
        filled += 1;
      }
      series[c] = last;
    }
    if (length < kBeats) {
      fit_.doubts.emplace_back(
          "the clock's colour needs 128 beats; 1 is taken, which is usual for drummers");
      return 1;
    }
    const double noise = motor / std::max(1.0, strokes / std::max(1.0, filled));
    const double mean = meanOf(series);
    for (double& s : series) s -= mean;
    // The periodogram, lowest frequencies first.
    const std::size_t m = std::min<std::size_t>(cells / 3, 400);
    std::vector<double> power(m, 0), frequency(m, 0);
    for (std::size_t k = 0; k < m; ++k) {
      const double w =
          2 * 3.14159265358979 * static_cast<double>(k + 1) / static_cast<double>(cells);
      double re = 0, im = 0;
      // Turned on from cell to cell.
      const double stepCos = std::cos(w), stepSin = std::sin(w);
      double c0 = 1, s0 = 0;
      for (std::size_t c = 0; c < cells; ++c) {
        re += series[c] * c0;
        im += series[c] * s0;
        const double next = c0 * stepCos - s0 * stepSin;
        s0 = c0 * stepSin + s0 * stepCos;
        c0 = next;
      }
      power[k] = (re * re + im * im) / static_cast<double>(cells);
      frequency[k] = 2 * std::sin(w / 2);
    }
    double best = std::numeric_limits<double>::infinity(), exponent = 1;
    std::vector<std::pair<double, double>> cost;
    for (double beta = 0; beta <= 2.0001; beta += 0.05) {
      // The scale that suits this exponent, by a few fixed-point steps.
      double scale = 1;
      for (int step = 0; step < 20; ++step) {
        double up = 0, down = 0;
        for (std::size_t k = 0; k < m; ++k) {
          const double shape = std::pow(frequency[k], -beta);
          const double model = scale * shape + noise;
          up += shape * std::max(power[k] - noise, 0.0) / (model * model);
          down += shape * shape / (model * model);
        }
        scale = std::max(1e-9, up / std::max(1e-300, down));
      }
      double sumCost = 0;
      for (std::size_t k = 0; k < m; ++k) {
        const double model = scale * std::pow(frequency[k], -beta) + noise;
        sumCost += std::log(model) + power[k] / model;
      }
      cost.emplace_back(beta, sumCost);
      if (sumCost < best) {
        best = sumCost;
        exponent = beta;
      }
    }
    // The error: where the likelihood has fallen by a half.
    double least = exponent, greatest = exponent;
    for (const auto& [beta, value] : cost) {
      if (value > best + 0.5) continue;
      least = std::min(least, beta);
      greatest = std::max(greatest, beta);
    }
    fit_.drift.exponent = exponent;
    fit_.drift.exponentSe = std::max(0.05, (greatest - least) / 2);
    return exponent;
  }

  void tellConfidence() {
    std::vector<double> quarters;
    for (std::size_t i = 0; i < onsets_.size(); ++i) {
      if (onsets_[i].used) quarters.push_back(fit_.grid.line.quartersAt(onsets_[i].seconds));
    }
    fit_.grid.gathering = gatheringOf(quarters, period(), 0.012);
    const double n = fit_.used;
    const double gathers = std::clamp((fit_.grid.gathering - 1.6) / 1.6, 0.0, 1.0);
    const double share = n / std::max(1.0, static_cast<double>(quarters.size()));
    fit_.confidence = gathers * (1 - std::exp(-n / 30)) * std::clamp((share - 0.5) / 0.4, 0.0, 1.0);
    if (!neverAlone_.empty())
      fit_.doubts.emplace_back(
          "what always sounds together with another is placed by its bands: some ms may be wrong");
    if (fit_.swingPairs == 0)
      fit_.doubts.emplace_back("no voice has notes on and off the beat: the swing is a guess");
    if (fit_.confidence < kWorthwhile) fit_.doubts.emplace_back("there is hardly a beat in it");
  }

  const std::vector<Onset>& onsets_;
  const FitWanted& wanted_;
  Fit fit_;
  bool anchored_ = false;
  std::map<PieceId, double> lean_;   // ms
  std::map<PieceId, double> offBy_;  // ms that a voice is early off the beat, as it swings less
  std::set<PieceId> neverAlone_;
  std::map<Place, double> slotLean_, slotMean_;
  std::map<Place, std::vector<double>> byPlace_;
  std::vector<std::vector<double>*> cells_;  // of byPlace_, by onset
  std::vector<double> clock_;                // ms, by sixteenths from firstCell_
};

}  // namespace

Role roleByLoudness(double velocity, double loud) {
  constexpr double kGhost = 0.5, kAccent = 0.82;
  if (velocity <= kGhost * loud) return Role::kGhost;
  return velocity >= kAccent * loud ? Role::kAccent : Role::kNormal;
}

std::optional<Fit> fit(const std::vector<Onset>& onsets, const FitWanted& wanted) {
  return Fitter(onsets, wanted).run();
}

namespace {

// "+10.6 +-0.5 ms": 95 of 100 such intervals hold the truth.
std::string withError(double value, double se, int decimals) {
  return fmt::format("{:.{}f} \u00b1 {:.{}f}", value, decimals, 1.96 * se, decimals);
}

std::string noteOf(const Fit& fit, const Kit& kit, const FeelParts& parts) {
  std::string out =
      fmt::format("measured from {} strokes at {} BPM", fit.used, withError(fit.bpm, fit.bpmSe, 2));
  if (parts.swing && fit.swingPairs > 0)
    out += fmt::format("; ratio {}", withError(fit.swing.ratio, fit.ratioSe, 2));
  for (const auto& [piece, f] : fit.pieces) {
    if (parts.lean && f.n >= 2)
      out += fmt::format("; {} {} ms", kit[piece].id, withError(f.ms, f.se, 1));
  }
  return out;
}

}  // namespace

Feel feelOf(const Fit& fit, std::string id, std::string name, const Kit& kit,
            const FeelParts& parts) {
  Feel feel;
  feel.id = std::move(id);
  feel.name = std::move(name);
  feel.note = noteOf(fit, kit, parts);
  if (parts.swing) {
    feel.swing.unit = fit.swing.unit;
    feel.swing.written = fit.swing.written;
    feel.swing.ratio = roundedTo(std::clamp(fit.swing.ratio, kRatioMin, kRatioMax), 1'000);
  }
  const double pivot = fit.swing.written == Written::kTriplet ? 2.0 / 3 : 0.5;
  const double point = pointOfRatio(fit.swing.ratio);
  for (const auto& [piece, f] : fit.pieces) {
    if (f.n < 2) continue;
    if (parts.lean)
      feel.displacement[piece] =
          Milliseconds(roundedTo(std::clamp(f.ms, -kShiftMax.count(), kShiftMax.count()), 10));
    if (!parts.swing) continue;
    // A voice that surely swings less.
    if (const auto depth = fit.depths.find(piece); depth != fit.depths.end()) {
      feel.swing.depth[piece] = roundedTo(depth->second, 100);
    } else if (f.pairs > 0 && std::abs(point - pivot) > 0.02 &&
               point - f.point > 4 * f.pointSe + 0.01) {
      feel.swing.depth[piece] =
          roundedTo(std::clamp((f.point - pivot) / (point - pivot), 0.0, 1.0), 100);
    }
  }
  for (const SlotFit& s : fit.leaning) {
    if (!parts.slots || std::abs(s.ms) < std::max(1.5, 2.5 * s.se)) continue;
    Slot slot;
    slot.at = s.at;
    slot.piece = s.piece;
    slot.shift =
        Milliseconds(roundedTo(std::clamp(s.ms, -kShiftMax.count(), kShiftMax.count()), 10));
    feel.slots.push_back(slot);
  }
  if (!parts.drift) return feel;
  if (fit.drift.clockMs >= 0.05 || fit.drift.motorMs >= 0.05) {
    Drift drift;
    drift.clock = Milliseconds(roundedTo(fit.drift.clockMs, 10));
    drift.motor = Milliseconds(roundedTo(fit.drift.motorMs, 10));
    drift.exponent = fit.drift.exponent.value_or(1);
    feel.drift = drift;
  }
  return feel;
}

}  // namespace uneven
