// SPDX-License-Identifier: GPL-3.0-or-later
// The commands of `ustick`.
#include "cli/commands.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <filesystem>
#include <map>
#include <nlohmann/json.hpp>
#include <set>

#include "cli/load.h"
#include "cli/measure.h"
#include "cli/vary.h"
#include "core/base/number.h"
#include "core/io/atomic_save.h"
#include "core/io/drum_tab.h"
#include "core/io/hits_csv.h"
#include "core/io/performance_text.h"
#include "core/io/song_json.h"
#include "core/measure/seam.h"
#include "core/measure/unison.h"
#include "core/midi/smf.h"
#include "core/perform/swing.h"
#include "core/song/names.h"
#include "core/take/take.h"
#include "core/tools/tool.h"
#include "core/voice/kit_maps.h"

namespace uneven::cli {

std::string recordingOf(const Song& song, const std::string& file) {
  if (!song.audio || song.audio->file.empty()) return {};
  std::filesystem::path there(song.audio->file);
  if (there.is_relative()) there = std::filesystem::path(file).parent_path() / there;
  return there.string();
}

Result<Loaded> load(FileSystem& files, const std::string& file) {
  const Result<std::string> text = files.read(file);
  if (!text) return text.error();
  ReadWatch watch;
  Result<Song> song = readSong(*text, file, &watch);
  if (!song) return song.error();
  return Loaded{*std::move(song), std::move(watch.notes)};
}

namespace {

struct Performed {
  SharedTake take;
  std::vector<std::string> notes;
};

Result<Performed> loadAndPerform(FileSystem& files, const std::string& file) {
  Result<Loaded> loaded = load(files, file);
  if (!loaded) return loaded.error();
  Result<SharedTake> take = Take::ofSong(std::move(loaded->song));
  if (!take) return take.error();
  return Performed{*std::move(take), std::move(loaded->notes)};
}

// Without --map the song's own; with it a file, or a map by its id.
Result<KitMap> loadMap(FileSystem& files, const RenderCall& call, const Song& song) {
  const KitMapLibrary maps(files, usersKitMapFolder());
  if (!call.map.empty()) return maps.named(call.map);
  if (const KitMap* map = maps.find(song.map)) return *map;
  return Error{ErrorCode::kUnknown,
               fmt::format("the song wants the kit map \"{}\", which is not here ({}); name its "
                           "file with --map, or put it into {}",
                           song.map, maps.words(), usersKitMapFolder()),
               {call.song, 0, 0, std::nullopt}};
}

std::string clockText(Milliseconds length) {
  const double seconds = length.count() / 1000;
  const int minutes = static_cast<int>(seconds / 60);
  return fmt::format("{}:{:06.3f}", minutes, seconds - 60.0 * minutes);
}

// Each feel at each tempo it is played at, in every unit.
std::string swingInfo(const Score& score) {
  std::string out;
  std::set<std::pair<std::uint32_t, std::int32_t>> told;
  for (const Score::Block& block : score.blocks) {
    const Tempo tempo = score.tempo.tempoAt(block.start);
    if (!told.emplace(block.feel, tempo.usPerQuarter).second) continue;
    const Feel& feel = score.feels[block.feel];
    if (feel.id.empty()) continue;
    const double ratio = ratioAt(feel.swing, tempo);
    const double point = pointOfRatio(ratio);
    const Milliseconds pair = pairLength(feel.swing.unit, tempo);
    out +=
        fmt::format("  {} at {:.2f}: {} {:.3f}:1{}{}, {:.1f} %, long {:.1f} ms, short {:.1f} ms\n",
                    feel.id, tempo.bpm().value, textOf(feel.swing.unit), ratio,
                    nameOfRatio(ratio).empty() ? "" : fmt::format(" ({})", nameOfRatio(ratio)),
                    feel.swing.linked ? " by tempo" : "", 100 * point, (pair * point).count(),
                    (pair * (1 - point)).count());
  }
  return out.empty() ? out : "swing:\n" + out;
}

// Where one feel gives way to the next, and how much the intervals jump.
std::string seamInfo(const Score& score) {
  std::string out;
  const auto name = [&](std::uint32_t feel) {
    return score.feels[feel].id.empty() ? std::string("straight") : score.feels[feel].id;
  };
  for (const Seam& seam : seams(score)) {
    const Section& section = score.sections[seam.section];
    out += fmt::format("  {}: {} to {}, an interval jumps by {:.1f} ms{}\n", section.name,
                       name(seam.before), name(seam.after), seam.jump.count(),
                       section.morph == Beat(0)
                           ? std::string()
                           : fmt::format(" over {} quarter notes", section.morph.toString()));
  }
  return out.empty() ? out : "seams:\n" + out;
}

std::string unisonInfo(const Take& take) {
  const std::vector<Unison> all = unisons(take.performance());
  const Unison* worst = widest(all);
  if (worst == nullptr) return {};
  std::string who;
  for (const std::size_t i : worst->strokes) {
    who += (who.empty() ? "" : ", ") + (*take.score().kit)[take.strokes()[i].piece].id;
  }
  return fmt::format("widest unison: {:.1f} ms at bar {}, {} ({}; {:.1f} ms without drift)\n",
                     worst->spread.count(), worst->bar + 1, worst->at.toString(), who,
                     worst->plain.count());
}

// " (verse verse turn; fill fills-1 2; -6 to 0 dB; without ride)": what it makes of its groove.
std::string sectionInfo(const Section& section) {
  std::vector<std::string> all;
  if (!section.grooves.empty()) all.push_back(fmt::format("{}", fmt::join(section.grooves, " ")));
  if (section.fill) {
    all.push_back(fmt::format(
        "fill {} {}{}{}", fmt::join(section.fill->takes(), " "), section.fill->beats.toString(),
        section.fill->every > 0 ? fmt::format(" every {}", section.fill->every) : std::string(),
        section.fill->after == FillAfter::kNothing
            ? std::string()
            : fmt::format(" then {}", textOf(section.fill->after))));
  }
  if (section.toLevelDb) {
    all.push_back(fmt::format("{:g} to {:g} dB", section.levelDb, *section.toLevelDb));
  } else if (section.levelDb != 0) {
    all.push_back(fmt::format("{:g} dB", section.levelDb));
  }
  if (!section.mute.empty()) all.push_back(fmt::format("without {}", fmt::join(section.mute, " ")));
  for (const auto& [from, to] : section.swap) all.push_back(fmt::format("{} on {}", from, to));
  if (section.crash) all.push_back(fmt::format("{} on 1", section.crash->piece));
  return all.empty() ? std::string() : fmt::format(" ({})", fmt::join(all, "; "));
}

std::string songInfo(const Take& take) {
  const Song& song = take.song();
  const Score& score = take.score();
  std::string out = fmt::format("title: {}\n", song.title);
  out += fmt::format("bars: {}\n", score.bars);
  out += fmt::format("duration: {}\n", clockText(score.tempo.msAt(score.length)));
  out += "tempo:";
  for (const TempoMark& mark : song.tempo) {
    out += fmt::format(" {} at {}", mark.bpm.value, mark.at.toString());
    if (mark.ramp) out += " ramp";
    if (&mark != &song.tempo.back()) out += ",";
  }
  out += "\nsections:";
  for (const Section& section : score.sections) {
    out += fmt::format(" {} x{}", section.name, section.repeat);
    out += sectionInfo(section);
    if (&section != &score.sections.back()) out += ",";
  }
  std::map<PieceId, std::int64_t> counts;
  for (const Score::Block& block : score.blocks) {
    for (const Hit& hit : block.groove->hits) ++counts[hit.piece];
  }
  out += fmt::format("\nhits: {}\n", score.hits);
  for (const auto& [piece, count] : counts) {
    out += fmt::format("  {}: {}\n", (*score.kit)[piece].id, count);
  }
  return out + swingInfo(score) + seamInfo(score) + unisonInfo(take);
}

std::string midiInfo(const MidiSequence& sequence) {
  std::string out = fmt::format("type: {}\nticks per quarter note: {}\ntracks: {}\n", sequence.type,
                                sequence.ticksPerQuarter, sequence.tracks.size());
  for (std::size_t i = 0; i < sequence.tracks.size(); ++i) {
    const MidiTrack& track = sequence.tracks[i];
    const auto notes = std::count_if(track.events.begin(), track.events.end(),
                                     [](const MidiEvent& e) { return e.isNoteOn(); });
    out += fmt::format("  track {}: {} notes, {} events, {} metas\n", i + 1, notes,
                       track.events.size(), track.metas.size());
  }
  return out;
}

bool endsWithNoCase(const std::string& text, std::string_view ending) {
  return text.size() >= ending.size() &&
         std::equal(ending.rbegin(), ending.rend(), text.rbegin(), [](char a, char b) {
           return a == std::tolower(static_cast<unsigned char>(b));
         });
}

}  // namespace

Result<Output> info(FileSystem& files, const std::string& file) {
  if (endsWithNoCase(file, ".mid")) {
    const Result<std::string> bytes = files.read(file);
    if (!bytes) return bytes.error();
    const Result<MidiSequence> sequence = readSmf(*bytes, file);
    if (!sequence) return sequence.error();
    return Output{midiInfo(*sequence), {}};
  }
  Result<Performed> performed = loadAndPerform(files, file);
  if (!performed) return performed.error();
  // It is no error where it is missing.
  const std::string recording = recordingOf(performed->take->song(), file);
  if (!recording.empty() && files.inspect(recording).kind == FileInfo::Kind::kNone)
    performed->notes.push_back(fmt::format("the recording {} is not there", recording));
  return Output{songInfo(*performed->take), std::move(performed->notes)};
}

Result<Output> perform(FileSystem& files, const std::string& file, RowFormat format) {
  Result<Performed> performed = loadAndPerform(files, file);
  if (!performed) return performed.error();
  Output out;
  out.notices = std::move(performed->notes);
  out.rows = [take = performed->take, format](TextOut& text) {
    const auto rows = format == RowFormat::kCsv ? performanceCsv : performanceJson;
    rows(text, *take);
  };
  return out;
}

Result<Output> pedal(FileSystem& files, const std::string& file, RowFormat format) {
  Result<Performed> performed = loadAndPerform(files, file);
  if (!performed) return performed.error();
  Output out;
  out.notices = std::move(performed->notes);
  out.rows = [take = performed->take, format](TextOut& text) {
    (format == RowFormat::kCsv ? pedalCsv : pedalJson)(text, take->performance().pedal);
  };
  return out;
}

namespace {

bool isAudio(const std::string& out) {
  return endsWithNoCase(out, ".wav") || endsWithNoCase(out, ".flac");
}

// Options that mean nothing for this kind of file are refused rather than passed over.
Status checkGiven(const RenderCall& call) {
  const bool audio = isAudio(call.out);
  for (const std::string& name : call.given) {
    const bool forAudio = name == "--bank" || name == "--rate" || name == "--bits" ||
                          name == "--stems" || name == "--click";
    const bool forMidi = name == "--ppq" || name == "--type" || name == "--track-per-piece";
    if (audio ? !forMidi : !forAudio) continue;
    return Error{ErrorCode::kUsage,
                 fmt::format("{} is for {} files", name, audio ? "MIDI" : ".wav and .flac"),
                 {call.out, 0, 0, std::nullopt}};
  }
  return Done{};
}

Result<Output> renderSound(FileSystem& files, const RenderCall& call, Loaded loaded,
                           const KitMap& map, const std::vector<std::string>& reads) {
  AudioCall audio = call.audio;
  audio.reads = reads;
  audio.out = call.out;
  audio.leadInBars = call.options.leadInBars;
  audio.format.kind = endsWithNoCase(call.out, ".flac") ? AudioKind::kFlac : AudioKind::kWav;
  const Result<SharedTake> take = Take::ofSong(std::move(loaded.song));
  if (!take) return take.error();
  Result<AudioReport> report = renderAudio(files, **take, map, audio);
  if (!report) return report.error();
  Output out;
  out.notices = std::move(loaded.notes);
  std::move(report->notices.begin(), report->notices.end(), std::back_inserter(out.notices));
  for (const std::string& file : report->files) out.notices.push_back("wrote " + file);
  out.notices.push_back(audioText(*report));
  return out;
}

}  // namespace

Result<Output> render(FileSystem& files, const RenderCall& call) {
  if (const Status ok = checkGiven(call); !ok) return ok.error();
  Result<Loaded> loaded = load(files, call.song);
  if (!loaded) return loaded.error();
  const Result<KitMap> map = loadMap(files, call, loaded->song);
  if (!map) return map.error();
  const std::vector<std::string> reads = {call.song, call.map, call.audio.bank,
                                          recordingOf(loaded->song, call.song)};
  if (const Status safe = refuseOverwriting(reads, {call.out}); !safe) return safe.error();
  if (isAudio(call.out)) return renderSound(files, call, *std::move(loaded), *map, reads);
  Result<Rendering> rendering = uneven::render(loaded->song, *map, call.options);
  if (!rendering) return rendering.error();
  const Result<std::string> bytes = writeSmf(rendering->sequence);
  if (!bytes) return bytes.error();
  if (const Status saved = saveAtomically(files, call.out, *bytes); !saved) return saved.error();
  Output out;
  out.notices = std::move(loaded->notes);
  std::move(rendering->notices.begin(), rendering->notices.end(), std::back_inserter(out.notices));
  return out;
}

namespace {

std::string allowedOf(const ToolParameter& p) {
  switch (p.kind) {
    case ParameterKind::kChoice: {
      std::string out;
      for (const std::string& word : p.choices) out += (out.empty() ? "" : "|") + word;
      return out;
    }
    case ParameterKind::kPiece:
      return p.choices.empty() ? "a piece" : "a piece or any";
    case ParameterKind::kLimb:
      return p.choices.empty() ? "a limb" : "a limb or any";
    case ParameterKind::kWhole:
      return fmt::format("whole, {}..{}", shortest(p.min), shortest(p.max));
    case ParameterKind::kReal:
      return fmt::format("{}..{}", shortest(p.min), shortest(p.max));
    case ParameterKind::kLength:
      return fmt::format("n or n/d, {}..{}", shortest(p.min), shortest(p.max));
    case ParameterKind::kGrid:
      return "a grid or groove";
    case ParameterKind::kFlag:
      return "yes|no";
    case ParameterKind::kText:
      return "text";
  }
  return {};
}

}  // namespace

Result<Arguments> argumentsOf(const std::vector<std::string>& words, const std::string& list) {
  Arguments out;
  for (std::size_t i = 1; i < words.size(); ++i) {
    const std::size_t equals = words[i].find('=');
    if (equals == std::string::npos || equals == 0) {
      return Error{
          ErrorCode::kUsage, fmt::format("\"{}\" is not key=value (see {})", words[i], list), {}};
    }
    if (!out.emplace(words[i].substr(0, equals), words[i].substr(equals + 1)).second) {
      return Error{ErrorCode::kUsage, fmt::format("\"{}\" is given twice", words[i]), {}};
    }
  }
  return out;
}

std::string parameterLines(const Tool& tool) {
  std::string out;
  for (const ToolParameter& p : tool.parameters) {
    out += fmt::format("  {}={}  [{}]  {}\n", p.name, p.fallback, allowedOf(p), p.help);
  }
  return out;
}

std::string toolList() {
  std::string out;
  const auto add = [&](const Tool& tool) {
    out += fmt::format("{}: {}\n{}", tool.name, tool.help, parameterLines(tool));
  };
  for (const Tool& tool : tools()) add(tool);
  for (const SongTool& tool : songTools()) add(tool);
  return out;
}

bool takesSections(const std::string& name) {
  const SongTool* tool = findSongTool(name);
  return tool != nullptr && tool->group == kArrangeGroup;
}

Result<Output> edit(FileSystem& files, const EditCall& call) {
  const Result<Arguments> arguments = argumentsOf(call.words, "ustick edit --list");
  if (!arguments) return arguments.error();
  Result<Loaded> loaded = load(files, call.song);
  if (!loaded) return loaded.error();
  if (!call.groove.empty() && loaded->song.findGroove(call.groove) == nullptr) {
    return Error{ErrorCode::kUnknown,
                 fmt::format("there is no groove \"{}\"", call.groove),
                 {call.song, 0, 0, std::nullopt}};
  }
  const Result<SongOutcome> outcome =
      runTool(call.words.front(), loaded->song, call.groove, *arguments);
  if (!outcome) return outcome.error();
  // The song itself may be written anew; nothing else that belongs to it.
  const Status safe = refuseOverwriting({recordingOf(loaded->song, call.song)}, {call.out});
  if (!safe) return safe.error();
  if (const Result<Score> score = arrange(outcome->song); !score) return score.error();
  if (const Status saved = saveAtomically(files, call.out, writeSong(outcome->song)); !saved)
    return saved.error();
  Output out;
  out.notices = std::move(loaded->notes);
  out.notices.insert(out.notices.end(), outcome->notes.begin(), outcome->notes.end());
  return out;
}

namespace {

Song songOf(Groove groove) {
  Song song = blankSong();
  song.title = groove.name;
  groove.feel = song.feels.front().id;
  song.grooves = {std::move(groove)};
  song.arrangement.front().groove = song.grooves.front()->id;
  song.arrangement.front().name = song.grooves.front()->name;
  return song;
}

Result<Loaded> loadAny(FileSystem& files, const std::string& file) {
  if (endsWithNoCase(file, ".ustick")) return load(files, file);
  if (endsWithNoCase(file, ".mid")) {
    Loaded out;
    Result<Song> song = measuredSong(files, file, out.notes);
    if (!song) return song.error();
    out.song = *std::move(song);
    return out;
  }
  const Result<std::string> text = files.read(file);
  if (!text) return text.error();
  if (endsWithNoCase(file, ".txt")) {
    Result<TabReading> tab = readDrumTab(*text, houseKit(), file);
    if (!tab) return tab.error();
    return Loaded{songOf(std::move(tab->groove)), std::move(tab->notes)};
  }
  if (endsWithNoCase(file, ".csv")) {
    std::vector<std::string> notes;
    Result<Groove> groove = readHitsCsv(*text, houseKit(), file, &notes);
    if (!groove) return groove.error();
    return Loaded{songOf(*std::move(groove)), std::move(notes)};
  }
  return Error{ErrorCode::kUsage,
               "is read from .ustick, .mid, .txt (drum tab) and .csv (hits) only",
               {file, 0, 0, std::nullopt}};
}

Result<std::string> bytesFor(FileSystem& files, const ConvertCall& call, const Song& song,
                             std::vector<std::string>& notes) {
  if (endsWithNoCase(call.out, ".ustick")) return writeSong(song);
  if (endsWithNoCase(call.out, ".mid")) {
    const Result<KitMap> map = loadMap(files, {call.in, call.out, {}, {}, {}}, song);
    if (!map) return map.error();
    Result<Rendering> rendering = uneven::render(song, *map, {});
    if (!rendering) return rendering.error();
    notes.insert(notes.end(), rendering->notices.begin(), rendering->notices.end());
    return writeSmf(rendering->sequence);
  }
  const Groove* groove = call.groove.empty()
                             ? (song.grooves.empty() ? nullptr : &*song.grooves.front())
                             : song.findGroove(call.groove);
  if (groove == nullptr) {
    return Error{ErrorCode::kUnknown,
                 fmt::format("there is no groove \"{}\"", call.groove),
                 {call.in, 0, 0, std::nullopt}};
  }
  if (endsWithNoCase(call.out, ".txt")) {
    TabWriting tab = writeDrumTab(*groove, *song.kit);
    notes.insert(notes.end(), tab.notes.begin(), tab.notes.end());
    return tab.text;
  }
  if (endsWithNoCase(call.out, ".csv")) return writeHitsCsv(*groove, *song.kit);
  return Error{ErrorCode::kUsage,
               "is written to .ustick, .mid, .txt (drum tab) and .csv (hits) only",
               {call.out, 0, 0, std::nullopt}};
}

}  // namespace

Result<Output> convert(FileSystem& files, const ConvertCall& call) {
  Result<Loaded> loaded = loadAny(files, call.in);
  if (!loaded) return loaded.error();
  const Status safe = refuseOverwriting({call.in, recordingOf(loaded->song, call.in)}, {call.out});
  if (!safe) return safe.error();
  const Result<std::string> bytes = bytesFor(files, call, loaded->song, loaded->notes);
  if (!bytes) return bytes.error();
  if (const Status saved = saveAtomically(files, call.out, *bytes); !saved) return saved.error();
  return Output{{}, loaded->notes, false};
}

}  // namespace uneven::cli
