// SPDX-License-Identifier: GPL-3.0-or-later
// How near a stroke is to its limb's limit, and what it costs.
//
// Its strain is
//
//   strain = playable limit / time since the same limb's stroke before
//
// so 1 is the limit of what can be played; `effort` is the same with the comfortable limit. A
// stroke is comfortable with effort <= 1, hard with strain <= 1, else not playable.
//
// The cost of a stroke is the sum of
//
//   4 strain^6           a hand that strikes again soon, rising steeply (4 at the limit)
//   1.5 effort^2         a hand that strikes twice while the other rests, but for an ostinato
//     both halved        for a rebound: 6 dB or more softer than the stroke before in that hand,
//                        the second of its run
//   100 + 1000 (strain - 1)   where it cannot be played (2000 where one hand would have to strike
//                        two pieces at once)
//   1                    a pull-out nearer than comfortable: a ghost, then an accent
//   0.1, 0.3, 1          the way to a neighbour, across the kit, over or under the other hand
//   2                    leaving a running ostinato: the other hand takes a stroke of a hat or
//                        cymbal that goes on before and after
//   0.25                 another hand than the piece's usual one
//   0.2                  the weak hand on a beat, on a drum
//
// Times beyond `reach` (the longest limit and way of the profile) cost nothing: the hand is free.
// Figures are from common practice: there is no published cost of a sticking. Threads: pure
// functions.
#pragma once

#include <cstdint>
#include <string_view>
#include <vector>

#include "core/body/part.h"
#include "core/body/profile.h"

namespace uneven {

enum class StrainReason : std::uint8_t {
  kNone,
  kDouble,     // two in one limb
  kRun,        // three to seven
  kSustained,  // eight and more
  kPullOut,    // a ghost straight into an accent
  kTravel,     // the way from piece to piece
  kBounce,     // the two of a diddle
  kTwoAtOnce,  // one limb on two pieces
};
// "a ghost straight into an accent"
std::string_view reasonText(StrainReason reason);

struct Strain {
  Limb limb = Limb::kAutomatic;
  double strain = 0;  // 1: the playable limit
  double effort = 0;  // 1: the comfortable limit
  double gap = 0;     // ms since the stroke before of that limb; 0: none that matters
  StrainReason reason = StrainReason::kNone;
  int run = 1;                               // it is the n-th of its run, as far as kSustainedFrom
  static constexpr double kJust = 1 + 1e-9;  // what is just reached is reached
  bool comfortable() const { return effort <= kJust; }
  bool playable() const { return strain <= kJust; }
};
// "comfortable", "hard", "not-playable"
std::string_view stateWord(const Strain& strain);

// A player on a kit.
class Body {
 public:
  Body(const Kit& kit, const Profile& profile);

  const Profile& profile() const { return profile_; }
  bool leftHanded() const { return setup_.lead == Side::kLeft; }
  double reach() const { return reach_; }
  Limb strong() const { return leftHanded() ? Limb::kLeftHand : Limb::kRightHand; }

  // What one stroke asks of a limb. `same`: that limb's stroke before, and the how-manieth of its
  // run it was; `other`: the other hand's. nullptr: none within reach.
  struct Asked {
    Strain strain;
    double cost = 0;
  };
  Asked ask(const BodyStroke& stroke, Limb limb, const BodyStroke* same, int sameRun,
            const BodyStroke* other, double pace) const;

 private:
  friend class Solver;
  // A stroke and what came before it in its limb, whichever stroke of a run it is.
  struct Meeting {
    const RunLimits* limits = nullptr;  // with the limb's weakness in them
    bool within = false;                // there is a stroke before, within reach
    bool goesOn = false;                // the run
    bool twoAtOnce = false, pullOut = false, rebound = false, alone = false, hand = false;
    double gap = 0;
    double way = 0;                             // ms
    double bounceStrain = 0, bounceEffort = 0;  // of its own second stroke
    double bounce = 0;                          // ms
    double cost = 0;                            // that does not hang on the run
  };
  Meeting meet(const BodyStroke& stroke, Limb limb, const BodyStroke* same, const BodyStroke* other,
               double pace) const;
  Asked price(const Meeting& meeting, int run) const;

  struct Way {
    double ms = 0, cost = 0;
  };
  struct Place {
    bool known = false;
    double x = 0;  // as the player sees it
  };

  Profile profile_;
  Setup setup_;
  RunLimits strongHand_, weakHand_, strongFoot_, weakFoot_;
  std::vector<Way> ways_;      // from piece to piece
  std::vector<Place> places_;  // by piece
  std::vector<char> drum_;     // likewise: no hat or cymbal
  double reach_ = 0;
};

}  // namespace uneven
