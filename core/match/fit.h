// SPDX-License-Identifier: GPL-3.0-or-later
// The feel of a take: what swing, lean, slots and drift its strokes have, each with its error.
//
//   stroke = line(swung slot) + lean of its piece + of its slot + clock + motor
//
// Slots are those of the grid, bent by the swing that suits the strokes best. Pieces, slots and the
// clock are taken apart by turns (backfitting); the clock is a smooth line along the take, which is
// why pieces are known against each other to a fraction of the drift. The swing comes from voices
// that have notes on and off the beat: where the off-note lies between its neighbours, as the mean
// of those near the median, so that false strokes do not count. Motor and clock are told apart by
// strokes of two limbs at one place, else by the lag-1 autocovariance of one voice's intervals,
// which is minus the motor variance (Wing & Kristofferson 1973, Perception & Psychophysics 14(1)).
// The clock's exponent is fitted to its spectrum (P. Whittle 1953) where there are 128 beats.
//
// Where the grid was given (a file's tempo, a start that is typed) lean is against that grid, else
// against the reference: the hats, or what is struck most. Threads: pure functions.
#pragma once

#include <map>
#include <memory>
#include <stop_token>
#include <string>
#include <vector>

#include "core/match/grid.h"
#include "core/song/feel.h"

namespace uneven {

enum class LeanAgainst : std::uint8_t { kHats, kKick, kAverage, kGrid };

struct FitWanted {
  Grid grid{16, 0};
  bool gridGiven = false;  // else triplets are found where they suit better
  GridWanted where;
  std::optional<LeanAgainst> against;  // nothing: the grid where it was given, else the hats
  Seconds foundWithin{0};              // the standard error with which strokes were found
};

struct PieceFit {
  Milliseconds lean{0}, se{0};
  int n = 0;
  double velocity = 0;  // median
  // Swing of this voice by itself: the pair's point, where it has notes on and off.
  double point = 0, pointSe = 0;
  int pairs = 0;
};

// Strokes of one piece that are alike in loudness: ghosts, normals, accents.
struct LevelFit {
  PieceId piece;
  Role role = Role::kNormal;
  Milliseconds lean{0}, se{0};
  double velocity = 0;  // median
  int n = 0;
};

struct SlotFit {
  Beat at;  // in the bar
  PieceId piece;
  Milliseconds lean{0}, se{0};  // beside the piece's
  int n = 0;
  double velocity = 0;  // median
};

// Where a stroke was put.
struct Placed {
  std::int64_t bar = 0;  // from 0; may be less than 0
  Beat at;               // in the bar, written
  double quarters = 0;   // swung, from bar 1
  Milliseconds late{0};  // against the line
  bool used = false;     // near enough to count
  bool timed = false;    // and its moment is known well enough to tell a lean
};

struct TempoFound {
  Beat at;  // from bar 1
  Bpm bpm{0};
};

struct DriftFound {
  Milliseconds clock{0}, motor{0};
  bool told = false;  // the two could be told apart
  std::optional<double> exponent, exponentSe;
};

struct Fit {
  FoundGrid grid;  // refined
  Grid slots{16, 0};
  int onsets = 0, used = 0;
  Bpm bpm{0}, bpmSe{0};
  std::vector<TempoFound> marks;  // the first at 0
  Seconds start{0};               // of bar 1
  Swing swing;                    // straight: ratio 1, or 2 where written in triplets
  double ratioSe = 0;
  int swingPairs = 0;  // notes that it rests on
  std::map<PieceId, PieceFit> pieces;
  std::map<PieceId, double> depths;  // 0..1, of voices that surely swing less than the others
  std::vector<LevelFit> levels;      // of pieces that have ghosts, beside their other strokes
  std::vector<SlotFit> leaning;      // by position and piece, of at least kSlotFewest strokes
  DriftFound drift;
  // Where the body was in the take at each sixteenth from bar 1, clock and moving tempo together.
  std::vector<Seconds> body;
  bool bySound = false;   // strokes were found in sound: some are missing, some are none
  double confidence = 0;  // 0..1
  LeanAgainst against = LeanAgainst::kGrid;
  std::vector<Placed> placed;       // beside the onsets
  std::vector<std::string> doubts;  // what could not be found, in words

  static constexpr int kSlotFewest = 3;
  Milliseconds leanOf(PieceId piece) const;  // 0 where it is not known
};

// Of a stroke beside how loud its piece's loud ones are: the upper tenth.
Role roleByLoudness(double velocity, double loud);

// Confidence from which a feel is worth keeping.
inline constexpr double kWorthwhile = 0.2;

// What was found of a take, kept for when something about it is corrected (KeptGrid): where nothing
// but bar 1, the reference or some strokes that are left out are others, fitting goes on from
// there.
class Settled;
struct KeptFit {
  KeptGrid grid;
  std::shared_ptr<const Settled> settled;
};

// Nothing where there is no beat to be found, and where it was told to stop. Onsets are in order of
// time.
std::optional<Fit> fit(const std::vector<Onset>& onsets, const FitWanted& wanted,
                       KeptFit* kept = nullptr, const std::stop_token& stop = {});

// As feels and nudges hold it: to a tenth, at most kShiftMax either way.
Milliseconds asShift(Milliseconds lean);

// Which parts of a fit are wanted.
struct FeelParts {
  bool swing = true, lean = true, slots = true, drift = true;
};
// As a feel of the song's: swing with depths, lean, slots that are surely there, drift. `id` and
// `name` are given; the figures with their errors are its note.
Feel feelOf(const Fit& fit, std::string id, std::string name, const Kit& kit = houseKit(),
            const FeelParts& parts = {});

}  // namespace uneven
