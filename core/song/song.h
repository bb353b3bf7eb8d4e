// SPDX-License-Identifier: GPL-3.0-or-later
// What is written: grooves, feels, tempo and the order they are played in.
//
// A Song is a plain value: == compares all of it, copies share grooves until one is changed, and
// undo is a stack of Songs. Positions are exact (Beat). Every limit is in docs/file-format.md.
// Threads: hand a copy to a worker; reading is safe from anywhere.
#pragma once

#include <cstdint>
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "core/base/shared_value.h"
#include "core/song/feel.h"
#include "core/song/hit.h"
#include "core/song/kit.h"
#include "core/song/mix.h"
#include "core/time/meter.h"
#include "core/time/tempo_map.h"

namespace uneven {

enum class PedalTechnique : std::uint8_t { kHeelDown, kHeelUp };
enum class PumpPhase : std::uint8_t { kOn, kOff };

// A foot that keeps pressing the hats: at every multiple of the unit from the bar line ("on"), at
// the odd multiples only ("off"), or at those that the cell has an x for, over and over ("x.." is
// every third); lifting to `lift` (0..1) in between.
struct Pump {
  Grid unit{8, 0};
  PumpPhase phase = PumpPhase::kOn;
  std::string cell;  // x and . ; empty: by the phase
  double lift = 0;
  Extras extras;
  bool operator==(const Pump&) const = default;
};

// An opening without a stroke of the hand.
struct PedalMove {
  Beat at;  // from the start of the groove
  double open = 0.5;
  Beat length;  // how long the hats stay open; 0: until the next stroke on them
  Extras extras;
  bool operator==(const PedalMove&) const = default;
};

struct Pedal {
  PedalTechnique technique = PedalTechnique::kHeelDown;
  Milliseconds travel{0};  // of the whole way; 0: by the technique
  std::optional<Pump> pump;
  std::vector<PedalMove> moves;  // in order of `at`
  Extras extras;
  bool operator==(const Pedal&) const = default;
};

// What the player thinks of one placement of openings that they have walked through.
enum class WalkMark : std::uint8_t { kGood, kAwkward, kNotForMe };
struct WalkNote {
  std::string placement;  // "3/4 for 1": where and for how many slots (core/vary/walk.h)
  WalkMark mark = WalkMark::kGood;
  std::string note;
  Extras extras;
  bool operator==(const WalkNote&) const = default;
};

struct Groove {
  std::string id;
  std::string name;
  Meter meter;
  int bars = 1;  // 1..64
  Grid grid;
  std::map<Beat, Grid> beatGrids;  // by a beat's start: its grid where it differs (slots.h)
  std::string core;                // id of the groove that this one embellishes; empty: none
  std::string feel;                // id of a feel; empty: straight, nothing displaced
  std::vector<Hit> hits;           // in the order of writtenBefore
  std::optional<Pedal> pedal;
  std::vector<WalkNote> walk;
  bool linear = false;  // no two strokes at once are wanted
  Extras extras;
  // How a bar's counts are grouped, as written: 2, 2, 3 of 7/8; empty, or not adding up to the
  // meter's numerator: as usual (groups()).
  std::vector<int> grouping;
  std::string origin;  // id of the groove that it was written out from; empty: none

  // Threes where the denominator is 8 and the numerator a multiple of 3 above 3, else ones.
  std::vector<int> groups() const;
  Beat length() const { return Beat(bars) * meter.barLength(); }
  Groove withoutHits() const;  // all else
  bool operator==(const Groove&) const = default;
};

// How far accents should lie above ghosts on one piece, in dB (18 to 28: common practice).
struct SeparationAim {
  double low = 18;
  double high = 28;
  bool operator==(const SeparationAim&) const = default;
};
inline constexpr double kAimMax = 60;

// What the pass after a fill begins with: as written; a crash and the kick; the hats open.
enum class FillAfter : std::uint8_t { kNothing, kCrash, kOpenHats };

// In every `every`-th pass of a section, 0: in its last, the last `beats` quarter notes are
// replaced by the last ones of a groove.
struct SectionFill {
  std::string groove;  // id
  Beat beats{1};
  int every = 0;
  Extras extras;
  std::vector<std::string> grooves = {};  // ids, one fill after the other; empty: always `groove`
  FillAfter after = FillAfter::kNothing;  // also where that pass is the next section's

  std::vector<std::string> takes() const {
    return grooves.empty() ? std::vector<std::string>{groove} : grooves;
  }
  // Whether the pass, from 0, of a section that repeats so often ends with one.
  bool fills(int pass, int repeat) const {
    return every > 0 ? (pass + 1) % every == 0 : pass + 1 == repeat;
  }
  bool operator==(const SectionFill&) const = default;
};
// A stroke on a section's first position, in place of what the ride hand has there.
struct SectionCrash {
  std::string piece;  // id
  Velocity velocity{112};
  Extras extras;
  bool operator==(const SectionCrash&) const = default;
};
inline constexpr double kLevelDbMost = 60;  // of a section, up and down

struct Section {
  std::string name;
  std::string groove;                // id
  std::vector<std::string> grooves;  // ids, in turn in place of `groove`; empty: that
  int repeat = 1;                    // passes, through all of them
  std::string feel;  // id of a feel that overrides the groove's; empty: the groove's own
  // For so many quarter notes from the section's start the feel before it turns into its own; 0: at
  // once.
  Beat morph;
  std::optional<SectionFill> fill;
  // Of every velocity, in dB: the first evenly to the second, where there is one.
  double levelDb = 0;
  std::optional<double> toLevelDb;
  std::vector<std::string> mute;            // ids of pieces and words of limbs that are left out
  std::map<std::string, std::string> swap;  // ids: the first one's hits are played on the second
  std::optional<SectionCrash> crash;
  Extras extras;

  std::vector<std::string> pass() const {
    return grooves.empty() ? std::vector<std::string>{groove} : grooves;
  }
  bool operator==(const Section&) const = default;
};

// Where a song plays a groove: in which section and which pass of it, both from 0.
struct GroovePlace {
  std::size_t section = 0;
  int pass = 0;
  bool operator==(const GroovePlace&) const = default;
};
using AtPlace = std::optional<GroovePlace>;  // nothing: where it is played first

struct TempoMark {
  Beat at;  // from the start of the song
  Bpm bpm;
  Extras extras;
  // The tempo goes evenly over the beats to the next mark's; nothing for the last one.
  bool ramp = false;
  // What of the tempo before became what of this one when it was set: "1/8T = 1/8", the old
  // triplet is the new eighth. Told, not counted with: `bpm` holds.
  std::string relation = {};
  bool operator==(const TempoMark&) const = default;
};

// A finding that is left as it is, on purpose.
struct LeftAlone {
  std::string kind;                 // "unison-spread"
  std::string groove;               // id
  Beat at;                          // from the groove's start
  std::vector<std::string> pieces;  // ids; empty: whichever take part
  std::string why;
  Extras extras;
  bool operator==(const LeftAlone&) const = default;
};
struct CheckNotes {
  std::vector<LeftAlone> ignored;
  std::string profile;  // id of a player; empty: the default one
  Extras extras;
  bool operator==(const CheckNotes&) const = default;
};

// A recording that plays beside the part.
struct Guide {
  std::string file;        // relative to the song file
  Milliseconds offset{0};  // where in the recording the song's beginning lies
  Extras extras;
  bool operator==(const Guide&) const = default;
};
inline constexpr Milliseconds kGuideOffsetMost{3'600'000};  // to both sides

// Limits of a song.
inline constexpr int kBarsMax = 64;              // of one groove
inline constexpr int kSongBarsMax = 20'000;      // of the whole song
inline constexpr std::size_t kPassMost = 1'000;  // grooves in turn of a section or its fills
inline constexpr std::int64_t kStrokesMax = 4'000'000;
// Of the hats' pedal: strokes on the hats by hand or foot, presses of the pump, and two for each
// opening. Not counted where nothing ever opens them.
inline constexpr std::int64_t kPedalMovesMax = 2'000'000;
// Quarter notes of a song that drifts, once for each feel of it that does.
inline constexpr std::int64_t kRampStepsMax = 400'000;  // sixteenths that a song's tempos ramp over
inline constexpr std::int64_t kDriftLengthMax = 1'000'000;
inline constexpr std::int64_t kDenominatorMax = 10'080;
inline constexpr std::int64_t kLengthMax = 256;  // quarter notes, of an ornament
// Of a position and of an opening's length, in quarter notes: the longest bars there are.
inline constexpr Beat kPositionMost{std::int64_t{4} * 64 * kSongBarsMax};
inline constexpr double kExponentMax = 3;
inline constexpr Milliseconds kTravelMin{10}, kTravelMax{500};
inline constexpr std::size_t kCellMax = 64;

struct Song {
  std::string title;
  std::vector<TempoMark> tempo{{}};  // ascending, the first at 0
  std::vector<Feel> feels;
  std::vector<SharedValue<Groove>> grooves;
  std::vector<Section> arrangement;  // empty: every groove once, in order
  SharedValue<Kit> kit{houseKit()};
  std::string map = "general-midi";
  SeparationAim aim;
  std::map<PieceId, MixSetting> mixer;  // in place of the house's mix
  CheckNotes check;
  std::optional<Guide> audio;
  Extras extras;

  MixSetting mixOf(PieceId piece) const;  // as it holds
  // A ramp is expanded into steps of a sixteenth from its mark; each, the last may be shorter, has
  // the tempo of the straight line in its middle, in whole microseconds to the quarter.
  TempoMap tempoMap() const;
  std::int64_t rampSteps() const;  // that tempoMap() makes of ramps
  // nullptr when there is none of that id.
  const Groove* findGroove(const std::string& id) const;
  const Feel* findFeel(const std::string& id) const;
  Song withoutGrooves() const;  // all else
  // Whether it plays the groove there.
  bool plays(const std::string& groove, const GroovePlace& place) const;
  // The arrangement as played: its sections, or every groove once where there are none.
  std::vector<Section> sections() const;

  bool operator==(const Song&) const = default;
};

}  // namespace uneven
