// SPDX-License-Identifier: GPL-3.0-or-later
// How near a stroke is to its limb's limit.
//
//   strain = playable limit / gap          effort = comfortable limit / gap
//
// where the gap is the time since the same limb's stroke before. Strain 1 is the limit of what can
// be played; a stroke is comfortable with effort <= 1, hard with strain <= 1, else not playable.
//
// The limit belongs to a gap: how tired the limb is when it comes. Tiredness counts the strokes
// that lead up to it, each as far as the gaps since then are no longer than this one
// (docs/strain.md has the curve). With gaps g0 (this one), g1, g2, ... back from it:
//
//   tired = 1 + a0 (1 + c1 a1 (1 + c2 a2 (1 + ...)))
//
//   ak = 2 - gk / g(k+1), in 0..1    a rest of twice the gap before it begins anew
//   ck = 1 up to gk = g0, 0.28 at twice that, 0 from three times on; straight lines between
//
// and a gap longer than a sustained run's comfortable one lets go of what was before it, wholly at
// the profile's `runGap`, or at 1.5 times that comfortable gap where this is longer. So a
// double after a rest is a double (2), the strokes of an even run are 1, 2, 3, ... and come to what
// the profile's table says (2, 3 to 7, from 8 on), with straight lines between its rows, and
// nothing jumps. Limits below 2 go down to nothing at 1.
//
// Ways from piece to piece and pull-outs (a ghost straight into an accent) add to that. Strokes of
// one ornament make no gap among themselves; what counts is the time before and after it.
//
// Figures are from common practice: there is no published curve. Threads: pure functions.
#pragma once

#include <array>
#include <cstdint>
#include <optional>
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
  double strain = 0;    // 1: the playable limit
  double effort = 0;    // 1: the comfortable limit
  Milliseconds gap{0};  // since the stroke before of that limb; 0: none
  StrainReason reason = StrainReason::kNone;
  int run = 1;                               // about the n-th of its run, as far as kSustainedFrom
  static constexpr double kJust = 1 + 1e-9;  // what is just reached is reached
  bool comfortable() const { return effort <= kJust; }
  bool playable() const { return strain <= kJust; }
};
// "comfortable", "hard", "not-playable"
std::string_view stateWord(const Strain& strain);

// What a limb has behind it.
struct LimbPast {
  static constexpr std::size_t kGaps = RunLimits::kSustainedFrom;
  const BodyStroke* stroke = nullptr;  // its last; nullptr: none
  Milliseconds end{0};                 // when that was over
  double tired = 0;
  std::array<Milliseconds, kGaps> gaps{};  // before its last strokes, the latest first; 0: none
  void push(Milliseconds gap);
};

// The limit at a tiredness, with straight lines between the rows of the table.
TimeLimit limitAt(const RunLimits& limits, double tired);
// Tiredness after a gap; `before` as it was. The first two strokes are 1 and 2.
double tiredAfter(Milliseconds gap, const LimbPast& before, const RunLimits& limits,
                  Milliseconds runGap);

// A player on a kit.
class Body {
 public:
  Body(const Kit& kit, const Profile& profile);

  const Profile& profile() const { return profile_; }
  const Setup& setup() const { return setup_; }
  Limb lead() const { return setup_.lead == Side::kLeft ? Limb::kLeftHand : Limb::kRightHand; }

  // What one stroke asks of a limb, which then has it behind it. `other`: the other hand.
  Strain next(const BodyStroke& stroke, Limb limb, LimbPast& same, const LimbPast& other,
              double pace) const;

  const RunLimits& limitsOf(Limb limb, PieceId piece) const;
  // Hats and cymbals keep time; drums do not.
  bool keepsTime(PieceId piece) const { return pieces_[piece.value].keepsTime; }
  bool isSnare(PieceId piece) const { return pieces_[piece.value].snare; }
  // To the right of the player, in forearms; nothing: the kit's plan does not know the piece.
  std::optional<double> across(PieceId piece) const { return pieces_[piece.value].x; }
  // The hand that keeps time on a piece: the leading one, open-handed that on its side.
  Limb timeHand(PieceId piece) const { return pieces_[piece.value].timeHand; }
  // The hand that takes a single stroke on it.
  Limb usual(PieceId piece) const { return pieces_[piece.value].usual; }

 private:
  struct Known {
    bool keepsTime = false, snare = false;
    std::optional<double> x;
    Limb timeHand = Limb::kRightHand, usual = Limb::kRightHand;
  };

  Profile profile_;
  Setup setup_;
  RunLimits strongHand_, weakHand_, strongFoot_, weakFoot_;
  std::vector<Milliseconds> ways_;  // from piece to piece
  std::vector<Known> pieces_;
};

}  // namespace uneven
