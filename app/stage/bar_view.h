// SPDX-License-Identifier: GPL-3.0-or-later
// What every view of bars is, whatever it draws: a bar frame with rows, which screen readers read
// as a table.
//
// The accessible interface (bar_accessible.cpp) has a row for each lane and a column for each slot;
// a cell says "Snare, 2 a, ghost, velocity 27, 11 ms late". It follows the cursor and tells of
// edits.
#pragma once

#include <QWidget>

#include "app/edit/editing.h"
#include "layout/bar_table.h"

namespace uneven {

class BarView : public QWidget {
  Q_OBJECT
 public:
  // `name`: what the view is called where it cannot be seen.
  BarView(Editing& editing, const QString& name, QWidget* parent);

  // As shown now.
  virtual const BarFrame& frame() = 0;
  virtual std::vector<BarRow> rows() = 0;  // from top to bottom

  // Where the song is heard, from the groove's start; a bar that is not shown is brought into view.
  void setPlayhead(std::optional<Quarters> at);
  const std::optional<Quarters>& playhead() const { return playhead_; }

  const QString& toldName() const { return name_; }
  Editing& editing() { return editing_; }
  const Editing& editing() const { return editing_; }
  BarTable table();
  // Which bars are shown: "bars 1 to 2 of 4".
  QString barsText();

 protected:
  void focusInEvent(QFocusEvent* event) override;

  // Brings the bar (of the groove, from 0) into view.
  virtual void showBar(int bar) = 0;
  // At the end of a view's own painting.
  void drawPlayhead(QPainter& p);

  Editing& editing_;

 private:
  void tellCursor();
  void tellEdit();

  QString name_;
  std::uint64_t told_ = 0;  // revision
  std::optional<Quarters> playhead_;
};

// What stands in a cell.
QString spokenCell(const Take& take, const BarTable& table, std::size_t row, std::size_t column);
QString spokenRow(const Take& take, const BarTable& table, std::size_t row);
// "bar 2, 2 a".
QString spokenColumn(const Take& take, const BarTable& table, std::size_t column);

}  // namespace uneven
