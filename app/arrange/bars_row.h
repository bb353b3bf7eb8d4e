// SPDX-License-Identifier: GPL-3.0-or-later
// The chosen section bar by bar as small pictures; those that differ from its first are framed.
//
// Arrow keys step, Enter opens the bar's groove in Strike at that place.
#pragma once

#include <QWidget>

#include "app/arrange/arranging.h"

namespace uneven {

class BarsRow : public QWidget {
  Q_OBJECT
 public:
  BarsRow(Arranging& arranging, QWidget* parent = nullptr);

  // Of a block of the chosen section, from 0; empty where it is not in sight.
  QRectF cardRect(std::size_t block) const;
  // Whether its bars are others than those of the section's first pass.
  bool differs(std::size_t block) const;
  QSize sizeHint() const override { return {600, 112}; }

 Q_SIGNALS:
  void openWanted();

 protected:
  void paintEvent(QPaintEvent* event) override;
  void showEvent(QShowEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseDoubleClickEvent(QMouseEvent* event) override;
  void wheelEvent(QWheelEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  void read();
  std::size_t across() const;
  double widthOfCard() const;
  QString headText() const;

  Arranging& arranging_;
  std::size_t first_ = 0;  // block at the left
};

}  // namespace uneven
