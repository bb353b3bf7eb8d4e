// SPDX-License-Identifier: GPL-3.0-or-later
// What every view of bars is, whatever it draws: a bar frame with rows, which screen readers read
// as a table; some bars of the groove that follow cursor and playhead, are paged by the wheel and
// by PgUp and PgDn, and are laid out again when something has changed.
//
// The accessible interface (bar_accessible.cpp) has a row for each lane and a column for each slot;
// a cell says "Snare, 2 a, ghost, velocity 27, 11 ms late". It follows the cursor and tells of
// edits.
#pragma once

#include "app/controls/drawn_view.h"
#include "app/edit/editing.h"
#include "layout/bar_table.h"

namespace uneven {

class BarView : public DrawnView {
  Q_OBJECT
 public:
  // `name`: what the view is called where it cannot be seen; `bars`: that are shown at first.
  BarView(Editing& editing, const QString& name, int bars, QWidget* parent);

  // As shown now.
  virtual const BarFrame& frame() = 0;
  // Bars of the groove, from 0.
  int firstBar() const { return firstBar_; }
  void showFrom(int bar);
  int visibleBars() const { return visibleBars_; }
  void setVisibleBars(int bars);
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

 Q_SIGNALS:
  void viewportChanged();  // which bars, or how they are laid out

 protected:
  void focusInEvent(QFocusEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;
  void wheelEvent(QWheelEvent* event) override;

  // What is shown is no longer so; it is laid out when it is asked for.
  virtual void refresh();
  // Whether it has to be laid out again, which is taken as done.
  bool stale() { return std::exchange(stale_, false); }
  // Ctrl and the wheel: above 1 closer.
  virtual void zoom(double /*by*/) {}
  // Brings the bar (of the groove, from 0) into view.
  void showBar(int bar);
  // PgUp and PgDn; false: another key.
  bool pageKey(const QKeyEvent& event);
  // At the end of a view's own painting.
  void drawPlayhead(QPainter& p);

  Editing& editing_;

 private:
  void tellCursor();
  void tellEdit();

  QString name_;
  int firstBar_ = 0, visibleBars_;
  bool stale_ = true;
  std::uint64_t told_ = 0;  // revision
  std::optional<Quarters> playhead_;
};

// What stands in a cell.
QString spokenCell(const Take& take, const BarTable& table, std::size_t row, std::size_t column);
QString spokenRow(const Take& take, const BarTable& table, std::size_t row);
// "bar 2, 2 a".
QString spokenColumn(const Take& take, const BarTable& table, std::size_t column);

}  // namespace uneven
