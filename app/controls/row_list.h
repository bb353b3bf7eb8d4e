// SPDX-License-Identifier: GPL-3.0-or-later
// Rows of which one is current, and that can be moved among themselves.
//
// Click or arrow keys choose; drag, or Alt and an arrow key, moves the current row. What stands in
// a row is the matter of those who inherit.
#pragma once

#include <QWidget>
#include <optional>

namespace uneven {

class RowList : public QWidget {
  Q_OBJECT
 public:
  RowList(int rowHeight, QWidget* parent);

  // Held to the rows that there are; shows it.
  void chooseRow(int row);
  QRect rowRect(int row) const { return {0, row * height_, width(), height_}; }
  QSize sizeHint() const override;

 Q_SIGNALS:
  void currentShown(const QRect& row);  // should be seen

 protected:
  virtual int rows() const = 0;
  virtual int current() const = 0;
  virtual void choose(int row) = 0;  // of 0 .. rows() - 1
  virtual void moveBy(int by) = 0;   // the current row; past the ends: as far as it goes
  virtual void paintRow(QPainter& p, int row, const QRect& rect) const = 0;
  // A press that is about something in the row, and no drag: true.
  virtual bool pressedInside(const QPoint& /*inRow*/) { return false; }

  void rowsChanged();  // how many or what they show

  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  int rowAt(int y) const;

  int height_;
  std::optional<int> pressed_;  // where a drag began
  std::optional<int> target_;   // and where it would let go
};

}  // namespace uneven
