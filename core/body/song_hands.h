// SPDX-License-Identifier: GPL-3.0-or-later
// Hands of a whole song: each groove's own, so that equal bars are played alike and as the groove
// by itself tells them. Threads: pure functions.
#pragma once

#include "core/body/sticking.h"

namespace uneven {

// One for each of the part's hand strokes; `part` as bodyPart(take) gives it. A groove is solved
// once for each feel and tempo that it has.
std::vector<Limb> songHands(const Body& body, const Take& take, const BodyPart& part);

}  // namespace uneven
