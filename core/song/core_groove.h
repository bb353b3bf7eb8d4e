// SPDX-License-Identifier: GPL-3.0-or-later
// A core groove and its embellished versions.
//
// A version names its core (Groove::core). The core is laid over the version again and again, bar
// by bar; a hit of the version is "added" where the core has none on that piece. Threads: pure
// functions.
#pragma once

#include "core/song/edit.h"

namespace uneven {

// What the version adds.
Selection addedTo(const Groove& core, const Groove& version);
// How many of the core's hits the version has left out.
int leftOutOf(const Groove& core, const Groove& version);
// The version with the core's hits in place of its own.
Groove backToCore(const Groove& core, Groove version);

}  // namespace uneven
