// SPDX-License-Identifier: GPL-3.0-or-later
// The room a card stands in: where the card needs more than there is, it scrolls, and the window
// stays as it is.
//
// The room shows and hides with its card, which is all that others know of. It is as wide as the
// card is fixed to be, and a bar's width more where it scrolls.
#pragma once

#include <QScrollArea>

namespace uneven {

class CardRoom : public QScrollArea {
  Q_OBJECT
 public:
  explicit CardRoom(QWidget* card, QWidget* parent = nullptr);
  QSize minimumSizeHint() const override;
  QSize sizeHint() const override;

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override;
};

}  // namespace uneven
