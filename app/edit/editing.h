// SPDX-License-Identifier: GPL-3.0-or-later
// Editing one groove: what is selected, where the cursor stands, and, by what they edit, every
// intent of hand and key.
//
// Widgets and gestures call these; each makes one undo step of the document by a pure edit.
#pragma once

#include <QObject>
#include <functional>
#include <optional>

#include "app/edit/clipboard.h"
#include "app/edit/gesture.h"
#include "app/edit/groove_edits.h"
#include "app/edit/hit_edits.h"
#include "app/edit/kit_edits.h"
#include "app/edit/pedal_edits.h"

namespace uneven {

class Editing : public QObject {
  Q_OBJECT
 public:
  explicit Editing(Document& document, QObject* parent = nullptr);

  Document& document() { return document_; }
  const Document& document() const { return document_; }
  const Groove& groove() const { return document_.groove(); }

  const Selection& selection() const { return selection_; }
  void select(Selection selection);
  void selectAll();
  Beat cursorAt() const { return cursorAt_; }
  PieceId cursorPiece() const { return cursorPiece_; }
  Limb cursorLimb() const { return cursorLimb_; }  // automatic unless lanes are limbs
  // Also selects the hit that stands there, or nothing.
  void moveCursor(Beat at, PieceId piece, Limb lane = Limb::kAutomatic);
  // Adds what stands on the way to the selection.
  void extendCursor(Beat at, PieceId piece, Limb lane = Limb::kAutomatic);
  // The drawn opening of the hats that is chosen in place of hits: where it begins.
  const std::optional<Beat>& drawn() const { return drawn_; }
  void chooseDrawn(Beat at);
  const PedalMove* drawnMove() const;  // nullptr: none is chosen
  // What a limb strikes at a position; `fallback` when it strikes nothing there.
  PieceId struckBy(Limb limb, Beat at, PieceId fallback) const;

  QString countAt(Beat at) const;

  HitEdits& hits() { return hits_; }
  const HitEdits& hits() const { return hits_; }
  PedalEdits& pedal() { return pedal_; }
  GrooveEdits& grooves() { return grooves_; }
  const GrooveEdits& grooves() const { return grooves_; }
  KitEdits& kit() { return kit_; }
  Clipboard& clipboard() { return clipboard_; }
 Q_SIGNALS:
  void selectionChanged();
  void cursorMoved();
  void said(const QString& what);

 private:
  friend class Edits;
  void applyGroove(const QString& step, Groove groove, Merge merge = {});
  void documentChanged();
  bool needSelection();

  Document& document_;
  Selection selection_;
  Beat cursorAt_;
  PieceId cursorPiece_ = piece::kHat;
  Limb cursorLimb_ = Limb::kAutomatic;
  std::optional<Beat> drawn_;
  HitEdits hits_{*this};
  PedalEdits pedal_{*this};
  GrooveEdits grooves_{*this};
  KitEdits kit_{*this};
  Clipboard clipboard_{*this};
};

}  // namespace uneven
