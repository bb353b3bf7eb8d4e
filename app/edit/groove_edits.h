// SPDX-License-Identifier: GPL-3.0-or-later
// Grooves of the song, their grids, and the tools that change them. Each call is one undo step of
// the document.
#pragma once

#include "app/edit/edits.h"

namespace uneven {

class GrooveEdits : public Edits {
 public:
  using Edits::Edits;

  void replaceGroove(const QString& step, Groove groove);
  static const std::vector<Grid>& grids();
  void setGrid(Grid grid);
  void stepGrid(int by);                        // +1 finer, -1 coarser
  static const std::vector<Grid>& beatGrids();  // with fives and sevens
  // Of the beat under the cursor alone; the groove's own takes it back.
  void setBeatGrid(Grid grid);
  void stepBeatGrid(int by);
  void repeatFirstBar();
  // One undo step named after the tool; what it notes goes to the status line.
  void runTool(const std::string& name, const Arguments& arguments);
  // Grooves of the song: an empty one like this, a copy of this, another name, away with it.
  void newGroove();
  void duplicateGroove();
  void embellishGroove();      // a copy that stays linked to this one, its core
  const Groove* core() const;  // nullptr: this groove embellishes none
  void backToCore();
  void moveGroove(int by);  // in the list
  void renameGroove(const QString& name);
  void deleteGroove();
  // One that comes from elsewhere, under that name and this groove's feel.
  void takeGroove(const QString& step, Groove groove, const QString& name);
  void setAim(SeparationAim aim, Merge merge = {});

 private:
  void addGroove(const QString& step, Groove groove);
};

}  // namespace uneven
