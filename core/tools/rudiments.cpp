// SPDX-License-Identifier: GPL-3.0-or-later
// The 40 International Drum Rudiments (Percussive Arts Society): stickings as published there.
#include "core/tools/sticking.h"

namespace uneven {

std::span<const Rudiment> rudiments() {
  static constexpr Rudiment kRudiments[] = {
      // Rolls: single strokes.
      {"single-stroke-roll", "RLRL RLRL", 8},
      {"single-stroke-four", "RLR>L..", 6},
      {"single-stroke-seven", "RLRLRL >R.....", 6},
      // Rolls: multiple bounce.
      {"multiple-bounce-roll", "zRzLzRzL", 4},
      {"triple-stroke-roll", "RRR LLL", 6},
      // Rolls: double strokes.
      {"double-stroke-open-roll", "RRLL RRLL", 8},
      {"five-stroke-roll", "RRLL >R...", 8},
      {"six-stroke-roll", ">R.LL RR>L.", 8},
      {"seven-stroke-roll", "RRLL RR>L.", 8},
      {"nine-stroke-roll", "RRLL RRLL >R.......", 8},
      {"ten-stroke-roll", "RRLL RRLL >R.>L.....", 8},
      {"eleven-stroke-roll", "RRLL RRLL RR>L.....", 8},
      {"thirteen-stroke-roll", "RRLL RRLL RRLL >R...", 8},
      {"fifteen-stroke-roll", "RRLL RRLL RRLL RR>L.", 8},
      {"seventeen-stroke-roll", "RRLL RRLL RRLL RRLL >R.......", 8},
      // Diddles.
      {"single-paradiddle", ">RLRR >LRLL", 4},
      {"double-paradiddle", ">RLRLRR >LRLRLL", 6},
      {"triple-paradiddle", ">RLRLRLRR >LRLRLRLL", 4},
      {"single-paradiddle-diddle", ">RLRRLL", 6},
      // Flams.
      {"flam", "~R . ~L .", 4},
      {"flam-accent", "~>RLR ~>LRL", 3},
      {"flam-tap", "~>RR ~>LL", 4},
      {"flamacue", "~R>LRL ~R...", 4},
      {"flam-paradiddle", "~>RLRR ~>LRLL", 4},
      {"single-flammed-mill", "~>RRLR ~>LLRL", 4},
      {"flam-paradiddle-diddle", "~>RLRRLL ~>LRLLRR", 6},
      {"pataflafla", "~>RLR~>L", 4},
      {"swiss-army-triplet", "~>RRL ~>RRL", 3},
      {"inverted-flam-tap", "~>RL ~>LR", 4},
      {"flam-drag", "~>R.LLR. ~>L.RRL.", 6},
      // Drags.
      {"drag", "=R . =L .", 4},
      {"single-drag-tap", "=R>L =L>R", 4},
      {"double-drag-tap", "=R=R>L =L=L>R", 3},
      {"lesson-25", "=RL>R. =RL>R.", 4},
      {"single-dragadiddle", "RRL.R.R. LLR.L.L.", 8},
      {"drag-paradiddle-1", ">R=RLRR >L=LRLL", 6},
      {"drag-paradiddle-2", ">R=R=RLRR >L=L=LRLL", 4},
      {"single-ratamacue", "=RLR>L.. =LRL>R..", 6},
      {"double-ratamacue", "=R..=RLR>L.. =L..=LRL>R..", 6},
      {"triple-ratamacue", "=R..=R..=RLR>L.. =L..=L..=LRL>R..", 6}};
  return kRudiments;
}

const Rudiment* findRudiment(std::string_view name) {
  for (const Rudiment& rudiment : rudiments()) {
    if (rudiment.name == name) return &rudiment;
  }
  return nullptr;
}

}  // namespace uneven
