// SPDX-License-Identifier: GPL-3.0-or-later
// Tools for the feel in force for a groove, and for how feels follow each other.
#include <fmt/format.h>

#include <algorithm>

#include "core/base/number.h"
#include "core/measure/pull_together.h"
#include "core/measure/seam.h"
#include "core/perform/drift.h"
#include "core/perform/swing.h"
#include "core/song/edit.h"
#include "core/song/names.h"
#include "core/tools/call.h"
#include "core/tools/groups.h"

namespace uneven {
namespace {

constexpr const char* kKeep = "keep";

// The tempo where the song first plays the groove.
Tempo tempoOf(const Song& song, const std::string& grooveId) {
  const Result<Score> score = arrangeGroove(song, grooveId);
  if (!score) return Tempo::fromBpm(song.tempo.front().bpm);
  return score->tempo.tempoAt(score->blocks.front().start);
}

void change(ToolCall& call, Song& song, const std::function<void(Feel&)>& edit) {
  song = withFeelChanged(std::move(song), call.groove.id, edit);
}

void swing(ToolCall& call, Song& song) {
  const auto ratio = call.realIfGiven("ratio");
  const auto percent = call.realIfGiven("percent");
  const auto shortMs = call.realIfGiven("short_ms");
  if (int{ratio.has_value()} + int{percent.has_value()} + int{shortMs.has_value()} > 1) {
    return call.fail(ErrorCode::kUsage, "one of ratio, percent and short_ms, not more");
  }
  const Tempo tempo = tempoOf(song, call.groove.id);
  change(call, song, [&](Feel& feel) {
    Swing& s = feel.swing;
    if (const auto unit = fromText<SwingUnit>(call.text("unit"))) s.unit = *unit;
    if (const auto written = fromText<Written>(call.text("written"))) s.written = *written;
    const Milliseconds pair = pairLength(s.unit, tempo);
    std::optional<double> wanted = ratio;
    if (percent) wanted = ratioOfPercent(*percent);
    if (shortMs) wanted = ratioOfShort(Milliseconds(*shortMs), pair);
    if (!wanted && shortMs) {
      return call.fail(
          ErrorCode::kLimit,
          fmt::format("short_ms: {} is not allowed; {:.1f}..{:.1f} ms are at this "
                      "tempo",
                      shortest(*shortMs), pair.count() / (1 + kRatioMax), pair.count() / 2));
    }
    if (wanted) s.ratio = *wanted;
    if (wanted) s.linked = false;
    if (call.text("by_tempo") != kKeep) s.linked = call.text("by_tempo") == "yes";
    const double r = ratioAt(s, tempo);
    call.note(fmt::format("{:.3f}:1, {:.1f} %, long {:.1f} ms, short {:.1f} ms at this tempo", r,
                          100 * pointOfRatio(r), (pair * pointOfRatio(r)).count(),
                          (pair * (1 - pointOfRatio(r))).count()));
  });
}

// For a piece or for a limb, but not for both at once.
bool oneOfPieceAndLimb(ToolCall& call) {
  const bool one = call.piece("piece").has_value() != call.limb("limb").has_value();
  if (!one) call.fail(ErrorCode::kUsage, "name either a piece or a limb");
  return one;
}

void swingDepth(ToolCall& call, Song& song) {
  if (!oneOfPieceAndLimb(call)) return;
  change(call, song, [&](Feel& feel) {
    const double depth = call.real("depth");
    if (const auto piece = call.piece("piece")) feel.swing.depth[*piece] = depth;
    if (const auto limb = call.limb("limb")) feel.swing.limbDepth[*limb] = depth;
  });
}

void displace(ToolCall& call, Song& song) {
  const Milliseconds ms(call.real("ms"));
  const std::string& slotText = call.text("slot");
  if (slotText == "none") {
    if (!oneOfPieceAndLimb(call)) return;
    return change(call, song, [&](Feel& feel) {
      if (const auto piece = call.piece("piece")) setDisplacement(feel, *piece, ms);
      if (const auto limb = call.limb("limb")) setDisplacement(feel, *limb, ms);
    });
  }
  if (call.limb("limb")) {
    return call.fail(ErrorCode::kUsage, "a slot is for a piece or for all, not for a limb");
  }
  change(call, song,
         [&](Feel& feel) { setSlot(feel, call.length("slot"), call.piece("piece"), ms); });
}

void limit(ToolCall& call, Song& song) {
  const auto role = fromText<Role>(call.text("role"));
  change(call, song, [&](Feel& feel) {
    if (const auto ms = call.realIfGiven("ms")) {
      feel.limits[*role] = Milliseconds(*ms);
    } else {
      feel.limits.erase(*role);
    }
  });
}

void keep(ToolCall& call, Song& song) {
  const Tempo tempo = tempoOf(song, call.groove.id);
  change(call, song, [&](Feel& feel) {
    feel.shareOf.reset();
    if (call.text("what") == "share") feel.shareOf = tempo.bpm();
  });
}

void drift(ToolCall& call, Song& song) {
  change(call, song, [&](Feel& feel) {
    Drift d = feel.drift.value_or(Drift{});
    for (const DriftPreset& preset : driftPresets()) {
      if (preset.id == call.text("preset")) d = withPreset(d, preset);
    }
    if (const auto v = call.realIfGiven("clock_ms")) d.clock = Milliseconds(*v);
    if (const auto v = call.realIfGiven("motor_ms")) d.motor = Milliseconds(*v);
    if (const auto v = call.realIfGiven("velocity")) d.velocity = *v;
    if (const auto v = call.realIfGiven("exponent")) d.exponent = *v;
    if (const auto seed = wholeNumber(call.text("take")))
      d.seed = static_cast<std::uint64_t>(*seed);
    if (const auto limb = call.limb("limb")) d.limbs[*limb] = call.real("factor");
    feel.drift = d;
    call.note(fmt::format("clock {} ms, motor {} ms, velocity {}, take {}",
                          shortest(d.clock.count()), shortest(d.motor.count()),
                          shortest(d.velocity), d.seed));
  });
}

void together(ToolCall& call, Song& song) {
  std::set<PieceId> pieces;
  std::string word;
  for (const char c : call.text("pieces") + ",") {
    if (c != ',') {
      word += c;
      continue;
    }
    const auto piece = call.kit().find(word);
    if (!piece && word != "any" && !word.empty()) {
      return call.fail(ErrorCode::kUnknown, fmt::format("pieces: the kit has no \"{}\"", word));
    }
    if (piece) pieces.insert(*piece);
    word.clear();
  }
  std::set<Beat> at;
  for (const Hit& hit : call.groove.hits) {
    if (call.inSpan(hit.at)) at.insert(hit.at);
  }
  if (at.empty()) return call.note("no hit there");
  Result<PulledTogether> pulled =
      pullTogether(song, call.groove.id, at, pieces, Milliseconds(call.real("above_ms")));
  if (!pulled) return call.fail(pulled.error().code, pulled.error().message);
  call.note(fmt::format("{} pulled together, {} nudged", countOf(pulled->positions, "position"),
                        countOf(pulled->hits, "hit")));
  song = withGroove(std::move(song), std::move(pulled->groove));
}

void morph(ToolCall& call, Song& song) {
  const auto index = static_cast<std::size_t>(call.whole("section") - 1);
  const std::size_t count = song.sections().size();
  if (index >= count) {
    return call.fail(ErrorCode::kLimit,
                     fmt::format("the song has {}", countOf(static_cast<int>(count), "section")));
  }
  song = withMorph(std::move(song), index, call.length("beats"));
  const Result<Score> score = arrange(song);
  if (!score) return call.fail(score.error().code, score.error().message);
  for (const Seam& seam : seams(*score)) {
    if (seam.section != index) continue;
    return call.note(fmt::format("the greatest change of an interval there: {:.1f} ms, {:.1f} %",
                                 seam.jump.count(), 100 * seam.share));
  }
  call.note("no feel changes there");
}

ToolParameter keepable(std::string name, std::string help, double min, double max) {
  return realParameter(std::move(name), kKeep, std::move(help), min, max);
}

ToolParameter keepOr(std::string name, std::string help, std::vector<std::string> choices) {
  choices.insert(choices.begin(), kKeep);
  return choiceParameter(std::move(name), std::move(help), std::move(choices));
}

template <typename E>
std::vector<std::string> wordsOf() {
  std::vector<std::string> out;
  for (const Named<E>& n : namesOf<E>()) out.emplace_back(n.text);
  return out;
}

}  // namespace

std::vector<SongTool> feelTools() {
  const double most = kShiftMax.count();
  std::vector<std::string> presets;
  for (const DriftPreset& preset : driftPresets()) presets.emplace_back(preset.id);
  const auto piece = [] { return orAny(pieceParameter("piece", "any", "whose")); };
  const auto limb = [] { return orAny(limbParameter("limb", "any", "or played by")); };
  return {
      songTool("swing", "Swing", "Sets how the feel swings, in one of three units.",
               {keepable("ratio", "long to short", kRatioMin, kRatioMax),
                keepable("percent", "where the swung note falls in its pair", 50, 90),
                keepable("short_ms",
                         "how long the short note lasts where the groove is first played", 0, 3000),
                keepOr("unit", "which notes swing in pairs", wordsOf<SwingUnit>()),
                keepOr("written", "where the swung note is written", wordsOf<Written>()),
                keepOr("by_tempo", "the ratio follows the tempo", {"yes", "no"})},
               swing),
      songTool("swing-depth", "Swing depth", "How far a piece or a limb follows the swing.",
               {piece(), limb(), realParameter("depth", "1", "0 straight, 1 wholly", 0, 1)},
               swingDepth),
      songTool("displace", "Displace",
               "How late (+) or early (-) a piece, a limb or a slot is struck.",
               {piece(), limb(),
                lengthParameter("slot", "none", "a position of the bar, quarter notes; none: all",
                                0, 256),
                realParameter("ms", "0", "ms, + late", -most, most)},
               displace),
      songTool("limit", "Limit", "How far hits of a role may be displaced.",
               {choiceParameter("role", "of which hits", wordsOf<Role>()),
                realParameter("ms", "none", "ms either way; none: as far as they go", 0, most)},
               limit),
      songTool(
          "keep", "Keep", "What displacement keeps when the tempo changes.",
          {choiceParameter("what", "its milliseconds or its share of the beat", {"ms", "share"})},
          keep),
      songTool("drift", "Drift",
               "What a body adds: a clock that all limbs share and a part of each.",
               {keepOr("preset", "sizes by name", presets),
                keepable("clock_ms", "standard deviation of the clock, ms", 0, most),
                keepable("motor_ms", "standard deviation of each limb, ms", 0, most),
                keepable("velocity", "standard deviation, velocity steps", 0, Velocity::kMax),
                keepable("exponent", "of the clock's spectrum 1/f^exponent", 0, kExponentMax),
                wholeParameter("take", kKeep, "the same number gives the same take", 0, 2147483647),
                orAny(limbParameter("limb", "any", "whose part is multiplied")),
                realParameter("factor", "1", "that limb's motor part", 0, 4)},
               drift),
      songTool("pull-together", "Pull together",
               "Nudges what is written together to its mean, so that it sounds together.",
               {textParameter("pieces", "any", "ids, separated by commas; any: all"), spanFrom(),
                spanTo(),
                realParameter("above_ms", "0", "only where the spread is above, ms", 0, 2 * most)},
               together),
      songTool("morph", "Morph",
               "Over how many beats a section's feel grows out of the one before.",
               {wholeParameter("section", "1", "which of the arrangement, from 1", 1, 100000),
                lengthParameter("beats", "4", "quarter notes; 0: at once", 0, 81920)},
               morph),
  };
}

}  // namespace uneven
