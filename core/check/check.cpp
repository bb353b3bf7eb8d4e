// SPDX-License-Identifier: GPL-3.0-or-later
// Findings of every kind.
#include "core/check/check.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <set>
#include <tuple>

#include "core/base/number.h"
#include "core/body/sticking.h"
#include "core/measure/level.h"
#include "core/measure/unison.h"
#include "core/perform/hold.h"
#include "core/perform/ornament.h"
#include "core/song/names.h"
#include "core/vary/pull_together.h"
#include "core/voice/notes.h"

namespace uneven {
namespace {

constexpr double kGhostOverDb = 4, kBackbeatDb = 3, kSoftDb = 8;
constexpr double kHatsUnderDb = 6, kHatsDbPerStep = 2, kHatsStepBpm = 20, kHatsFromBpm = 110;
constexpr double kUnevenShare = 0.08;
constexpr Milliseconds kTooClose{25};
constexpr Milliseconds kPulledMost{100};  // what stands farther apart is meant so
constexpr double kSurely = 0.25;  // dB beyond the bound, so that rounding does not bring it back

double level(const Hit& hit) {
  return levelOf(hit.velocity).value;
}
double level(double median) {
  return levelOf(median).value;
}
Velocity louderBy(Velocity velocity, double db) {
  return Velocity(static_cast<int>(roundToInt(louder(velocity, db))));
}
double tenth(double value) {
  return roundedTo(value, 10);
}

// Hats and cymbals under the lead hand.
bool ridden(const Kit& kit, PieceId id) {
  const Piece& piece = kit[id];
  const std::string& kind = piece.like.empty() ? piece.id : piece.like;
  return kind == "hat" || kind == "ride";
}

// Changes every hit for which it is wanted.
template <typename Wanted, typename Change>
std::function<Groove(Groove)> changing(Wanted wanted, Change change) {
  return [wanted, change](Groove groove) {
    for (Hit& hit : groove.hits) {
      if (wanted(hit)) change(hit);
    }
    return groove;
  };
}

class SongCheck {
 public:
  SongCheck(const Take& take, const Profile& profile, const KitMap& map)
      : take_(take),
        score_(take.score()),
        strokes_(take.strokes()),
        kit_(*take.score().kit),
        body_(kit_, profile),
        map_(map) {}

  std::vector<Finding> run() {
    std::map<const Groove*, std::uint32_t> feels;
    for (const Score::Block& b : score_.blocks) {
      const auto [known, isNew] = feels.emplace(&*b.groove, b.feel);
      if (b.morphs() || known->second != b.feel) mixed_.insert(&*b.groove);
    }
    found_ = hatFindings(take_);
    checkUnisons();
    checkLimbs();
    checkStrokes();
    checkNotes();
    // What is written is looked at once a groove, at the first place it is played.
    std::map<const Groove*, std::pair<std::size_t, int>> first;
    std::vector<const Groove*> order;
    for (std::size_t b = 0; b < score_.blocks.size(); ++b) {
      const Groove* groove = &*score_.blocks[b].groove;
      const auto [known, isNew] = first.emplace(groove, std::pair(b, 0));
      if (isNew) order.push_back(groove);
      ++known->second.second;
    }
    for (const Groove* groove : order) {
      block_ = first[groove].first;
      times_ = first[groove].second;
      checkGroove(*groove);
    }
    return std::move(found_);
  }

 private:
  const Groove& grooveOf(const Stroke& s) const { return *score_.blocks[s.block].groove; }
  const Hit& hitOf(const Stroke& s) const { return grooveOf(s).hits[s.hit]; }
  Moment plain(const Stroke& s) const { return s.time - s.drift; }
  double bpmAt(const Stroke& s) const {
    const Beat at = score_.blocks[s.block].start + hitOf(s).at;
    return 60e6 / static_cast<double>(score_.tempo.tempoAt(at).usPerQuarter);
  }
  std::string names(const std::vector<PieceId>& pieces) const {
    std::string out;
    for (std::size_t i = 0; i < pieces.size(); ++i) {
      out += i == 0 ? "" : i + 1 == pieces.size() ? " and " : ", ";
      out += kit_[pieces[i]].name;
    }
    return out;
  }
  std::vector<PieceId> inKitOrder(const std::set<PieceId>& pieces) const {
    std::vector<PieceId> out;
    for (const PieceId p : kit_.order) {
      if (pieces.contains(p)) out.push_back(p);
    }
    return out;
  }

  // A finding about a stroke; `about` tells two of one kind in one groove apart. The same in a
  // later repetition is counted, and told again where it is worse. Returns what is still to be
  // worded.
  using About = std::tuple<Beat, std::vector<PieceId>, int, int>;
  Finding* at(FindingKind kind, const Stroke& s, const About& about, std::vector<PieceId> pieces,
              double value, bool worse) {
    const auto key = std::tuple(&grooveOf(s), kind, about);
    const auto known = index_.find(key);
    if (known != index_.end()) {
      Finding& f = found_[known->second];
      ++f.times;
      if (!worse || value <= f.value) return nullptr;
      f.value = value;
      return &f;
    }
    index_[key] = found_.size();
    Finding f;
    f.kind = kind;
    f.groove = grooveOf(s).id;
    f.bar = s.bar;
    f.at = s.at;
    f.inGroove = hitOf(s).at;
    f.pieces = std::move(pieces);
    f.value = value;
    found_.push_back(std::move(f));
    return &found_.back();
  }

  // A finding about what is written in a groove.
  Finding& written(FindingKind kind, const Groove& groove, Beat at, std::vector<PieceId> pieces,
                   double value, const char* unit, std::string text) {
    Finding f;
    f.kind = kind;
    f.groove = groove.id;
    const std::int64_t bar = at.floorDiv(groove.meter.barLength());
    f.bar = score_.blocks[block_].firstBar + static_cast<std::int32_t>(bar);
    f.at = at - Beat(bar) * groove.meter.barLength();
    f.inGroove = at;
    f.times = times_;
    f.pieces = std::move(pieces);
    f.value = value;
    f.unit = unit;
    f.text = std::move(text);
    found_.push_back(std::move(f));
    return found_.back();
  }

  void checkUnisons() {
    for (const Unison& u : unisons(take_.performance())) {
      const double worst = std::max(u.spread, u.plain).count();
      if (worst <= kSpreadFinding.count()) continue;
      const Stroke& s = strokes_[u.strokes.front()];
      std::set<PieceId> set;
      for (const std::size_t i : u.strokes) set.insert(strokes_[i].piece);
      const std::vector<PieceId> pieces = inKitOrder(set);
      const Beat where = hitOf(s).at;
      Finding* f =
          at(FindingKind::kUnisonSpread, s, {where, pieces, 0, 0}, pieces, tenth(worst), true);
      if (f == nullptr) continue;
      f->unit = "ms";
      f->severity = worst > kSpreadError.count() ? Severity::kError : Severity::kFinding;
      f->text = fmt::format("{} are {:.0f} ms apart as written, {:.0f} at worst", names(pieces),
                            u.plain.count(), worst);
      // Drift is the body's; and nudges that suit one feel do not suit another.
      if (u.plain <= kSpreadFinding || u.plain > kPulledMost || mixed_.contains(&grooveOf(s)))
        continue;
      f->fixText = "pull together";
      f->fix = [song = take_.song(), where](const Groove& groove) {
        const std::string id = groove.id;
        const auto pulled =
            pullTogether(withGroove(song, groove), id, {where}, {}, Milliseconds(0));
        return pulled ? pulled->groove : groove;
      };
    }
  }

  void checkLimbs() {
    const BodyPart part = bodyPart(take_);
    for (const std::uint32_t i : part.thirdHand) {
      const Stroke& s = strokes_[i];
      Finding* f =
          at(FindingKind::kThirdHand, s, {hitOf(s).at, {s.piece}, 0, 0}, {s.piece}, 3, false);
      if (f == nullptr) continue;
      f->severity = Severity::kError;
      f->unit = "hands";
      f->text = fmt::format("no hand is left for {}: two strike already", kit_[s.piece].name);
      f->fixText = fmt::format("leave {} out", kit_[s.piece].name);
      f->fix = [ref = refOf(grooveOf(s), s.hit)](Groove g) {
        return withoutHits(std::move(g), {ref});
      };
    }
    const HandPlan plan = solve(body_, part.hands);
    tellStrains(part.hands, strains(body_, part.hands, plan.hands));
    std::vector<Limb> feet;
    for (const BodyStroke& b : part.feet) feet.push_back(b.limb);
    tellStrains(part.feet, strains(body_, part.feet, feet));
  }

  void tellStrains(const std::vector<BodyStroke>& strokes, const std::vector<Strain>& all) {
    std::map<Limb, std::size_t> last;
    for (std::size_t i = 0; i < all.size(); ++i) {
      const Strain& strain = all[i];
      const auto before = last.find(strain.limb);
      const std::size_t previous = before == last.end() ? i : before->second;
      last[strain.limb] = i;
      if (strain.comfortable()) continue;
      const Stroke& s = strokes_[strokes[i].stroke];
      const bool playable = strain.playable();
      const FindingKind kind = playable ? FindingKind::kHard : FindingKind::kNotPlayable;
      // The shorter the time, the worse.
      Finding* f =
          at(kind, s, {Beat(0), {}, static_cast<int>(strain.limb), static_cast<int>(strain.reason)},
             {s.piece}, -strain.gap, true);
      if (f == nullptr) continue;
      f->severity = playable ? Severity::kFinding : Severity::kError;
      f->unit = "ms";
      if (strain.reason == StrainReason::kTwoAtOnce) {
        f->text = fmt::format("the {} is on two pieces at once", spoken(strain.limb));
      } else {
        f->text = fmt::format(
            "{}: {}, {:.0f} ms apart; {} up to {:.0f} BPM", spoken(strain.limb),
            reasonText(strain.reason), strain.gap, playable ? "comfortable" : "playable",
            std::floor(bpmAt(s) / (playable ? strain.effort : strain.strain) + 1e-6));
      }
      if (strain.reason == StrainReason::kPullOut && previous != i) {
        const Stroke& ghost = strokes_[strokes[previous].stroke];
        if (ghost.block == s.block) {
          f->fixText = "drop the ghost before it";
          f->fix = [ref = refOf(grooveOf(ghost), ghost.hit)](Groove g) {
            return withoutHits(std::move(g), {ref});
          };
        }
      }
    }
    // Times were negative while they were compared.
    for (Finding& f : found_) {
      if (f.kind == FindingKind::kHard || f.kind == FindingKind::kNotPlayable) {
        f.value = tenth(std::abs(f.value));
      }
    }
    std::erase_if(index_, [](const auto& entry) {
      const FindingKind kind = std::get<1>(entry.first);
      return kind == FindingKind::kHard || kind == FindingKind::kNotPlayable;
    });
  }
  static std::string spoken(Limb limb) {
    std::string word(textOf(limb));
    std::replace(word.begin(), word.end(), '-', ' ');
    return word;
  }

  // Whether the groove by itself still has a stroke held there.
  bool heldAt(const Groove& groove, Beat at, PieceId piece) const {
    const Result<SharedTake> take = Take::ofGroove(withGroove(take_.song(), groove), groove.id);
    if (!take) return true;
    const Stroke* before = nullptr;
    for (const Stroke& s : (*take)->strokes()) {
      if (s.piece != piece || s.part != 0) continue;
      const Beat here = (*take)->score().blocks[s.block].groove->hits[s.hit].at;
      if (before != nullptr && here == at && toMilliseconds(s.time - before->time) == kHeldGap) {
        return true;
      }
      before = &s;
    }
    return false;
  }

  void checkStrokes() {
    std::map<PieceId, const Stroke*> last;
    std::map<std::pair<std::uint32_t, std::uint32_t>, Moment> reach;  // of graces, by hit
    std::map<std::pair<std::uint32_t, std::uint32_t>, int> graces;
    for (const Stroke& s : strokes_) {
      if (s.part == 0) continue;
      const auto key = std::pair(s.block, s.hit);
      if (s.role == Role::kGrace) {
        const auto [known, isNew] = reach.emplace(key, s.time);
        if (!isNew) known->second = std::min(known->second, s.time);
        ++graces[key];
      }
    }
    for (const Stroke& s : strokes_) {
      const Moment time = plain(s);
      if (s.time < Moment(0)) {
        const double early = -toMilliseconds(s.time).count();
        if (Finding* f = at(FindingKind::kBeforeStart, s, {hitOf(s).at, {s.piece}, 0, 0}, {s.piece},
                            tenth(early), true)) {
          f->unit = "ms";
          f->text = fmt::format("{} falls {:.1f} ms before the file begins: it needs a lead-in bar",
                                kit_[s.piece].name, early);
        }
      }
      if (s.part != 0) continue;
      if (const auto first = reach.find({s.block, s.hit}); first != reach.end()) {
        const Hit& hit = hitOf(s);
        const Milliseconds gap = hit.ornamentGap > Milliseconds(0) ? hit.ornamentGap : kGraceGap;
        const int count = graces[{s.block, s.hit}];
        const Milliseconds got = toMilliseconds(s.time - first->second) / count;
        if (first->second < s.time && got < gap - Milliseconds(0.01)) {
          if (Finding* f = at(FindingKind::kSqueezed, s, {hit.at, {s.piece}, 0, 0}, {s.piece},
                              tenth(got.count()), false)) {
            f->unit = "ms";
            f->text =
                fmt::format("the {} of {} has {:.0f} ms a stroke in place of {:.0f}",
                            textOf(hit.ornament), kit_[s.piece].name, got.count(), gap.count());
            f->fixText = "play it plain";
            f->fix = changing([where = hit.at,
                               p = s.piece](const Hit& h) { return h.at == where && h.piece == p; },
                              [](Hit& h) { h.ornament = Ornament::kNone; });
          }
        }
      }
      const auto before = last.find(s.piece);
      if (before != last.end()) {
        const Milliseconds gap = toMilliseconds(time - plain(*before->second));
        const Milliseconds real = toMilliseconds(s.time - before->second->time);
        if (real == kHeldGap) {
          if (Finding* f = at(FindingKind::kHeld, s, {hitOf(s).at, {s.piece}, 0, 0}, {s.piece},
                              real.count(), false)) {
            f->unit = "ms";
            f->text = fmt::format("lean would carry {} past its neighbour: it is held beside it",
                                  kit_[s.piece].name);
            const Beat here = hitOf(s).at;
            const Beat there = hitOf(*before->second).at;
            const auto two = [here, there, p = s.piece](const Hit& h) {
              return h.piece == p && (h.at == here || h.at == there);
            };
            offer(*f, grooveOf(s), "take their nudges off",
                  changing(two, [](Hit& h) { h.nudge = Milliseconds(0); }),
                  [&](const Groove& after) {
                    return !mixed_.contains(&grooveOf(s)) && !heldAt(after, here, s.piece);
                  });
          }
        } else if (gap < kTooClose) {
          if (Finding* f = at(FindingKind::kTooClose, s, {hitOf(s).at, {s.piece}, 0, 0}, {s.piece},
                              tenth(std::abs(gap.count())), false)) {
            f->unit = "ms";
            f->text = fmt::format("two strokes on {} {:.0f} ms apart sound as one",
                                  kit_[s.piece].name, std::abs(gap.count()));
            f->fixText = fmt::format("leave the second out");
            f->fix = [ref = refOf(grooveOf(s), s.hit)](Groove g) {
              return withoutHits(std::move(g), {ref});
            };
          }
        }
      }
      last[s.piece] = &s;
    }
  }

  void checkNotes() {
    const Notes notes = voice(take_, map_);
    for (const auto& [piece, count] : notes.unmapped) {
      const auto first = std::find_if(strokes_.begin(), strokes_.end(),
                                      [p = piece](const Stroke& s) { return s.piece == p; });
      if (first == strokes_.end()) continue;
      Finding* f =
          at(FindingKind::kNoSound, *first, {Beat(0), {piece}, 0, 0}, {piece}, count, false);
      if (f == nullptr) continue;
      f->severity = Severity::kError;
      f->unit = "strokes";
      f->times = count;
      f->text = fmt::format("the kit map {} has no note for {}", map_.name, kit_[piece].name);
    }
  }

  void checkGroove(const Groove& groove) {
    checkGhosts(groove);
    checkBackbeat(groove);
    checkSoftUnisons(groove);
    checkEvenness(groove);
    checkFeet(groove);
    if (groove.linear) checkLinear(groove);
  }

  void checkGhosts(const Groove& groove) {
    const SeparationAim aim = take_.song().aim;
    for (const Separation& s : separations(groove)) {
      const double difference = s.difference.value;
      const auto ghost = [piece = s.piece](const Hit& h) {
        return h.piece == piece && h.role == Role::kGhost;
      };
      const auto first = std::find_if(groove.hits.begin(), groove.hits.end(), ghost);
      if (difference < aim.low || difference > aim.high) {
        const double by =
            difference < aim.low ? difference - aim.low - kSurely : difference - aim.high + kSurely;
        Finding& f = written(
            FindingKind::kSeparation, groove, first->at, {s.piece}, tenth(difference), "dB",
            fmt::format("ghosts on {} lie {:.1f} dB under its accents; {:g} to {:g} is the aim",
                        kit_[s.piece].name, difference, aim.low, aim.high));
        offer(f, groove,
              fmt::format("{} the ghosts by {:.1f} dB", by < 0 ? "lower" : "raise", std::abs(by)),
              changing(ghost, [by](Hit& h) { h.velocity = louderBy(h.velocity, by); }),
              [&](const Groove& after) {
                for (const Separation& now : separations(after)) {
                  if (now.piece != s.piece) continue;
                  return now.difference.value >= aim.low && now.difference.value <= aim.high;
                }
                return false;
              });
      }
    }
    std::map<PieceId, std::vector<std::size_t>> byPiece;
    for (std::size_t i = 0; i < groove.hits.size(); ++i) byPiece[groove.hits[i].piece].push_back(i);
    for (const auto& [piece, hits] : byPiece) checkStandingOut(groove, piece, hits);
  }

  void checkStandingOut(const Groove& groove, PieceId piece, const std::vector<std::size_t>& hits) {
    for (std::size_t k = 0; k < hits.size(); ++k) {
      const Hit& ghost = groove.hits[hits[k]];
      if (ghost.role != Role::kGhost) continue;
      std::vector<int> others;
      for (const std::size_t i : hits) {
        const Hit& h = groove.hits[i];
        if (i != hits[k] && h.role == Role::kGhost) others.push_back(h.velocity.value());
      }
      double bound = 1e9;  // dB that it should stay under
      double value = 0;
      std::string text;
      int to = 0;
      if (!others.empty()) {
        const double median = medianOf(others);
        bound = level(median) + kGhostOverDb;
        value = level(ghost) - level(median);
        to = static_cast<int>(median);
        if (level(ghost) >= bound) {
          text = fmt::format("{:.1f} dB above the other ghosts on {}", value, kit_[piece].name);
        }
      }
      for (const std::size_t next : {k - 1, k + 1}) {
        if (next >= hits.size() || !text.empty()) continue;  // k - 1 of the first wraps to the end
        const Hit& h = groove.hits[hits[next]];
        if (h.role != Role::kNormal || level(ghost) <= level(h)) continue;
        value = level(ghost) - level(h);
        text = fmt::format("{:.1f} dB above the normal hit beside it", value);
        const int under = louderBy(h.velocity, -kGhostOverDb).value();
        to = to == 0 ? under : std::min(to, under);
      }
      if (text.empty()) continue;
      Finding& f = written(FindingKind::kGhostStandsOut, groove, ghost.at, {piece}, tenth(value),
                           "dB", text);
      f.fixText = fmt::format("lower it to {}", to);
      f.fix = changing([where = ghost.at,
                        piece = piece](const Hit& h) { return h.at == where && h.piece == piece; },
                       [to](Hit& h) { h.velocity = Velocity(to); });
    }
  }

  static bool isBackbeat(const Groove& groove, const Hit& hit) {
    if (hit.piece != piece::kSnare || hit.role != Role::kAccent) return false;
    const Beat inBar =
        hit.at - Beat(hit.at.floorDiv(groove.meter.barLength())) * groove.meter.barLength();
    const Beat unit = groove.meter.countUnit();
    return inBar > Beat(0) && Beat(inBar.floorDiv(unit)) * unit == inBar;
  }

  void checkBackbeat(const Groove& groove) {
    std::vector<const Hit*> beats;
    std::vector<int> velocities;
    std::map<std::int64_t, int> perBar;
    for (const Hit& hit : groove.hits) {
      if (!isBackbeat(groove, hit)) continue;
      beats.push_back(&hit);
      velocities.push_back(hit.velocity.value());
      ++perBar[hit.at.floorDiv(groove.meter.barLength())];
    }
    if (beats.empty()) return;
    const double median = medianOf(velocities);
    const auto [low, high] = std::minmax_element(velocities.begin(), velocities.end());
    const double apart = level(static_cast<double>(*high)) - level(static_cast<double>(*low));
    if (apart > kBackbeatDb) {
      const Hit* odd =
          *std::max_element(beats.begin(), beats.end(), [&](const Hit* a, const Hit* b) {
            return std::abs(level(*a) - level(median)) < std::abs(level(*b) - level(median));
          });
      Finding& f = written(FindingKind::kBackbeatUneven, groove, odd->at, {piece::kSnare},
                           tenth(apart), "dB",
                           fmt::format("the backbeats are {:.1f} dB apart; within {:g} is even",
                                       apart, kBackbeatDb));
      f.fixText = fmt::format("all to {:.0f}", median);
      f.fix = [median](Groove g) {
        for (Hit& h : g.hits) {
          if (isBackbeat(g, h)) h.velocity = Velocity(static_cast<int>(roundToInt(median)));
        }
        return g;
      };
    }
    if (groove.bars > 1) {
      for (std::int64_t bar = 0; bar < groove.bars; ++bar) {
        if (perBar.contains(bar)) continue;
        missing(groove, bar, perBar.begin()->first, static_cast<int>(std::ssize(perBar)));
      }
    }
    checkHats(groove, median);
  }

  void missing(const Groove& groove, std::int64_t bar, std::int64_t like, int others) {
    const Beat length = groove.meter.barLength();
    std::vector<Hit> model;
    for (const Hit& h : groove.hits) {
      if (isBackbeat(groove, h) && h.at.floorDiv(length) == like) model.push_back(h);
    }
    for (Hit& h : model) h.at = h.at - Beat(like) * length + Beat(bar) * length;
    Finding& f =
        written(FindingKind::kBackbeatMissing, groove, model.front().at, {piece::kSnare}, others,
                "bars", fmt::format("no backbeat in this bar; {} others have one", others));
    f.fixText = "put it in";
    f.fix = [model](Groove g) {
      for (const Hit& h : model) g = withHit(std::move(g), h);
      return g;
    };
  }

  void checkHats(const Groove& groove, double backbeat) {
    std::vector<int> accents;
    Beat shortest(1);
    std::optional<Beat> last;
    for (const Hit& h : groove.hits) {
      if (!ridden(kit_, h.piece) || h.role == Role::kGhost) continue;
      if (h.role == Role::kAccent) accents.push_back(h.velocity.value());
      if (last && h.at > *last) shortest = std::min(shortest, h.at - *last);
      last = h.at;
    }
    if (accents.empty()) return;
    const bool sixteenths = shortest <= Beat(1, 4);
    const double bpm =
        60e6 / static_cast<double>(score_.tempo.tempoAt(score_.blocks[block_].start).usPerQuarter);
    const double wanted =
        kHatsUnderDb +
        (sixteenths ? kHatsDbPerStep * std::max(0.0, bpm - kHatsFromBpm) / kHatsStepBpm : 0);
    const double is = level(backbeat) - level(medianOf(accents));
    if (is >= wanted) return;
    const auto hats = [kit = kit_](const Hit& h) {
      return ridden(kit, h.piece) && h.role != Role::kGhost;
    };
    const Hit& first = *std::find_if(groove.hits.begin(), groove.hits.end(), [&](const Hit& h) {
      return ridden(kit_, h.piece) && h.role == Role::kAccent;
    });
    const double by = wanted - is + kSurely;
    Finding& f = written(
        FindingKind::kHatsHeavy, groove, first.at, {first.piece}, tenth(is), "dB",
        fmt::format("{}'s accents lie {:.1f} dB under the backbeat; {:.1f} or more is usual "
                    "here",
                    kit_[first.piece].name, is, wanted));
    f.fixText = fmt::format("lower by {:.1f} dB", by);
    f.fix = changing(hats, [by](Hit& h) { h.velocity = louderBy(h.velocity, -by); });
  }

  // A shuffle's third partial that both hands strike.
  void checkSoftUnisons(const Groove& groove) {
    std::vector<int> accents;
    for (const Hit& h : groove.hits) {
      if (h.role == Role::kAccent && h.piece != piece::kKick) accents.push_back(h.velocity.value());
    }
    if (accents.empty()) return;
    const double loud = level(medianOf(accents));
    std::map<Beat, std::vector<const Hit*>> places;
    for (const Hit& h : groove.hits) {
      const Beat part = h.at - Beat(h.at.floorDiv(Beat(1)));
      const Limb limb = h.limb == Limb::kAutomatic ? kit_.usualLimb(h.piece) : h.limb;
      const bool hand = limb == Limb::kRightHand || limb == Limb::kLeftHand;
      if (part == Beat(2, 3) && hand) places[h.at].push_back(&h);
    }
    for (const auto& [where, hits] : places) {
      if (hits.size() != 2) continue;
      const auto soft = [](const Hit* h) { return h->role != Role::kAccent; };
      if (!std::all_of(hits.begin(), hits.end(), soft)) continue;
      const double under = loud - std::max(level(*hits[0]), level(*hits[1]));
      if (under >= kSoftDb) continue;
      const std::vector<PieceId> pieces = inKitOrder({hits[0]->piece, hits[1]->piece});
      Finding& f = written(FindingKind::kSoftUnison, groove, where, pieces, tenth(under), "dB",
                           fmt::format("both hands only {:.1f} dB under the accents; {:g} or more "
                                       "keeps it soft",
                                       under, kSoftDb));
      const double most = loud - kSoftDb - kSurely;
      f.fixText = fmt::format("lower both by {:.1f} dB", kSoftDb + kSurely - under);
      f.fix = changing(
          [where = where](const Hit& h) {
            return h.at == where && h.role != Role::kAccent && h.piece != piece::kKick;
          },
          [most](Hit& h) {
            if (level(h) > most) h.velocity = louderBy(h.velocity, most - level(h));
          });
    }
  }

  void checkEvenness(const Groove& groove) {
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
  void checkFeet(const Groove& groove) {
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

  void checkLinear(const Groove& groove) {
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

  // A fix is offered where it does what it says.
  template <typename Good>
  static void offer(Finding& f, const Groove& groove, std::string text,
                    std::function<Groove(Groove)> fix, Good good) {
    if (!good(fix(groove))) return;
    f.fixText = std::move(text);
    f.fix = std::move(fix);
  }

  const Take& take_;
  const Score& score_;
  const std::vector<Stroke>& strokes_;
  const Kit& kit_;
  Body body_;
  const KitMap& map_;
  std::vector<Finding> found_;
  std::map<std::tuple<const Groove*, FindingKind, About>, std::size_t> index_;
  std::set<const Groove*> mixed_;  // that are played under more than one feel
  std::size_t block_ = 0;          // where the groove at hand is played first
  int times_ = 1;                  // how often
};

std::vector<std::string> idsOf(const Song& song, const std::vector<PieceId>& pieces) {
  std::vector<std::string> out;
  out.reserve(pieces.size());
  for (const PieceId p : pieces) out.push_back((*song.kit)[p].id);
  return out;
}

}  // namespace

bool leftAlone(const Song& song, const Finding& finding) {
  return std::any_of(song.check.ignored.begin(), song.check.ignored.end(), [&](const LeftAlone& l) {
    if (l.kind != findingWord(finding.kind) || l.groove != finding.groove) return false;
    if (l.at != finding.inGroove) return false;
    if (l.pieces.empty()) return true;
    const std::vector<std::string> ids = idsOf(song, finding.pieces);
    return std::set(l.pieces.begin(), l.pieces.end()) == std::set(ids.begin(), ids.end());
  });
}

Song withLeftAlone(Song song, const Finding& finding, std::string why) {
  if (leftAlone(song, finding)) return song;
  LeftAlone left;
  left.kind = findingWord(finding.kind);
  left.groove = finding.groove;
  left.at = finding.inGroove;
  left.pieces = idsOf(song, finding.pieces);
  left.why = std::move(why);
  song.check.ignored.push_back(std::move(left));
  return song;
}

Checked check(const Take& take, const Profile& profile, const KitMap& map) {
  Checked out;
  out.findings = SongCheck(take, profile, map).run();
  out.left = static_cast<int>(
      std::erase_if(out.findings, [&](const Finding& f) { return leftAlone(take.song(), f); }));
  std::stable_sort(out.findings.begin(), out.findings.end(),
                   [](const Finding& a, const Finding& b) {
                     return std::tuple(a.severity != Severity::kError, a.bar, a.at) <
                            std::tuple(b.severity != Severity::kError, b.bar, b.at);
                   });
  return out;
}

}  // namespace uneven
