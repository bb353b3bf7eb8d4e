// SPDX-License-Identifier: GPL-3.0-or-later
// Measuring a take on the command line.
#include "cli/measure.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <filesystem>

#include "core/base/number.h"
#include "core/io/atomic_save.h"
#include "core/io/json_line.h"
#include "core/io/song_json.h"
#include "core/match/along.h"
#include "core/match/song_of.h"
#include "core/song/names.h"
#include "core/voice/kit_maps.h"
#include "sound/file/listen.h"

namespace uneven::cli {
namespace {

double places(double value, int digits) {
  double scale = 1;
  for (int i = 0; i < digits; ++i) scale *= 10;
  return roundedTo(value, scale);
}
// At least three decimals.
std::string milli(double value, int digits = 4) {
  return fmt::format("{:.{}f}", value, std::max(3, digits));
}

std::string asJson(const Recording& recording, const std::optional<Fit>& found, const Kit& kit) {
  TextOut out;
  JsonLine all(out);
  constexpr std::string_view kNext = ",\n ";
  all.number("onsets", static_cast<double>(recording.onsets.size()));
  all.number("used", found ? found->used : 0, kNext);
  if (!found) {
    for (const char* key : {"tempo", "meter", "start_s", "swing"}) all.key(key, kNext).put("null");
    all.key("pieces", kNext).put("{}");
    all.key("slots", kNext).put("[]");
    all.key("drift", kNext).put("null");
    all.number("confidence", 0, kNext);
    all.key("readings", kNext).put("[]");
    all.key("source_tempo", kNext).put("\"found\"");
    all.end();
    out.put('\n');
    return out.take();
  }
  JsonLine tempo(all.key("tempo", kNext));
  tempo.raw("bpm", milli(found->bpm.value)).raw("se", milli(found->bpmSe.value));
  tempo.key("marks").put('[');
  const char* between = "";
  for (const TempoFound& m : found->marks) {
    out.put(between);
    between = ", ";
    JsonLine mark(out);
    mark.beat("at", m.at).raw("bpm", milli(m.bpm.value)).end();
  }
  out.put(']');
  tempo.end();
  putQuoted(all.key("meter", kNext), found->grid.meter.toString());
  all.key("start_s", kNext).put(milli(found->start.count(), 5));
  JsonLine swing(all.key("swing", kNext));
  swing.text("unit", textOf(found->swing.unit)).raw("ratio", milli(found->swing.ratio));
  swing.raw("se", milli(found->ratioSe)).end();
  JsonLine pieces(all.key("pieces", kNext));
  for (const auto& [id, p] : found->pieces) {
    JsonLine line(pieces.quotedKey(heardId(kit, id)));
    line.raw("ms", milli(p.lean.count(), 3)).raw("se", milli(p.se.count(), 3)).number("n", p.n);
    line.number("velocity", places(p.velocity, 1)).end();
  }
  pieces.end();
  all.key("slots", kNext).put('[');
  between = "\n  ";
  for (const SlotFit& s : found->leaning) {
    out.put(between);
    between = ",\n  ";
    JsonLine line(out);
    line.beat("at", s.at).text("piece", heardId(kit, s.piece)).raw("ms", milli(s.lean.count(), 3));
    line.raw("se", milli(s.se.count(), 3))
        .number("n", s.n)
        .number("velocity", places(s.velocity, 1))
        .end();
  }
  out.put(']');
  JsonLine drift(all.key("drift", kNext));
  drift.raw("clock_ms", milli(found->drift.clock.count(), 3));
  drift.raw("motor_ms", milli(found->drift.motor.count(), 3));
  const auto orNull = [](const std::optional<double>& value) {
    return value ? milli(*value, 3) : std::string("null");
  };
  drift.raw("exponent", orNull(found->drift.exponent)).raw("se", orNull(found->drift.exponentSe));
  drift.end();
  all.key("confidence", kNext).put(milli(found->confidence, 3));
  all.key("readings", kNext).put('[');
  between = "\n  ";
  for (const ReadingTold& r : found->grid.readings) {
    out.put(between);
    between = ",\n  ";
    JsonLine line(out);
    line.raw("bpm", milli(r.bpm.value)).text("meter", r.meter.toString());
    JsonLine bent(line.key("swing"));
    bent.text("unit", textOf(r.swing.unit)).raw("ratio", milli(r.swing.ratio)).end();
    line.raw("likelihood", milli(r.likelihood, 3)).end();
  }
  out.put(']');
  all.key("source_tempo", kNext).put(found->grid.asPlayed ? "\"file\"" : "\"found\"");
  all.end();
  out.put('\n');
  return out.take();
}

std::string asText(const Recording& recording, const std::optional<Fit>& found, const Kit& kit) {
  std::string out = fmt::format("{} strokes found", recording.onsets.size());
  if (!found) return out + ", no beat in them\n";
  out +=
      fmt::format(", {} used; confidence {:.2f}\n", found->used, std::min(found->confidence, 0.99));
  out += fmt::format("{:.2f} ± {:.2f} BPM, {}, bar 1 at {:.3f} s\n", found->bpm.value,
                     1.96 * found->bpmSe.value, found->grid.meter.toString(), found->start.count());
  constexpr double kDotted = 1.5;
  if (found->grid.meter.d == 8 && found->grid.meter.n % 3 == 0)
    out += fmt::format("dotted beats: {:.2f} BPM\n", found->bpm.value / kDotted);
  if (found->marks.size() > 1)
    out += fmt::format("the tempo moves: {} marks\n", found->marks.size());
  for (const MeterGuess& g : found->grid.meters) {
    if (g.likelihood >= 0.05)
      out += fmt::format("  {}: {:.0f} %\n", g.meter.toString(), 100 * g.likelihood);
  }
  out += fmt::format("{}s swing {:.2f} ± {:.2f} : 1{}\n", textOf(found->swing.unit),
                     found->swing.ratio, 1.96 * found->ratioSe,
                     found->swing.written == Written::kTriplet ? ", written in triplets" : "");
  const SwingAlong along = swingAlong(*found, recording.onsets);
  if (along.spans.size() > 1) {
    for (const SwingSpan& s : along.spans)
      out += fmt::format("  bars {} to {}: {:.2f} ± {:.2f} : 1 at {:.1f} BPM\n", s.from + 1, s.to,
                         s.ratio, 1.96 * s.se, s.bpm.value);
  }
  if (along.followsTempo())
    out +=
        fmt::format("  by {:+.3f} ± {:.3f} for each BPM\n", *along.perBpm, 1.96 * *along.perBpmSe);
  constexpr std::string_view kAgainst[] = {"the hats", "the kick", "the average", "the grid"};
  out += fmt::format("against {}:\n", kAgainst[static_cast<std::size_t>(found->against)]);
  for (const auto& [id, p] : found->pieces) {
    out += fmt::format("  {}: {:+.1f} ± {:.1f} ms, velocity {:.0f}, {} strokes\n",
                       heardName(kit, id), p.lean.count(), 1.96 * p.se.count(), p.velocity, p.n);
  }
  for (const LevelFit& l : found->levels)
    out += fmt::format("  {} {}s: {:+.1f} ± {:.1f} ms, velocity {:.0f}, {} strokes\n",
                       heardName(kit, l.piece), textOf(l.role), l.lean.count(), 1.96 * l.se.count(),
                       l.velocity, l.n);
  for (const SlotFit& s : found->leaning) {
    if (std::chrono::abs(s.lean) < 1.96 * s.se) continue;
    out += fmt::format("  {} on {}: {:+.1f} ± {:.1f} ms beside that, {} strokes\n",
                       heardName(kit, s.piece), s.at.toString(), s.lean.count(),
                       1.96 * s.se.count(), s.n);
  }
  out += fmt::format("drift: clock {:.1f} ms, each limb {:.1f} ms\n", found->drift.clock.count(),
                     found->drift.motor.count());
  for (const std::string& doubt : found->doubts) out += doubt + "\n";
  if (recording.line)
    out += found->grid.asPlayed ? "the file's own tempo: the strokes go by it\n"
                                : "the file's own tempo is not what the strokes go by\n";
  for (const ReadingTold& r : found->grid.readings) {
    if (std::abs(r.bpm / found->bpm - 1) < 0.02) continue;
    out += fmt::format("or {:.1f} BPM, {}, {} {:.2f} : 1 ({:.0f} %)\n", r.bpm.value,
                       r.meter.toString(), textOf(r.swing.unit), r.swing.ratio, 100 * r.likelihood);
  }
  return out;
}

Error wrongValue(std::string message) {
  return Error{ErrorCode::kUsage, std::move(message), {}};
}

Result<FitWanted> wantedOf(const MeasureCall& call) {
  FitWanted out;
  if (!call.grid.empty()) {
    const auto grid = Grid::parse(call.grid);
    if (!grid)
      return wrongValue(fmt::format("--grid {}: 1/8, 1/16, 1/8T and the like are", call.grid));
    if (grid->tuplet > 3 || grid->step() > Beat(1))
      return wrongValue("--grid: quarters to thirty-seconds, straight or in triplets");
    out.grid = *grid;
    out.gridGiven = true;
  }
  if (!call.meter.empty()) {
    out.where.meter = Meter::parse(call.meter);
    if (!out.where.meter)
      return wrongValue(fmt::format("--meter {}: 4/4 and the like are", call.meter));
  }
  if (call.bpm && !(*call.bpm >= kBpmMin && *call.bpm <= kBpmMax))
    return wrongValue(fmt::format("--bpm is {} to {}", kBpmMin, kBpmMax));
  constexpr double kDay = 24 * 3600;
  if (call.start && !(*call.start >= -kDay && *call.start <= kDay))
    return wrongValue("--start is in seconds, within a day");
  if (call.bpm) out.where.bpm = Bpm{*call.bpm};
  out.where.steady = call.steady;
  if (call.start) out.where.start = Seconds(*call.start);
  return out;
}

Result<Recording> recordingOf(FileSystem& files, const std::string& file, const std::string& map) {
  if (map.empty()) return listen(files, file, houseKit());
  const Result<KitMap> named = KitMapLibrary(files, usersKitMapFolder()).named(map);
  if (!named) return named.error();
  return listen(files, file, houseKit(), &*named);
}

void take(const Recording& recording, FitWanted& wanted) {
  wanted.foundWithin = recording.foundWithin;
  wanted.where.played = recording.line;
  wanted.where.playedMeter = recording.meter;
}

std::string nameOf(const std::string& file) {
  const std::size_t slash = file.find_last_of('/');
  const std::string name = slash == std::string::npos ? file : file.substr(slash + 1);
  return name.substr(0, name.find_last_of('.'));
}

// The recording as the song names it: by its way from the song's folder.
Guide besideSong(const MeasureCall& call, Seconds start) {
  const std::filesystem::path file = std::filesystem::absolute(call.file);
  const std::filesystem::path folder = std::filesystem::absolute(call.song).parent_path();
  const std::filesystem::path way =
      file.lexically_normal().lexically_relative(folder.lexically_normal());
  return {way.empty() ? file.string() : way.string(), offsetOf(start), {}};
}

// What no groove can have is not left out without a word.
void tellStrangers(const std::vector<Onset>& onsets, std::vector<std::string>& notes) {
  const auto strangers = std::count_if(onsets.begin(), onsets.end(),
                                       [](const Onset& o) { return o.piece == kNotInKit; });
  if (strangers > 0)
    notes.push_back(
        fmt::format("{} strokes are of no piece of the kit, and not in the song", strangers));
}

Error noFeel(const std::string& file) {
  return Error{ErrorCode::kUnknown,
               "no beat is found in it that a feel or a song could be made of",
               {file, 0, 0, std::nullopt}};
}

}  // namespace

Result<Output> measure(FileSystem& files, const MeasureCall& call) {
  Result<FitWanted> wanted = wantedOf(call);
  if (!wanted) return wanted.error();
  const Status safe = refuseOverwriting({call.file, call.map}, {call.feel, call.song});
  if (!safe) return safe.error();
  Result<Recording> recording = recordingOf(files, call.file, call.map);
  if (!recording) return recording.error();
  take(*recording, *wanted);
  const std::optional<Fit> found = fit(recording->onsets, *wanted);
  const Kit& kit = houseKit();
  AtomicSaves saves(files);
  if (!call.feel.empty() || !call.song.empty()) {
    if (!found || found->confidence < kWorthwhile) return noFeel(call.file);
    if (!call.feel.empty()) {
      const Feel feel = feelOf(*found, "measured", nameOf(call.file));
      if (const Status staged = saves.stage(call.feel, writeFeel(feel, kit)); !staged)
        return staged.error();
    }
    if (!call.song.empty()) {
      Song song = songOf(*found, recording->onsets, kit, {nameOf(call.file), false, true});
      if (!recording->energy.empty()) song.audio = besideSong(call, found->start);
      tellStrangers(recording->onsets, recording->notes);
      if (const Status staged = saves.stage(call.song, writeSong(song)); !staged)
        return staged.error();
    }
    if (const Status saved = saves.commit(); !saved) return saved.error();
  }
  Output out;
  out.notices = std::move(recording->notes);
  out.text = call.format == CheckFormat::kJson ? asJson(*recording, found, kit)
                                               : asText(*recording, found, kit);
  return out;
}

Result<Song> measuredSong(FileSystem& files, const std::string& file,
                          std::vector<std::string>& notes) {
  Result<Recording> recording = recordingOf(files, file, {});
  if (!recording) return recording.error();
  FitWanted wanted;
  take(*recording, wanted);
  const std::optional<Fit> found = fit(recording->onsets, wanted);
  tellStrangers(recording->onsets, recording->notes);
  notes.insert(notes.end(), recording->notes.begin(), recording->notes.end());
  if (!found || found->confidence < kWorthwhile) return noFeel(file);
  return songOf(*found, recording->onsets, houseKit(), {nameOf(file), false, true});
}

}  // namespace uneven::cli
