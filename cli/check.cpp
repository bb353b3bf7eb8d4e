// SPDX-License-Identifier: GPL-3.0-or-later
// `ustick check`.
#include "core/check/check.h"

#include <fmt/format.h>

#include <algorithm>

#include "cli/commands.h"
#include "cli/load.h"
#include "cli/sticking.h"
#include "core/io/atomic_save.h"
#include "core/io/json_line.h"
#include "core/io/song_json.h"
#include "core/song/names.h"
#include "core/voice/kit_maps.h"

namespace uneven::cli {
namespace {

void putPieces(TextOut& out, const std::vector<PieceId>& pieces, const Kit& kit) {
  out.put('[');
  for (std::size_t i = 0; i < pieces.size(); ++i) {
    if (i > 0) out.put(", ");
    putQuoted(out, kit[pieces[i]].id);
  }
  out.put(']');
}

// Only what its kind goes by.
void putMend(JsonLine& finding, const Finding& f, const Kit& kit) {
  TextOut& out = finding.key("mend");
  if (f.mends.empty()) {
    out.put("null");
    return;
  }
  const Mend& mend = f.mends.front();
  JsonLine line(out);
  line.text("kind", mendWord(mend.kind));
  if (!mend.hits.empty() || !mend.strokes.empty()) {
    const char* between = "";
    line.key("strokes").put('[');
    const auto put = [&](Beat at, PieceId piece, std::optional<Velocity> velocity) {
      out.put(std::exchange(between, ", "));
      JsonLine stroke(out);
      stroke.beat("at", at).text("piece", kit[piece].id);
      if (velocity) stroke.number("velocity", velocity->value());
      stroke.end();
    };
    for (const HitRef& ref : mend.hits) put(ref.at, ref.piece, std::nullopt);
    for (const Hit& hit : mend.strokes) put(hit.at, hit.piece, hit.velocity);
    out.put(']');
  }
  if (!mend.pieces.empty()) putPieces(line.key("pieces"), mend.pieces, kit);
  if (mend.role) line.text("role", textOf(*mend.role));
  if (mend.drawn) line.beat("drawn", *mend.drawn);
  switch (mend.kind) {
    case MendKind::kLouder:
    case MendKind::kAlternate:
      line.number("db", mend.value);
      break;
    case MendKind::kVelocity:
      line.number("velocity", mend.value);
      break;
    case MendKind::kOpen:
      line.number("open", mend.value);
      break;
    case MendKind::kOpenFor:
      line.beat("open_for", mend.length);
      break;
    case MendKind::kTempo:
      line.beat("at", mend.at).number("bpm", mend.value);
      break;
    case MendKind::kTogether:
      line.beat("at", mend.at);
      break;
    case MendKind::kBarForward:
      line.number("bar", mend.bar + 1).number("period", mend.period);
      break;
    case MendKind::kDisplacement: {
      line.text("feel", mend.feel);
      line.key("displacement_ms");
      JsonLine pieces(out);
      for (const auto& [piece, ms] : mend.displacement) pieces.number(kit[piece].id, ms.count());
      pieces.end();
      break;
    }
    default:
      break;
  }
  line.end();
}

void putFinding(TextOut& out, const Finding& f, const Kit& kit) {
  JsonLine line(out);
  line.text("kind", findingWord(f.kind)).text("severity", severityWord(f.severity));
  line.text("groove", f.groove).number("bar", f.bar + 1).text("at", f.at.toString());
  putPieces(line.key("pieces"), f.pieces, kit);
  line.number("value", f.value).text("unit", f.unit).text("text", f.text);
  line.text("fix", f.fix());
  putMend(line, f, kit);
  line.number("times", f.times).end();
}

// The song with the first mending of every finding that is meant, and what was done.
Result<std::pair<Song, std::string>> mended(Song song, const std::vector<Finding>& findings,
                                            const CheckCall& call) {
  std::pair<Song, std::string> out{std::move(song), ""};
  std::size_t meant = 0;
  for (const Finding& f : findings) {
    const std::string kind(findingWord(f.kind));
    const std::string where = fmt::format("{}@{}:{}", kind, f.bar + 1, f.at.toString());
    if (call.mend != kind && call.mend != where) continue;
    ++meant;
    if (f.mends.empty()) continue;
    out.first = withMend(std::move(out.first), f.mends.front());
    out.second += fmt::format("{}: {}\n", where, f.fix());
  }
  if (out.second.empty()) {
    return Error{ErrorCode::kNotFound,
                 meant == 0 ? fmt::format("there is no finding {}", call.mend)
                            : fmt::format("nothing is offered for {}", call.mend),
                 {call.song, 0, 0, std::nullopt}};
  }
  return out;
}

}  // namespace

Result<Output> check(FileSystem& files, const CheckCall& call) {
  if (call.mend.empty() != call.out.empty())
    return Error{ErrorCode::kUsage, "--mend and -o go together", {}};
  const std::string& file = call.song;
  const std::string& profileFile = call.profile;
  const CheckFormat format = call.format;
  Result<Loaded> loaded = load(files, file);
  if (!loaded) return loaded.error();
  const Result<Profile> profile = loadProfile(files, profileFile);
  if (!profile) return profile.error();
  Song song = loaded->song;
  if (profile->setup) song.kit.edit([&](Kit& kit) { kit.setup = *profile->setup; });
  const Result<SharedTake> take = Take::ofSong(std::move(song));
  if (!take) return take.error();
  const Song& checkedSong = (*take)->song();
  const KitMapLibrary maps(files, usersKitMapFolder());
  const KitMap& map = maps.orDefault(checkedSong.map);
  const Checked checked = uneven::check(**take, *profile, map);
  Output out;
  out.notices = std::move(loaded->notes);
  if (profileFile.empty() && !checkedSong.check.profile.empty() &&
      checkedSong.check.profile != profile->id) {
    out.notices.push_back(
        fmt::format("the song's player \"{}\" is not known here: --profile gives "
                    "it; the default one is taken",
                    checkedSong.check.profile));
  }
  if (!call.mend.empty()) {
    const Result<std::pair<Song, std::string>> done =
        mended(std::move(loaded->song), checked.findings, call);
    if (!done) return done.error();
    const Status safe =
        refuseOverwriting({profileFile, recordingOf(done->first, file)}, {call.out});
    if (!safe) return safe.error();
    if (const Result<Score> score = arrange(done->first); !score) return score.error();
    if (const Status saved = saveAtomically(files, call.out, writeSong(done->first)); !saved)
      return saved.error();
    out.text = done->second;
    return out;
  }
  if (!checked.left.empty())
    out.notices.push_back(fmt::format("{} left as they are", checked.left.size()));
  out.findings = std::any_of(checked.findings.begin(), checked.findings.end(),
                             [](const Finding& f) { return f.severity > Severity::kNote; });
  if (format == CheckFormat::kJson) {
    TextOut text;
    const char* before = "[\n  ";
    for (const Finding& f : checked.findings) {
      text.put(before);
      before = ",\n  ";
      putFinding(text, f, *checkedSong.kit);
    }
    text.put(checked.findings.empty() ? "[]\n" : "\n]\n");
    out.text = text.take();
    return out;
  }
  for (const Finding& f : checked.findings) {
    out.text +=
        fmt::format("{}: bar {}, {}: {}: {} (groove {}, {} times)", severityWord(f.severity),
                    f.bar + 1, f.at.toString(), findingWord(f.kind), f.text, f.groove, f.times);
    out.text += f.mends.empty() ? "\n" : fmt::format(". To mend: {}\n", f.fix());
  }
  if (checked.findings.empty()) out.text = "nothing found\n";
  return out;
}

}  // namespace uneven::cli
