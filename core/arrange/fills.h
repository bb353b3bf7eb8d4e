// SPDX-License-Identifier: GPL-3.0-or-later
// Fills made of the groove that they end, by recipe.
//
//   const Result<Groove> fill = makeFill(verse, kit, {"toms", Beat(2), 3, 92});
//
// A fill is a groove of as many of the base's last bars as it needs, whose last `beats` quarter
// notes are the recipe's and whose rest is the base, so that it can be heard, tried and edited by
// itself; a section takes its last beats (Section::fill). The same base, recipe and seed give the
// same fill on every machine; another seed gives another take: other drums, other cuts, other
// accents. What a recipe cannot do with a base it refuses. Threads: pure functions.
#pragma once

#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.h"
#include "core/body/profile.h"
#include "core/song/song.h"

namespace uneven {

struct FillRecipe {
  std::string_view id;     // "toms"
  std::string_view title;  // "Round the toms"
  std::string_view help;
};
// toms doubles triplets sextuplets crescendo gap kick-between regrid
const std::vector<FillRecipe>& fillRecipes();

struct FillAsked {
  std::string recipe = "toms";
  Beat beats{2};
  std::uint64_t seed = 1;
  double bpm = 100;  // where it will stand: how fine strokes may be
};

// Errors: kUnknown for a recipe that is not there, kLimit where the base is shorter than the fill
// or has nothing that the recipe needs.
Result<Groove> makeFill(const Groove& base, const Kit& kit, const FillAsked& asked);

// How fast a groove can go by that player, tried as a loop.
struct Tried {
  double comfortable = 0, playable = 0;  // BPM
};
Tried triedBy(const Song& song, const Groove& groove, const Profile& profile, double bpm);

// A groove of the song with these contents, made where there is none, under a free id made from
// `wanted`. No section plays a new one yet.
std::string addGroove(Song& song, Groove groove, const std::string& wanted);

// What a section's fills are made by.
struct FillPlan {
  FillAsked asked;
  int every = 0;         // passes; 0: the last one
  bool another = false;  // each fill of the section has a take of its own, by the next seeds
  FillAfter after = FillAfter::kNothing;
};
inline constexpr int kFillTakesMost = 64;  // of one section

// The section with fills of its last groove. Errors: those of makeFill.
Result<Song> withFill(Song song, std::size_t section, const FillPlan& plan);
// With the last beats of a groove that is there (one of the library, a pickup): added if need be.
Result<Song> withFillFrom(Song song, std::size_t section, Groove fill, Beat beats, int every,
                          FillAfter after);

}  // namespace uneven
