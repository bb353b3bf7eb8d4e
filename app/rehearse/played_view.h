// SPDX-License-Identifier: GPL-3.0-or-later
// What was played, the last time through: a stick is a stroke of the player's, as high as it was
// loud; it leans from where it should be. A ring: nothing came; a cross: nobody wrote it.
#pragma once

#include "app/controls/drawn_view.h"
#include "app/rehearse/rehearsing.h"
#include "layout/stairs.h"

namespace uneven {

class PlayedView : public DrawnView {
  Q_OBJECT
 public:
  PlayedView(Rehearsing& rehearsing, QWidget* parent);

  PlayedScene scene() const;
  // "hat, 2 &: 12 ms late, velocity 71"
  QString strokeText(const AlignedStroke& stroke) const;

 protected:
  void paintEvent(QPaintEvent* event) override;
  QString tipAt(QPointF point) override;

 private:
  int firstBar() const;

  Rehearsing& rehearsing_;
};

}  // namespace uneven
