// SPDX-License-Identifier: GPL-3.0-or-later
// Under the lanes: what the sticks mean, the scale of their lean, and how far ghosts lie under
// accents.
#pragma once

#include <QWidget>

#include "app/strike/lanes_view.h"

namespace uneven {

class LegendStrip : public QWidget {
  Q_OBJECT
 public:
  LegendStrip(Editing& editing, LanesView& lanes, QWidget* parent = nullptr);
  // "Snare 22.7 dB (aim 18 to 28)" for each piece, as shown.
  QString separationText() const;

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  void paintSeparations(QPainter& p, QRectF room) const;
  void paintLegend(QPainter& p, QRectF room) const;

  Editing& editing_;
  LanesView& lanes_;
};

}  // namespace uneven
