// SPDX-License-Identifier: GPL-3.0-or-later
// Grooves to be varied, and walks over them.
#pragma once

#include <string>
#include <vector>

#include "core/vary/walk.h"
#include "core/vary/walks.h"

namespace uneven::testing {

Hit varied(Beat at, PieceId piece, Role role = Role::kNormal);
// One groove, "g", in no arrangement.
Song variedSong(std::vector<Hit> hits, int bars = 1, Meter meter = {4, 4});
// Hats in eighths, backbeats, kicks on 1 and 3.
Song plainBeat(int bars = 1);

// Of the song's first groove by the usual player; a failure where it cannot be.
Walk walkOf(const Song& song, const char* name, const Arguments& arguments = {});
std::vector<std::string> namesOfWalk(const Walk& of);

}  // namespace uneven::testing
