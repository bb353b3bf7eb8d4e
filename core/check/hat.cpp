// SPDX-License-Identifier: GPL-3.0-or-later
// Findings about the hats' pedal.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <optional>
#include <tuple>
#include <utility>

#include "core/base/number.h"
#include "core/check/finding.h"
#include "core/perform/clock.h"
#include "core/song/slots.h"

namespace uneven {
namespace {

double percent(double share) {
  return roundedTo(100 * share, 1);
}

// Which opening: a hit's, or the drawn one that begins there.
struct Which {
  HitRef hit;
  std::optional<Beat> drawn;
};

// An opening as it is played once.
struct Opening {
  Which which;
  const Groove* groove = nullptr;
  std::uint32_t block = 0;
  Beat at;  // in the groove
  double open = 0;
  Beat length;
  Moment time{0};
  // The hats' strokes around it.
  static constexpr std::size_t kNone = static_cast<std::size_t>(-1);
  std::size_t before = kNone;
  std::size_t after = kNone;
};

class HatCheck {
 public:
  HatCheck(const Score& score, const Performance& performance)
      : score_(score), performance_(performance) {}

  std::vector<Finding> run() {
    for (std::uint32_t i = 0; i < performance_.strokes.size(); ++i) {
      const Stroke& s = performance_.strokes[i];
      const bool hats = s.piece == piece::kHat || s.piece == piece::kHatFoot;
      if (hats && s.part == 0) strokes_.push_back(i);
    }
    for (std::size_t i = 0; i < strokes_.size(); ++i) {
      if (opens(i)) check(openingOf(i));
    }
    for (std::uint32_t block = 0; block < score_.blocks.size(); ++block) checkDrawn(block);
    std::stable_sort(found_.begin(), found_.end(), [](const Finding& a, const Finding& b) {
      return a.bar != b.bar ? a.bar < b.bar : a.at < b.at;
    });
    return std::move(found_);
  }

 private:
  const Stroke& stroke(std::size_t i) const { return performance_.strokes[strokes_[i]]; }
  const Groove& grooveOf(std::size_t i) const { return *score_.blocks[stroke(i).block].groove; }
  const Hit& hitOf(std::size_t i) const { return grooveOf(i).hits[stroke(i).hit]; }
  bool opens(std::size_t i) const { return hitOf(i).piece == piece::kHat && hitOf(i).open > 0; }
  bool shutWanted(std::size_t i) const { return meantShut(grooveOf(i), hitOf(i)); }

  Opening openingOf(std::size_t i) const {
    const Hit& hit = hitOf(i);
    Opening opening;
    opening.which.hit = refOf(grooveOf(i), stroke(i).hit);
    opening.groove = &grooveOf(i);
    opening.block = stroke(i).block;
    opening.at = hit.at;
    opening.open = hit.open;
    opening.length = hit.openFor;
    opening.time = stroke(i).time;
    if (i > 0) opening.before = i - 1;
    if (i + 1 < strokes_.size()) opening.after = i + 1;
    return opening;
  }

  void checkDrawn(std::uint32_t block) {
    const Groove& groove = *score_.blocks[block].groove;
    if (!groove.pedal || groove.pedal->moves.empty()) return;
    const BlockClock clock(score_, block);
    for (const PedalMove& move : groove.pedal->moves) {
      if (move.open <= 0) continue;
      Opening opening;
      opening.which.drawn = move.at;
      opening.groove = &groove;
      opening.block = block;
      opening.at = move.at;
      opening.open = move.open;
      opening.length = move.length;
      opening.time = toMoment(clock.struck(move.at, piece::kHat));  // without drift
      const auto after = std::upper_bound(
          strokes_.begin(), strokes_.end(), opening.time,
          [&](Moment t, std::uint32_t s) { return t < performance_.strokes[s].time; });
      const auto index = static_cast<std::size_t>(after - strokes_.begin());
      // A stroke of the hand that is written where the opening begins belongs to it.
      const auto own = [&](std::size_t i) {
        return stroke(i).block == block && hitOf(i).at == move.at && hitOf(i).piece == piece::kHat;
      };
      std::size_t next = index;
      while (next < strokes_.size() && own(next)) ++next;
      if (next < strokes_.size()) opening.after = next;
      std::size_t first = index;
      while (first > 0 && own(first - 1)) --first;
      if (first > 0) opening.before = first - 1;
      check(opening);
    }
  }

  double msBetween(std::uint32_t block, Beat from, Beat to) const {
    const Beat start = score_.blocks[block].start;
    return (score_.tempo.msAt(start + to) - score_.tempo.msAt(start + from)).count();
  }

  double tempoAt(const Opening& opening) const {
    const Score::Block& block = score_.blocks[opening.block];
    return score_.tempo.tempoAt(block.start + opening.at).bpm().value;
  }

  // Whether this has been found in an earlier repetition: then it is only counted, before anything
  // is put into words.
  bool again(FindingKind kind, const Opening& opening) {
    const auto before = index_.find({opening.groove, opening.which.hit, opening.which.drawn, kind});
    if (before == index_.end()) return false;
    ++found_[before->second].times;
    return true;
  }

  // `bar` and `at`: of what suffers. Not found before.
  void add(FindingKind kind, const Opening& opening, std::int32_t bar, Beat at, double value,
           const char* unit, std::string text, Mend mend) {
    index_[{opening.groove, opening.which.hit, opening.which.drawn, kind}] = found_.size();
    Finding finding;
    finding.kind = kind;
    finding.severity = kind == FindingKind::kTwoPlaces ? Severity::kError : Severity::kFinding;
    finding.pieces = {piece::kHat};
    const int inBar = bar - score_.blocks[opening.block].firstBar;
    finding.inGroove = Beat(inBar) * opening.groove->meter.barLength() + at;
    finding.value = value;
    finding.unit = unit;
    finding.groove = opening.groove->id;
    finding.hit = opening.which.hit;
    finding.drawn = opening.which.drawn;
    finding.bar = bar;
    finding.at = at;
    finding.text = std::move(text);
    mend.groove = finding.groove;
    finding.mends.push_back(std::move(mend));
    found_.push_back(std::move(finding));
  }

  static Mend mendOf(MendKind kind, std::string text, const Opening& opening) {
    Mend mend;
    mend.kind = kind;
    mend.text = std::move(text);
    mend.drawn = opening.which.drawn;
    if (!mend.drawn) mend.hits = {opening.which.hit};
    return mend;
  }
  static Mend openFor(std::string text, const Opening& opening, Beat length) {
    Mend mend = mendOf(MendKind::kOpenFor, std::move(text), opening);
    mend.length = length;
    return mend;
  }
  // Heel up where that is quick enough, else as far as there is time for.
  static Mend quicker(const Opening& opening, Milliseconds room) {
    const auto& pedal = opening.groove->pedal;
    const bool ownTravel = pedal && pedal->travel.count() > 0;
    const bool heelDown = !pedal || pedal->technique == PedalTechnique::kHeelDown;
    if (!ownTravel && heelDown && kTravelHeelUp * opening.open <= room)
      return mendOf(MendKind::kHeelUp, "play it heel up", opening);
    const double less = std::floor(100 * std::max(0.0, room / travelOf(pedal))) / 100;
    Mend mend = mendOf(MendKind::kOpen, fmt::format("open only {} %", percent(less)), opening);
    mend.value = less;
    return mend;
  }

  void check(const Opening& opening) {
    for (const std::size_t i : {opening.before, opening.after}) {
      if (i != Opening::kNone && footThere(i, opening)) return shutAndOpen(opening, i);
    }
    const Milliseconds way = travelOf(opening.groove->pedal) * opening.open;
    if (opening.before != Opening::kNone) checkBefore(opening, way);
    if (opening.after != Opening::kNone) {
      checkTwoPlaces(opening);
      checkCut(opening);
      checkAfter(opening, way);
    }
    checkEarlyClose(opening);
  }

  // Whether a stroke of the foot is written where the hats are to open.
  bool footThere(std::size_t i, const Opening& opening) const {
    return hitOf(i).piece == piece::kHatFoot && stroke(i).block == opening.block &&
           hitOf(i).at == opening.at;
  }

  void shutAndOpen(const Opening& opening, std::size_t foot) {
    const HitRef ref = refOf(grooveOf(foot), stroke(foot).hit);
    if (again(FindingKind::kTwoPlaces, opening)) return;
    Mend mend;
    mend.text = "take the foot's stroke off";
    mend.hits = {ref};
    add(FindingKind::kTwoPlaces, opening, stroke(foot).bar, stroke(foot).at, 0, "ms",
        "the foot strikes where the hats are to open", std::move(mend));
  }

  void noRoom(const Opening& opening, std::int32_t bar, Beat at, Milliseconds way,
              Milliseconds room, const char* what) {
    if (again(FindingKind::kNoRoom, opening)) return;
    add(FindingKind::kNoRoom, opening, bar, at, (way - room).count(), "ms",
        fmt::format("the foot needs {:.0f} ms to {} and has {:.0f}; it would work up to {:.0f} BPM",
                    way.count(), what, room.count(),
                    std::floor(tempoAt(opening) * std::max(0.0, room / way))),
        quicker(opening, room));
  }

  void checkBefore(const Opening& opening, Milliseconds way) {
    const std::size_t before = opening.before;
    if (!shutWanted(before)) return;
    const double loose = performance_.pedal.openingAt(stroke(before).time);
    const Milliseconds room = toMilliseconds(opening.time - stroke(before).time);
    if (room <= Milliseconds(0) || way <= room) return;
    const Beat barLength = opening.groove->meter.barLength();
    const std::int64_t bar = opening.at.floorDiv(barLength);
    noRoom(opening, score_.blocks[opening.block].firstBar + static_cast<std::int32_t>(bar),
           opening.at - Beat(bar) * barLength, way, room, "open");
    // What an opening before that has left open is that one's fault.
    const bool own = before == 0 || hitOf(before - 1).open == 0;
    if (!own || loose <= kLoose) return;
    if (again(FindingKind::kEarlyOpening, opening)) return;
    add(FindingKind::kEarlyOpening, opening, stroke(before).bar, stroke(before).at, percent(loose),
        "%", fmt::format("already {} % open at the stroke before", percent(loose)),
        quicker(opening, room));
  }

  // The hand's next stroke is to be shut: the opening does not last as long as it says.
  void checkCut(const Opening& opening) {
    const std::size_t next = opening.after;
    if (hitOf(next).piece != piece::kHat || !shutWanted(next)) return;
    const Beat stroke = score_.blocks[this->stroke(next).block].start + hitOf(next).at;
    const Beat held = stroke - (score_.blocks[opening.block].start + opening.at);
    if (held <= Beat(0) || held >= opening.length) return;
    if (again(FindingKind::kCutOpening, opening)) return;
    const Beat barLength = opening.groove->meter.barLength();
    const std::int64_t bar = opening.at.floorDiv(barLength);
    add(FindingKind::kCutOpening, opening,
        score_.blocks[opening.block].firstBar + static_cast<std::int32_t>(bar),
        opening.at - Beat(bar) * barLength,
        msBetween(opening.block, opening.at + held, opening.at + opening.length), "ms",
        fmt::format("open for {} quarter notes, but the next stroke shuts it after {}",
                    opening.length.toString(), held.toString()),
        openFor(fmt::format("open for {} quarter notes", held.toString()), opening, held));
  }

  void checkTwoPlaces(const Opening& opening) {
    const std::size_t next = opening.after;
    if (hitOf(next).piece != piece::kHatFoot) return;
    const Beat foot = score_.blocks[stroke(next).block].start + hitOf(next).at;
    const Beat held = foot - (score_.blocks[opening.block].start + opening.at);
    if (held <= Beat(0) || held >= opening.length) return;
    if (again(FindingKind::kTwoPlaces, opening)) return;
    const double heldMs = msBetween(opening.block, opening.at, opening.at + opening.length);
    add(FindingKind::kTwoPlaces, opening, stroke(next).bar, stroke(next).at, heldMs, "ms",
        fmt::format("the foot strikes while the hats are held open for {} quarter notes",
                    opening.length.toString()),
        openFor("shut them with the foot's stroke", opening, held));
  }

  void checkAfter(const Opening& opening, Milliseconds way) {
    const std::size_t next = opening.after;
    const bool byFoot = hitOf(next).piece == piece::kHatFoot;
    if (!byFoot && !shutWanted(next)) return;
    const Milliseconds room = toMilliseconds(stroke(next).time - opening.time);
    if (way <= room) return;
    noRoom(opening, stroke(next).bar, stroke(next).at, way, room, "shut");
    const double open = stroke(next).opening.value();
    if (byFoot || open <= kLoose) return;
    if (again(FindingKind::kLateClose, opening)) return;
    add(FindingKind::kLateClose, opening, stroke(next).bar, stroke(next).at, (way - room).count(),
        "ms",
        fmt::format("still {} % open at the next stroke, shut {:.0f} ms late", percent(open),
                    (way - room).count()),
        quicker(opening, room));
  }

  // Shut between two slots, half a slot or more before the next: it sounds as an extra note.
  void checkEarlyClose(const Opening& opening) {
    if (opening.length <= Beat(0)) return;
    const Groove& groove = *opening.groove;
    const Beat shut = opening.at + opening.length;
    if (shut >= groove.length()) return;
    const Beat before = slotBefore(groove, slotAfter(groove, shut));
    if (before == shut) return;
    const Beat next = slotAfter(groove, shut);
    if ((next - shut) * Beat(2) < next - before) return;
    const Score::Block& block = score_.blocks[opening.block];
    const Milliseconds early(msBetween(opening.block, shut, next));
    const Beat right = next - opening.at;
    const std::int64_t bar = opening.at.floorDiv(groove.meter.barLength());
    if (again(FindingKind::kEarlyClose, opening)) return;
    add(FindingKind::kEarlyClose, opening, block.firstBar + static_cast<std::int32_t>(bar),
        opening.at - Beat(bar) * groove.meter.barLength(), early.count(), "ms",
        fmt::format("shut {:.0f} ms before the next slot: it sounds as an extra note",
                    early.count()),
        openFor(fmt::format("shut it on the slot, after {} quarter notes", right.toString()),
                opening, right));
  }

  const Score& score_;
  const Performance& performance_;
  std::vector<std::uint32_t> strokes_;  // of the hats, by hand and foot
  std::map<std::tuple<const Groove*, HitRef, std::optional<Beat>, FindingKind>, std::size_t> index_;
  std::vector<Finding> found_;
};

}  // namespace

bool meantShut(const Groove& groove, const Hit& hit) {
  if (hit.piece != piece::kHat || hit.open > 0) return false;
  if (!groove.pedal) return true;
  const auto& moves = groove.pedal->moves;
  return !groove.pedal->pump && std::none_of(moves.begin(), moves.end(), [&](const PedalMove& m) {
    return m.at == hit.at && m.open > 0;
  });
}

Groove mended(const Song& song, const std::string& grooveId) {
  constexpr int kRounds = 8;
  const Groove* found = song.findGroove(grooveId);
  if (found == nullptr) return {};
  Groove groove = *found;
  for (int round = 0; round < kRounds; ++round) {
    const Result<SharedTake> take = Take::ofGroove(withGroove(song, groove), grooveId);
    if (!take) break;
    const std::vector<Finding> findings = hatFindings(**take);
    if (findings.empty()) break;
    for (const Finding& finding : findings)
      groove = mendedGroove(withGroove(song, groove), finding.mends.front());
  }
  return groove;
}

std::vector<Finding> hatFindings(const Take& take) {
  return HatCheck(take.score(), take.performance()).run();
}

}  // namespace uneven
