// SPDX-License-Identifier: GPL-3.0-or-later
// The pieces of the kit as rows, from the top lane down: shown or not, name, usual limb.
//
// Click or arrow keys choose; a click on the box or Space shows or hides the lane; drag, or Alt and
// an arrow key, moves a piece.
#pragma once

#include <QWidget>
#include <optional>

#include "app/strike/editing.h"

namespace uneven {

class KitList : public QWidget {
  Q_OBJECT
 public:
  explicit KitList(Editing& editing, QWidget* parent = nullptr);

  PieceId chosen() const;
  void choose(int row);
  int row() const { return row_; }
  QRect rowRect(int row) const;
  QSize sizeHint() const override;

 Q_SIGNALS:
  void chosenChanged();
  void currentShown(const QRect& row);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  const Kit& kit() const { return *editing_.document().song().kit; }
  int rowAt(int y) const;
  void toggleShown();
  void moveBy(int by);

  Editing& editing_;
  int row_ = 0;
  std::optional<int> pressed_;
};

}  // namespace uneven
