// SPDX-License-Identifier: GPL-3.0-or-later
// Edits of the song around its grooves.
#include "core/arrange/edits.h"

#include <algorithm>
#include <map>

#include "core/base/number.h"
#include "core/song/edit.h"

namespace uneven {

Song withTitle(Song song, std::string title) {
  song.title = std::move(title);
  return song;
}

Song withMap(Song song, std::string id) {
  song.map = std::move(id);
  return song;
}

Song withPlayer(Song song, std::string id) {
  song.check.profile = std::move(id);
  return song;
}

Song withKit(Song song, Kit kit) {
  song.kit = SharedValue<Kit>(std::move(kit));
  return song;
}

Song withAim(Song song, SeparationAim aim) {
  song.aim.low = std::clamp(roundedTo(aim.low, 1), 0.0, kAimMax);
  song.aim.high = std::clamp(roundedTo(aim.high, 1), song.aim.low, kAimMax);
  return song;
}

Song withMix(Song song, PieceId piece, MixSetting mix) {
  song.mixer[piece] = std::move(mix);
  return song;
}

Song withGuide(Song song, std::optional<Guide> guide) {
  song.audio = std::move(guide);
  return song;
}

Song withTempoOf(Song song, const Followed& followed) {
  song.tempo = tempoOf(followed.marks);
  if (song.audio) song.audio->offset = offsetOf(followed.start);
  return song;
}

TakeLaidOut withTakeLaidOut(Song song, const Fit& fit, const std::vector<Onset>& onsets,
                            const std::string& name, const FeelParts& parts, bool nudges,
                            const Followed& followed) {
  const Song measured = songOf(fit, onsets, *song.kit, {name, nudges});
  std::string feel;
  Feel made = feelOf(fit, {}, name, *song.kit, parts);
  if (parts.drift) {
    // The body as it was, not another like it.
    Drift& drift = made.drift.emplace();
    drift.exponent = fit.drift.exponent.value_or(1);
    drift.measured = clockOf(fit, withTempoOf(Song(), followed).tempoMap(), followed.start);
  }
  song = withNewFeel(std::move(song), std::move(made), name, feel);
  std::map<std::string, std::string> ids;
  for (const auto& bars : measured.grooves) {
    Groove groove = *bars;
    groove.feel = feel;
    groove.name = name + ", " + groove.name;
    song = withNewGroove(std::move(song), std::move(groove), bars->id, ids[bars->id]);
  }
  song.arrangement = measured.arrangement;
  for (Section& section : song.arrangement) section.groove = ids.at(section.groove);
  TakeLaidOut out;
  out.first = song.arrangement.empty() ? "" : song.arrangement.front().groove;
  out.grooves = static_cast<int>(ids.size());
  out.song = withTempoOf(std::move(song), followed);
  return out;
}

Song withVersion(Song song, Groove groove, const std::string& core, std::string& id) {
  groove.core = core;
  groove.walk.clear();
  // Without an arrangement the song would play it too.
  const std::vector<Section> arrangement = song.sections();
  song = withNewGroove(std::move(song), std::move(groove), core, id);
  song.arrangement = arrangement;
  return song;
}

Song withSection(Song song, Section section) {
  song.arrangement = song.sections();
  song.arrangement.push_back(std::move(section));
  return song;
}

}  // namespace uneven
