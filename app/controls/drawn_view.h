// SPDX-License-Identifier: GPL-3.0-or-later
// A widget that paints what it shows: it sees the mouse move, shows where the keys go, and tells
// what lies under the mouse.
#pragma once

#include <QWidget>

namespace uneven {

class DrawnView : public QWidget {
  Q_OBJECT
 public:
  explicit DrawnView(QWidget* parent) : QWidget(parent) { setMouseTracking(true); }

 protected:
  // Of a point; empty: nothing.
  virtual QString tipAt(QPointF point) = 0;

  bool event(QEvent* event) override;
  void focusInEvent(QFocusEvent* event) override;
  void focusOutEvent(QFocusEvent* event) override;
};

}  // namespace uneven
