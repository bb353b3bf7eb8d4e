// SPDX-License-Identifier: GPL-3.0-or-later
// The rules.
#include "core/body/hands.h"

#include <algorithm>
#include <cmath>
#include <optional>

#include "core/base/number.h"
#include "core/body/weights.h"

namespace uneven {
namespace {

constexpr double kSameBeat = 1e-6;  // quarter notes

bool isSame(double a, double b) {
  return std::abs(a - b) < kSameBeat;
}
bool isMultiple(double of, double unit) {
  return isSame(of, static_cast<double>(roundToInt(of / unit)) * unit);
}

class Rules {
 public:
  Rules(const Body& body, const std::vector<BodyStroke>& hands,
        const std::vector<HandPlace>& places, double pace, HandWay way, std::size_t round)
      : body_(body),
        hands_(hands),
        places_(places),
        pace_(pace),
        way_(way),
        round_(round),
        lead_(way == HandWay::kOtherLead ? mirrored(body.lead()) : body.lead()),
        bySlot_(body.profile().bySlot) {}

  std::vector<Limb> run() {
    first_.assign(places_.size(), Limb::kAutomatic);
    slots_.assign(places_.size(), {});
    for (std::uint32_t p = 0; p < places_.size(); ++p) {
      set_.push_back(setHand(hands_, places_[p]));
      if (const BodyStroke* s = timeAt(p)) time_.push_back({p, s});
    }
    pairVoices();
    findRuns();
    for (const Run& run : runs_) goHandToHand(run);
    for (std::size_t t = 0; t < time_.size(); ++t) {
      const std::uint32_t p = time_[t].place;
      if (slots_[p] == Limb::kAutomatic) give(p, *time_[t].stroke, timeHand(t));
    }
    others();
    for (std::uint32_t p = 0; p < places_.size(); ++p) {
      if (set_[p] != Limb::kAutomatic) first_[p] = set_[p];
    }
    return first_;
  }

 private:
  struct Time {
    std::uint32_t place = 0;
    const BodyStroke* stroke = nullptr;  // that keeps time there
    bool bySide = false;                 // two voices keep time in turn: each has its hand
  };
  // Strokes of a voice that follow each other at one distance, and twice it here and there.
  struct Run {
    std::size_t from = 0, to = 0;  // of time_
    double unit = 0;               // quarter notes
    bool begins = false;           // it goes right round a loop: each round begins anew
  };

  const BodyStroke& at(std::uint32_t place) const { return hands_[mains(place).first]; }
  double written(std::uint32_t place) const { return hands_[places_[place].from].written; }
  Milliseconds momentOf(std::uint32_t place) const {
    return hands_[places_[place].from].grid / pace_;
  }
  // The one or two main strokes of a place.
  std::pair<std::uint32_t, std::optional<std::uint32_t>> mains(std::uint32_t place) const {
    std::optional<std::uint32_t> one, two;
    for (std::uint32_t i = places_[place].from; i < places_[place].to; ++i) {
      if (hands_[i].grace) continue;
      (!one ? one : two) = i;
    }
    return {one.value_or(places_[place].from), two};
  }
  const BodyStroke* timeAt(std::uint32_t place) const {
    const auto [one, two] = mains(place);
    if (hands_[one].ostinato) return &hands_[one];
    return two && hands_[*two].ostinato ? &hands_[*two] : nullptr;
  }
  // `stroke` of the place in a hand; the others follow.
  void give(std::uint32_t place, const BodyStroke& stroke, Limb hand) {
    first_[place] = stroke.across ? mirrored(hand) : hand;
  }
  Limb timeHandOf(PieceId piece) const {
    const Limb hand = body_.timeHand(piece);
    return way_ == HandWay::kOtherLead ? mirrored(hand) : hand;
  }
  // Left or right of each other; automatic: the plan does not say.
  Limb side(PieceId piece, PieceId other) const {
    const auto here = body_.across(piece), there = body_.across(other);
    if (!here || !there || isSame(*here, *there)) return Limb::kAutomatic;
    return *here > *there ? Limb::kRightHand : Limb::kLeftHand;
  }
  Limb timeHand(std::size_t t) const {
    const Time& time = time_[t];
    if (time.bySide) {
      for (std::size_t k = t > 0 ? t - 1 : t + 1; k < time_.size(); ++k) {
        if (time_[k].stroke->piece == time.stroke->piece) continue;
        const Limb by = side(time.stroke->piece, time_[k].stroke->piece);
        if (by != Limb::kAutomatic) return by;
        break;
      }
    }
    return timeHandOf(time.stroke->piece);
  }

  // Whether a voice goes on from one place to the next.
  bool near(std::uint32_t from, std::uint32_t to) const {
    return momentOf(to) - momentOf(from) < weight::kGoesOn ||
           written(to) - written(from) <= hands_[places_[to].from].unit + kSameBeat;
  }

  // Two voices that both go on while the other does: each keeps time with its own hand.
  void pairVoices() {
    for (std::size_t t = 1; t + 1 < time_.size(); ++t) {
      const PieceId piece = time_[t].stroke->piece, other = time_[t - 1].stroke->piece;
      if (piece == other || time_[t + 1].stroke->piece != other) continue;
      if (!near(time_[t - 1].place, time_[t + 1].place)) continue;
      time_[t - 1].bySide = time_[t].bySide = time_[t + 1].bySide = true;
    }
  }

  double gap(std::size_t t) const {  // after time_[t]
    return written(time_[t + 1].place) - written(time_[t].place);
  }

  // Runs that one hand is not to play.
  void findRuns() {
    if (way_ == HandWay::kOneHand) return;
    std::size_t done = 0;
    for (std::size_t t = 0; t + 2 < time_.size(); ++t) {
      if (t < done || time_[t].bySide || !isSame(gap(t), gap(t + 1))) continue;
      const double unit = gap(t);
      if (unit < kSameBeat) continue;
      Run run{t, t + 1, unit, false};
      // It goes on over a hole of one, not over two that follow each other.
      std::size_t units = 0, holes = 0;
      const auto goesOn = [&](std::size_t g, bool back) {
        if (time_[g].bySide || time_[g + 1].bySide) return false;
        if (isSame(gap(g), unit)) return true;
        const std::size_t next = back ? g - 1 : g + 1;
        return isSame(gap(g), 2 * unit) && (back ? g > done : next + 1 < time_.size()) &&
               isSame(gap(next), unit);
      };
      while (run.from > done && goesOn(run.from - 1, true)) --run.from;
      run.to = t + 2;
      while (run.to + 1 <= time_.size() - 1 && goesOn(run.to, false)) ++run.to;
      for (std::size_t g = run.from; g < run.to; ++g) ++(isSame(gap(g), unit) ? units : holes);
      run.to += 1;
      done = run.to - 1;
      const std::size_t count = run.to - run.from;
      const bool sustained =
          count >= RunLimits::kSustainedFrom &&
          static_cast<double>(units) >= weight::kMostly * static_cast<double>(count - 1);
      if (!tooFast(run, sustained)) continue;
      if (!sustained && holes > 0) {
        // Only its strokes at the short distance.
        run.from = t;
        run.to = t + 2;
        while (run.to < time_.size() && isSame(gap(run.to - 1), unit)) ++run.to;
        done = run.to - 1;
      }
      split(run);
    }
  }

  // Round a whole loop each round begins anew.
  void split(const Run& run) {
    const std::size_t places = time_[run.to - 1].place - time_[run.from].place + 1;
    if (round_ == 0 || places < round_) {
      runs_.push_back(run);
      return;
    }
    std::size_t from = run.from;
    for (std::size_t t = run.from + 1; t <= run.to; ++t) {
      const bool ends = t == run.to || time_[t].place / round_ != time_[t - 1].place / round_;
      if (!ends) continue;
      runs_.push_back({from, t, run.unit, from > run.from || time_[from].place % round_ == 0});
      from = t;
    }
  }

  bool tooFast(const Run& run, bool sustained) const {
    if (way_ == HandWay::kHandToHand || way_ == HandWay::kDoubles) return true;
    const std::uint32_t a = time_[run.from].place, b = time_[run.to - 1].place;
    const Milliseconds each = (momentOf(b) - momentOf(a)) / (written(b) - written(a)) * run.unit;
    const PieceId piece = time_[run.from].stroke->piece;
    const RunLimits& limits = body_.limitsOf(timeHandOf(piece), piece);
    const TimeLimit& limit = sustained ? limits.sustained : limits.run;
    // Between the two tempos.
    const double share = body_.profile().oneHandUpTo;
    return each.count() *
               ((1 - share) / limit.comfortable.count() + share / limit.playable.count()) <
           1 - 1e-9;
  }

  // By the slot; what stands in the place of the voice goes along.
  void goHandToHand(const Run& run) {
    const std::uint32_t a = time_[run.from].place, b = time_[run.to - 1].place;
    const double start = written(a), end = written(b);
    // One slot beyond its ends still belongs to it.
    std::uint32_t from = a, to = b + 1;
    const auto belongs = [&](std::uint32_t p) {
      return written(p) > start - 1.5 * run.unit && written(p) < end + 1.5 * run.unit &&
             isMultiple(written(p) - start, run.unit) && timeAt(p) == nullptr;
    };
    if (!run.begins) {
      while (from > 0 && belongs(from - 1)) --from;
    }
    while (to < places_.size() && belongs(to)) ++to;
    std::int64_t turn = 0;
    const Limb first = firstHand(run);
    for (std::uint32_t p = from; p < to; ++p) {
      const BodyStroke* own = timeAt(p);
      const double from0 = written(p) - start;
      if (own == nullptr && !isMultiple(from0, run.unit)) continue;
      if (own != nullptr && slots_[p] != Limb::kAutomatic) continue;
      const std::int64_t slot = bySlot_ ? slotOf(p, run, from0) : turn;
      ++turn;
      const bool odd = way_ == HandWay::kDoubles ? (slot & 2) != 0 : (slot & 1) != 0;
      slots_[p] = odd ? mirrored(first) : first;
      give(p, own != nullptr ? *own : at(p), slots_[p]);
    }
  }
  Limb firstHand(const Run& run) const {
    // What is set in it decides, where most of that says otherwise.
    int with = 0, against = 0;
    for (std::size_t t = run.from; t < run.to; ++t) {
      const std::uint32_t p = time_[t].place;
      if (set_[p] == Limb::kAutomatic) continue;
      const Limb hand = handOf(*time_[t].stroke, set_[p]);
      const std::int64_t slot = bySlot_
                                    ? slotOf(p, run, written(p) - written(time_[run.from].place))
                                    : static_cast<std::int64_t>(t - run.from);
      ++(((slot & 1) != 0) == (hand == lead_) ? against : with);
    }
    return against > with ? mirrored(lead_) : lead_;
  }
  // In the bar, so that bars are alike; where a beat has an odd number of slots, from the start on.
  std::int64_t slotOf(std::uint32_t p, const Run& run, double fromStart) const {
    const BodyStroke& s = hands_[places_[p].from];
    const auto inBeat = roundToInt(s.unit / run.unit);
    const bool even = inBeat > 0 && inBeat % 2 == 0 && isMultiple(s.unit, run.unit);
    if (even && isMultiple(s.inBar, run.unit)) return roundToInt(s.inBar / run.unit);
    return roundToInt(fromStart / run.unit);
  }

  // Whether time goes on over place p: the voice's strokes before and after it are no farther apart
  // than twice what they are otherwise. The stroke before; nothing: it does not.
  std::optional<std::size_t> under(std::uint32_t p, std::size_t next) const {
    if (next == 0 || next >= time_.size()) return std::nullopt;
    const double hole = gap(next - 1);
    double usual = 0;
    if (next >= 2) usual = std::max(usual, gap(next - 2));
    if (next + 1 < time_.size()) usual = std::max(usual, gap(next));
    if (next >= 2 && next + 1 < time_.size()) {
      const double beat = hands_[places_[p].from].unit;
      // A rest elsewhere is no measure of what is usual.
      if (usual > beat + kSameBeat) usual = std::max(beat, std::min(gap(next - 2), gap(next)));
    }
    if (hole > 2 * usual + kSameBeat) return std::nullopt;
    return next - 1;
  }

  // Whether drums fill the place of a stroke that time leaves out: three or more, none a ghost.
  bool fills(std::uint32_t p, std::size_t next) const {
    const double usual = next >= 2 ? gap(next - 2) : next + 1 < time_.size() ? gap(next) : 0;
    if (gap(next - 1) < usual + kSameBeat) return false;
    int loud = 0;
    for (std::uint32_t k = time_[next - 1].place + 1; k < time_[next].place; ++k) {
      if (at(k).role == Role::kGhost || body_.keepsTime(at(k).piece)) return false;
      ++loud;
    }
    return loud >= 3 && p > time_[next - 1].place;
  }

  void others() {
    std::size_t next = 0;  // the first of time_ that is later
    std::vector<std::uint32_t> drums;
    for (std::uint32_t p = 0; p < places_.size(); ++p) {
      while (next < time_.size() && time_[next].place <= p) ++next;
      if (first_[p] != Limb::kAutomatic) {
        flush(drums);
        continue;
      }
      const auto before = under(p, next);
      if (before && !fills(p, next)) {
        flush(drums);
        underTime(p, *before, next);
        continue;
      }
      const bool rest = !drums.empty() && (written(p) - written(drums.back()) >
                                               hands_[places_[p].from].unit + kSameBeat ||
                                           (round_ != 0 && p % round_ == 0 && wholeRound(p)));
      if (rest) flush(drums);
      drums.push_back(p);
    }
    flush(drums);
  }
  // Drums that go right round: each round begins anew.
  bool wholeRound(std::uint32_t p) const {
    if (p < round_) return false;
    for (std::size_t k = p - round_; k < p; ++k) {
      if (timeAt(static_cast<std::uint32_t>(k)) != nullptr) return false;
      if (k + 1 < places_.size() &&
          written(static_cast<std::uint32_t>(k + 1)) - written(static_cast<std::uint32_t>(k)) >
              hands_[places_[k].from].unit + kSameBeat)
        return false;
    }
    return true;
  }

  void underTime(std::uint32_t p, std::size_t before, std::size_t next) {
    const BodyStroke& s = at(p);
    if (mains(p).second) return together(p);
    const Limb hand = timeHand(before);
    // In the place of time, on another cymbal: the hand that keeps it.
    if (body_.keepsTime(s.piece)) return give(p, s, hand);
    if (time_[before].bySide && timeHand(before) != timeHand(next)) {
      const Limb usual = body_.usual(s.piece);
      return give(p, s, usual);
    }
    give(p, s, mirrored(hand));
  }

  // Two that are struck together, neither of them time.
  void together(std::uint32_t p) {
    const auto [one, two] = mains(p);
    const BodyStroke &a = hands_[one], &b = hands_[*two];
    const bool cymbalA = body_.keepsTime(a.piece), cymbalB = body_.keepsTime(b.piece);
    if (body_.profile().leadTakesCymbal && cymbalA != cymbalB) {
      const BodyStroke &cymbal = cymbalA ? a : b, &drum = cymbalA ? b : a;
      if (body_.isSnare(drum.piece)) return give(p, cymbal, lead_);
    }
    Limb by = side(a.piece, b.piece);
    if (by == Limb::kAutomatic) {
      const Limb usual = a.usual;
      by = isHand(usual) && usual != b.usual ? usual : lead_;
    }
    give(p, a, by);
  }

  // Singles on drums, and cymbals among them.
  void flush(std::vector<std::uint32_t>& drums) {
    if (drums.empty()) return;
    if (drums.size() == 1) {
      const std::uint32_t p = drums.front();
      if (mains(p).second) {
        together(p);
      } else {
        give(p, at(p),
             body_.usual(at(p).piece) == lead_ || way_ != HandWay::kOtherLead
                 ? body_.usual(at(p).piece)
                 : mirrored(body_.usual(at(p).piece)));
      }
      drums.clear();
      return;
    }
    const auto step = [&](std::size_t k) { return written(drums[k + 1]) - written(drums[k]); };
    double unit = step(0);
    for (std::size_t k = 1; k + 1 < drums.size(); ++k) unit = std::min(unit, step(k));
    Limb hand = firstOfDrums(drums.front(), unit);
    const bool doubles = way_ == HandWay::kDoubles || singlesTooFast(drums, unit);
    std::vector<Limb> by{hand};
    int inHand = 1;
    for (std::size_t k = 0; k + 1 < drums.size(); ++k) {
      const double gap = step(k);
      const auto hole = [&] {
        // One slot of an even run is left out: hands keep their slots.
        if (!bySlot_ || !isSame(gap, 2 * unit)) return false;
        const bool ran = k == 0 || isSame(step(k - 1), unit);
        const bool runs = k + 2 >= drums.size() || isSame(step(k + 1), unit);
        return ran && runs && (k > 0 || k + 2 < drums.size());
      };
      if (doubles && isSame(gap, unit)) {
        if (inHand == 2) hand = mirrored(hand);
        inHand = inHand == 2 ? 1 : 2;
      } else if (!hole()) {
        hand = mirrored(hand);
        inHand = 1;
      }
      by.push_back(hand);
    }
    // What is set in it decides, where most of that says otherwise.
    int with = 0, against = 0;
    for (std::size_t k = 0; k < drums.size(); ++k) {
      if (set_[drums[k]] == Limb::kAutomatic) continue;
      ++(handOf(at(drums[k]), set_[drums[k]]) == by[k] ? with : against);
    }
    for (std::size_t k = 0; k < drums.size(); ++k) {
      const std::uint32_t p = drums[k];
      if (mains(p).second) {
        together(p);
      } else {
        give(p, at(p), against > with ? mirrored(by[k]) : by[k]);
      }
    }
    drums.clear();
  }

  // The leading hand, but where it has struck just before, between the counts.
  Limb firstOfDrums(std::uint32_t p, double unit) const {
    if (p == 0 || first_[p - 1] == Limb::kAutomatic) return lead_;
    const BodyStroke& s = hands_[places_[p].from];
    if (written(p) - written(p - 1) > unit + kSameBeat) return lead_;
    const std::int64_t slot = roundToInt(s.inBar / unit);
    if (isMultiple(s.inBar, unit) && (slot & 1) == 0) return lead_;
    for (std::uint32_t i = places_[p - 1].from; i < places_[p - 1].to; ++i) {
      if (handOf(hands_[i], first_[p - 1]) == lead_) return mirrored(lead_);
    }
    return lead_;
  }

  bool singlesTooFast(const std::vector<std::uint32_t>& drums, double unit) const {
    std::size_t close = 0;
    for (std::size_t k = 0; k + 1 < drums.size(); ++k)
      close += isSame(written(drums[k + 1]) - written(drums[k]), unit) ? 1 : 0;
    if (close < 3) return false;
    const std::uint32_t a = drums.front(), b = drums.back();
    const Milliseconds each = (momentOf(b) - momentOf(a)) / (written(b) - written(a)) * unit;
    const PieceId piece = at(a).piece;
    const RunLimits& weak = body_.limitsOf(mirrored(body_.lead()), piece);
    const TimeLimit& single =
        close >= std::size_t{2} * RunLimits::kSustainedFrom ? weak.sustained : weak.run;
    constexpr Milliseconds kJust{1e-9};
    return 2 * each < single.playable - kJust && each >= weak.second.playable - kJust;
  }

  const Body& body_;
  const std::vector<BodyStroke>& hands_;
  const std::vector<HandPlace>& places_;
  double pace_;
  HandWay way_;
  std::size_t round_;
  Limb lead_;
  bool bySlot_;
  std::vector<Limb> first_, set_;
  std::vector<Limb> slots_;  // of what goes hand to hand
  std::vector<Time> time_;
  std::vector<Run> runs_;
};

}  // namespace

std::vector<HandPlace> placesOf(const std::vector<BodyStroke>& hands) {
  std::vector<HandPlace> out;
  for (std::uint32_t i = 0; i < hands.size(); ++i) {
    if (i == 0 || hands[i].place != hands[i - 1].place) out.push_back({i, i});
    out.back().to = i + 1;
  }
  return out;
}

Limb handOf(const BodyStroke& stroke, Limb first) {
  if (isHand(stroke.limb)) return stroke.limb;
  return stroke.across ? mirrored(first) : first;
}

Limb setHand(const std::vector<BodyStroke>& hands, const HandPlace& place) {
  for (std::uint32_t i = place.from; i < place.to; ++i) {
    if (isHand(hands[i].limb)) return hands[i].across ? mirrored(hands[i].limb) : hands[i].limb;
  }
  return Limb::kAutomatic;
}

std::vector<Limb> handsByRule(const Body& body, const std::vector<BodyStroke>& hands,
                              const std::vector<HandPlace>& places, double pace, HandWay way,
                              std::size_t round) {
  return Rules(body, hands, places, pace, way, round).run();
}

}  // namespace uneven
