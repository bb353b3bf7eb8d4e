// SPDX-License-Identifier: GPL-3.0-or-later
// The hats' pedal: how far the cymbals stand apart at each moment, and what the foot sounds.
//
// The opening g (0 pressed shut .. 1 wide) is a broken line over performed time, made from moves:
//
//   opening to a     reaches a at its stroke; the foot sets out travel * |change| before
//   closing          reaches 0 at its moment, or later where the way is too long: it never sets out
//                    before the stroke that it lets sound
//   pump             0 at each press, up to the lift halfway between two presses, straight lines
//                    between; gives way where hits open the hats themselves, until the next press
//   foot stroke      a lift of kChickLift where the hats are shut, then 0 at the stroke; a splash
//                    opens again to kSplashOpening until the next stroke on the hats
//
// `travel` is the time of the whole way, by technique: heel down slow and finely controlled, heel
// up quick and coarse (60 and 35 ms: from memory, a player's own numbers stand in the song).
//
// A closing that reaches 0 gives a chick, louder the faster it closes:
//
//   velocity = round(90 * sqrt(speed * 35 ms)), speed = opening lost / time taken
//
// and is silent below kChickSpeed. A stroke on the hats (by hand, or a written one by foot) within
// kShutMask masks it. The figures are from memory. Threads: a plain value.
#pragma once

#include <cstdint>
#include <vector>

#include "core/song/song.h"
#include "core/time/units.h"

namespace uneven {

struct PedalVertex {
  Moment time{0};
  double opening = 0;
  bool operator==(const PedalVertex&) const = default;
};

enum class FootSoundKind : std::uint8_t { kChick, kSplash };

// A moment at which the hats are shut, heard or not.
struct FootSound {
  Moment time{0};
  Moment grid{0};
  Beat at;                  // written position inside its bar
  std::int32_t bar = 0;     // of the song, from 0
  std::uint32_t block = 0;  // of the score
  FootSoundKind sound = FootSoundKind::kChick;
  std::uint8_t velocity = 0;  // 0: too slow to be heard
  bool masked = false;        // by a stroke on the hats
  bool written = false;       // a stroke of its own stands for it

  bool heard() const { return velocity > 0 && !masked && !written; }
  bool operator==(const FootSound&) const = default;
};

struct HatPedal {
  std::vector<PedalVertex> path;  // ascending; 0 before the first, the last value after the last
  std::vector<FootSound> sounds;  // in order of time
  int pressesOverridden = 0;      // of the pump, by openings of hits

  double openingAt(Moment time) const;
  // The same for many moments that come nearly in order: `near` remembers where the last one was,
  // so that a long song costs no more a moment than a short one. 0 to begin with.
  double openingAt(Moment time, std::size_t& near) const;
  bool operator==(const HatPedal&) const = default;
};

// Within this time of a closing, a stroke on the hats is what is heard.
inline constexpr Milliseconds kShutMask{15};
inline constexpr Milliseconds kTravelHeelDown{60}, kTravelHeelUp{35};
inline constexpr double kChickLift = 0.15;
inline constexpr double kSplashOpening = 0.5;
inline constexpr double kChickSpeed = 1;  // openings a second

// Whether the pump presses on the i-th slot of its unit in a bar, from 0.
bool pumpPresses(const Pump& pump, std::size_t i);

// Time of the whole way with this pedal.
Milliseconds travelOf(const std::optional<Pedal>& pedal);

// What happens to the pedal, as perform finds it.
struct HatEvent {
  enum class Kind : std::uint8_t { kShut, kStroke, kFoot, kSplash, kMove };
  Moment time{0};
  Moment grid{0};
  double open = 0;  // kStroke, kMove
  Milliseconds travel{0};
  Beat at;
  std::uint32_t opener = 0;  // kStroke, kMove: names the opening; kShut: the opening it ends
  std::int32_t bar = 0;
  std::uint32_t block = 0;
  std::uint32_t stroke = kNoStroke;  // that it comes from, while the list is as written
  Kind kind = Kind::kStroke;
  static constexpr std::uint32_t kNoStroke = static_cast<std::uint32_t>(-1);
};
struct PumpPress {
  Moment time{0};
  Moment grid{0};
  double lift = 0;         // after this press, as far as the foot gets in half the time to the next
  Milliseconds travel{0};  // of the whole way
  bool last = false;       // of its run: the pump ends here
  bool imagined = false;   // before or after what is played, so that the lift there is right
  Beat at;
  std::int32_t bar = 0;
  std::uint32_t block = 0;
};

// Events in order of time (of equal times in the order of Kind); presses too.
HatPedal hatPedal(const std::vector<HatEvent>& events, const std::vector<PumpPress>& presses);

}  // namespace uneven
