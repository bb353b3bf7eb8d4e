// SPDX-License-Identifier: GPL-3.0-or-later
// The grooves of the song as rows with small pictures of their sticks: hands stand up, feet hang
// down.
//
// Click or arrow keys choose, drag or Alt and an arrow key moves a groove in the list, Delete
// deletes it.
#pragma once

#include "app/controls/row_list.h"
#include "app/edit/editing.h"

namespace uneven {

class GrooveList : public RowList {
  Q_OBJECT
 public:
  explicit GrooveList(Editing& editing, QWidget* parent = nullptr);

 protected:
  int rows() const override;
  int current() const override;
  void choose(int row) override;
  void moveBy(int by) override;
  void paintRow(QPainter& p, int index, const QRect& row) const override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  void paintSticks(QPainter& p, const Groove& groove, const QRectF& room) const;

  Editing& editing_;
};

}  // namespace uneven
