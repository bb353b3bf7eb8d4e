// SPDX-License-Identifier: GPL-3.0-or-later
// All variants by how far they are from the groove and how syncopated: larger can go faster, the
// colour is the verdict, a ring has none yet. A click goes there.
#pragma once

#include <QWidget>

#include "app/vary/walker.h"

namespace uneven {

class MapView : public QWidget {
  Q_OBJECT
 public:
  MapView(Walker& walker, QWidget* parent);

  void setCurrent(std::uint64_t index);
  // Where it is drawn; nothing: not measured yet, or beyond those that are drawn.
  std::optional<QPointF> pointOf(std::uint64_t index) const;
  static constexpr std::uint64_t kDrawnMost = 5'000;

 Q_SIGNALS:
  void chosen(std::uint64_t index);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;

 private:
  void read();
  std::optional<std::uint64_t> near(const QPointF& p) const;
  QRectF area() const;

  Walker& walker_;
  std::uint64_t current_ = 0;
  double farthest_ = 1;
  int least_ = 0, most_ = 1;
};

}  // namespace uneven
