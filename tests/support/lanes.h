// SPDX-License-Identifier: GPL-3.0-or-later
// Grooves as lanes of text, a letter a slot, as in tests/data/*.json.
//
//   X accent  A softer accent  x hit  s softer  g ghost  h softer ghost  t cross-stick
//   f flam  D drag  r ruff (accents)  d diddle  z buzz  o open until the next  b bark
//   R L a hit whose hand is set
#pragma once

#include <map>
#include <nlohmann/json.hpp>
#include <optional>
#include <string>

#include "core/song/song.h"

namespace uneven::testing {

using Lanes = std::map<std::string, std::string>;

Song songOfLanes(const Lanes& lanes, Beat step, double bpm, Meter meter = {4, 4},
                 std::optional<Setup> setup = std::nullopt);

// A rock beat of a bar: a verse of eight, then a chorus of four.
Song verseAndChorus(double bpm = 100);

// An entry of a data file: "name", "bpm", "grid", "lanes", perhaps "meter"; and in the words of the
// song file "kit", "feel", "groove" (what the groove has besides) and "hits" (what a hit has,
// by piece and slot: "snare 4").
Song songOfEntry(const nlohmann::json& entry);

Beat stepOf(const std::string& grid);

}  // namespace uneven::testing
