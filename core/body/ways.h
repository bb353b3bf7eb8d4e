// SPDX-License-Identifier: GPL-3.0-or-later
// A groove's hands and feet as they are told: on the command line and on the screen.
#pragma once

#include "core/body/sticking.h"

namespace uneven {

// A groove by itself at one tempo, with its hands, strain and ceiling.
struct HandReport {
  SharedTake take;  // of the groove alone
  double bpm = 0;
  BodyPart part;
  HandPlan plan;
  LoopStrains strains;
  Ceiling ceiling;  // factors of `bpm`
};

// `bpm` nothing: the tempo at which the song plays the groove first. The profile's setup, where it
// has one, takes the place of the song's. Errors: kUnknown for a groove that is not there, and
// those of arrangeGroove.
Result<HandReport> handReport(const Song& song, const std::string& groove, const Profile& profile,
                              std::optional<double> bpm = std::nullopt);

// A tempo of the part's ceiling, down to hundredths, at most kBpmMax.
double ceilingBpm(const HandReport& report, double pace);

// "right, left, right in place of right, right, right: bar 1, 1 e to 2"
std::string changeText(const HandReport& report, const HandPlan& other);

// Another way to play it, with what it makes of the groove.
struct OtherWay {
  HandPlan plan;                      // of the report's hand strokes
  std::optional<std::uint32_t> foot;  // stroke of the take that the leading foot plays on the kick
  double cost = 0;                    // of the hands
  Ceiling ceiling;                    // factors of the report's tempo
  std::string text;                   // "right, left, right in place of ...", "the foot takes ..."
  Groove groove;                      // so that it can be heard and kept
};

// Up to `most` ways that differ within [from, to) of the hand strokes by hands alone, the fastest
// first, without those that no tempo lets be played; and one more where that lets the part go
// faster than any of them: the leading foot in place of a hand, for one stroke of the run that sets
// the ceiling, on a drum, where no foot is at work.
std::vector<OtherWay> otherWays(const HandReport& report, const Profile& profile, std::size_t from,
                                std::size_t to, int most);

}  // namespace uneven
