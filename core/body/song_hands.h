// SPDX-License-Identifier: GPL-3.0-or-later
// Hands of a whole song: each groove's own, so that equal bars are played alike and as the groove
// by itself tells them. Threads: pure functions.
#pragma once

#include <functional>
#include <stop_token>

#include "core/body/sticking.h"

namespace uneven {

// One for each of the part's hand strokes; `part` as bodyPart(played) gives it. A groove is solved
// once for each feel and tempo that it has. Stopped: what is left goes by the right hand.
std::vector<Limb> songHands(const Body& body, const Played& played, const BodyPart& part,
                            const std::stop_token& stop = {});

// The same by hit, of the blocks that are wanted, for perform: hits whose limb is set keep it, and
// so do feet, what no hand is left for, and what no limb plays.
BlockHands blockHands(const Body& body, const Played& played,
                      const std::function<bool(const Score::Block&)>& wanted,
                      const std::stop_token& stop = {});

}  // namespace uneven
