// SPDX-License-Identifier: GPL-3.0-or-later
// The gap between the hats along the bar: strokes above, two edges in the middle, the foot below.
//
// Grab the upper edge for how far, its end for when it shuts (on the grid or a stroke); drag up
// from shut hats to open a stroke; Ctrl and drag over the band draws an opening without a stroke,
// whose round handle also moves its beginning; Alt and drag sets how far the pump lifts; a click on
// the strip at the foot sets where it presses. Left and Right walk the strokes, Up and Down open
// further, Shift with Left and Right moves the end, Delete shuts.
#pragma once

#include <memory>
#include <optional>

#include "app/stage/bar_view.h"
#include "layout/open_scene.h"

namespace uneven {

class OpenView : public BarView {
  Q_OBJECT
 public:
  explicit OpenView(Editing& editing, QWidget* parent = nullptr);

  const OpenScene& scene();
  const BarFrame& frame() override { return scene(); }
  std::vector<BarRow> rows() override;
  // Another groove in place of the song's, for looking at only; nothing: the song's again.
  void setPreview(std::optional<Groove> preview);

 Q_SIGNALS:
  // A key of the walk: steps, marks, keeps or ends it.
  void walkKey(int key);

 protected:
  QString tipAt(QPointF point) override;
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  struct Drag {
    OpeningGrip grip;
    bool end = false;
    bool start = false;  // a drawn one's round handle
  };

  const KitMap& kitMap() const;
  void paintZones(QPainter& p) const;
  void paintBand(QPainter& p) const;
  void paintStrokes(QPainter& p) const;
  void paintFeet(QPainter& p) const;
  void paintPump(QPainter& p) const;
  void togglePress(std::size_t slot);
  void lift(Point p);
  void drawMove(Point p);
  void dragTo(Point p);
  bool giveUp();
  void walk(int by);
  void openBy(double by);
  void endBy(int slots);
  std::optional<PedalMove> chosen() const;

  OpenViewport viewport_;
  OpenScene scene_;
  std::optional<Groove> preview_;
  std::optional<Drag> drag_;
  std::optional<Beat> drawing_;  // where a drawn move begins
  bool lifting_ = false;
  std::optional<SongGesture> gesture_;  // as long as the button is down
};

}  // namespace uneven
