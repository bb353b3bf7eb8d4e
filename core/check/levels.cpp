// SPDX-License-Identifier: GPL-3.0-or-later
// Findings about how loud things are beside each other.
#include "core/check/song_check.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "core/check/bounds.h"
#include "core/perform/displacement.h"

namespace uneven {
namespace {

double level(const Hit& hit) {
  return levelOfHit(hit);
}
double level(double median) {
  return levelOf(median).value;
}

// Hats and cymbals under the lead hand.
bool ridden(const Kit& kit, PieceId id) {
  return kit[id].kind() == "hat" || kit[id].kind() == "ride";
}

bool isBackbeat(const Groove& groove, const Hit& hit) {
  if (hit.piece != piece::kSnare || hit.role != Role::kAccent) return false;
  const Beat inBar =
      hit.at - Beat(hit.at.floorDiv(groove.meter.barLength())) * groove.meter.barLength();
  const Beat unit = groove.meter.countUnit();
  return inBar > Beat(0) && Beat(inBar.floorDiv(unit)) * unit == inBar;
}

}  // namespace

void SongCheck::checkGhosts(const Groove& groove) {
  const SeparationAim aim = take_.song().aim;
  for (const Separation& s : separations(groove)) {
    const double difference = s.difference.value;
    const auto ghost = [piece = s.piece](const Hit& h) {
      return h.piece == piece && h.role == Role::kGhost;
    };
    const auto first = std::find_if(groove.hits.begin(), groove.hits.end(), ghost);
    if (difference < aim.low || difference > aim.high) {
      const double by = difference < aim.low ? difference - aim.low - bound::kSurelyDb
                                             : difference - aim.high + bound::kSurelyDb;
      Finding& f = written(
          FindingKind::kSeparation, groove, first->at, {s.piece}, tenth(difference), "dB",
          fmt::format("ghosts on {} lie {:.1f} dB under its accents; {:g} to {:g} is the aim",
                      kit_[s.piece].name, difference, aim.low, aim.high));
      offerLevel(
          f, MendKind::kLouder,
          fmt::format("{} the ghosts by {:.1f} dB", by < 0 ? "lower" : "raise", std::abs(by)), by)
          .role = Role::kGhost;
    }
  }
  std::map<PieceId, std::vector<std::size_t>> byPiece;
  for (std::size_t i = 0; i < groove.hits.size(); ++i) byPiece[groove.hits[i].piece].push_back(i);
  for (const auto& [piece, hits] : byPiece) checkStandingOut(groove, piece, hits);
}

void SongCheck::checkStandingOut(const Groove& groove, PieceId piece,
                                 const std::vector<std::size_t>& hits) {
  // Where none is marked, a snare's soft strokes among loud ones are ghosts by their level.
  std::vector<int> all;
  all.reserve(hits.size());
  bool marked = kit_[piece].kind() != "snare";
  for (const std::size_t i : hits) {
    all.push_back(groove.hits[i].velocity.value());
    marked = marked || groove.hits[i].role == Role::kGhost;
  }
  const double median = level(medianOf(all));
  const auto isGhost = [&](const Hit& h) {
    return marked ? h.role == Role::kGhost
                  : h.role == Role::kNormal && level(h) <= median - bound::kGhostUnderDb;
  };
  for (std::size_t k = 0; k < hits.size(); ++k) {
    const Hit& ghost = groove.hits[hits[k]];
    if (!isGhost(ghost)) continue;
    std::vector<int> others;
    for (const std::size_t i : hits) {
      const Hit& h = groove.hits[i];
      if (i != hits[k] && isGhost(h)) others.push_back(h.velocity.value());
    }
    double bound = 1e9;  // dB that it should stay under
    double value = 0;
    std::string text;
    int to = 0;
    if (!others.empty()) {
      const double usual = medianOf(others);
      bound = level(usual) + bound::kGhostOverDb;
      value = level(ghost) - level(usual);
      to = static_cast<int>(usual);
      if (level(ghost) >= bound) {
        text = fmt::format("{:.1f} dB above the other ghosts on {}", value, kit_[piece].name);
      }
    }
    for (const std::size_t next : {k - 1, k + 1}) {
      if (next >= hits.size() || !text.empty()) continue;  // k - 1 of the first wraps to the end
      const Hit& h = groove.hits[hits[next]];
      if (h.role != Role::kNormal || isGhost(h) || level(ghost) <= level(h)) continue;
      value = level(ghost) - level(h);
      text = fmt::format("{:.1f} dB above the normal hit beside it", value);
      const int under = louderBy(h.velocity, -bound::kGhostOverDb).value();
      to = to == 0 ? under : std::min(to, under);
    }
    if (text.empty()) continue;
    Finding& f =
        written(FindingKind::kGhostStandsOut, groove, ghost.at, {piece}, tenth(value), "dB", text);
    offer(f, MendKind::kVelocity, fmt::format("lower it to {}", to), {{ghost.at, piece}}).value =
        to;
  }
}

void SongCheck::checkBackbeat(const Groove& groove) {
  std::vector<const Hit*> beats;
  std::vector<int> velocities;
  std::map<std::int64_t, int> perBar;
  const Beat fill = fillFrom(groove);
  for (const Hit& hit : groove.hits) {
    if (!isBackbeat(groove, hit) || hit.at >= fill) continue;
    beats.push_back(&hit);
    velocities.push_back(hit.velocity.value());
    ++perBar[hit.at.floorDiv(groove.meter.barLength())];
  }
  if (beats.empty()) return;
  const double median = medianOf(velocities);
  const auto [low, high] = std::minmax_element(velocities.begin(), velocities.end());
  const double apart = level(static_cast<double>(*high)) - level(static_cast<double>(*low));
  if (apart > bound::kBackbeatDb) {
    const Hit* odd = *std::max_element(beats.begin(), beats.end(), [&](const Hit* a, const Hit* b) {
      return std::abs(level(*a) - level(median)) < std::abs(level(*b) - level(median));
    });
    Finding& f =
        written(FindingKind::kBackbeatUneven, groove, odd->at, {piece::kSnare}, tenth(apart), "dB",
                fmt::format("the backbeats are {:.1f} dB apart; within {:g} is even", apart,
                            bound::kBackbeatDb));
    std::vector<HitRef> all;
    all.reserve(beats.size());
    for (const Hit* b : beats) all.push_back({b->at, b->piece});
    const int to = static_cast<int>(roundToInt(median));
    offer(f, MendKind::kVelocity, fmt::format("all to {}", to), std::move(all)).value = to;
  }
  if (groove.bars > 1) {
    const std::set<std::int64_t> filled = fills(groove);
    for (std::int64_t bar = 0; bar < groove.bars; ++bar) {
      if (perBar.contains(bar) || filled.contains(bar)) continue;
      if (Beat(bar + 1) * groove.meter.barLength() > fill) continue;
      missing(groove, bar, perBar.begin()->first, static_cast<int>(std::ssize(perBar)));
    }
  }
  checkHats(groove, median);
}

// Where in the groove at hand its section's fill begins; its length: nowhere.
Beat SongCheck::fillFrom(const Groove& groove) const {
  const Score::Block& block = score_.blocks[block_];
  const Section& section = score_.sections[block.section];
  if (!section.fill || !section.fill->fills(static_cast<int>(block.pass), section.repeat))
    return groove.length();
  const Score::Span& span = score_.spans[block.section];
  const Beat pass = (span.end - span.start) / Beat(section.repeat);
  const Beat end = span.start + Beat(static_cast<int>(block.pass) + 1) * pass;
  return std::clamp(end - section.fill->beats - block.start, Beat(0), groove.length());
}

// Bars in which the ride hand plays much less than it does in the others.
std::set<std::int64_t> SongCheck::fills(const Groove& groove) const {
  std::vector<int> strokes(static_cast<std::size_t>(groove.bars), 0);
  for (const Hit& h : groove.hits) {
    if (ridden(kit_, h.piece))
      ++strokes[static_cast<std::size_t>(h.at.floorDiv(groove.meter.barLength()))];
  }
  const double usual = medianOf(strokes);
  std::set<std::int64_t> out;
  for (std::size_t bar = 0; bar < strokes.size(); ++bar) {
    if (strokes[bar] < bound::kLeavesShare * usual) out.insert(static_cast<std::int64_t>(bar));
  }
  return out;
}

void SongCheck::missing(const Groove& groove, std::int64_t bar, std::int64_t like, int others) {
  const Beat length = groove.meter.barLength();
  std::vector<Hit> model;
  for (const Hit& h : groove.hits) {
    if (isBackbeat(groove, h) && h.at.floorDiv(length) == like) model.push_back(h);
  }
  for (Hit& h : model) h.at = h.at - Beat(like) * length + Beat(bar) * length;
  Finding& f =
      written(FindingKind::kBackbeatMissing, groove, model.front().at, {piece::kSnare}, others,
              "bars", fmt::format("no backbeat in this bar; {} others have one", others));
  offer(f, MendKind::kPutIn, "put it in").strokes = std::move(model);
}

void SongCheck::checkHats(const Groove& groove, double backbeat) {
  std::vector<int> accents, all;
  Beat shortest(1);
  std::optional<Beat> last;
  for (const Hit& h : groove.hits) {
    if (!ridden(kit_, h.piece) || h.role == Role::kGhost) continue;
    all.push_back(h.velocity.value());
    if (h.role == Role::kAccent) accents.push_back(h.velocity.value());
    if (last && h.at > *last) shortest = std::min(shortest, h.at - *last);
    last = h.at;
  }
  if (all.empty()) return;
  // Whatever their role, strokes as loud as the backbeat are heavy.
  const bool byRole = !accents.empty();
  if (!byRole) accents = all;
  const bool sixteenths = shortest <= Beat(1, 4);
  const double bpm = score_.tempo.tempoAt(score_.blocks[block_].start).bpm().value;
  const double wanted =
      bound::kHatsUnderDb +
      (sixteenths
           ? bound::kHatsDbPerStep * std::max(0.0, bpm - bound::kHatsFromBpm) / bound::kHatsStepBpm
           : 0);
  const double is = level(backbeat) - level(medianOf(accents));
  if (is >= wanted || (!byRole && is > 0)) return;
  const Hit& first = *std::find_if(groove.hits.begin(), groove.hits.end(), [&](const Hit& h) {
    return ridden(kit_, h.piece) && (byRole ? h.role == Role::kAccent : h.role != Role::kGhost);
  });
  const double by = wanted - is + bound::kSurelyDb;
  Finding& f =
      written(FindingKind::kHatsHeavy, groove, first.at, {first.piece}, tenth(is), "dB",
              fmt::format("{}{} lie {:.1f} dB under the backbeat; {:.1f} or more is usual here",
                          kit_[first.piece].name, byRole ? "'s accents" : "", is, wanted));
  std::set<PieceId> hats;
  for (const Hit& h : groove.hits) {
    if (ridden(kit_, h.piece)) hats.insert(h.piece);
  }
  offerLevel(f, MendKind::kLouder, fmt::format("lower by {:.1f} dB", by), -by).pieces =
      inKitOrder(hats);
}

// Both hands off the beat, neither with an accent; one finding for two pieces. On a shuffle's third
// partial, written as one or as the eighth that a feel swings, neither may be loud; elsewhere one
// of them keeps time, and the other is the soft one.
void SongCheck::checkSoftUnisons(const Groove& groove) {
  std::vector<int> accents;
  for (const Hit& h : groove.hits) {
    if (h.role == Role::kAccent && h.piece != piece::kKick) accents.push_back(h.velocity.value());
  }
  if (accents.empty()) return;
  const double loud = level(medianOf(accents));
  const Swing& swing = score_.feels[score_.blocks[block_].feel].swing;
  const bool eighths =
      swing.swings() && swing.written == Written::kStraight && swing.unit == SwingUnit::kEighth;
  const auto thirdPartial = [&](Beat part) {
    return part == Beat(2, 3) || (eighths && part == Beat(1, 2));
  };
  std::map<Beat, std::vector<const Hit*>> places;
  for (const Hit& h : groove.hits) {
    const Beat part = h.at - Beat(h.at.floorDiv(Beat(1)));
    const Limb limb = h.limb == Limb::kAutomatic ? kit_.usualLimb(h.piece) : h.limb;
    if (part > Beat(0) && isHand(limb)) places[h.at].push_back(&h);
  }
  struct Loud {
    Beat first;
    double under = 1e9;
    int places = 0;
    std::vector<HitRef> hits;
  };
  std::map<std::vector<PieceId>, Loud> found;
  for (const auto& [where, hits] : places) {
    if (hits.size() != 2) continue;
    const auto soft = [](const Hit* h) { return h->role != Role::kAccent; };
    if (!std::all_of(hits.begin(), hits.end(), soft)) continue;
    const auto [softer, louder] = std::minmax({level(*hits[0]), level(*hits[1])});
    const bool third = thirdPartial(where - Beat(where.floorDiv(Beat(1))));
    const double under = loud - (third ? louder : softer);
    if (under >= bound::kSoftDb) continue;
    Loud& of = found[inKitOrder({hits[0]->piece, hits[1]->piece})];
    if (of.places++ == 0) of.first = where;
    of.under = std::min(of.under, under);
    for (const Hit* h : hits) {
      const bool keeps = !third && ridden(kit_, h->piece);
      if (!keeps && loud - level(*h) < bound::kSoftDb) of.hits.push_back({h->at, h->piece});
    }
  }
  for (auto& [pieces, of] : found) {
    Finding& f = written(FindingKind::kSoftUnison, groove, of.first, pieces, tenth(of.under), "dB",
                         fmt::format("both hands only {:.1f} dB under the accents; {:g} or more "
                                     "keeps it soft",
                                     of.under, bound::kSoftDb));
    f.times = times_ * of.places;
    const double most = loud - bound::kSoftDb - bound::kSurelyDb;
    const int to =
        louderBy(Velocity(static_cast<int>(roundToInt(medianOf(accents)))), most - loud).value();
    offer(f, MendKind::kVelocity, fmt::format("soften to {}", to), std::move(of.hits)).value = to;
  }
}

// What the feel's slots add may carry strokes that are written apart to the same end.
void SongCheck::checkFlat(const Groove& groove) {
  const Score::Block& block = score_.blocks[block_];
  const Feel& feel = score_.feels[block.feel];
  std::map<std::pair<PieceId, int>, std::vector<const Hit*>> ends;
  for (const Hit& h : groove.hits) {
    const Beat inBar =
        h.at - Beat(h.at.floorDiv(groove.meter.barLength())) * groove.meter.barLength();
    const int played = h.velocity.value() + shiftOf(feel, h, h.limb, inBar, 1).velocity;
    if (played > Velocity::kMax) ends[{h.piece, Velocity::kMax}].push_back(&h);
    if (played < Velocity::kMin) ends[{h.piece, Velocity::kMin}].push_back(&h);
  }
  for (const auto& [end, hits] : ends) {
    const auto [low, high] =
        std::minmax_element(hits.begin(), hits.end(),
                            [](const Hit* a, const Hit* b) { return a->velocity < b->velocity; });
    if ((*low)->velocity == (*high)->velocity) continue;
    written(FindingKind::kFlatVelocity, groove, hits.front()->at, {end.first},
            static_cast<double>(hits.size()), "strokes",
            fmt::format("{} strokes on {}, written {} to {}, all come out at {}: the feel's slots "
                        "add too much",
                        hits.size(), kit_[end.first].name, (*low)->velocity.value(),
                        (*high)->velocity.value(), end.second));
  }
}

namespace {

// The first of strokes in a row at one velocity, over a bar or more with four or more to the bar,
// and how many they are.
struct Machine {
  const Hit* first = nullptr;
  int count = 0;
};
Machine machineIn(const Groove& groove, PieceId piece) {
  const Beat bar = groove.meter.barLength();
  Machine run;
  for (const Hit& h : groove.hits) {
    if (h.piece != piece) continue;
    const bool goesOn = run.first != nullptr && h.velocity == run.first->velocity;
    if (goesOn) {
      ++run.count;
      continue;
    }
    const Beat length = run.first == nullptr ? Beat(0) : h.at - run.first->at;
    if (length >= bar && run.count >= bound::kMachinePerBar * (length / bar).toDouble()) return run;
    run = {&h, 1};
  }
  const Beat length = run.first == nullptr ? Beat(0) : groove.length() - run.first->at;
  if (length >= bar && run.count >= bound::kMachinePerBar * (length / bar).toDouble()) return run;
  return {};
}

}  // namespace

// No hand strikes a whole bar alike.
void SongCheck::checkMachine(const Groove& groove) {
  std::set<PieceId> voices;
  for (const Hit& h : groove.hits) {
    if (ridden(kit_, h.piece) || kit_[h.piece].kind() == "snare") voices.insert(h.piece);
  }
  for (const PieceId piece : voices) {
    const Machine run = machineIn(groove, piece);
    if (run.first == nullptr) continue;
    Finding& f =
        written(FindingKind::kFlatDynamics, groove, run.first->at, {piece}, run.count, "strokes",
                fmt::format("{} strokes of {} all at {}: like a machine", run.count,
                            kit_[piece].name, run.first->velocity.value()));
    offerLevel(f, MendKind::kAlternate,
               fmt::format("every second one {:g} dB softer", bound::kSofterDb), -bound::kSofterDb);
  }
}

}  // namespace uneven
