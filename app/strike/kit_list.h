// SPDX-License-Identifier: GPL-3.0-or-later
// The pieces of the kit as rows, from the top lane down: shown or not, name, usual limb.
//
// Click or arrow keys choose; a click on the box or Space shows or hides the lane; drag, or Alt and
// an arrow key, moves a piece.
#pragma once

#include "app/controls/row_list.h"
#include "app/edit/editing.h"

namespace uneven {

class KitList : public RowList {
  Q_OBJECT
 public:
  explicit KitList(Editing& editing, QWidget* parent = nullptr);

  PieceId chosen() const;
  int row() const { return row_; }

 Q_SIGNALS:
  void chosenChanged();

 protected:
  int rows() const override;
  int current() const override { return row_; }
  void choose(int row) override;
  void moveBy(int by) override;
  void paintRow(QPainter& p, int index, const QRect& row) const override;
  bool pressedInside(const QPoint& inRow) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  const Kit& kit() const { return *editing_.document().song().kit; }
  void toggleShown();

  Editing& editing_;
  int row_ = 0;
};

}  // namespace uneven
