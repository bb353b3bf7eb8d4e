// SPDX-License-Identifier: GPL-3.0-or-later
// Scores of takes and plans of practice.
#include "cli/rehearse.h"

#include <fmt/format.h>

#include <cmath>
#include <filesystem>
#include <nlohmann/json.hpp>

#include "cli/load.h"
#include "cli/sticking.h"
#include "core/base/number.h"
#include "core/midi/onsets.h"
#include "core/midi/smf.h"
#include "core/rehearse/alignment.h"
#include "core/rehearse/plan.h"
#include "core/song/names.h"
#include "core/voice/kit_maps.h"
#include "store/practice_log.h"

namespace uneven::cli {
namespace {

using Json = nlohmann::ordered_json;

std::string_view wordOf(PlayedState state) {
  switch (state) {
    case PlayedState::kPlayed:
      return "played";
    case PlayedState::kMissing:
      return "missing";
    case PlayedState::kExtra:
      return "extra";
    case PlayedState::kWrongPiece:
      return "wrong-piece";
  }
  return {};
}

double thousandths(double value) {
  return roundedTo(value, 1'000);
}

bool wasPlayed(const AlignedStroke& s) {
  return s.state == PlayedState::kPlayed || s.state == PlayedState::kWrongPiece;
}

std::string scoreJson(const Alignment& a, const Kit& kit) {
  Json strokes = Json::array();
  for (const AlignedStroke& s : a.strokes) {
    Json row;
    row["bar"] = s.bar + 1;
    row["at"] = s.at.toString();
    row["piece"] = kit[s.piece].id;
    row["early_late_ms"] = wasPlayed(s) ? Json(thousandths(s.late.count())) : Json(nullptr);
    row["velocity_by"] = wasPlayed(s) ? Json(s.velocityBy) : Json(nullptr);
    row["state"] = wordOf(s.state);
    row["round"] = s.round + 1;
    if (s.struck) row["struck"] = kit[*s.struck].id;
    if (s.opening && wasPlayed(s)) row["opening_by"] = thousandths(s.openingBy);
    strokes.push_back(std::move(row));
  }
  Json out;
  out["strokes"] = std::move(strokes);
  out["missing"] = a.missing;
  out["extra"] = a.extra;
  out["wrong_piece"] = a.wrong;
  out["mean_ms"] = thousandths(a.all.mean.count());
  out["sd_ms"] = thousandths(a.all.sd.count());
  out["clean"] = isClean(a);
  Json limbs = Json::object();
  for (const auto& [limb, spread] : a.limbs) {
    limbs[std::string(textOf(limb))] = {{"mean_ms", thousandths(spread.mean.count())},
                                        {"sd_ms", thousandths(spread.sd.count())},
                                        {"n", spread.n}};
  }
  out["limbs"] = std::move(limbs);
  if (a.unison) out["unison_ms"] = thousandths(a.unison->count());
  if (a.uneven) out["uneven_percent"] = thousandths(100 * *a.uneven);
  if (a.ghosts) out["ghosts_db"] = thousandths(*a.ghosts);
  out["bpm"] = thousandths(a.bpm);
  out["offset_ms"] = thousandths(a.offset.count());
  out["rounds"] = a.rounds;
  return out.dump(1) + "\n";
}

std::string scoreText(const Alignment& a, const Kit& kit) {
  std::string out;
  for (const AlignedStroke& s : a.strokes) {
    const std::string where =
        fmt::format("bar {}, {}: {}", s.bar + 1, s.at.toString(), kit[s.piece].name);
    if (s.state == PlayedState::kMissing) out += where + " missing\n";
    if (s.state == PlayedState::kExtra) out += where + " that nobody wrote\n";
    if (s.state == PlayedState::kWrongPiece)
      out += fmt::format("{} on {}\n", where, kit[*s.struck].name);
  }
  out += fmt::format(
      "{} strokes in {} rounds at {:.1f} BPM: {} missing, {} extra, {} on another piece\n", a.all.n,
      a.rounds, a.bpm, a.missing, a.extra, a.wrong);
  out += fmt::format("{:+.1f} ms on average, standard deviation {:.1f} ms\n", a.all.mean.count(),
                     a.all.sd.count());
  for (const auto& [limb, spread] : a.limbs)
    out += fmt::format("  {}: {:+.1f} ms, {:.1f} ms, {} strokes\n", spokenName(limb),
                       spread.mean.count(), spread.sd.count(), spread.n);
  if (a.unison)
    out += fmt::format("strokes written together: {:.1f} ms apart\n", a.unison->count());
  if (a.uneven) out += fmt::format("intervals of time: {:.1f} % uneven\n", 100 * *a.uneven);
  if (a.ghosts)
    out += fmt::format("ghosts {:.1f} dB under accents, written {:.1f}\n", -*a.ghosts,
                       -a.ghostsWritten.value_or(0));
  return out + (isClean(a) ? "clean\n" : "not clean yet\n");
}

}  // namespace

Result<Output> score(FileSystem& files, const ScoreCall& call) {
  Result<Loaded> loaded = load(files, call.song);
  if (!loaded) return loaded.error();
  const Result<std::string> bytes = files.read(call.take);
  if (!bytes) return bytes.error();
  const Result<MidiSequence> sequence = readSmf(*bytes, call.take);
  if (!sequence) return sequence.error();
  const Song& song = loaded->song;
  const KitMapLibrary maps(files, usersKitMapFolder());
  const MidiOnsets found = onsetsOf(*sequence, *song.kit, maps.find(song.map));
  Result<Alignment> aligned = alignTake(song, call.groove, found);
  if (!aligned) return aligned.error();
  Output out;
  out.notices = std::move(loaded->notes);
  if (found.onsets.empty()) out.notices.emplace_back("the take has no strokes");
  if (aligned->offset.count() != 0)
    out.notices.push_back(
        fmt::format("the part begins {:.3f} s into the take", aligned->offset.count() / 1000));
  out.text = call.format == CheckFormat::kJson ? scoreJson(*aligned, *song.kit)
                                               : scoreText(*aligned, *song.kit);
  return out;
}

Result<Output> plan(FileSystem& files, const PlanCall& call) {
  Result<Loaded> loaded = load(files, call.song);
  if (!loaded) return loaded.error();
  const Result<Profile> profile = loadProfile(files, call.profile);
  if (!profile) return profile.error();
  PlanAsked asked;
  asked.groove = call.groove;
  asked.minutes = call.minutes;
  asked.days = call.days;
  asked.goal = call.goal;
  const auto today = std::chrono::floor<std::chrono::days>(std::chrono::system_clock::now());
  asked.from = std::chrono::year_month_day(today);
  if (!call.from.empty()) {
    const auto from = readDate(call.from);
    if (!from) {
      return Error{ErrorCode::kUsage,
                   fmt::format("--from: \"{}\" is no date; 2026-11-29 is", call.from),
                   {}};
    }
    asked.from = *from;
  }
  if (!call.log.empty()) {
    const Result<std::unique_ptr<PracticeLog>> log = PracticeLog::read(call.log);
    if (!log) return log.error();
    const std::string file = std::filesystem::absolute(call.song).lexically_normal().string();
    Result<std::vector<PractisedDay>> history = historyOf(**log, loaded->song, file);
    if (!history) return history.error();
    asked.history = *std::move(history);
  }
  const Result<PracticePlan> made = planOf(loaded->song, asked, *profile);
  if (!made) return made.error();
  Output out;
  out.notices = std::move(loaded->notes);
  if (call.format == PlanFormat::kText) {
    out.text = planText(*made, loaded->song);
    return out;
  }
  out.notices.insert(out.notices.end(), made->notes.begin(), made->notes.end());
  if (call.format == PlanFormat::kIcs) {
    out.text = planCalendar(*made, loaded->song);
    return out;
  }
  Json days = Json::array();
  for (const PlanDay& day : made->days) {
    Json items = Json::array();
    for (const PlanItem& item : day.items) {
      items.push_back({{"groove", item.groove},
                       {"step", item.step},
                       {"bpm_from", item.bpmFrom},
                       {"bpm_to", item.bpmTo},
                       {"bpm_step", item.bpmStep},
                       {"minutes", item.minutes},
                       {"click", item.click}});
    }
    days.push_back({{"day", day.day}, {"date", dateText(day.date)}, {"items", std::move(items)}});
  }
  out.text = days.dump(1) + "\n";
  return out;
}

}  // namespace uneven::cli
