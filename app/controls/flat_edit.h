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
  // Nothing is typed into it by accident: Enter, F2 or a double click begin, Enter and Escape end.
  void setGuarded();
  bool wrong() const { return wrong_; }

 protected:
  void paintEvent(QPaintEvent* event) override;
  bool event(QEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void focusOutEvent(QFocusEvent* event) override;
  void mouseDoubleClickEvent(QMouseEvent* event) override;

 private:
  void begin();
  void end();

  bool wrong_ = false;
  bool guarded_ = false;
  QString before_;  // as it was when typing began
};

}  // namespace uneven
