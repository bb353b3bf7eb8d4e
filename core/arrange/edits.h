// SPDX-License-Identifier: GPL-3.0-or-later
// Edits of the song around its grooves: what plays where, at which tempo, with which kit and
// recording. The window changes songs through these and those of core/song/edit.h only.
//
// Threads: pure functions.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/match/fit.h"
#include "core/match/follow.h"
#include "core/match/song_of.h"
#include "core/song/song.h"

namespace uneven {

// With what is given in place of what was there; the kit map by its id.
Song withTitle(Song song, std::string title);
Song withMap(Song song, std::string id);
Song withPlayer(Song song, std::string id);  // "": the default one
Song withKit(Song song, Kit kit);
// In whole dB, 0 to kAimMax, the lower one first.
Song withAim(Song song, SeparationAim aim);
Song withMix(Song song, PieceId piece, MixSetting mix);
// A recording beside the part; nothing: none.
Song withGuide(Song song, std::optional<Guide> guide);

// The tempo of a take in place of the song's; its recording beside the part begins with it.
Song withTempoOf(Song song, const Followed& followed);

// A take as the song: its feel, its bars as grooves, its sections and its tempo in place of the
// song's; `first` becomes the id of the groove that begins it, "" where nothing was used.
struct TakeLaidOut {
  Song song;
  std::string first;
  int grooves = 0;
};
TakeLaidOut withTakeLaidOut(Song song, const Fit& fit, const std::vector<Onset>& onsets,
                            const std::string& name, const FeelParts& parts, bool nudges,
                            const Followed& followed);

// A groove as a version of another, which no section plays yet; `id` becomes its own.
Song withVersion(Song song, Groove groove, const std::string& core, std::string& id);
// One more section behind the last.
Song withSection(Song song, Section section);

}  // namespace uneven
