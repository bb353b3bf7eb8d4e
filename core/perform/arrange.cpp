// SPDX-License-Identifier: GPL-3.0-or-later
// Laying sections out on the song's beats.
#include <fmt/format.h>

#include <algorithm>

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
  score.kit = song.kit;
  score.tempo = song.tempoMap();
  return score;
}

Result<std::uint32_t> feelIndex(const Song& song, const Section& section, const Groove& groove) {
  const std::string& id = section.feel.empty() ? groove.feel : section.feel;
  if (id.empty()) return static_cast<std::uint32_t>(song.feels.size());
  const auto found =
      std::find_if(song.feels.begin(), song.feels.end(), [&](const Feel& f) { return f.id == id; });
  if (found == song.feels.end()) return unknown(section, "feel", id);
  return static_cast<std::uint32_t>(found - song.feels.begin());
}

const SharedValue<Groove>* shared(const Song& song, const std::string& id) {
  for (const auto& groove : song.grooves) {
    if (groove->id == id) return &groove;
  }
  return nullptr;
}

// Counts before anything is laid out, so that a short file cannot ask for endless memory.
std::int64_t strokesOf(const Groove& groove) {
  std::int64_t strokes = 0;
  for (const Hit& hit : groove.hits) {
    // Looking a slot up costs more than the ornament that few hits have.
    strokes += hit.ornament == Ornament::kNone ? 1 : strokesAtMost(hit, slotLength(groove, hit.at));
  }
  return strokes;
}

std::optional<Error> tooLong(const Score& score, const Section& section, const Groove& groove) {
  const std::int64_t bars = score.bars + static_cast<std::int64_t>(section.repeat) * groove.bars;
  const std::int64_t strokes = score.strokes + section.repeat * strokesOf(groove);
  if (bars > kSongBarsMax) {
    return Error{ErrorCode::kLimit,
                 fmt::format("section \"{}\" takes the song to {} bars; at most {} are allowed",
                             section.name, bars, kSongBarsMax),
                 {}};
  }
  if (strokes > kStrokesMax) {
    return Error{ErrorCode::kLimit,
                 fmt::format("section \"{}\" takes the song to {} strokes; at most {} are allowed",
                             section.name, strokes, kStrokesMax),
                 {}};
  }
  return std::nullopt;
}

}  // namespace

Result<Score> arrange(const Song& song) {
  Score score = emptyScore(song);
  score.sections = song.sections();
  for (std::size_t s = 0; s < score.sections.size(); ++s) {
    const Section& section = score.sections[s];
    const SharedValue<Groove>* groove = shared(song, section.groove);
    if (groove == nullptr) return unknown(section, "groove", section.groove);
    const Result<std::uint32_t> feel = feelIndex(song, section, **groove);
    if (!feel) return feel.error();
    if (auto error = tooLong(score, section, **groove)) return *error;
    const Beat length = (*groove)->length();
    const std::int64_t strokes = strokesOf(**groove);
    const Beat start = score.length;
    const std::uint32_t before = score.blocks.empty() ? *feel : score.blocks.back().feel;
    const Beat morphEnd = start + std::min(section.morph, Beat(section.repeat) * length);
    for (int i = 0; i < section.repeat; ++i) {
      Score::Block& block = score.blocks.emplace_back();
      block.start = score.length;
      block.firstBar = score.bars;
      block.section = static_cast<std::uint32_t>(s);
      block.feel = block.before = *feel;
      block.groove = *groove;
      if (before != *feel && block.start < morphEnd) {
        block.before = before;
        block.morphStart = start;
        block.morphEnd = morphEnd;
      }
      score.length += length;
      score.bars += (*groove)->bars;
      score.hits += std::ssize((*groove)->hits);
      score.strokes += strokes;
    }
  }
  score.songLength = score.length;
  return score;
}

Result<Score> repetitionsOf(const Song& song, const std::string& grooveId, std::size_t most) {
  Result<Score> score = arrange(song);
  if (!score) return score;
  std::erase_if(score->blocks,
                [&](const Score::Block& block) { return block.groove->id != grooveId; });
  if (score->blocks.size() > most) score->blocks.resize(most);
  score->hits = 0;
  for (const Score::Block& block : score->blocks) score->hits += std::ssize(block.groove->hits);
  return score;
}

Result<Score> arrangeGroove(const Song& song, const std::string& grooveId) {
  Score score = emptyScore(song);
  const SharedValue<Groove>* groove = shared(song, grooveId);
  if (groove == nullptr) {
    return Error{ErrorCode::kUnknown, fmt::format("there is no groove \"{}\"", grooveId), {}};
  }
  Score::Block block;
  Section section;
  section.name = (*groove)->name;
  section.groove = grooveId;
  bool found = false;
  for (const Section& played : song.sections()) {
    if (played.groove == grooveId && !found) {
      section = played;
      found = true;
    }
    const Groove* laid = song.findGroove(played.groove);
    if (laid == nullptr) return unknown(played, "groove", played.groove);
    score.songLength += Beat(played.repeat) * laid->length();
    if (found) continue;
    block.start += Beat(played.repeat) * laid->length();
    block.firstBar += played.repeat * laid->bars;
  }
  // A groove that is never played stands at the song's start.
  if (!found) {
    block.start = Beat(0);
    block.firstBar = 0;
    score.songLength = std::max(score.songLength, (*groove)->length());
  }
  const Result<std::uint32_t> feel = feelIndex(song, section, **groove);
  if (!feel) return feel.error();
  section.repeat = 1;
  score.sections.push_back(section);
  block.feel = *feel;
  block.groove = *groove;
  score.bars = (*groove)->bars;
  score.length = (*groove)->length();
  score.hits = std::ssize((*groove)->hits);
  score.strokes = strokesOf(**groove);
  score.blocks.push_back(std::move(block));
  return score;
}

}  // namespace uneven
