// SPDX-License-Identifier: GPL-3.0-or-later
// Laying sections out on the song's beats.
#include <fmt/format.h>

#include <algorithm>
#include <unordered_map>

#include "core/perform/ornament.h"
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

std::optional<Error> tooLong(const Score& score, std::int64_t pedal, const Section& section,
                             const Groove& groove, const Demand& demand) {
  const std::int64_t bars = score.bars + static_cast<std::int64_t>(section.repeat) * groove.bars;
  const std::int64_t strokes = score.strokes + section.repeat * demand.strokes;
  if (bars > kSongBarsMax) return beyond(section, bars, "bars", kSongBarsMax);
  if (strokes > kStrokesMax) return beyond(section, strokes, "strokes", kStrokesMax);
  if (pedal > kPedalMovesMax) {
    return beyond(section, pedal, "movements of the hats' pedal", kPedalMovesMax);
  }
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

Result<Score> arrange(const Song& song) {
  Score score = emptyScore(song);
  score.sections = song.sections();
  const Places places(song);
  std::vector<std::optional<Demand>> demands(song.grooves.size());
  std::int64_t pedal = 0;
  std::int64_t hats = 0;
  for (std::size_t s = 0; s < score.sections.size(); ++s) {
    const Section& section = score.sections[s];
    const auto index = places.groove(section.groove);
    if (!index) return unknown(section, "groove", section.groove);
    const SharedValue<Groove>& groove = song.grooves[*index];
    const Result<std::uint32_t> feel = places.feel(section, *groove);
    if (!feel) return feel.error();
    if (!demands[*index]) demands[*index] = demandOf(*groove);
    const Demand& demand = *demands[*index];
    pedal += section.repeat * demand.pedal;
    hats += section.repeat * demand.hats;
    const std::int64_t moves = pedal == 0 ? 0 : pedal + hats;
    if (auto error = tooLong(score, moves, section, *groove, demand)) return *error;
    const Beat length = groove->length();
    const Beat start = score.length;
    const std::uint32_t before = score.blocks.empty() ? *feel : score.blocks.back().feel;
    const Beat morphEnd = start + std::min(section.morph, Beat(section.repeat) * length);
    for (int i = 0; i < section.repeat; ++i) {
      Score::Block& block = score.blocks.emplace_back();
      block.start = score.length;
      block.firstBar = score.bars;
      block.section = static_cast<std::uint32_t>(s);
      block.feel = block.before = *feel;
      block.groove = groove;
      if (before != *feel && block.start < morphEnd) {
        block.before = before;
        block.morphStart = start;
        block.morphEnd = morphEnd;
      }
      score.length += length;
      score.bars += groove->bars;
      score.hits += std::ssize(groove->hits);
      score.strokes += demand.strokes;
    }
  }
  score.songLength = score.length;
  if (auto error = driftsTooLong(score)) return *error;
  return score;
}

Result<Score> arrangeGroove(const Song& song, const std::string& grooveId) {
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
  for (const Section& played : song.sections()) {
    if (played.groove == grooveId && !found) {
      section = played;
      found = true;
    }
    const auto laid = places.groove(played.groove);
    if (!laid) return unknown(played, "groove", played.groove);
    const Groove& other = *song.grooves[*laid];
    score.songLength += Beat(played.repeat) * other.length();
    if (found) continue;
    block.start += Beat(played.repeat) * other.length();
    block.firstBar += played.repeat * other.bars;
  }
  // A groove that is never played stands at the song's start.
  if (!found) {
    block.start = Beat(0);
    block.firstBar = 0;
    score.songLength = std::max(score.songLength, groove->length());
  }
  const Result<std::uint32_t> feel = places.feel(section, *groove);
  if (!feel) return feel.error();
  section.repeat = 1;
  score.sections.push_back(section);
  block.feel = *feel;
  block.groove = groove;
  score.bars = groove->bars;
  score.length = groove->length();
  score.hits = std::ssize(groove->hits);
  score.strokes = demandOf(*groove).strokes;
  score.blocks.push_back(std::move(block));
  return score;
}

}  // namespace uneven
