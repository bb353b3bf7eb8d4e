// SPDX-License-Identifier: GPL-3.0-or-later
// Under the lanes: what the sticks mean, the scale of their lean, and how far ghosts lie under
// accents.
//
// Each piece that has both shows their separation on a small scale with the aimed range marked.
// Dragging the dot, or the wheel over it, moves all ghosts of the piece together, their differences
// kept (with Shift: all its accents); dragging an edge of the range moves the aim.
#pragma once

#include <QWidget>
#include <optional>
#include <vector>

#include "app/strike/lanes_view.h"
#include "core/measure/level.h"

namespace uneven {

class LegendStrip : public QWidget {
  Q_OBJECT
 public:
  LegendStrip(Editing& editing, LanesView& lanes, QWidget* parent = nullptr);
  // "Snare 22.7 dB (aim 18 to 28)" for each piece, as shown.
  QString separationText() const;
  // Where the dot of a piece stands; nothing when it shows none.
  std::optional<QPointF> dotOf(PieceId piece) const;
  // Where the lower and upper edge of the aim stand on the first scale.
  std::pair<QPointF, QPointF> aimEdges() const;

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void wheelEvent(QWheelEvent* event) override;

 private:
  // One piece's scale.
  struct Gauge {
    Separation separation;
    QString name;
    QString reading;
    double nameX = 0;
    QRectF scale;
    double readingX = 0;

    double x(double db) const;
    double decibelsAt(double x) const;
  };
  enum class Grip { kLevels, kAimLow, kAimHigh };
  struct Drag {
    Grip grip;
    Gauge gauge;
    Groove before;
  };

  std::vector<Gauge> gauges() const;
  QRectF upperHalf() const;
  bool inAim(const Separation& separation) const;
  // Moves ghosts (or accents) of `before` so that the separation becomes `wanted` dB.
  void setSeparation(const Gauge& gauge, const Groove& before, double wanted, bool accents,
                     Merge merge);
  void paintSeparations(QPainter& p, QRectF room) const;
  void paintLegend(QPainter& p, QRectF room) const;

  Editing& editing_;
  LanesView& lanes_;
  std::optional<Drag> drag_;
  std::optional<SongGesture> gesture_;  // of the drag
};

}  // namespace uneven
