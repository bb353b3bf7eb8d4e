// SPDX-License-Identifier: GPL-3.0-or-later
// A variant of a groove, and a walk: a list of variants of which each is made when it is asked for.
//
// What a variant changes is a map from places (position and piece) to the hit that stands there
// then, or to none. Its key is that map as text, "+11/4 kick; -1 snare", in order of place, so that
// the same variant has the same key whichever walk it comes up in; a key over 160 letters is its
// beginning and a hash (FNV-1a, 64 bits). Keys name verdicts in the song (Groove::walk).
//
// Threads: plain values; walks can be read from anywhere.
#pragma once

#include <cstdint>
#include <functional>
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "core/song/edit.h"

namespace uneven {

// By place: what stands there instead. Nothing: it is taken away.
using Changes = std::map<HitRef, std::optional<Hit>>;

// Everything in which the second differs from the first; hits alone.
Changes changesBetween(const Groove& core, const Groove& variant);
// The core with the changes; those that change nothing are no harm.
Groove withChanges(const Groove& core, const Changes& changes);
// Without those that change nothing.
Changes effective(const Groove& core, Changes changes);
std::string keyOf(const Groove& core, const Changes& changes, const Kit& kit);

struct Variant {
  std::string name;  // in counts: "kick on 3 a"
  std::string key;
  Groove groove;  // of the core's id
};

// What is laid on another grid or against the bar.
struct Relaid {
  Beat quarters;                    // the figure lasts
  Beat times = 1;                   // its apparent tempo, of the song's
  std::int64_t meetsAfterBars = 1;  // the bar line again
  std::int64_t rounds = 1;          // of the figure until then
  std::string cycle;                // "4 over 3": rounds or pulses over the beats of the bar
};

struct Walk {
  std::string kind;  // name in the table of walks
  SharedValue<Groove> core;
  PieceId voice = piece::kKick;  // whose syncopation is told
  std::uint64_t count = 0;
  std::function<Variant(std::uint64_t)> at;  // of 0 .. count - 1
  std::optional<Relaid> relaid;
  std::vector<std::string>
      notes;  // what it says besides: "the lead foot comes back after 2 rounds"
};

// The same walk in another order, or a part of it.
Walk reordered(const Walk& walk, std::vector<std::uint64_t> order);

// --- Verdicts ---

// By the variant's key; nullptr: none. And set, in place of what was there.
const WalkNote* verdictOf(const Groove& groove, const std::string& key);
Groove withVerdict(Groove groove, const std::string& key, WalkMark mark, std::string note);
// All that is marked in a song's grooves: one line each, or CSV (groove, variant, mark, note).
enum class VerdictFormat : std::uint8_t { kText, kCsv };
std::string verdictReport(const Song& song, VerdictFormat format);

}  // namespace uneven
