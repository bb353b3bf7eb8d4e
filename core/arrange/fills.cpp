// SPDX-License-Identifier: GPL-3.0-or-later
// Fills made of the groove that they end.
#include "core/arrange/fills.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <functional>
#include <optional>

#include "core/arrange/sections.h"
#include "core/base/number.h"
#include "core/body/part.h"
#include "core/measure/level.h"
#include "core/playing/ways.h"
#include "core/song/edit.h"
#include "core/song/positions.h"
#include "core/song/slots.h"

namespace uneven {
namespace {

// splitmix64 (Steele, Lea & Flood 2014), the same on every machine.
class FillDice {
 public:
  explicit FillDice(std::uint64_t seed) : state_(seed) {}
  // 0 .. most - 1
  std::size_t below(std::size_t most) { return static_cast<std::size_t>(next() % most); }
  int around(int by) { return static_cast<int>(below(2 * static_cast<std::size_t>(by) + 1)) - by; }

 private:
  std::uint64_t next() {
    state_ += 0x9E3779B97F4A7C15ULL;
    std::uint64_t z = state_;
    z = (z ^ (z >> 30)) * 0xBF58476D1CE4E5B9ULL;
    z = (z ^ (z >> 27)) * 0x94D049BB133111EBULL;
    return z ^ (z >> 31);
  }
  std::uint64_t state_;
};

std::optional<Grid> gridOfStep(Beat step) {
  for (const int tuplet : {0, 3, 5, 7}) {
    for (const int division : {4, 8, 16, 32}) {
      const Grid grid{division, tuplet};
      if (grid.step() == step) return grid;
    }
  }
  return std::nullopt;
}

// The base's last bars, with the span that the recipe writes.
class FillDraft {
 public:
  FillDraft(const Groove& from_, const Kit& kit_, const FillAsked& asked_)
      : kit(kit_),
        asked(asked_),
        dice(asked_.seed * 1'000'003 + asked_.recipe.size()),
        base(from_) {
    groove = lastBars(base, asked.beats);
    groove.core.clear();
    groove.walk.clear();
    groove.extras = {};
    groove.origin = base.id;
    to = groove.length();
    from = to - asked.beats;
  }

  Groove groove;
  const Kit& kit;
  const FillAsked& asked;
  FillDice dice;
  const Groove& base;
  Beat from, to;

  bool inside(Beat at) const { return at >= from && at < to; }
  // What stands in the span but for what is kept.
  void clear(const std::function<bool(const Hit&)>& kept = {}) {
    std::erase_if(groove.hits,
                  [&](const Hit& hit) { return inside(hit.at) && !(kept && kept(hit)); });
    if (groove.pedal)
      std::erase_if(groove.pedal->moves, [&](const PedalMove& move) { return inside(move.at); });
  }
  void put(Beat at, PieceId piece, int velocity, Role role = Role::kNormal,
           Limb limb = Limb::kAutomatic) {
    Hit hit;
    hit.at = at;
    hit.piece = piece;
    hit.velocity = Velocity(velocity);
    hit.role = role;
    hit.limb = limb;
    groove.hits.push_back(hit);
  }
  // The beats of the span are divided so, where there is a grid that says it.
  void divide(Beat step) {
    const auto grid = gridOfStep(step);
    if (!grid) return;
    const Beat unit = groove.meter.countUnit();
    for (Beat beat = Beat(from.floorDiv(unit)) * unit; beat < to; beat += unit) {
      if (beat < from) continue;
      if (*grid == groove.grid) {
        groove.beatGrids.erase(beat);
      } else {
        groove.beatGrids[beat] = *grid;
      }
    }
  }
  std::vector<Beat> steps(Beat step) const {
    std::vector<Beat> out;
    for (Beat at = from; at < to; at += step) out.push_back(at);
    return out;
  }
  // How many milliseconds a step lasts there.
  double lasts(Beat step) const { return 60e3 / asked.bpm * step.toDouble(); }
  // From the first to the last of the span, 0..1.
  double along(Beat at) const {
    return std::clamp((at - from).toDouble() / asked.beats.toDouble(), 0.0, 1.0);
  }
  Beat unit() const { return groove.meter.countUnit(); }
  bool onCount(Beat at) const { return Beat(at.floorDiv(unit())) * unit() == at; }
};

// High to low, in parts by the dice: one drum for each part.
std::vector<PieceId> downTheDrums(FillDraft& draft, std::size_t strokes) {
  static const std::vector<std::vector<PieceId>> kWays = {
      {piece::kTomHigh, piece::kTomMid, piece::kTomFloor},
      {piece::kSnare, piece::kTomHigh, piece::kTomFloor},
      {piece::kTomHigh, piece::kTomFloor},
      {piece::kSnare, piece::kTomHigh, piece::kTomMid, piece::kTomFloor}};
  std::vector<PieceId> drums = kWays[draft.dice.below(kWays.size())];
  while (drums.size() > std::max<std::size_t>(1, strokes)) drums.erase(drums.begin());
  // Even parts, then each border moved by one at most.
  std::vector<std::size_t> borders;
  for (std::size_t i = 1; i < drums.size(); ++i) borders.push_back(strokes * i / drums.size());
  for (std::size_t& border : borders) {
    const int moved = static_cast<int>(border) + draft.dice.around(1);
    border =
        static_cast<std::size_t>(std::clamp(moved, 1, std::max(1, static_cast<int>(strokes) - 1)));
  }
  std::sort(borders.begin(), borders.end());
  std::vector<PieceId> out;
  for (std::size_t i = 0; i < strokes; ++i) {
    const auto part = static_cast<std::size_t>(std::upper_bound(borders.begin(), borders.end(), i) -
                                               borders.begin());
    out.push_back(drums[part]);
  }
  return out;
}

int rising(FillDraft& draft, Beat at, int from, int to) {
  return static_cast<int>(std::lerp(from, to, draft.along(at))) + draft.dice.around(4);
}

std::string toms(FillDraft& d) {
  const auto struck = [&](Beat at, PieceId piece, bool accent) {
    return std::any_of(d.groove.hits.begin(), d.groove.hits.end(), [&](const Hit& hit) {
      return hit.at == at && hit.piece == piece && (!accent || hit.role == Role::kAccent);
    });
  };
  std::vector<Beat> places;
  for (const Hit& hit : d.groove.hits) {
    if (!d.inside(hit.at) || !keepsTime(d.kit, hit.piece)) continue;
    // The backbeat stays what it is.
    if (!struck(hit.at, piece::kSnare, true)) places.push_back(hit.at);
  }
  places.erase(std::unique(places.begin(), places.end()), places.end());
  if (places.empty()) return "nothing keeps time there: the toms have no strokes to take over";
  d.clear([&](const Hit& hit) {
    if (keepsTime(d.kit, hit.piece)) return false;
    // Ghosts give way to a tom.
    return hit.piece != piece::kSnare || hit.role == Role::kAccent ||
           !std::binary_search(places.begin(), places.end(), hit.at);
  });
  const std::vector<PieceId> drums = downTheDrums(d, places.size());
  for (std::size_t i = 0; i < places.size(); ++i) {
    if (struck(places[i], drums[i], false)) continue;
    const bool accent = d.onCount(places[i]);
    d.put(places[i], drums[i], rising(d, places[i], 84, 108) + (accent ? 6 : 0),
          accent ? Role::kAccent : Role::kNormal);
  }
  return {};
}

bool isKick(const Hit& hit) {
  return hit.piece == piece::kKick || hit.piece == piece::kHatFoot;
}

std::string doubles(FillDraft& d) {
  constexpr double kBounce = 75;  // ms between two strokes of one hand, chosen by the check
  const Beat sixteenth(1, 4);
  d.clear([&](const Hit& hit) { return isKick(hit) && d.onCount(hit.at); });
  const std::vector<Beat> places = d.steps(sixteenth);
  const std::vector<PieceId> drums = downTheDrums(d, places.size());
  const bool bounced = d.lasts(sixteenth) / 2 >= kBounce;
  for (std::size_t i = 0; i < places.size(); ++i) {
    const bool accent = bounced ? d.onCount(places[i]) : i % 4 == 0;
    // Two of one hand in the time of one where there is time for it, else two in a row.
    const std::size_t turn = bounced ? i : i / 2;
    const Limb hand = turn % 2 == 0 ? Limb::kRightHand : Limb::kLeftHand;
    d.put(places[i], bounced || i % 2 == 0 || drums[i] == drums[i - 1] ? drums[i] : drums[i - 1],
          rising(d, places[i], 72, 100) + (accent ? 12 : 0), accent ? Role::kAccent : Role::kNormal,
          hand);
    if (bounced && !accent) d.groove.hits.back().ornament = Ornament::kDiddle;
  }
  return {};
}

std::string cells(FillDraft& d, Beat step, const std::vector<std::vector<PieceId>>& ways) {
  d.clear();
  d.divide(step);
  const std::vector<PieceId>& way = ways[d.dice.below(ways.size())];
  static const PieceId kDown[] = {piece::kSnare, piece::kTomHigh, piece::kTomMid, piece::kTomFloor};
  const std::vector<Beat> places = d.steps(step);
  std::size_t drum = d.dice.below(2);
  for (std::size_t i = 0; i < places.size(); ++i) {
    const std::size_t inCell = i % way.size();
    if (i > 0 && inCell == 0) drum = std::min<std::size_t>(drum + 1, 3);
    // A tom in a cell stands for the drum that has been come to.
    const PieceId piece = way[inCell] == piece::kTomHigh ? kDown[drum] : way[inCell];
    const bool accent = inCell == 0 && piece != piece::kKick;
    d.put(places[i], piece, rising(d, places[i], 80, 102) + (accent ? 12 : 0),
          accent ? Role::kAccent : Role::kNormal);
  }
  return {};
}

std::string triplets(FillDraft& d) {
  const Beat step = d.unit() < Beat(1) ? Beat(1, 6) : d.unit() / Beat(3);
  const PieceId s = piece::kSnare, t = piece::kTomHigh, k = piece::kKick;
  return cells(d, step, {{t, t, t}, {s, t, t}, {t, t, k}, {s, t, k}});
}

std::string sextuplets(FillDraft& d) {
  const Beat step = d.unit() < Beat(1) ? Beat(1, 6) : d.unit() / Beat(6);
  const PieceId s = piece::kSnare, t = piece::kTomHigh, k = piece::kKick;
  return cells(d, step,
               {{t, t, t, t, t, t}, {s, s, t, t, t, t}, {t, t, t, t, t, k}, {s, t, t, s, t, k}});
}

std::string crescendo(FillDraft& d) {
  const Beat step = d.unit() > Beat(1) ? d.unit() / Beat(3) : Beat(1, 4);
  d.clear([&](const Hit& hit) { return isKick(hit) && d.onCount(hit.at); });
  const std::vector<Beat> places = d.steps(step);
  const PieceId low = d.dice.below(2) == 0 ? piece::kSnare : piece::kTomFloor;
  const double first = -20 + d.dice.around(2), last = -1.5;
  for (std::size_t i = 0; i < places.size(); ++i) {
    const double along =
        places.size() < 2 ? 1 : static_cast<double>(i) / static_cast<double>(places.size() - 1);
    const double level = std::lerp(first, last, along);
    const int velocity = static_cast<int>(roundToInt(127 * std::pow(10, level / 40)));
    const bool late = along > 0.75;
    d.put(places[i], late ? piece::kSnare : low, velocity, late ? Role::kAccent : Role::kNormal);
  }
  return {};
}

std::string gap(FillDraft& d) {
  std::vector<Beat> lengths;
  for (const Beat length : {Beat(1, 2), Beat(3, 4), Beat(1), Beat(3, 2)}) {
    if (length <= d.asked.beats) lengths.push_back(length);
  }
  if (lengths.empty()) return "half a quarter note is the least gap";
  const Beat start = d.to - lengths[d.dice.below(lengths.size())];
  const bool low = d.dice.below(2) == 0;
  std::erase_if(d.groove.hits, [&](const Hit& hit) { return hit.at >= start; });
  for (Hit& hit : d.groove.hits) {
    // Nothing rings into it.
    if (hit.at >= d.from && hit.open > 0) hit.open = 0, hit.openFor = Beat(0);
  }
  if (d.groove.pedal)
    std::erase_if(d.groove.pedal->moves,
                  [&](const PedalMove& move) { return move.at + move.length > start; });
  d.put(start, piece::kSnare, 114, Role::kAccent);
  if (low) d.put(start, piece::kTomFloor, 108, Role::kAccent);
  d.put(start, piece::kKick, 106);
  return {};
}

std::string kickBetween(FillDraft& d) {
  d.clear();
  const Beat step = d.unit() > Beat(1) ? d.unit() / Beat(3) : Beat(1, 4);
  // Hands and the kick between them: the group, and which drums the hands are on.
  static const std::vector<std::string> kGroups = {"RLK", "RLKRLKRK", "RKLK", "RLRK"};
  static const std::vector<std::pair<PieceId, PieceId>> kHands = {
      {piece::kSnare, piece::kSnare},
      {piece::kTomFloor, piece::kSnare},
      {piece::kTomHigh, piece::kTomMid},
      {piece::kTomFloor, piece::kTomHigh}};
  const std::string& group = kGroups[d.dice.below(kGroups.size())];
  std::size_t hands = d.dice.below(kHands.size());
  const std::vector<Beat> places = d.steps(step);
  for (std::size_t i = 0; i < places.size(); ++i) {
    const char stroke = group[i % group.size()];
    if (i == places.size() / 2) hands = (hands + 1) % kHands.size();
    if (stroke == 'K') {
      d.put(places[i], piece::kKick, 100 + d.dice.around(4));
      continue;
    }
    const bool accent = i % group.size() == 0;
    d.put(places[i], stroke == 'R' ? kHands[hands].first : kHands[hands].second,
          rising(d, places[i], 84, 100) + (accent ? 12 : 0), accent ? Role::kAccent : Role::kNormal,
          stroke == 'R' ? Limb::kRightHand : Limb::kLeftHand);
  }
  return {};
}

// The base's own strokes at another subdivision, counted back from the 1 that they land on.
std::string regrid(FillDraft& d) {
  const Beat step = d.base.grid.step();
  const bool threes = d.base.grid.tuplet == 3;
  std::vector<Beat> factors = threes ? std::vector<Beat>{Beat(4, 3), Beat(2, 3)}
                                     : std::vector<Beat>{Beat(3, 2), Beat(3, 4)};
  std::erase_if(factors, [&](Beat f) {
    return f * d.asked.beats > d.base.length() || !gridOfStep(step / f);
  });
  if (factors.empty()) return "the groove's grid has no other to go to, or it is too short for it";
  const Beat factor = factors[d.dice.below(factors.size())];
  const Beat source = d.base.length() - factor * d.asked.beats;
  d.clear();
  d.divide(step / factor);
  for (Hit hit : d.base.hits) {
    if (hit.at < source) continue;
    hit.at = d.to - (d.base.length() - hit.at) / factor;
    hit.openFor = hit.openFor / factor;
    hit.ornamentFor = hit.ornamentFor / factor;
    if (hit.at.den() > kDenominatorMax) return "the positions would be finer than a song can say";
    d.groove.hits.push_back(std::move(hit));
  }
  return {};
}

using Recipe = std::string (*)(FillDraft&);
struct Kind {
  FillRecipe told;
  Recipe make;
};
const std::vector<Kind>& kinds() {
  static const std::vector<Kind> all = {
      {{"toms", "Round the toms", "the hats' strokes go over the toms; kick and backbeat stay"},
       toms},
      {{"doubles", "In doubles", "two strokes of each hand in turn, down the drums"}, doubles},
      {{"triplets", "In triplets", "three strokes to the beat, a drum lower with each"}, triplets},
      {{"sextuplets", "In sextuplets", "six strokes to the beat"}, sextuplets},
      {{"crescendo", "Growing", "one drum, from a ghost to an accent"}, crescendo},
      {{"gap", "A gap before 1", "one stroke, then nothing until the next 1"}, gap},
      {{"kick-between", "Kick between the hands", "hand, hand, kick, over and over"}, kickBetween},
      {{"regrid", "Another grid", "the groove's own strokes, closer or wider, landing on 1"},
       regrid}};
  return all;
}

}  // namespace

const std::vector<FillRecipe>& fillRecipes() {
  static const std::vector<FillRecipe> all = [] {
    std::vector<FillRecipe> out;
    for (const Kind& kind : kinds()) out.push_back(kind.told);
    return out;
  }();
  return all;
}

Result<Groove> makeFill(const Groove& base, const Kit& kit, const FillAsked& asked) {
  const auto kind = std::find_if(kinds().begin(), kinds().end(),
                                 [&](const Kind& k) { return k.told.id == asked.recipe; });
  if (kind == kinds().end()) {
    std::string all;
    for (const Kind& k : kinds()) all += (all.empty() ? "" : ", ") + std::string(k.told.id);
    return Error{ErrorCode::kUnknown,
                 fmt::format("there is no recipe \"{}\"; {} are", asked.recipe, all),
                 {}};
  }
  if (asked.beats <= Beat(0) || asked.beats > base.length()) {
    return Error{ErrorCode::kLimit,
                 fmt::format("a fill of {} quarter notes does not go into \"{}\", which has {}",
                             asked.beats.toString(), base.id, base.length().toString()),
                 {}};
  }
  FillDraft draft(base, kit, asked);
  if (std::string why = kind->make(draft); !why.empty())
    return Error{ErrorCode::kLimit, fmt::format("{}: {}", asked.recipe, why), {}};
  std::stable_sort(draft.groove.hits.begin(), draft.groove.hits.end(), writtenBefore);
  keepLoudest(draft.groove.hits);
  draft.groove.name = fmt::format("{}, {}", base.name, kind->told.title);
  if (asked.seed > 1) draft.groove.name += fmt::format(" {}", asked.seed);
  return std::move(draft.groove);
}

Tried triedBy(const Song& song, const Groove& groove, const Profile& profile, double bpm) {
  Song alone = song.withoutGrooves();
  alone.arrangement.clear();
  alone.grooves = {SharedValue<Groove>(groove)};
  alone.grooves[0].edit([](Groove& g) { g.core.clear(); });
  const Result<HandReport> report = handReport(alone, groove.id, profile, bpm);
  if (!report) return {};
  return {comfortableBpm(*report, report->ceiling.comfortable),
          ceilingBpm(*report, report->ceiling.playable)};
}

std::string addGroove(Song& song, Groove groove, const std::string& wanted) {
  for (const auto& there : song.grooves) {
    groove.id = there->id;
    if (*there == groove) return there->id;
  }
  std::string id = freeId(song, wanted);
  groove.id = id;
  song.grooves.emplace_back(std::move(groove));
  return id;
}

namespace {

Result<Song> planned(Song song, std::size_t index, SectionFill fill) {
  Section& section = song.arrangement[index];
  if (fill.beats > passLength(song, section)) {
    return Error{ErrorCode::kLimit,
                 fmt::format("a pass of \"{}\" is shorter than {} quarter notes", section.name,
                             fill.beats.toString()),
                 {}};
  }
  if (section.fill) fill.extras = section.fill->extras;
  section.fill = std::move(fill);
  return song;
}

std::optional<Error> notThere(const Song& song, std::size_t index) {
  if (index < song.arrangement.size()) return std::nullopt;
  return Error{
      ErrorCode::kLimit,
      fmt::format("there is no section {}; the song has {}", index + 1, song.arrangement.size()),
      {}};
}

}  // namespace

Result<Song> withFill(Song song, std::size_t index, const FillPlan& plan) {
  song.arrangement = song.sections();
  if (const auto error = notThere(song, index)) return *error;
  const Section section = song.arrangement[index];
  const Groove* base = song.findGroove(section.pass().back());
  if (base == nullptr) return Error{ErrorCode::kUnknown, "its groove is not there", {}};
  SectionFill fill;
  fill.beats = plan.asked.beats;
  fill.every = plan.every;
  fill.after = plan.after;
  const int fills = plan.every > 0 ? section.repeat / plan.every : 1;
  const int takes = plan.another ? std::clamp(fills, 1, kFillTakesMost) : 1;
  const Groove from = *base;
  for (int i = 0; i < takes; ++i) {
    FillAsked asked = plan.asked;
    asked.seed += static_cast<std::uint64_t>(i);
    Result<Groove> made = makeFill(from, *song.kit, asked);
    if (!made) return made.error();
    fill.grooves.push_back(addGroove(song, *std::move(made), from.id + "-" + asked.recipe));
  }
  fill.groove = fill.grooves.front();
  if (takes == 1) fill.grooves.clear();
  return planned(std::move(song), index, std::move(fill));
}

Result<Song> withFillFrom(Song song, std::size_t index, Groove groove, Beat beats, int every,
                          FillAfter after) {
  song.arrangement = song.sections();
  if (const auto error = notThere(song, index)) return *error;
  if (beats <= Beat(0) || beats > groove.length()) {
    return Error{ErrorCode::kLimit,
                 fmt::format("\"{}\" has {} quarter notes, not {}", groove.name,
                             groove.length().toString(), beats.toString()),
                 {}};
  }
  SectionFill fill;
  fill.beats = beats;
  fill.every = every;
  fill.after = after;
  const std::string wanted = groove.id;
  fill.groove = song.findGroove(wanted) != nullptr && *song.findGroove(wanted) == groove
                    ? wanted
                    : addGroove(song, std::move(groove), wanted);
  return planned(std::move(song), index, std::move(fill));
}

}  // namespace uneven
