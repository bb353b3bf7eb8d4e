// SPDX-License-Identifier: GPL-3.0-or-later
// The staircase of tempos: a step is a tempo, a dot one time through, full when it was clean. A
// click goes to a tempo.
#pragma once

#include "app/controls/drawn_view.h"
#include "app/rehearse/rehearsing.h"
#include "layout/stairs.h"

namespace uneven {

class StairsView : public DrawnView {
  Q_OBJECT
 public:
  StairsView(Rehearsing& rehearsing, QWidget* parent);

  std::vector<Stair> stairs() const;
  // Of a rung, the times of the step at hand, the oldest first.
  std::vector<Through> timesOf(std::size_t rung) const;

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  QString tipAt(QPointF point) override;

 private:
  void read();

  Rehearsing& rehearsing_;
  std::vector<std::vector<Through>> times_;  // by rung
};

}  // namespace uneven
