// SPDX-License-Identifier: GPL-3.0-or-later
// The lean map: the bar's strokes, magnified in time.
#pragma once

#include <functional>
#include <optional>

#include "app/stage/bar_view.h"
#include "app/stage/listener.h"
#include "layout/lean_scene.h"

namespace uneven {

class LeanView : public BarView {
  Q_OBJECT
 public:
  LeanView(Editing& editing, Listener& listener, QWidget* parent = nullptr);

  const LeanScene& scene();
  const BarFrame& frame() override { return scene(); }
  std::vector<BarRow> rows() override;
  double pxPerMs() const { return viewport_.pxPerMs; }
  void setPxPerMs(double pxPerMs);
  // Another feel of the song beside the one in force; empty: none.
  void setCompared(const std::string& feelId);
  const std::string& compared() const { return compared_; }
  bool straight() const { return straight_; }  // the key is held
  // The strokes of the take that Listen has, where it has one.
  void setBehind(bool shown);
  bool behind() const { return behind_; }

 protected:
  void zoom(double by) override { setPxPerMs(viewport_.pxPerMs * by); }
  QString tipAt(QPointF point) override;
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void keyReleaseEvent(QKeyEvent* event) override;
  void focusOutEvent(QFocusEvent* event) override;

 private:
  void paintHeader(QPainter& p) const;
  void paintRows(QPainter& p) const;
  void paintSticks(QPainter& p) const;
  void paintScale(QPainter& p) const;
  void walk(int by);
  void walkRow(int by);
  void nudge(Milliseconds by);

  // What is dragged: the song before, and how it changes with the way in pixels.
  struct Drag {
    Point from;
    Song before;
    std::function<std::pair<QString, Song>(const Song&, Point way)> change;
  };
  std::optional<Drag> dragAt(Point p);

  LeanViewport viewport_;
  LeanScene scene_;
  Listener& listener_;
  bool behind_ = true;
  bool straight_ = false;
  std::string compared_;
  std::optional<Drag> drag_;
  std::optional<SongGesture> gesture_;  // of the drag
};

}  // namespace uneven
