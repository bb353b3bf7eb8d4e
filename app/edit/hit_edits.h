// SPDX-License-Identifier: GPL-3.0-or-later
// What hands and keys do to hits. Each call is one undo step of the document.
#pragma once

#include "app/edit/edits.h"
#include "core/rehearse/play_in.h"

namespace uneven {

// Velocities a role is given when the groove has no hit of that role on the piece yet.
inline constexpr int kAccentVelocity = 112, kNormalVelocity = 84, kGhostVelocity = 30;

// How far a hat that is opened without a number opens.
inline constexpr double kUsualOpening = 0.6;

class HitEdits : public Edits {
 public:
  using Edits::Edits;

  // What setRole and toggleAt give a piece: the median of its hits of that role, else the default.
  Velocity velocityFor(PieceId piece, Role role) const;
  // Puts a hit where there is none, takes it off where there is one. On a limb's lane the hit is
  // that limb's.
  void toggleAt(Beat at, PieceId piece, Limb lane = Limb::kAutomatic);
  // Puts a hit in place of what its piece has there, and moves the cursor behind it.
  void enter(Beat at, PieceId piece, Role role, bool open);
  // A stroke played at the cursor, which moves on; and played over the running groove, with its
  // timing.
  void enterPlayed(const PlayedStroke& stroke);
  void playIn(const std::vector<PlayedStroke>& strokes, Merge merge);
  void clearSlot(Beat at);
  void removeSelected();
  // Changes every selected hit; says so when there is none.
  void change(const QString& step, const std::function<void(Hit&)>& edit, Merge merge = {});
  void setRole(Role role);
  // Right or left, hand or foot as the piece has it; automatic again when all are so already.
  void setSide(Side side);
  void setVelocity(int velocity);
  void addVelocity(int by, Merge merge);
  void addNudge(Milliseconds by, Merge merge);
};

}  // namespace uneven
