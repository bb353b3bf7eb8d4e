// SPDX-License-Identifier: GPL-3.0-or-later
// Laying sections out on the song's beats.
#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <tuple>
#include <unordered_map>
#include <utility>

#include "core/perform/ornament.h"
#include "core/perform/passage.h"
#include "core/perform/score.h"
#include "core/song/slots.h"

namespace uneven {
namespace {

Error unknown(const Section& section, std::string_view what, const std::string& id) {
  return {ErrorCode::kUnknown,
          fmt::format("section \"{}\" wants {} \"{}\", which the song does not have", section.name,
                      what, id),
          {}};
}

Score emptyScore(const Song& song) {
  Score score;
  score.feels = song.feels;
  score.feels.emplace_back();
  for (Feel& feel : score.feels) {
    const auto earlier = [](const Slot& x, const Slot& y) { return x.at < y.at; };
    if (!std::is_sorted(feel.slots.begin(), feel.slots.end(), earlier)) {
      std::stable_sort(feel.slots.begin(), feel.slots.end(), earlier);
    }
  }
  score.kit = song.kit;
  score.tempo = song.tempoMap();
  return score;
}

// Where the grooves and feels of a song stand, by id.
class Places {
 public:
  explicit Places(const Song& song) : song_(song) {
    for (std::uint32_t i = 0; i < song.grooves.size(); ++i)
      grooves_.emplace(song.grooves[i]->id, i);
    for (std::uint32_t i = 0; i < song.feels.size(); ++i) feels_.emplace(song.feels[i].id, i);
  }

  std::optional<std::uint32_t> groove(const std::string& id) const {
    const auto found = grooves_.find(id);
    return found == grooves_.end() ? std::nullopt : std::optional(found->second);
  }
  // The feel a groove has in a section; the one behind the last changes nothing.
  Result<std::uint32_t> feel(const Section& section, const Groove& groove) const {
    const std::string& id = section.feel.empty() ? groove.feel : section.feel;
    if (id.empty()) return static_cast<std::uint32_t>(song_.feels.size());
    const auto found = feels_.find(id);
    if (found == feels_.end()) return unknown(section, "feel", id);
    return found->second;
  }

 private:
  const Song& song_;
  std::unordered_map<std::string_view, std::uint32_t> grooves_;
  std::unordered_map<std::string_view, std::uint32_t> feels_;
};

// What one repetition of a groove asks for at most, counted before anything is laid out, so that a
// short file cannot ask for endless memory.
struct Demand {
  std::int64_t strokes = 0;
  std::int64_t pedal = 0;  // movements that openings and the pump ask for
  std::int64_t hats = 0;   // strokes on the hats
};

std::int64_t pressesOf(const Pump& pump, Beat bar) {
  const Beat step = pump.unit.step();
  const std::int64_t whole = bar.floorDiv(step);
  const std::int64_t slots = whole + (Beat(whole) * step < bar ? 1 : 0);
  if (pump.cell.empty()) return pump.phase == PumpPhase::kOn ? slots : slots / 2;
  const auto cell = std::ssize(pump.cell);
  const auto pressed = [&](std::int64_t signs) {
    return std::count(pump.cell.begin(), pump.cell.begin() + signs, 'x');
  };
  return slots / cell * pressed(cell) + pressed(slots % cell);
}

Demand demandOf(const Groove& groove) {
  Demand out;
  for (const Hit& hit : groove.hits) {
    // Looking a slot up costs more than the ornament that few hits have.
    out.strokes +=
        hit.ornament == Ornament::kNone ? 1 : strokesAtMost(hit, slotLength(groove, hit.at));
    if (hit.piece == piece::kHat && hit.open > 0) out.pedal += 2;
    if (hit.piece == piece::kHatFoot) ++out.pedal;
    if (hit.piece == piece::kHat) ++out.hats;
  }
  if (!groove.pedal) return out;
  out.pedal += 2 * std::ssize(groove.pedal->moves);
  if (groove.pedal->pump) {
    out.pedal += groove.bars * pressesOf(*groove.pedal->pump, groove.meter.barLength());
  }
  return out;
}

Error beyond(const Section& section, std::int64_t count, std::string_view what, std::int64_t most) {
  return {ErrorCode::kLimit,
          fmt::format("section \"{}\" takes the song to {} {}; at most {} are allowed",
                      section.name, count, what, most),
          {}};
}

// What a section asks for at most, counted before anything is laid out.
struct Asked {
  std::int64_t bars = 0, strokes = 0, pedal = 0, hats = 0;
};

std::optional<Error> tooLong(const Asked& all, const Section& section) {
  if (all.bars > kSongBarsMax) return beyond(section, all.bars, "bars", kSongBarsMax);
  if (all.strokes > kStrokesMax) return beyond(section, all.strokes, "strokes", kStrokesMax);
  const std::int64_t moves = all.pedal == 0 ? 0 : all.pedal + all.hats;
  if (moves > kPedalMovesMax)
    return beyond(section, moves, "movements of the hats' pedal", kPedalMovesMax);
  return std::nullopt;
}

// Drift is worked out for the whole song, struck or not.
std::optional<Error> driftsTooLong(const Score& score) {
  std::vector<bool> drifts(score.feels.size(), false);
  for (const Score::Block& block : score.blocks) {
    for (const std::uint32_t feel : {block.feel, block.before}) {
      const auto& drift = score.feels[feel].drift;
      drifts[feel] = drift && (drift->clock.count() > 0 || drift->velocity > 0);
    }
  }
  const std::int64_t feels = std::count(drifts.begin(), drifts.end(), true);
  const std::int64_t quarters = score.length.floorDiv(Beat(1)) + 1;
  if (feels * quarters <= kDriftLengthMax) return std::nullopt;
  return Error{ErrorCode::kLimit,
               fmt::format("the song is {} quarter notes long and {} of its feels drift; at most "
                           "{} quarter notes in all are allowed to drift",
                           quarters, feels, kDriftLengthMax),
               {}};
}

}  // namespace

namespace {

// Lays one section out after the other.
class Arranger {
 public:
  explicit Arranger(const Song& song)
      : song_(song), places_(song), score_(emptyScore(song)), demands_(song.grooves.size()) {}

  Result<Score> run() {
    score_.sections = song_.sections();
    for (std::size_t s = 0; s < score_.sections.size(); ++s) {
      if (auto error = lay(s)) return *error;
    }
    score_.songLength = score_.length;
    if (auto error = driftsTooLong(score_)) return *error;
    return std::move(score_);
  }

 private:
  struct Kept {
    SharedValue<Groove> groove;
    std::int64_t strokes = 0;
  };
  struct Made {
    const SharedValue<Groove>* groove;
    std::int64_t strokes;  // that it asks for
  };
  struct Entry {
    std::uint32_t groove = 0;  // index into the song's
    std::uint32_t feel = 0;
    Beat start, length;  // in the pass
    // As the section plays it: by whether the crash is in it, what it begins with and which fill
    // it ends with, -1: none.
    std::map<std::tuple<bool, FillAfter, int>, Kept> made;
  };

  const Demand& demandOf(std::uint32_t groove) {
    if (!demands_[groove]) demands_[groove] = uneven::demandOf(*song_.grooves[groove]);
    return *demands_[groove];
  }

  std::optional<Error> lay(std::size_t s) {
    const Section& section = score_.sections[s];
    // A song that is arranged can be written and read again.
    const std::size_t takes = section.fill ? section.fill->grooves.size() : 0;
    if (const std::size_t most = std::max(section.grooves.size(), takes); most > kPassMost)
      return Error{ErrorCode::kLimit,
                   fmt::format("section \"{}\" plays {} grooves in turn; at most {} are allowed",
                               section.name, most, kPassMost),
                   {}};
    std::vector<Entry> pass;
    Beat length;
    for (const std::string& id : section.pass()) {
      const auto index = places_.groove(id);
      if (!index) return unknown(section, "groove", id);
      const Result<std::uint32_t> feel = places_.feel(section, *song_.grooves[*index]);
      if (!feel) return feel.error();
      pass.push_back({*index, *feel, length, song_.grooves[*index]->length(), {}});
      length += pass.back().length;
    }
    std::vector<std::uint32_t> fills;
    if (section.fill) {
      for (const std::string& id : section.fill->takes()) {
        const auto index = places_.groove(id);
        if (!index) return unknown(section, "groove", id);
        const Groove& fill = *song_.grooves[*index];
        if (section.fill->beats > fill.length() || section.fill->beats > length)
          return fillTooLong(section, fill, length);
        fills.push_back(*index);
      }
    }
    if (auto error = count(section, pass, fills)) return error;
    const std::size_t more =
        score_.blocks.size() + static_cast<std::size_t>(section.repeat) * pass.size();
    if (more > score_.blocks.capacity())
      score_.blocks.reserve(std::max(more, 2 * score_.blocks.capacity()));
    const Beat start = score_.length;
    const Beat morphEnd = start + std::min(section.morph, Beat(section.repeat) * length);
    const bool follows = !score_.blocks.empty();
    const std::uint32_t before = follows ? score_.blocks.back().feel : 0;
    std::size_t filled = 0;
    const bool changes = changesAll(section);
    for (int p = 0; p < section.repeat; ++p) {
      const bool fill = section.fill && section.fill->fills(p, section.repeat);
      const std::size_t take = fill ? filled++ % fills.size() : 0;
      for (Entry& entry : pass) {
        PassChange change;
        change.crash = p == 0 && entry.start == Beat(0) && section.crash.has_value();
        change.after = std::exchange(after_, FillAfter::kNothing);
        if (fill) change.take = static_cast<int>(take);
        const auto fillOf = [&] {
          return spanOf(section, *song_.grooves[fills[take]], entry, length);
        };
        const Made made = fill || changes || !change.none()
                              ? playedAs(section, entry, change, fillOf)
                              : asWritten(entry);
        const bool morphs = follows && before != entry.feel && score_.length < morphEnd;
        score_.blocks.push_back({.start = score_.length,
                                 .firstBar = score_.bars,
                                 .section = static_cast<std::uint32_t>(s),
                                 .pass = static_cast<std::uint32_t>(p),
                                 .feel = entry.feel,
                                 .groove = *made.groove,
                                 .before = morphs ? before : entry.feel,
                                 .morphStart = morphs ? start : Beat(),
                                 .morphEnd = morphs ? morphEnd : Beat()});
        score_.length += entry.length;
        score_.bars += (*made.groove)->bars;
        score_.hits += std::ssize((*made.groove)->hits);
        score_.strokes += made.strokes;
      }
      if (fill) after_ = section.fill->after;
    }
    score_.spans.push_back({start, score_.length});
    return std::nullopt;
  }

  // What of an entry lies in the last beats of the pass; nothing: none of it.
  std::optional<FillSpan> spanOf(const Section& section, const Groove& fill, const Entry& entry,
                                 Beat pass) const {
    const Beat end = entry.start + entry.length;
    const Beat first = pass - section.fill->beats;
    if (end <= first) return std::nullopt;
    const Beat from = std::max(first, entry.start);
    return FillSpan{from - entry.start, end - entry.start, &fill,
                    fill.length() - section.fill->beats + (from - first)};
  }

  Made asWritten(const Entry& entry) {
    return {&song_.grooves[entry.groove], demandOf(entry.groove).strokes};
  }
  // `fillOf`: what of the fill lies in the entry. A pass that no fill reaches is one without.
  template <typename FillOf>
  Made playedAs(const Section& section, Entry& entry, PassChange change, FillOf fillOf) {
    const auto key = [&] { return std::tuple(change.crash, change.after, change.take); };
    const auto known = entry.made.find(key());
    if (known != entry.made.end()) return {&known->second.groove, known->second.strokes};
    if (change.take >= 0) {
      change.fill = fillOf();
      if (!change.fill) {
        change.take = -1;
        return playedAs(section, entry, change, fillOf);
      }
    }
    if (change.none() && !changesAll(section)) return asWritten(entry);
    SharedValue<Groove> groove(
        passageOf(*song_.grooves[entry.groove], section, *song_.kit, change));
    const std::int64_t strokes = uneven::demandOf(*groove).strokes;
    const Kept& kept = entry.made.emplace(key(), Kept{std::move(groove), strokes}).first->second;
    return {&kept.groove, kept.strokes};
  }

  // Counted with all that is written, muted or not, and with the longest fill, whole, each time.
  std::optional<Error> count(const Section& section, const std::vector<Entry>& pass,
                             const std::vector<std::uint32_t>& fills) {
    const auto add = [&](std::uint32_t groove, std::int64_t times, bool bars) {
      const Demand& demand = demandOf(groove);
      all_.bars += bars ? times * song_.grooves[groove]->bars : 0;
      all_.strokes += times * demand.strokes;
      all_.pedal += times * demand.pedal;
      all_.hats += times * demand.hats;
    };
    for (const Entry& entry : pass) add(entry.groove, section.repeat, true);
    if (!fills.empty()) {
      const int every = section.fill->every;
      const std::int64_t times = every > 0 ? section.repeat / every : 1;
      const auto lesser = [&](std::uint32_t a, std::uint32_t b) {
        return demandOf(a).strokes < demandOf(b).strokes;
      };
      const auto fewerMoves = [&](std::uint32_t a, std::uint32_t b) {
        return demandOf(a).pedal + demandOf(a).hats < demandOf(b).pedal + demandOf(b).hats;
      };
      all_.strokes +=
          times * demandOf(*std::max_element(fills.begin(), fills.end(), lesser)).strokes;
      const Demand& most = demandOf(*std::max_element(fills.begin(), fills.end(), fewerMoves));
      all_.pedal += times * most.pedal;
      all_.hats += times * most.hats;
      // What comes after: a stroke or two, an opening.
      if (section.fill->after != FillAfter::kNothing) all_.strokes += 2 * times;
      if (section.fill->after == FillAfter::kOpenHats) all_.pedal += 2 * times;
    }
    all_.strokes += section.crash ? 1 : 0;
    return tooLong(all_, section);
  }

  static Error fillTooLong(const Section& section, const Groove& fill, Beat pass) {
    return {
        ErrorCode::kLimit,
        fmt::format("section \"{}\" wants a fill of {} quarter notes; its groove \"{}\" has {}, "
                    "a pass {}",
                    section.name, section.fill->beats.toString(), fill.id, fill.length().toString(),
                    pass.toString()),
        {}};
  }

  const Song& song_;
  Places places_;
  Score score_;
  std::vector<std::optional<Demand>> demands_;
  Asked all_;
  FillAfter after_ = FillAfter::kNothing;  // what the next pass begins with
};

}  // namespace

Result<Score> arrange(const Song& song) {
  if (const std::int64_t steps = song.rampSteps(); steps > kRampStepsMax) {
    return Error{ErrorCode::kLimit,
                 fmt::format("the tempos ramp over {} sixteenths; at most {} are allowed", steps,
                             kRampStepsMax),
                 {}};
  }
  return Arranger(song).run();
}

Result<Score> arrangeGroove(const Song& song, const std::string& grooveId, const AtPlace& at) {
  Score score = emptyScore(song);
  const Places places(song);
  const auto index = places.groove(grooveId);
  if (!index) {
    return Error{ErrorCode::kUnknown, fmt::format("there is no groove \"{}\"", grooveId), {}};
  }
  const SharedValue<Groove>& groove = song.grooves[*index];
  Score::Block block;
  Section section;
  section.name = groove->name;
  section.groove = grooveId;
  bool found = false;
  const bool placed = at && song.plays(grooveId, *at);
  const std::vector<Section> sections = song.sections();
  for (std::size_t s = 0; s < sections.size(); ++s) {
    const Section& played = sections[s];
    const bool wanted = !placed || s == at->section;
    Beat length;
    int bars = 0;
    bool here = false;
    for (const std::string& id : played.pass()) {
      if (id == grooveId && !found && wanted) {
        here = true;
        section = played;
        found = true;
        block.start += length;
        block.firstBar += bars;
      }
      const auto laid = places.groove(id);
      if (!laid) return unknown(played, "groove", id);
      length += song.grooves[*laid]->length();
      bars += song.grooves[*laid]->bars;
    }
    score.songLength += Beat(played.repeat) * length;
    if (here && placed) {
      block.start += Beat(at->pass) * length;
      block.firstBar += at->pass * bars;
    }
    if (found) continue;
    block.start += Beat(played.repeat) * length;
    block.firstBar += played.repeat * bars;
  }
  // A groove that is never played stands at the song's start.
  if (!found) {
    block.start = Beat(0);
    block.firstBar = 0;
    score.songLength = std::max(score.songLength, groove->length());
  }
  const Result<std::uint32_t> feel = places.feel(section, *groove);
  if (!feel) return feel.error();
  // As it is written: what the section makes of it is the song's.
  section.groove = grooveId;
  section.repeat = 1;
  section.grooves.clear();
  section.fill.reset();
  section.mute.clear();
  section.swap.clear();
  section.crash.reset();
  section.levelDb = 0;
  section.toLevelDb.reset();
  score.sections.push_back(section);
  score.spans.push_back({block.start, block.start + groove->length()});
  block.feel = *feel;
  block.groove = groove;
  score.bars = groove->bars;
  score.length = groove->length();
  score.hits = std::ssize(groove->hits);
  score.strokes = demandOf(*groove).strokes;
  score.blocks.push_back(std::move(block));
  return score;
}

const Score::Block* blockAt(const Score& score, const std::string& grooveId, const AtPlace& at) {
  const auto found =
      std::find_if(score.blocks.begin(), score.blocks.end(), [&](const Score::Block& b) {
        return b.groove->id == grooveId &&
               (!at ||
                (b.section == at->section && b.pass == static_cast<std::uint32_t>(at->pass)));
      });
  return found == score.blocks.end() ? nullptr : &*found;
}

}  // namespace uneven
