// SPDX-License-Identifier: GPL-3.0-or-later
// What is found wrong with a part, where, by how much, and how to mend it.
//
// A finding stands once for each kind and what it is about, at the first place it is played;
// `times` counts the repetitions. Threads: plain values.
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

#include "core/check/mend.h"
#include "core/song/edit.h"
#include "core/take/take.h"

namespace uneven {

enum class FindingKind : std::uint8_t {
  kUnisonSpread,     // written together, struck apart
  kThirdHand,        // more than two hands at once
  kNotPlayable,      // nearer than a limb can
  kHard,             // nearer than is comfortable
  kSeparation,       // ghosts too near under the accents, or too far
  kGhostStandsOut,   // louder than the piece's other ghosts, or than a normal hit beside it
  kHatsHeavy,        // the ride hand's accents too near under the backbeat
  kBackbeatUneven,   // backbeats of one groove unlike each other
  kBackbeatMissing,  // a bar without one where the others have it
  kSoftUnison,       // both hands on a third partial, too loud
  kUnevenNotes,      // triplets or sixteenths that are asked even
  kLeadFoot,         // an odd group on two pedals: the other foot leads next
  kTooClose,         // two strokes on one piece that sound as one
  kBeforeStart,      // struck before the file begins
  kNoSound,          // the kit map has no note for the piece
  kFlatVelocity,     // what differs as written comes out as loud as it gets, alike
  kFlatDynamics,     // all strokes of a voice over a bar or more at one velocity, as a machine
  kHeld,             // lean would carry a stroke past its neighbour
  kSqueezed,         // an ornament has less room than it asks for
  kShortBuzz,        // a buzz that is over before it is heard as one
  kNotLinear,        // two at once where the groove is marked linear
  kBarLate,          // one bar is there twice, and all that follows comes a bar late
  kCoreLost,         // a version leaves out strokes of its core
  kCutOpening,       // the next stroke shuts an opening before its length is over
  kLateClose,        // the hats are still open at a stroke that is meant to be shut
  kEarlyClose,       // shut so early that it sounds as a note of its own
  kEarlyOpening,     // the stroke before is already loose
  kNoRoom,           // the foot's way takes longer than there is time
  kTwoPlaces,        // the foot would have to strike while it holds the hats open
};

enum class Severity : std::uint8_t {
  kNote,     // may well be meant
  kFinding,  // worth a look
  kError,    // it flams, or cannot be played or heard
};

struct Finding {
  FindingKind kind = FindingKind::kLateClose;
  Severity severity = Severity::kFinding;
  std::string groove;           // id
  std::vector<PieceId> pieces;  // that take part, in the kit's order
  Beat inGroove;                // of what suffers, from the groove's start
  // How bad, in `unit`: "ms", "dB", "%" or what is counted; at its worst over the song.
  double value = 0;
  std::string unit;
  // Of the hats: the opening at fault: a hit's, or the drawn one that begins there.
  HitRef hit;
  std::optional<Beat> drawn;
  std::int32_t bar = 0;  // of the song, from 0
  Beat at;               // inside the bar, of what suffers
  int times = 1;
  std::string text;         // "still 23 % open at the next stroke, shut 21 ms late"
  std::vector<Mend> mends;  // ways to mend it, the best first; none: nothing to offer

  std::string fix() const { return mends.empty() ? std::string() : mends.front().text; }
};

// The words of files and screens: "late-close"; "note", "finding", "error".
std::string_view findingWord(FindingKind kind);
// What people read: "Late close".
std::string_view findingTitle(FindingKind kind);
std::string_view severityWord(Severity severity);

// How far open a stroke may be and still sound shut.
inline constexpr HatOpening kLoose = 0.1;

// Whether a stroke of the hand on the hats is to sound shut: it opens nothing itself, no drawn
// opening begins with it, and no pump leaves it to the foot.
bool meantShut(const Groove& groove, const Hit& hit);

// What the hats' pedal cannot do as written, in order of bar and position.
std::vector<Finding> hatFindings(const Take& take);

// The groove with every finding about it mended, and what that brings up as well, as far as a few
// rounds go; as it is where the song cannot be arranged, an empty one where there is none.
Groove mended(const Song& song, const std::string& grooveId);

}  // namespace uneven
