// SPDX-License-Identifier: GPL-3.0-or-later
// Editing one groove: what is selected, where the cursor stands, and every intent of hand and key.
//
// Widgets and gestures call these; each makes one undo step of the document by a pure edit.
#pragma once

#include <QObject>
#include <functional>
#include <optional>

#include "app/edit/document.h"
#include "core/io/drum_tab.h"
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

  // Puts a hit where there is none, takes it off where there is one. On a limb's lane the hit is
  // that limb's.
  void toggleAt(Beat at, PieceId piece, Limb lane = Limb::kAutomatic);
  // Puts a hit in place of what its piece has there, and moves the cursor behind it.
  void enter(Beat at, PieceId piece, Role role, bool open);
  void clearSlot(Beat at);
  void removeSelected();
  // Changes every selected hit; says so when there is none.
  void change(const QString& step, const std::function<void(Hit&)>& edit, Merge merge = {});
  void setRole(Role role);
  // Right or left, hand or foot as the piece has it; automatic again when all are so already.
  void setSide(Side side);
  void toggleOpen();
  // Of the chosen hats, or of the chosen drawn opening: how far open, and for how long (0: until
  // the next stroke on them).
  void openTo(double open, Merge merge);
  void openFor(Beat length, Merge merge);
  void changePedal(const QString& step, const std::function<void(Pedal&)>& change,
                   Merge merge = {});
  // A drawn opening, in place of one that begins there; an opening of 0 takes it away.
  void setMove(const PedalMove& move, Merge merge);
  void startDrawn(Beat at, Merge merge);  // the chosen one begins there instead
  void replaceGroove(const QString& step, Groove groove);
  QString countAt(Beat at) const;
  void setVelocity(int velocity);
  void addVelocity(int by, Merge merge);
  void addNudge(Milliseconds by, Merge merge);
  void setGrid(Grid grid);
  void stepGrid(int by);  // +1 finer, -1 coarser
  // Of the beat under the cursor alone; the groove's own takes it back.
  void setBeatGrid(Grid grid);
  void stepBeatGrid(int by);
  void repeatFirstBar();
  // One undo step named after the tool; what it notes goes to the status line.
  void runTool(const std::string& name, const Arguments& arguments);

  // Grooves of the song: an empty one like this, a copy of this, another name, away with it.
  void newGroove();
  void duplicateGroove();
  // One that comes from elsewhere, under that name and this groove's feel.
  void takeGroove(const QString& step, Groove groove, const QString& name);
  void embellishGroove();  // a copy that stays linked to this one, its core
  void renameGroove(const QString& name);
  void deleteGroove();
  void moveGroove(int by);  // in the list
  void backToCore();
  const Groove* core() const;  // nullptr: this groove embellishes none

  void setKit(const QString& step, Kit kit);
  void setAim(SeparationAim aim, Merge merge = {});

  void copy();
  void cut();
  void paste();  // at the cursor; drum tab text too
  // Reads drum tab text and asks what lanes of unknown names mean. Nothing, with a word to the
  // user, when it cannot be read or nobody answers.
  std::optional<TabReading> readTab(const std::string& text, const std::string& file);
  using LaneAsker = std::function<std::optional<PieceId>(const std::string& lane)>;
  void setLaneAsker(LaneAsker asker) { askLane_ = std::move(asker); }

  // What setRole and toggleAt give a piece: the median of its hits of that role, else the default.
  Velocity velocityFor(PieceId piece, Role role) const;
  static const std::vector<Grid>& grids();
  static const std::vector<Grid>& beatGrids();  // with fives and sevens

 Q_SIGNALS:
  void selectionChanged();
  void cursorMoved();
  void said(const QString& what);

 private:
  void addGroove(const QString& step, Groove groove);
  void applyGroove(const QString& step, Groove groove, Merge merge = {});
  void pasteTab(const std::string& text);
  void pasteHits(Song song, const std::vector<Hit>& hits);
  void documentChanged();
  bool needSelection();

  Document& document_;
  Selection selection_;
  Beat cursorAt_;
  PieceId cursorPiece_ = piece::kHat;
  Limb cursorLimb_ = Limb::kAutomatic;
  std::optional<Beat> drawn_;
  LaneAsker askLane_;
};

}  // namespace uneven
