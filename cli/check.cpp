// SPDX-License-Identifier: GPL-3.0-or-later
// `ustick check`.
#include "core/check/check.h"

#include <fmt/format.h>

#include <algorithm>

#include "cli/commands.h"
#include "cli/load.h"
#include "cli/sticking.h"
#include "core/io/json_line.h"

namespace uneven::cli {
namespace {

void putFinding(TextOut& out, const Finding& f, const Kit& kit) {
  JsonLine line(out);
  line.text("kind", findingWord(f.kind)).text("severity", severityWord(f.severity));
  line.text("groove", f.groove).number("bar", f.bar + 1).text("at", f.at.toString());
  line.key("pieces").put('[');
  for (std::size_t i = 0; i < f.pieces.size(); ++i) {
    if (i > 0) out.put(", ");
    putQuoted(out, kit[f.pieces[i]].id);
  }
  out.put(']');
  line.number("value", f.value).text("unit", f.unit).text("text", f.text);
  line.text("fix", f.fixText.empty() && f.kind == FindingKind::kUnisonSpread && !f.others.empty()
                       ? f.others.front().text
                       : f.fixText)
      .number("times", f.times)
      .end();
}

}  // namespace

Result<Output> check(FileSystem& files, const std::string& file, const std::string& profileFile,
                     CheckFormat format) {
  Result<Loaded> loaded = load(files, file);
  if (!loaded) return loaded.error();
  const Result<Profile> profile = loadProfile(files, profileFile);
  if (!profile) return profile.error();
  Song song = std::move(loaded->song);
  if (profile->setup) song.kit.edit([&](Kit& kit) { kit.setup = *profile->setup; });
  const Result<SharedTake> take = Take::ofSong(std::move(song));
  if (!take) return take.error();
  const Song& checkedSong = (*take)->song();
  const KitMap* named = builtInKitMap(checkedSong.map);
  const KitMap& map = named == nullptr ? builtInKitMaps().front() : *named;
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
  if (checked.left > 0) out.notices.push_back(fmt::format("{} left as they are", checked.left));
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
    out.text += f.fixText.empty() ? "\n" : fmt::format(". To mend: {}\n", f.fixText);
  }
  if (checked.findings.empty()) out.text = "nothing found\n";
  return out;
}

}  // namespace uneven::cli
