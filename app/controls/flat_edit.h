// SPDX-License-Identifier: GPL-3.0-or-later
// A line to type in, drawn flat: a rule under it when the mouse or the keyboard is there, and in
// the colour of attention while what stands there cannot be taken.
#pragma once

#include <QLineEdit>

#include "app/controls/theme.h"

namespace uneven {

class FlatEdit : public QLineEdit {
  Q_OBJECT
 public:
  explicit FlatEdit(QWidget* parent = nullptr);

  void setTextPixels(int pixels, theme::Weight weight = theme::Weight::kSemiBold);
  void setWrong(bool wrong);
  bool wrong() const { return wrong_; }

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  bool wrong_ = false;
};

}  // namespace uneven
