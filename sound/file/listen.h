// SPDX-License-Identifier: GPL-3.0-or-later
// Any file that strokes can be found in: audio, MIDI, a list of times.
#pragma once

#include <functional>
#include <optional>
#include <string>
#include <vector>

#include "core/io/file_system.h"
#include "core/match/fit.h"
#include "core/voice/kit_map.h"

namespace uneven {

inline constexpr double kEnergyRate = 500;

struct Recording {
  std::string file;
  std::vector<Onset> onsets;
  std::optional<BeatLine> line;  // a MIDI file's own
  std::optional<Meter> meter;    // likewise
  Seconds foundWithin{0};        // the standard error of moments
  std::vector<float> energy;  // of sound: the root of its mean square, kEnergyRate times a second
  double seconds = 0;         // how long it lasts
  std::vector<std::string> notes;
};

// How far it is, 0..1; false: give it up.
using ListenProgress = std::function<bool(double)>;

// By its ending: .mid, .csv, else audio. Errors: those of reading; kUsage "given up" where progress
// said so.
Result<Recording> listen(FileSystem& files, const std::string& file, const Kit& kit,
                         const KitMap* map = nullptr, const ListenProgress& progress = {});

}  // namespace uneven
