// SPDX-License-Identifier: GPL-3.0-or-later
// The song as a strip: sections as high as they are loud, the tempo as a line, who plays what.
//
// Arrow keys choose a section; Alt and they move it; up and down make it louder and softer, with
// Shift its end; plus and minus play it more and less often. Dragging a section moves it, its right
// edge repeats it, its upper edge is its level; points of the tempo go wherever they are drawn.
#pragma once

#include <optional>

#include "app/arrange/arranging.h"
#include "app/arrange/strip_drag.h"
#include "app/controls/drawn_view.h"
#include "core/time/quarters.h"
#include "layout/song_strip.h"

namespace uneven {

class StripView : public DrawnView {
  Q_OBJECT
 public:
  StripView(Arranging& arranging, QWidget* parent = nullptr);

  const SongStrip& strip();
  void zoom(double by, std::optional<double> x = std::nullopt);  // above 1: closer
  void showAll();
  void setPlayhead(std::optional<Quarters> at);
  // Notes in each quarter note of what the band plays, as a faint line; empty: none.
  void setBand(std::vector<int> density);
  // A seam above this is in the colour of attention, ms.
  static constexpr double kJumpMost = 15;

 Q_SIGNALS:
  void openWanted();

 protected:
  void paintEvent(QPaintEvent* event) override;
  void showEvent(QShowEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void mouseDoubleClickEvent(QMouseEvent* event) override;
  void wheelEvent(QWheelEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  QString tipAt(QPointF point) override;

 private:
  void read();
  void tell();
  void hold();  // the viewport within the song, the chosen section in sight
  void drag(const QPointF& to);
  // strip_paint.cpp.
  void paintShapes(QPainter& p, const SongStrip& s);
  void paintNames(QPainter& p, const SongStrip& s);
  void paintJoints(QPainter& p, const SongStrip& s);
  void paintTempo(QPainter& p, const SongStrip& s);
  void paintLanes(QPainter& p, const SongStrip& s);

  Arranging& arranging_;
  StripViewport viewport_;
  GrooveLooks looks_;
  std::optional<SongStrip> strip_;
  std::vector<Seam> seams_;
  std::uint64_t seamsOf_ = 0;  // revision
  std::optional<StripDrag> drag_;
  std::optional<Quarters> playhead_;
  std::vector<int> band_;
};

}  // namespace uneven
