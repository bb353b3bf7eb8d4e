// SPDX-License-Identifier: GPL-3.0-or-later
// Editing one groove: what is selected, where the cursor stands, and every intent of hand and key.
//
// Widgets and gestures call these; each makes one undo step of the document by a pure edit.
#pragma once

#include <QObject>
#include <functional>

#include "app/shell/document.h"
#include "core/song/edit.h"
#include "core/tools/tool.h"

namespace uneven {

// Velocities a role is given when the groove has no hit of that role on the piece yet.
inline constexpr int kAccentVelocity = 112, kNormalVelocity = 84, kGhostVelocity = 30;

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
  // Also selects the hit that stands there, or nothing.
  void moveCursor(Beat at, PieceId piece);
  // Adds what stands on the way to the selection.
  void extendCursor(Beat at, PieceId piece);

  // Puts a hit where there is none, takes it off where there is one.
  void toggleAt(Beat at, PieceId piece);
  void removeSelected();
  // Changes every selected hit; says so when there is none.
  void change(const QString& step, const std::function<void(Hit&)>& edit, Merge merge = {});
  void setRole(Role role);
  void toggleOpen();
  void setVelocity(int velocity);
  void addVelocity(int by, Merge merge);
  void addNudge(Milliseconds by, Merge merge);
  void setGrid(Grid grid);
  void stepGrid(int by);  // +1 finer, -1 coarser
  void repeatFirstBar();
  // One undo step named after the tool; what it notes goes to the status line.
  void runTool(const std::string& name, const Arguments& arguments);

  // Grooves of the song: an empty one like this, a copy of this, another name, away with it.
  void newGroove();
  void duplicateGroove();
  void renameGroove(const QString& name);
  void deleteGroove();

  void copy();
  void cut();
  void paste();  // at the cursor; drum tab text too

  // What setRole and toggleAt give a piece: the median of its hits of that role, else the default.
  Velocity velocityFor(PieceId piece, Role role) const;
  static const std::vector<Grid>& grids();

 Q_SIGNALS:
  void selectionChanged();
  void cursorMoved();
  void said(const QString& what);

 private:
  void addGroove(const QString& step, Groove groove);
  void applyGroove(const QString& step, Groove groove, Merge merge = {});
  void pasteTab(const std::string& text);
  void pasteHits(const std::vector<Hit>& hits);
  void documentChanged();
  bool needSelection();

  Document& document_;
  Selection selection_;
  Beat cursorAt_;
  PieceId cursorPiece_ = piece::kHat;
};

}  // namespace uneven
