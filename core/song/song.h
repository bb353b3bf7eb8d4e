// SPDX-License-Identifier: GPL-3.0-or-later
// What is written: grooves, feels, tempo and the order they are played in.
//
// A Song is a plain value: == compares all of it, copies share grooves until one is changed, and
// undo is a stack of Songs. Positions are exact (Beat). Every limit is in docs/file-format.md.
// Threads: hand a copy to a worker; reading is safe from anywhere.
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

#include "core/base/shared_value.h"
#include "core/song/feel.h"
#include "core/song/hit.h"
#include "core/song/kit.h"
#include "core/time/meter.h"
#include "core/time/tempo_map.h"

namespace uneven {

enum class PedalTechnique : std::uint8_t { kHeelDown, kHeelUp };
enum class PumpPhase : std::uint8_t { kOn, kOff };

// A foot that keeps pressing the hats: at every multiple of the unit ("on") or at the odd multiples
// only ("off"), lifting to `lift` (0..1) in between.
struct Pump {
  Grid unit{8, false};
  PumpPhase phase = PumpPhase::kOn;
  double lift = 0;
  Extras extras;
  bool operator==(const Pump&) const = default;
};

struct Pedal {
  PedalTechnique technique = PedalTechnique::kHeelDown;
  std::optional<Pump> pump;
  Extras extras;
  bool operator==(const Pedal&) const = default;
};

struct Groove {
  std::string id;
  std::string name;
  Meter meter;
  int bars = 1;  // 1..64
  Grid grid;
  std::string feel;       // id of a feel; empty: straight, nothing displaced
  std::vector<Hit> hits;  // in the order of writtenBefore
  std::optional<Pedal> pedal;
  Extras extras;

  Beat length() const { return Beat(bars) * meter.barLength(); }
  bool operator==(const Groove&) const = default;
};

struct Section {
  std::string name;
  std::string groove;  // id
  int repeat = 1;
  std::string feel;  // id of a feel that overrides the groove's; empty: the groove's own
  Extras extras;
  bool operator==(const Section&) const = default;
};

struct TempoMark {
  Beat at;  // from the start of the song
  Bpm bpm;
  Extras extras;
  bool operator==(const TempoMark&) const = default;
};

// Limits of a song.
inline constexpr int kBarsMax = 64;          // of one groove
inline constexpr int kSongBarsMax = 20'000;  // of the whole song
inline constexpr std::int64_t kStrokesMax = 4'000'000;
inline constexpr std::int64_t kDenominatorMax = 10'080;
inline constexpr double kExponentMax = 3;

struct Song {
  std::string title;
  std::vector<TempoMark> tempo{{}};  // ascending, the first at 0
  std::vector<Feel> feels;
  std::vector<SharedValue<Groove>> grooves;
  std::vector<Section> arrangement;  // empty: every groove once, in order
  SharedValue<Kit> kit{houseKit()};
  std::string map = "general-midi";
  Extras extras;

  TempoMap tempoMap() const;
  // nullptr when there is none of that id.
  const Groove* findGroove(const std::string& id) const;
  const Feel* findFeel(const std::string& id) const;
  // The arrangement as played: its sections, or every groove once where there are none.
  std::vector<Section> sections() const;

  bool operator==(const Song&) const = default;
};

}  // namespace uneven
