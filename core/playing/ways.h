// SPDX-License-Identifier: GPL-3.0-or-later
// A groove's hands and feet as they are told: on the command line and on the screen.
#pragma once

#include <stop_token>

#include "core/body/sticking.h"
#include "core/take/take.h"

namespace uneven {

// A groove by itself at one tempo, with its hands, strain and ceiling.
struct HandReport {
  SharedTake take;  // of the groove alone
  double bpm = 0;
  BodyPart part;
  HandPlan plan;  // as it is played at this tempo
  LoopStrains strains;
  Ceiling ceiling;  // the part's own, whatever the tempo; factors of `bpm`
};

// `bpm` nothing: the tempo at which the song plays the groove first, or at a place of it. The
// profile's setup, where it has one, takes the place of the song's. Errors: kUnknown for a groove
// that is not there, those of arrangeGroove, and givenUp() where it was told to stop.
Result<HandReport> handReport(const Song& song, const std::string& groove, const Profile& profile,
                              std::optional<double> bpm = std::nullopt, AtPlace at = {},
                              const std::stop_token& stop = {});

// A tempo of the part's ceiling, down to hundredths, at most kBpmMax; comfortable ones stay 3 %
// below that.
double ceilingBpm(const HandReport& report, double pace);
double comfortableBpm(const HandReport& report, double pace);
// What sets the ceiling: a position from the groove's start; nothing: no tempo is too fast.
std::optional<Beat> heldBackAt(const HandReport& report);

// Another way to play it, with what it makes of the groove.
struct OtherWay {
  std::string_view word;              // "one-hand", "hand-to-hand", "doubles", "other-lead", "foot"
  HandPlan plan;                      // of the report's hand strokes
  std::optional<std::uint32_t> foot;  // stroke of the take that the leading foot plays on the kick
  double cost = 0;                    // of the hands
  Ceiling ceiling;                    // factors of the report's tempo
  std::string text;                   // "one hand keeps time, the other takes all else"
  Groove groove;                      // so that it can be heard and kept
};

// Up to `most` ways that a drummer would name and that differ from the report's, the fastest first,
// without those that no tempo lets be played: time in one hand, hand to hand, in doubles, the other
// hand leading; and the leading foot in place of a hand, for one stroke of the run that sets the
// ceiling, on a drum, where that lets the part go faster than all of them. Stopped: none.
std::vector<OtherWay> otherWays(const HandReport& report, const Profile& profile, int most,
                                const std::stop_token& stop = {});

// "one hand to 105 BPM, hand to hand to 210": how far each way of keeping time goes, the lower
// first; empty where there is but one.
struct WayBand {
  std::string_view word;
  double bpm = 0;  // playable
};
std::vector<WayBand> bandsOf(const HandReport& report, const Profile& profile);

}  // namespace uneven
