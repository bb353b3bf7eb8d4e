// SPDX-License-Identifier: GPL-3.0-or-later
// The groove built up: a small picture a step, what is new in it in brass; ticked where it was
// clean often enough.
#pragma once

#include "app/controls/drawn_view.h"
#include "app/rehearse/rehearsing.h"

namespace uneven {

class StepsRow : public DrawnView {
  Q_OBJECT
 public:
  StepsRow(Rehearsing& rehearsing, QWidget* parent);

  QRectF cardRect(std::size_t step) const;
  // First and behind the last that is seen.
  std::pair<std::size_t, std::size_t> seen() const;
  bool done(std::size_t step) const { return step < done_.size() && done_[step]; }

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void wheelEvent(QWheelEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;
  QString tipAt(QPointF point) override;

 private:
  void read();
  int columns() const;
  std::optional<std::size_t> at(const QPointF& p) const;

  Rehearsing& rehearsing_;
  std::vector<bool> done_;
  std::size_t first_ = 0;
};

}  // namespace uneven
