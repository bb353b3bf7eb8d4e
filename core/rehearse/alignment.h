// SPDX-License-Identifier: GPL-3.0-or-later
// A played take beside the part: which stroke is which, how early or late, how loud, what is
// missing and what nobody wrote.
//
//   const Alignment a = align(**Take::ofGroove(song, "verse"), take, {});
//
// The part is a groove that goes round, as its feel places it, without drift. Strokes of one piece
// are matched in order, each within kReachMost and half the way to the piece's neighbours, so that
// what is matched costs least:
//
//   sum over matches |played - written| / reach  +  0.75 for each stroke left over
//
// What is left over on both sides within kSameMoment is one stroke on another piece. A take that
// begins late is held against the bars in which it plays. Where the greater part of it fits nowhere
// near the file's own zero, the moment at which most of it fits is looked for and told.
//
// Ornaments' strokes and sounds of the hats' foot that nobody wrote are matched where they are
// played, and not missed where they are not. Threads: pure functions.
#pragma once

#include <map>
#include <optional>
#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/match/onset.h"
#include "core/midi/onsets.h"
#include "core/take/take.h"

namespace uneven {

inline constexpr Milliseconds kReachMost{120}, kSameMoment{50};
inline constexpr std::size_t kPlayedMost = 100'000;  // strokes of a take

enum class PlayedState : std::uint8_t { kPlayed, kMissing, kExtra, kWrongPiece };

struct AlignedStroke {
  PlayedState state = PlayedState::kPlayed;
  int round = 0;  // of the groove, from 0
  int bar = 0;    // of the song, from 0, where the song plays the groove first
  Beat at;        // in that bar; of an extra stroke the nearest slot
  PieceId piece;  // as written; of an extra stroke as played
  Limb limb = Limb::kAutomatic;
  Role role = Role::kNormal;
  Milliseconds late{0};              // + late; 0 where nothing was played, or written
  int velocity = 0;                  // as played; of one that is missing as written
  int velocityBy = 0;                // played - written
  std::optional<PieceId> struck;     // kWrongPiece: what was struck
  std::optional<double> opening;     // of the hats, as played
  double openingBy = 0;              // played - written, of the hats
  std::optional<std::size_t> onset;  // index into the take's
};

// Sizes of what lies between played and written.
struct Spread {
  int n = 0;
  Milliseconds mean{0}, sd{0};  // sd: of the sample, n - 1
};

struct Alignment {
  std::vector<AlignedStroke> strokes;  // in order of time
  int missing = 0, extra = 0, wrong = 0;
  Spread all;
  std::map<Limb, Spread> limbs;
  // How far strokes that are written together lie apart: the mean over all such places, and the
  // widest.
  std::optional<Milliseconds> unison;
  struct Widest {
    Milliseconds apart{0};
    int bar = 0;  // as in AlignedStroke
    Beat at;
  };
  std::optional<Widest> widest;
  // The mean difference of neighbouring intervals of the voice that keeps time, of the interval.
  std::optional<double> uneven;
  // How far ghosts lie under accents of one piece, dB, by medians; as written beside.
  std::optional<double> ghosts, ghostsWritten;
  Milliseconds offset{0};  // where in the take the part's first bar begins
  double bpm = 0;          // that it was held against
  int firstBar = 0;        // of the song, from 0: the groove's first
  int rounds = 0;
};

// What counts as clean.
struct CleanLimits {
  Milliseconds late{30};  // of every stroke, either way
  Milliseconds sd{15};
  int left = 0;  // strokes missing, extra and on wrong pieces
};
bool isClean(const Alignment& alignment, const CleanLimits& limits = {});

// `part`: a groove alone, as Take::ofGroove gives it; `played` in order of time.
struct AlignWanted {
  bool searchOffset = true;
  // So many rounds from the part's beginning on, whatever of them was played; 0: the bars in which
  // the take plays.
  int rounds = 0;
  // Up to where it has been played by now: what is written later is not missing yet.
  std::optional<Milliseconds> until = {};
  // Stretches of the groove that are the player's own: nothing is missing there, nothing extra.
  std::vector<std::pair<Beat, Beat>> free = {};
};
Alignment align(const Take& part, const std::vector<Onset>& played, const AlignWanted& wanted = {});

// A take whose own tempo (the file's) may be the song's or another: held against whichever of both
// more of it fits. `bpm` nothing: only the song's. Errors: those of arrangeGroove, kLimit beyond
// kPlayedMost.
Result<Alignment> alignTake(const Song& song, const std::string& groove,
                            const std::vector<Onset>& played, std::optional<double> bpm);

// A MIDI file's: one tempo throughout is one that the part can be held against.
Result<Alignment> alignTake(const Song& song, const std::string& groove, const MidiOnsets& played);

}  // namespace uneven
