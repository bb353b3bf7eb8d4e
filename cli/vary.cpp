// SPDX-License-Identifier: GPL-3.0-or-later
// Variants on the command line.
#include "cli/vary.h"

#include <fmt/format.h>

#include <algorithm>

#include "cli/load.h"
#include "cli/sticking.h"
#include "core/base/number.h"
#include "core/io/atomic_save.h"
#include "core/io/json_line.h"
#include "core/io/song_json.h"
#include "core/song/names.h"
#include "core/take/take.h"
#include "core/vary/measures.h"
#include "core/vary/walks.h"

namespace uneven::cli {
namespace {

constexpr std::uint64_t kGroovesMost = 5'000;  // that -o writes

struct Varied {
  Variant variant;
  Measures measures;
  VariantCeiling ceiling;
};

std::string three(double value) {
  return fmt::format("{:.3f}", value);
}

void putJson(TextOut& out, const Walk& walk, const Varied& told, double bpm) {
  JsonLine line(out);
  const Measures& m = told.measures;
  line.text("name", told.variant.name).number("hits_changed", m.changed);
  line.number("added", m.added).number("removed", m.removed);
  line.number("syncopation", m.syncopation).number("kit_syncopation", m.kitSyncopation);
  line.raw("density", three(m.density)).raw("distance", three(m.distance));
  line.raw("ceiling_bpm", three(told.ceiling.playable));
  line.raw("comfortable_bpm", three(told.ceiling.comfortable));
  line.text("key", told.variant.key);
  if (walk.relaid) {
    line.raw("quarters", three(walk.relaid->quarters.toDouble()));
    line.raw("seems_bpm", three(bpm * walk.relaid->times.toDouble()));
    line.number("meets_after_bars", static_cast<double>(walk.relaid->meetsAfterBars));
    line.text("cycle", walk.relaid->cycle);
  }
  line.end();
}

std::string textLine(const Varied& told, const Groove& core) {
  const Measures& m = told.measures;
  std::string out = fmt::format("{}: ", told.variant.name);
  const char* between = "";
  for (const auto& [count, word] :
       {std::pair{m.changed, "changed"}, {m.added, "added"}, {m.removed, "removed"}}) {
    if (count == 0) continue;
    out += fmt::format("{}{} {}", between, count, word);
    between = ", ";
  }
  if (*between == 0) out += "as it is";
  out += fmt::format("; syncopation {}, {} hits a quarter, distance {}", m.syncopation,
                     shortest(roundedTo(m.density, 100)), shortest(roundedTo(m.distance, 100)));
  out += told.ceiling.playable > 0
             ? fmt::format("; to {} BPM", shortest(roundedTo(told.ceiling.playable, 1)))
             : std::string("; at no tempo");
  if (const WalkNote* note = verdictOf(core, told.variant.key))
    out += fmt::format(" [{}]", textOf(note->mark));
  return out + "\n";
}

}  // namespace

std::string walkList() {
  std::string out;
  for (const WalkKind& kind : walks())
    out += fmt::format("{}: {}\n{}", kind.name, kind.help, parameterLines(kind));
  return out;
}

namespace {

constexpr std::uint64_t kToldFirst = 1'000, kToldHits = 200'000;

}  // namespace

Result<Output> vary(FileSystem& files, const VaryCall& call) {
  const Result<Arguments> arguments = argumentsOf(call.words, "ustick vary --list");
  if (!arguments) return arguments.error();
  Result<Loaded> loaded = load(files, call.song);
  if (!loaded) return loaded.error();
  const Song& song = loaded->song;
  const Groove* core = song.findGroove(call.groove);
  if (core == nullptr) {
    return Error{ErrorCode::kUnknown,
                 fmt::format("there is no groove \"{}\"", call.groove),
                 {call.song, 0, 0, std::nullopt}};
  }
  const Result<Profile> profile = loadProfile(files, call.profile);
  if (!profile) return profile.error();
  const Result<Walk> walk = makeWalk(call.words.front(), song, call.groove, *arguments, *profile);
  if (!walk) return walk.error();
  // Each is measured as it is told. Without a number only so many as nobody waits for long.
  std::uint64_t told = walk->count;
  if (call.out.empty() && !arguments->contains("first")) {
    const std::uint64_t hits = std::max<std::size_t>(1, core->hits.size());
    told = std::min({told, kToldFirst, std::max<std::uint64_t>(1, kToldHits / hits)});
  }
  const std::uint64_t most = call.out.empty() ? kSortedMost : kGroovesMost;
  if (told > most) {
    return Error{ErrorCode::kLimit,
                 fmt::format("{} variants: up to {} are told{}; take a shorter span, or first={}",
                             walk->count, most, call.out.empty() ? "" : " and written", most),
                 {}};
  }
  double bpm = 120;
  if (const Result<SharedTake> take = Take::ofGroove(song, call.groove)) {
    const Score& score = (*take)->score();
    bpm = score.tempo.tempoAt(score.blocks.front().start).bpm().value;
  }
  Output out;
  out.notices = std::move(loaded->notes);
  TextOut json;
  json.put('[');
  const char* between = "\n ";
  if (call.format == CheckFormat::kText) {
    out.text =
        fmt::format("{} variant{} of {}\n", walk->count, walk->count == 1 ? "" : "s", core->name);
    if (walk->relaid) {
      const Relaid& r = *walk->relaid;
      out.text += fmt::format(
          "lasts {} quarters, seems {:.1f} BPM, meets the bar after {} bar{} and {} round{} ({})\n",
          r.quarters.toString(), bpm * r.times.toDouble(), r.meetsAfterBars,
          r.meetsAfterBars == 1 ? "" : "s", r.rounds, r.rounds == 1 ? "" : "s", r.cycle);
    }
    for (const std::string& note : walk->notes) out.text += note + "\n";
  } else {
    for (const std::string& note : walk->notes) out.notices.push_back(note);
  }
  const Measurer measurer(*core, walk->voice);
  Song written = song;
  if (told < walk->count) {
    out.notices.push_back(fmt::format("{} variants: the first {} are told (first={} tells all)",
                                      walk->count, told, walk->count));
  }
  for (std::uint64_t i = 0; i < told; ++i) {
    Varied here;
    here.variant = walk->at(i);
    here.measures = measurer.of(here.variant.groove);
    Result<VariantCeiling> ceiling = ceilingOf(song, here.variant.groove, *profile);
    if (!ceiling) return ceiling.error();
    here.ceiling = *std::move(ceiling);
    if (call.format == CheckFormat::kText) {
      out.text += textLine(here, *core);
    } else {
      json.put(between);
      between = ",\n ";
      putJson(json, *walk, here, bpm);
    }
    if (call.out.empty()) continue;
    Groove groove = std::move(here.variant.groove);
    groove.name = here.variant.name;
    groove.core = call.groove;
    groove.walk.clear();
    groove.id = fmt::format("{}-{}-{}", call.groove, call.words.front(), i + 1);
    if (written.findGroove(groove.id) != nullptr) groove.id = freeId(written, groove.id);
    // Where the song has an arrangement it stays as it is.
    if (written.arrangement.empty()) written.arrangement = song.sections();
    written.grooves.emplace_back(std::move(groove));
  }
  if (call.format == CheckFormat::kJson) {
    json.put(walk->count == 0 ? "]\n" : "\n]\n");
    out.text = json.take();
  }
  if (!call.out.empty()) {
    if (const Result<Score> score = arrange(written); !score) return score.error();
    if (const Status saved = saveAtomically(files, call.out, writeSong(written)); !saved)
      return saved.error();
  }
  return out;
}

}  // namespace uneven::cli
