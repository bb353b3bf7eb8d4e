// SPDX-License-Identifier: GPL-3.0-or-later
// Step entry: one key a piece, the cursor moves on by itself.
//
// Letters strike a piece and move to the next slot: H hat, O open hat, S snare, K kick, ... (the
// lanes show them); the song's own pieces have 1 to 9. Shift makes an accent, Alt a ghost. + puts
// the next letter on the slot just left, a dot leaves a slot, Backspace goes back and
// takes off what stands there. Escape ends it.
#pragma once

#include <QString>
#include <optional>

#include "app/edit/editing.h"

class QKeyEvent;

namespace uneven {

class StepEntry {
 public:
  explicit StepEntry(Editing& editing) : editing_(editing) {}

  // Whether the key meant something here.
  bool key(const QKeyEvent& event);
  // Whether a key is wanted here although a menu or shortcut has it too.
  bool wants(const QKeyEvent& event) const;

  // The key of a piece, for the lanes; empty when it has none.
  static QString letterOf(PieceId piece, const Kit& kit);

 private:
  struct Meant {
    PieceId piece;
    bool open = false;
  };
  std::optional<Meant> pieceOf(const QKeyEvent& event) const;

  Editing& editing_;
  bool join_ = false;
  std::optional<Beat> left_;  // the slot that was left last, and where the cursor went from there
  Beat arrived_;
};

}  // namespace uneven
