// SPDX-License-Identifier: GPL-3.0-or-later
// The grooves of the song as rows with small pictures of their sticks: hands stand up, feet hang
// down.
//
// Click or arrow keys choose, drag or Alt and an arrow key moves a groove in the list, Delete
// deletes it.
#pragma once

#include <QWidget>
#include <optional>

#include "app/strike/editing.h"

namespace uneven {

class GrooveList : public QWidget {
  Q_OBJECT
 public:
  explicit GrooveList(Editing& editing, QWidget* parent = nullptr);

  QRect rowRect(int index) const;
  QSize sizeHint() const override;

 Q_SIGNALS:
  void currentShown(const QRect& row);  // should be seen

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  int current() const;
  int rowAt(int y) const;
  void choose(int index);
  void paintRow(QPainter& p, int index) const;
  void paintSticks(QPainter& p, const Groove& groove, const QRectF& room) const;

  Editing& editing_;
  std::optional<int> pressed_;  // where a drag began
  std::optional<int> target_;   // and where it would let go
};

}  // namespace uneven
