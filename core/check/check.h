// SPDX-License-Identifier: GPL-3.0-or-later
// All that an experienced drummer would say about a part, in one list.
//
// What counts as a finding (defaults from memory and common practice):
//
//   unison-spread     written together, more than 10 ms apart; an error above 25. Where a feel's
//                     displacement alone does it, one for the feel and the pieces, a note up to 20:
//                     it is meant
//   third-hand        a third hand at once (error)
//   not-playable      nearer than the player's limit (error); hard: nearer than comfortable.
//                     One a limb and reason in a groove, the value the shortest time
//   separation        ghosts nearer under their piece's accents, or farther, than the aim
//   ghost-stands-out  4 dB above the median of the piece's other ghosts, or above a normal hit
//                     beside it; ghosts by role, on a snare that has none marked by lying 12 dB
//                     under its median
//   hats-heavy        the ride hand's accents less than 6 dB under the backbeat; where it plays
//                     sixteenths 2 dB more for each 20 BPM above 110. Strokes of any role that
//                     are as loud as the backbeat
//   backbeat-uneven   backbeats more than 3 dB apart: accents of the snare on a count but the
//                     first
//   backbeat-missing  a bar without one where another has one, but for fills: bars in which the
//                     ride hand leaves what it keeps
//   soft-unison       both hands off the beat, neither an accent, less than 8 dB under the accents:
//                     on a third partial the louder of them, elsewhere the softer
//   uneven-notes      where no swing is asked, neighbouring notes of one length, up to an eighth,
//                     on one piece that differ by more than 8 % after lean
//   lead-foot         an odd group of three or more on two pedals, and where the first foot leads
//                     again (note)
//   too-close         strokes on one piece nearer than 25 ms, but for ornaments
//   before-start      strokes before the file's start; graces alone: a note
//   no-sound          a piece for which the kit map has no note (error)
//   flat-velocity     strokes of one piece, written apart, that the feel's slots lift to 127 or
//                     press to 1 together
//   flat-dynamics     every stroke of the hats, the ride or the snare at one velocity over a bar
//                     or more, four or more to the bar; once a voice
//   short-buzz        a buzz of less than 80 ms
//   held, squeezed    strokes and ornaments that the performance had to move
//   not-linear        two at once in a groove that is marked linear
//   bar-late          bars that come round, then one bar twice and the rest a bar late (note)
//   core-lost         a version without strokes of its core (note)
//   late-close ...    the hats' (finding.h); two-places, too, where a foot is on the second pedal
//                     while it should shut the hats
//
// Lean is that of the performance without drift, except for unisons, which are told as written and
// at worst. Threads: pure functions.
#pragma once

#include <stop_token>

#include "core/body/profile.h"
#include "core/check/finding.h"
#include "core/voice/kit_map.h"

namespace uneven {

struct Checked {
  std::vector<Finding> findings;  // errors first, notes last, then by bar and position
  std::vector<Finding> left;      // that the song leaves alone
};

// Of a whole song, or of a groove alone; `take` is of the song as it is. Stopped: nothing.
Checked check(const Take& take, const Profile& profile, const KitMap& map,
              const std::stop_token& stop = {});

// Whether the song leaves a finding as it is.
bool leftAlone(const Song& song, const Finding& finding);
// The song with that written down, or taken back.
Song withLeftAlone(Song song, const Finding& finding, std::string why);
Song withTakenUp(Song song, const Finding& finding);

// Findings of one kind about the same pieces of a groove have one cause, but for what a feel does:
// their indices, each list in the order of the findings, by the first of each.
std::vector<std::vector<std::size_t>> byCause(const std::vector<Finding>& findings);

}  // namespace uneven
