// SPDX-License-Identifier: GPL-3.0-or-later
// A row a bar, one under the other: a mark for each stroke where it was found, lines where the
// fitted feel puts the slots, all bars summed beneath, the tempo bar by bar at the side.
//
// A click on a bar's number makes it bar 1, one on a mark leaves the stroke out or takes it in
// again; a line is dragged to correct the beat.
#pragma once

#include <algorithm>

#include "app/controls/drawn_view.h"
#include "app/stage/listener.h"
#include "core/match/compare.h"
#include "layout/take_rows.h"

namespace uneven {

class RowsView : public DrawnView {
  Q_OBJECT
 public:
  RowsView(Listener& listener, QWidget* parent);

  // Where a moment is drawn: bar and x; for tests as for painting.
  QPointF pointOf(std::size_t onset) const;
  TakeRows shown() const;
  std::int64_t currentBar() const { return current_; }
  // First and last of the chosen bars: Shift and an arrow or a click chooses several.
  std::pair<std::int64_t, std::int64_t> chosenBars() const {
    return std::minmax(current_, anchor_);
  }
  // The stroke of the chosen bar that left and right have come to; L leaves it out or takes it in.
  std::optional<std::size_t> currentStroke() const { return stroke_; }
  // The chosen bar alone, with the sound's energy behind its strokes.
  void setZoomed(bool zoomed);
  bool zoomed() const { return zoomed_; }
  // My part behind theirs: an open mark where mine lies, and a thread to theirs. `bars`: of the
  // groove; `quarterMs`: how long its quarter lasts. None: only theirs.
  void setMine(std::vector<StrokeBehind> mine, int bars, double quarterMs);
  // A place of the groove that is looked at; it is shown in every bar that has it.
  void setPlace(std::optional<std::pair<Beat, PieceId>> place);
  // Where my mark stands in a bar of the take; nothing: it has none there.
  std::optional<QPointF> mineAt(std::int64_t bar, Beat inBar, PieceId piece) const;

 Q_SIGNALS:
  void barOneWanted(std::int64_t bar);
  void movedBeat(double seconds);  // everything that much later
  void keyed(QChar letter);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void wheelEvent(QWheelEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  QString tipAt(QPointF point) override;

 private:
  void read();
  void paintRows(QPainter& p, const Fit& fit);
  void paintEnergy(QPainter& p, const Fit& fit);
  void paintMine(QPainter& p, const Fit& fit);
  void paintSums(QPainter& p, const Fit& fit);
  void paintTempo(QPainter& p, const Fit& fit);
  QPointF pointOf(const TakeRows& rows, std::size_t onset) const;
  void show(std::int64_t bar);
  void makeBarOne(std::int64_t bar);
  void walkStrokes(int by);

  Listener& listener_;
  std::int64_t first_ = 0, last_ = 0;  // bars that there are
  std::int64_t top_ = 0;               // first that is shown
  std::int64_t current_ = 0;
  std::optional<std::size_t> stroke_;
  std::int64_t anchor_ = 0;  // the other end of the chosen bars
  std::optional<QPointF> pressed_;
  double dragged_ = 0;  // px
  bool zoomed_ = false;
  std::vector<StrokeBehind> mine_;
  int mineBars_ = 1;
  double quarterMs_ = 500;
  std::optional<std::pair<Beat, PieceId>> place_;
};

}  // namespace uneven
