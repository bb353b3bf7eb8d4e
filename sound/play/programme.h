// SPDX-License-Identifier: GPL-3.0-or-later
// What is to be heard and when: a take's notes, the click, and who is listened to.
//
//   Take --voice--> Notes --programmeOf--> Programme --Sequencer--> Instrument --> sound
//
// A programme is unchanging once made, so that the playing thread can read it while the next one is
// being made. Threads: plain values, pure functions.
#pragma once

#include <array>
#include <cstdint>
#include <optional>
#include <set>
#include <string>
#include <vector>

#include "core/rehearse/click.h"
#include "core/take/take.h"
#include "core/voice/kit_map.h"

namespace uneven {

enum class ClickUnit : std::uint8_t { kOff, kQuarters, kEighths, kTriplets, kSixteenths };

struct ClickPlan {
  ClickUnit unit = ClickUnit::kOff;
  // Below this tempo a click of quarters is cut into eighths: at slow tempos something to hold on
  // to. 0: never.
  double subdivideBelowBpm = 0;
  int barsOn = 1, barsOff = 0;  // gap click: so many bars with, so many without
  bool accentOne = true;
  double levelDb = -6;
  // In place of unit, gaps and what is cut: bars counted from the beginning of what is played.
  std::optional<ClickPattern> pattern = {};
};

// Who is listened to.
struct Listening {
  std::set<PieceId> muted, solo;  // solo: if any, only those and `soloLimbs`
  std::set<Limb> mutedLimbs, soloLimbs;
  std::set<PieceId> asClick;  // these all sound as one short click, so that flams come out
  std::optional<Role> only;   // only accents, only ghosts
  bool strokes = true;        // else only the click
};

struct SoundEvent {
  enum class Kind : std::uint8_t {
    kStrike,
    kShut,
    kPedal,  // where the hats' pedal is: `opening`, and for a port its controller's value,
             // `velocity`
  };
  // In a loop: a stroke that the loop's start cuts off is heard at the start the first time, and at
  // the end of the round before from then on.
  enum class Round : std::uint8_t { kEvery, kFirst, kLater };

  Moment time{0};
  std::uint32_t stroke = 0xFFFFFFFF;  // of the take; none: the foot, or the click
  std::uint8_t note = 0;
  std::uint8_t midi = 255;    // note of the kit map (a pedal's controller) for a port; 255: none
  std::uint8_t velocity = 0;  // or the pedal's value, 0..127
  Kind kind = Kind::kStrike;
  Round round = Round::kEvery;
  bool rings = false;   // until the hats are shut
  bool hats = false;    // struck by hand or foot: shuts what rings on another note
  bool silent = false;  // not listened to; it shuts the hats all the same
  PieceId piece;
  Limb limb = Limb::kAutomatic;
  HatOpening opening;
  float levelDb = 0;
  float pan = 0;
  float roomDb = 0;
  std::uint8_t take = 0;  // which of the sound's
  bool operator==(const SoundEvent&) const = default;
};

struct Span {
  Moment from{0}, to{0};
  bool operator==(const Span&) const = default;
};

struct Programme {
  std::vector<SoundEvent> events;  // in order of time
  Moment end{0};                   // of the music; sounds ring on
  std::optional<Span> loop;
};

// Of strokes whose grid lies in `loop` where there is one. `port`: the kit map of what is sent to a
// MIDI port, if anything is.
Programme programmeOf(const Take& take, const KitMap& map, const Listening& listening,
                      const ClickPlan& click, std::optional<Span> loop = std::nullopt,
                      const KitMap* port = nullptr);

// A bar or two of clicks before `from`, in the meter and tempo that hold there. In order of time.
std::vector<SoundEvent> countIn(const Score& score, const KitMap& map, Moment from, int bars,
                                double levelDb);

// The kit map of the house's own bank.
const KitMap& houseSounds();

}  // namespace uneven
