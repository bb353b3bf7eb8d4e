// SPDX-License-Identifier: GPL-3.0-or-later
// Fitting a feel.
#include "core/match/fit.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <future>
#include <set>
#include <tuple>
#include <utility>

#include "core/base/number.h"
#include "core/match/apart.h"
#include "core/match/drift_fit.h"
#include "core/match/in_bar.h"
#include "core/match/line_fit.h"
#include "core/match/numbers.h"
#include "core/match/swing_guess.h"
#include "core/match/swing_pairs.h"
#include "core/match/weights.h"
#include "core/perform/swing.h"
#include "core/song/song.h"

namespace uneven {
// Before pieces were told against their reference.
class Settled {
 public:
  FoundGrid found;
  FitWanted wanted;
  Grid slots;
  Swing swing;
  FoundGrid grid;  // refined
  Apart apart;
};

namespace {

class Fitter {
 public:
  Fitter(const std::vector<Onset>& onsets, const FitWanted& wanted, KeptFit* kept,
         const std::stop_token& stop)
      : onsets_(onsets), wanted_(wanted), kept_(kept), stop_(stop) {}

  std::optional<Fit> run() {
    std::optional<FoundGrid> grid =
        findGrid(onsets_, wanted_.where, kept_ != nullptr ? &kept_->grid : nullptr, stop_);
    if (!grid) return std::nullopt;
    fit_.grid = *std::move(grid);
    fit_.onsets = static_cast<int>(onsets_.size());
    fit_.slots = wanted_.grid;
    anchored_ = fit_.grid.asPlayed || wanted_.where.start.has_value();
    countAlone();
    const FoundGrid found = fit_.grid;
    const bool further = goOn();
    if (!further) chooseSwing();
    constexpr int kRounds = 5, kTurns = 3;
    constexpr double kLongest = 100'000;  // quarters
    bool isThere = false;
    for (int round = further ? 1 : 0; round < kRounds && !isThere; ++round) {
      if (stop_.stop_requested() || !placeable()) return std::nullopt;
      place();
      if (placedCount() < 4 || highest() - lowest() > kLongest) return std::nullopt;
      takeApart(further ? 1 : kTurns, further);
      const Swing swing = fit_.swing;
      const BeatLine line = fit_.grid.line;
      // Both go by the line as it is, against which leans are known.
      std::future<LineFound> straighter = std::async(aside(), [this] {
        return fit_.grid.asPlayed ? LineFound{}
                                  : lineThroughAll(onsets_, fit_.placed, apart_, extent_);
      });
      refineSwing();
      refineLine(straighter.get(), round);
      // With many strokes it is there sooner.
      constexpr double kSettled = 1e-4;
      const double moved = fit_.grid.line.secondsAt(highest()) - line.secondsAt(highest());
      const bool settled = std::abs(fit_.swing.ratio - swing.ratio) < kSettled &&
                           fit_.swing.unit == swing.unit && std::abs(moved) < kSettled;
      if (further && settled) {
        fit_.swing = swing;
        fit_.grid.line = line;
        isThere = true;
      }
      if (onsets_.size() > kMany && round > 0 && settled) break;
    }
    if (stop_.stop_requested()) return std::nullopt;
    const Swing was = fit_.swing;
    doubtSwing();
    if (!isThere || fit_.swing != was) {
      if (!placeable()) return std::nullopt;
      place();
      takeApart(2 * kTurns, further);
      pairs_ = pairsOf(fit_.swing);
    }
    if (stop_.stop_requested()) return std::nullopt;
    // From here on it is told whole: what is stopped keeps nothing of it.
    if (kept_ != nullptr) {
      kept_->settled = std::make_shared<Settled>(
          Settled{found, wanted_, fit_.slots, fit_.swing, fit_.grid, apart_});
    }
    tellBpm();
    // Half of what is left to be told is the drift.
    std::future<DriftTold> drift = std::async(aside(), [this] { return driftOf(driftAsked()); });
    tellPieces();
    const double gathering = gatheringOfAll();
    tellDrift(drift.get());
    if (fit_.used > 0) setReference();
    tellTempo();
    tellBody();
    tellConfidence(gathering);
    return std::move(fit_);
  }

 private:
  static constexpr std::size_t kMany = 5'000;  // strokes
  // Where there are many, two questions at once.
  std::launch aside() const {
    return onsets_.size() > kMany ? std::launch::async : std::launch::deferred;
  }

  double period() const {
    const auto& points = fit_.grid.line.points();
    return (points.back().seconds - points.front().seconds) /
           (points.back().quarters - points.front().quarters);
  }

  // From what was settled before, where it was about the same beats; false: from the beginning.
  bool goOn() {
    const Settled* before = kept_ != nullptr ? kept_->settled.get() : nullptr;
    if (before == nullptr) return false;
    const FoundGrid &was = before->found, &now = fit_.grid;
    const FitWanted& asked = before->wanted;
    if (was.meter != now.meter || was.swing != now.swing || was.triplets != now.triplets ||
        was.asPlayed != now.asPlayed || asked.grid != wanted_.grid ||
        asked.gridGiven != wanted_.gridGiven || asked.where.steady != wanted_.where.steady ||
        asked.where.start.has_value() != wanted_.where.start.has_value())
      return false;
    const std::optional<double> shift = was.line.shiftTo(now.line);
    // Other slots are others' leans.
    constexpr double kWhole = 1e-6;
    if (!shift || std::abs(*shift - roundedTo(*shift, 1)) > kWhole) return false;
    fit_.slots = before->slots;
    fit_.swing = before->swing;
    fit_.grid.steady = before->grid.steady;
    fit_.grid.line = before->grid.line.shifted(*shift);
    apart_ = before->apart;
    return true;
  }

  void chooseSwing() {
    if (wanted_.gridGiven && (fit_.slots.tuplet == 3) != fit_.grid.triplets) {
      // Slots that are asked for, whatever suits better.
      std::vector<double> quarters;
      constexpr std::size_t kSample = 1'200;
      const std::size_t every = onsets_.size() / kSample + 1;
      for (std::size_t i = 0; i < onsets_.size(); i += every) {
        if (onsets_[i].used) quarters.push_back(fit_.grid.line.quartersAt(onsets_[i].seconds));
      }
      const bool three = fit_.slots.tuplet == 3;
      const SwingGuess best = bestPoint(quarters, fit_.slots, SwingUnit::kEighth,
                                        three ? Written::kTriplet : Written::kStraight,
                                        std::max(0.012 / period(), 0.02));
      fit_.swing = best.swing;
      moveLine(best.shift);
    } else {
      if (fit_.grid.triplets && !wanted_.gridGiven) fit_.slots = Grid{8, 3};
      fit_.swing = fit_.grid.swing;
    }
    if (fit_.swing.written == Written::kStraight &&
        pointOfRatio(fit_.swing.ratio) < ear::kStraightTo) {
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

  // Where each stroke lies against its piece's lean, in quarters. A line that a few strokes in no
  // order have bent until it has no slope has no places: false.
  bool placeable() {
    std::array<double, kPiecesMax> lean{};
    for (std::size_t id = 0; id < kPiecesMax; ++id)
      lean[id] = Seconds(apart_.ofPiece(PieceId{static_cast<std::uint8_t>(id)})).count();
    leaned_.clear();
    for (const Onset& onset : onsets_) {
      const double q = fit_.grid.line.quartersAt(onset.seconds);
      leaned_.push_back(q - lean[onset.piece.value] / fit_.grid.line.periodAt(q));
    }
    constexpr double kFarthest = 1e9;
    return std::all_of(leaned_.begin(), leaned_.end(),
                       [](double at) { return std::abs(at) < kFarthest; });
  }

  void place() {
    const SwungSlots slots(fit_.slots, fit_.swing);
    const InBar inBar(slots, fit_.grid.meter.barLength());
    fit_.placed.resize(onsets_.size());
    // Of a flam or a drag the main stroke counts: it is the loudest.
    struct Last {
      const Placed* slot = nullptr;
      std::size_t loudest = 0;
    };
    std::array<Last, kPiecesMax> last{};
    for (std::size_t i = 0; i < onsets_.size(); ++i) {
      const Onset& onset = onsets_[i];
      const double at = leaned_[i];
      const SwungSlots::Near near = slots.nearest(at);
      Placed& p = fit_.placed[i];
      inBar.put(near, p);
      p.quarters = near.swung;
      p.late = Seconds(onset.seconds - fit_.grid.line.secondsAt(near.swung));
      p.used = onset.used && std::abs(at - near.swung) < ear::kOutside * near.room;
      const bool covered = onset.shared && !neverAlone_.contains(onset.piece);
      p.timed = p.used && !covered;
      if (!p.used) continue;
      Last& before = last[onset.piece.value];
      const bool same =
          before.slot != nullptr && before.slot->bar == p.bar && before.slot->at == p.at;
      const bool louder = !same || onset.velocity > onsets_[before.loudest].velocity;
      if (same) {
        Placed& grace = fit_.placed[louder ? before.loudest : i];
        grace.used = grace.timed = false;
      }
      before.slot = &p;
      if (louder) before.loudest = i;
    }
    extent_ = extentOf(fit_.placed);
  }
  int placedCount() const {
    return static_cast<int>(std::count_if(fit_.placed.begin(), fit_.placed.end(),
                                          [](const Placed& p) { return p.used; }));
  }

  void countAlone() {
    std::array<int, kPiecesMax> alone{}, shared{};
    for (const Onset& o : onsets_) {
      if (o.used) ++(o.shared ? shared : alone)[o.piece.value];
    }
    // A kind that others nearly always cover.
    for (std::size_t piece = 0; piece < kPiecesMax; ++piece) {
      if (shared[piece] > 0 && alone[piece] < ear::kAloneFewest)
        neverAlone_.insert(PieceId{static_cast<std::uint8_t>(piece)});
    }
  }

  void takeApart(int turns, bool further) {
    apart_.take(onsets_, fit_.placed, fit_.swing, Seconds(period()), turns, further);
    fit_.depths = apart_.depths();
  }
  double lowest() const { return extent_.first; }
  double highest() const { return extent_.last; }

  void refineLine(LineFound found, int round) {
    if (fit_.grid.asPlayed) return;
    if (round == 0) fit_.grid.steady = found.straight || wanted_.where.steady;
    if (!fit_.grid.steady) {
      if (found.bends.size() >= 2) fit_.grid.line = BeatLine(found.bends);
      return;
    }
    if (wanted_.where.start) found.line.at0 = wanted_.where.start->count();
    fit_.grid.line = BeatLine({{0, found.line.at0}, {1, found.line.at0 + found.line.slope}});
  }

  std::map<PieceId, Pairs> pairsOf(const Swing& swing) const {
    return uneven::pairsOf({onsets_, fit_.placed, apart_, fit_.grid.line,
                            fit_.grid.meter.barLength(), swing, wanted_.foundWithin > Seconds(0)});
  }
  void setSwing(const Together& by) {
    fit_.swing.ratio = ratioOfPoint(std::max(by.point, 0.5));
    fit_.swingPairs = by.pairs;
    fit_.ratioSe = by.ratioSe();
  }

  void refineSwing() {
    pairs_ = pairsOf(fit_.swing);
    const Together now = togetherOf(pairs_);
    const bool isStraight = fit_.swing.ratio == 1 && fit_.swing.unit == SwingUnit::kSixteenth;
    if (now.pairs == 0 && isStraight) return refineEighths();
    fit_.swingPairs = 0;
    fit_.ratioSe = 0;
    if (now.pairs == 0) return;
    setSwing(now);
    if (fit_.swing.written == Written::kTriplet) return;
    // What is read as straight by all its strokes does not swing by a few.
    const double swings = now.point - 0.5;
    if (fit_.grid.swing.ratio == 1 &&
        swings < std::max(ear::kSwingsPlainly, ear::kSwingsSurely * now.se))
      return straighten();
    if (now.point < ear::kStraightTo && swings < std::max(0.004, 2 * now.se)) straighten();
  }
  // Nothing between eighths: they may swing a little all the same, and being straight has its
  // error.
  void refineEighths() {
    fit_.swing.unit = SwingUnit::kEighth;
    std::map<PieceId, Pairs> pairs = pairsOf(fit_.swing);
    const Together now = togetherOf(pairs);
    setSwing(now);
    constexpr double kSurely = 5;
    if (now.pairs >= ear::kEighthsFewest && !wanted_.where.swing &&
        now.point - 0.5 > std::max(ear::kEighthsPlainly, kSurely * now.se)) {
      pairs_ = std::move(pairs);
    } else {
      straighten();
    }
  }

  // In sound some strokes are none: a few between eighths that lie anywhere are read as sixteenths
  // that swing. The chance that they do, by their share and by how far they are apart: a logistic
  // curve through 1,300 takes of sampled kits (bench/ear --sound, seeds 2,000 on).
  void doubtSwing() {
    if (wanted_.foundWithin <= Seconds(0) || wanted_.where.swing || fit_.swing.ratio <= 1 ||
        fit_.swing.unit != SwingUnit::kSixteenth || fit_.swing.written != Written::kStraight)
      return;
    const double share = std::max(1, fit_.swingPairs) / std::max(1.0, 1.0 * placedCount());
    const double spread = std::max(1e-3, fit_.ratioSe / fit_.swing.ratio);
    const double chance = 1 / (1 + std::exp(-ear::kFewAtOne - ear::kFewByShare * std::log(share) -
                                            ear::kFewBySpread * std::log(spread)));
    fit_.grid.sure *= std::max(chance, 1 - chance);
    if (chance < ear::kRatherNot) straighten();
    if (std::max(chance, 1 - chance) < ear::kHardlyKnown)
      fit_.doubts.emplace_back("few strokes lie between eighths: whether they swing is a guess");
  }

  void tellPieces() {
    fit_.used = placedCount();
    if (fit_.used == 0) return;
    struct Values {
      std::vector<double> left, velocities;
    };
    std::vector<Values> pieces(kPiecesMax), slots(apart_.cells());
    for (std::size_t i = 0; i < onsets_.size(); ++i) {
      const Placed& p = fit_.placed[i];
      if (!p.used) continue;
      Values& of = pieces[onsets_[i].piece.value];
      of.velocities.push_back(onsets_[i].velocity);
      if (!p.timed) continue;
      const double rest = (p.late - apart_.leanAt(i) - apart_.clockAt(p.quarters)).count();
      of.left.push_back(rest);
      Values& slot = slots[apart_.cellOf(i)];
      slot.left.push_back(rest);
      slot.velocities.push_back(onsets_[i].velocity);
    }
    // What the smooth clock leaves of itself is shared by neighbours: errors are a little larger
    // than those of as many independent strokes.
    for (std::size_t id = 0; id < kPiecesMax; ++id) {
      const auto& [values, velocities] = pieces[id];
      if (values.empty()) continue;
      const PieceId piece{static_cast<std::uint8_t>(id)};
      PieceFit& f = fit_.pieces[piece];
      f.n = static_cast<int>(velocities.size());
      f.lean = apart_.ofPiece(piece);
      const double n = std::max(1.0, static_cast<double>(values.size()));
      double se = values.size() < 2 ? ear::kUnknownMs
                                    : ear::kSharedClock * std::sqrt(varianceOf(values) / n);
      if (neverAlone_.contains(piece)) se = std::hypot(se, ear::kCoveredMs);
      // In sound each kind is found by bands of its own, a little earlier or later than it begins
      // and the more so the more lies over it: measured on sampled kits (bench/ear --sound).
      if (wanted_.foundWithin > Seconds(0))
        se = std::hypot(se, ear::kByBandsMs, ear::kOfSpread * robustSpread(values));
      f.se = Milliseconds(se);
      f.velocity = medianOfReals(velocities);
      if (const auto of = pairs_.find(piece);
          of != pairs_.end() && of->second.points.size() >= kPairsFewest) {
        f.point = of->second.mean;
        f.pointSe = of->second.se;
        f.pairs = static_cast<int>(of->second.points.size());
      }
    }
    for (std::size_t cell = 0; cell < slots.size(); ++cell) {
      const Values& of = slots[cell];
      if (std::ssize(of.left) < Fit::kSlotFewest) continue;
      SlotFit s;
      std::tie(s.at, s.piece) = apart_.placeOf(cell);
      s.n = static_cast<int>(of.left.size());
      s.lean = apart_.ofSlot(apart_.placeOf(cell));
      const double n = static_cast<double>(s.n);
      s.se = jointError(Milliseconds(ear::kSharedClock * std::sqrt(varianceOf(of.left) / n)),
                        fit_.pieces.at(s.piece).se);
      s.velocity = medianOfReals(of.velocities);
      fit_.leaning.push_back(s);
    }
    std::sort(fit_.leaning.begin(), fit_.leaning.end(), [](const SlotFit& a, const SlotFit& b) {
      return std::tie(a.at, a.piece) < std::tie(b.at, b.piece);
    });
    tellLevels(pieces[piece::kSnare.value].velocities);
  }
  // Where the snare's ghosts lie, and its backbeats.
  void tellLevels(std::vector<double> velocities) {
    if (velocities.empty()) return;
    const auto loudest =
        velocities.begin() + static_cast<std::ptrdiff_t>(velocities.size() * 9 / 10);
    std::nth_element(velocities.begin(), loudest, velocities.end());
    const double loud = *loudest;
    std::map<Role, std::pair<std::vector<double>, std::vector<double>>> groups;
    for (std::size_t i = 0; i < onsets_.size(); ++i) {
      const Placed& p = fit_.placed[i];
      if (!p.timed || onsets_[i].piece != piece::kSnare) continue;
      auto& [ms, velocity] = groups[roleByLoudness(onsets_[i].velocity, loud)];
      ms.push_back((p.late - apart_.clockAt(p.quarters)).count());
      velocity.push_back(onsets_[i].velocity);
    }
    if (groups.size() < 2 || !groups.contains(Role::kGhost)) return;
    for (const auto& [role, group] : groups) {
      const double n = static_cast<double>(group.first.size());
      if (n < Fit::kSlotFewest) continue;
      LevelFit out;
      out.piece = piece::kSnare;
      out.role = role;
      out.lean = Milliseconds(sureMean(group.first));
      out.se = Milliseconds(std::sqrt(varianceOf(group.first) / n));
      out.velocity = medianOfReals(group.second);
      out.n = static_cast<int>(n);
      fit_.levels.push_back(out);
    }
  }

  void setReference() {
    fit_.against = wanted_.against.value_or(anchored_ ? LeanAgainst::kGrid : LeanAgainst::kHats);
    Milliseconds zero{0}, se{0};
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
          zero += f.lean * f.n;
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
      zero = found->second.lean;
      se = found->second.se;
      // By takes whose hats are on the beat alone or off it alone (bench/ear).
      for (const auto& [piece, share] : apart_.besideOf(found->first)) {
        PieceFit& f = fit_.pieces.at(piece);
        f.se = jointError(f.se,
                          share * (fit_.swingPairs > 0 ? ear::kBesideKnown : ear::kBesideUnknown));
      }
    }
    for (auto& [piece, f] : fit_.pieces) {
      f.lean -= zero;
      f.se = jointError(f.se, se);
    }
    for (LevelFit& l : fit_.levels) {
      l.lean -= zero;
      l.se = jointError(l.se, se);
    }
    // The line is where the reference is.
    std::vector<BeatLine::Point> points = fit_.grid.line.points();
    for (BeatLine::Point& p : points) p.seconds += Seconds(zero).count();
    fit_.grid.line = BeatLine(points);
    for (Placed& p : fit_.placed) p.late -= zero;
    apart_.setZero(zero);
  }

  void tellBpm() {
    const BeatLine& line = fit_.grid.line;
    const double length = std::max(1.0, highest() - lowest());
    // The mean over what was struck.
    const double seconds = line.secondsAt(highest()) - line.secondsAt(lowest());
    fit_.bpm = Bpm{fit_.grid.steady ? 60 / line.periodAt(lowest()) : 60 * length / seconds};
  }
  void tellTempo() {
    const BeatLine& line = fit_.grid.line;
    fit_.start = Seconds(line.secondsAt(0));
    if (fit_.grid.steady) fit_.marks = {{Beat(0), fit_.bpm}};
    if (fit_.grid.asPlayed) {
      fit_.marks.clear();
      for (const BeatLine::Point& p : line.points()) {
        const Bpm bpm{60 / line.periodAt(p.quarters)};
        const Beat at(roundToInt(p.quarters * 960), 960);
        if (at < Beat(0) && fit_.marks.empty()) continue;
        if (!fit_.marks.empty() && std::abs(fit_.marks.back().bpm / bpm - 1) < 1e-9) continue;
        fit_.marks.push_back({fit_.marks.empty() ? Beat(0) : at, bpm});
      }
      if (fit_.marks.empty()) fit_.marks = {{Beat(0), Bpm{60 / line.periodAt(0)}}};
    } else if (!fit_.grid.steady) {
      const Beat bar = fit_.grid.meter.barLength();
      for (Beat at; at.toDouble() < highest(); at += bar) {
        const double from = line.secondsAt(at.toDouble());
        const double to = line.secondsAt((at + bar).toDouble());
        fit_.marks.push_back({at, Bpm{60 * bar.toDouble() / (to - from)}});
      }
    }
  }

  DriftAsked driftAsked() const {
    DriftAsked asked;
    asked.first = lowest();
    asked.length = std::max(1.0, highest() - lowest());
    asked.bpm = fit_.bpm;
    asked.asPlayed = fit_.grid.asPlayed;
    asked.foundWithin = wanted_.foundWithin;
    const std::int64_t bar = partsOf(fit_.grid.meter.barLength());
    asked.rests.reserve(onsets_.size());
    for (std::size_t i = 0; i < onsets_.size(); ++i) {
      const Placed& p = fit_.placed[i];
      if (!p.timed) continue;
      const std::int64_t at = p.bar * bar + partsOf(p.at);
      asked.rests.push_back({at, p.late - apart_.leanAt(i), onsets_[i].piece});
    }
    return asked;
  }
  void tellDrift(const DriftTold& told) {
    fit_.drift = told.drift;
    fit_.bpmSe = told.bpmSe;
    fit_.doubts.insert(fit_.doubts.end(), told.doubts.begin(), told.doubts.end());
  }

  void tellBody() {
    fit_.bySound = wanted_.foundWithin > Seconds(0);
    constexpr double kStep = 0.25, kMost = 400'000;
    const double cells = std::min(kMost, std::ceil(highest() / kStep) + 1);
    if (cells > 0) fit_.body.reserve(static_cast<std::size_t>(cells));
    for (double cell = 0; cell < cells; cell += 1) {
      const double at = cell * kStep;
      fit_.body.push_back(Seconds(fit_.grid.line.secondsAt(at)) + Seconds(apart_.clockAt(at)));
    }
  }

  // How much more often strokes fall together in the beat than by chance, which is 1.
  double gatheringOfAll() const {
    std::vector<double> quarters;
    quarters.reserve(onsets_.size());
    for (const Onset& o : onsets_) {
      if (o.used) quarters.push_back(fit_.grid.line.quartersAt(o.seconds));
    }
    return gatheringOf(quarters, period(), ear::kGatherWidth);
  }
  void tellConfidence(double gathering) {
    const auto wanted = static_cast<double>(
        std::count_if(onsets_.begin(), onsets_.end(), [](const Onset& o) { return o.used; }));
    const double n = fit_.used;
    const double gathers = std::clamp((gathering - 1.6) / 1.6, 0.0, 1.0) * fit_.grid.sure;
    const double share = n / std::max(1.0, wanted);
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
  KeptFit* kept_;
  const std::stop_token& stop_;
  Fit fit_;
  std::vector<double> leaned_;
  Extent extent_;
  std::map<PieceId, Pairs> pairs_;
  bool anchored_ = false;
  Apart apart_;
  std::set<PieceId> neverAlone_;
};

}  // namespace

Milliseconds Fit::leanOf(PieceId piece) const {
  const auto known = pieces.find(piece);
  return known == pieces.end() ? Milliseconds(0) : known->second.lean;
}

std::optional<Fit> fit(const std::vector<Onset>& onsets, const FitWanted& wanted, KeptFit* kept,
                       const std::stop_token& stop) {
  return Fitter(onsets, wanted, kept, stop).run();
}

}  // namespace uneven
